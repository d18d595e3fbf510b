package org.wedgecutter.core.fuzz;

import java.awt.image.BufferedImage;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import java.util.stream.Stream;
import java.util.zip.GZIPInputStream;
import javax.imageio.ImageIO;
import org.wedgecutter.core.plan.CellBlock;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.PlanParts;
import org.wedgecutter.core.testing.GltfText;
import org.wedgecutter.core.testing.ShotFolder;

/** Small valid inputs of each kind, from which mutations start. */
final class FuzzSeeds {
  private FuzzSeeds() {}

  /** Writes the seeds of all kinds into folders of their names. */
  public static void main(String[] args) throws IOException {
    Path work = Files.createTempDirectory("seeds");
    Ground ground = Ground.make(work);
    for (InputKind kind : InputKind.values()) {
      Path folder = Files.createDirectories(Path.of(args[0], kind.folder()));
      int n = 0;
      for (byte[] seed : of(kind, ground)) {
        Files.write(folder.resolve("seed-" + n++), seed);
      }
    }
  }

  static List<byte[]> of(InputKind kind, Ground ground) throws IOException {
    Plan plan = ground.shot().plan();
    return switch (kind) {
      case GLTF ->
          List.of(
              Files.readAllBytes(new GltfText().gltf(ground.folder().resolve("seed.gltf"))),
              bytes(new GltfText().root.toString()));
      case GLB ->
          List.of(new GltfText().glb(), Files.readAllBytes(ground.folder().resolve("set.glb")));
      case OBJ ->
          List.of(
              bytes("o a\nv 0 0 0\nv 1 0 0\nv 0 1 0\nvt 0 0\nvn 0 0 1\nf 1/1/1 2/1/1 3/1/1\n"),
              bytes("v 0 0 0\nv 1 0 0\nv 1 1 0\nv 0 1 0\ng all\nusemtl m\nf -4 -3 -2 -1\n"));
      case USDA -> List.of(resource("stage.usda"));
      case PLAN -> plans();
      case PART ->
          List.of(
              bytes(PlanParts.collections(plan)),
              bytes(PlanParts.layer(plan, "Front")),
              bytes(PlanParts.cells(plan, "Front")));
      case CELLS ->
          List.of(bytes(CellBlock.copy(plan, List.of("Front"), List.of("Front", "Back")).text()));
      case RULE ->
          List.of(bytes("path:/a/** & (name:b* | tag:hero)"), bytes("floor | kind:environment"));
      case DELIVERY -> List.of(ground.manifest());
      case RECORD ->
          List.of(Files.readAllBytes(ground.delivery().resolve("units/Front.0001.json")));
      case SURVEY -> List.of(survey(ground));
      case LINKS -> links();
      case EXR -> pictures(ground);
      case HDR -> List.of(Files.readAllBytes(ground.folder().resolve("sky.hdr")));
      case TEXTURE -> List.of(image("png"), image("jpg"));
    };
  }

  private static List<byte[]> plans() throws IOException {
    List<byte[]> all = new ArrayList<>(List.of(bytes(ShotFolder.PLAN)));
    Path demo = Path.of(System.getProperty("wedgecutter.root", "."), "demo");
    if (Files.isDirectory(demo)) {
      try (Stream<Path> files = Files.walk(demo)) {
        for (Path f : files.filter(f -> f.toString().endsWith(".wedge")).sorted().toList()) {
          all.add(Files.readAllBytes(f));
        }
      }
    }
    return all;
  }

  private static List<byte[]> pictures(Ground ground) throws IOException {
    try (Stream<Path> files = Files.walk(ground.delivery())) {
      List<byte[]> all = new ArrayList<>();
      for (Path f : files.filter(f -> f.toString().endsWith(".exr")).sorted().limit(2).toList()) {
        all.add(Files.readAllBytes(f));
      }
      return all;
    }
  }

  private static byte[] survey(Ground ground) throws IOException {
    try (InputStream in = new GZIPInputStream(Files.newInputStream(ground.survey()))) {
      return in.readAllBytes();
    }
  }

  /** Each name by itself, as a link to each of the first few targets. */
  private static List<byte[]> links() {
    List<byte[]> all = new ArrayList<>();
    for (int name = 0; name < 16; name++) {
      for (int target = 0; target < 7; target++) {
        all.add(new byte[] {(byte) name, (byte) target});
      }
    }
    return all;
  }

  private static byte[] image(String format) throws IOException {
    BufferedImage image = new BufferedImage(5, 4, BufferedImage.TYPE_INT_RGB);
    image.setRGB(1, 1, 0xff8040);
    ByteArrayOutputStream out = new ByteArrayOutputStream();
    ImageIO.write(image, format, out);
    return out.toByteArray();
  }

  private static byte[] resource(String name) throws IOException {
    try (var in = ShotFolder.class.getResourceAsStream(name)) {
      return Objects.requireNonNull(in, name).readAllBytes();
    }
  }

  private static byte[] bytes(String text) {
    return text.getBytes(StandardCharsets.UTF_8);
  }
}
