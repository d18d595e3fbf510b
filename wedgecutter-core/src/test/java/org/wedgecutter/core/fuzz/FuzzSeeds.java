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
import java.util.zip.CRC32;
import java.util.zip.GZIPInputStream;
import java.util.zip.ZipEntry;
import java.util.zip.ZipOutputStream;
import javax.imageio.ImageIO;
import org.wedgecutter.core.plan.CellBlock;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.PlanParts;
import org.wedgecutter.core.testing.GltfText;
import org.wedgecutter.core.testing.ShotFolder;

/** Small valid inputs of each kind, from which mutations start. */
final class FuzzSeeds {
  /** Mattes, a background, and what corrects light pixel by pixel. */
  private static final String GRADED =
      """
      {"joins": [
         {"layer": "Floor", "join": "plus"},
         {"layer": "Back", "join": "over", "opacity": 0.5, "matte": "near"},
         {"layer": "Front", "join": "max"}],
       "corrections": [
         {"layer": "Back", "type": "exposure", "values": [1], "matte": "bright"},
         {"layer": "Front", "reach": "behind", "type": "gain", "values": [1, 2, 0.5]},
         {"layer": "Front", "pass": "emission", "type": "offset", "values": [0, 0.1, 0]},
         {"type": "gamma", "values": [2.2]}, {"type": "saturation", "values": [0.5]},
         {"type": "hue", "values": [30]}, {"type": "contrast", "values": [1.2, 0.18]},
         {"type": "temperature", "values": [4000]}, {"type": "fade", "values": [0.5]},
         {"type": "curve", "values": [0, 0, 0.5, 0.6, 1, 1]},
         {"type": "soft-clip", "values": [0.8, 1]}],
       "mattes": [
         {"name": "near", "source": "depth", "from": 1, "to": 8, "curve": 2},
         {"name": "bright", "source": "luma", "from": 0.1, "to": 0.9, "grow": 2},
         {"name": "front", "source": "ids", "picks": ["fr*"], "by": "object", "invert": true}],
       "background": {"kind": "checker", "colour": [0.2, 0.2, 0.2]}}
      """;

  /** What looks at neighbours, and the joins that look at more than light. */
  private static final String CORRECTED =
      """
      {"joins": [
         {"layer": "Floor", "join": "plus"},
         {"layer": "Back", "join": "depth"},
         {"layer": "Front", "join": "over"}],
       "corrections": [
         {"layer": "Back", "type": "shadow", "values": [1, 0, 0.1, 0]},
         {"layer": "Front", "type": "blur", "values": [3]},
         {"layer": "Floor", "type": "defocus", "values": [4, 3, 6]},
         {"type": "glow", "values": [0.5, 4, 1]},
         {"type": "distortion", "values": [0.1, 0.01], "on": false}],
       "background": {"kind": "colour", "colour": [1, 0.5, 0]}}
      """;

  /** A stage of one layer with all arcs, list edits and variants. */
  private static final String ARCS =
      """
      #usda 1.0
      ( defaultPrim = "A" subLayers = [@scene.usda@ (offset = 1; scale = 2), @gone.usda@] )
      class "_k" { double p = 1 rel r = </_k/x> def Sphere "x" { } }
      def Xform "A" (
        prepend references = [@scene.usda@</B> (offset = 2), </C>]
        payload = @scene.usda@
        inherits = </_k>
        append specializes = </D>
        variants = { string v = "one" }
        prepend variantSets = ["v"]
        instanceable = true
      ) {
        variantSet "v" = { "one" (inherits = </D>) { over "x" { double p = 3 } } "two" { } }
        delete rel r = [</_k/x>, <../D>]
        double p.timeSamples = { 1: 2, 3: None, }
        reorder nameChildren = ["y", "x"]
      }
      def "B" ( references = </A> ) { }
      def "C" { def "y" ( active = false ) { } }
      over "D" { dictionary d = { int[] a = [1, 2] } float2[] f = [(1, 2), (-inf, nan)] }
      """;

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
      case USDA -> List.of(resource("stage.usda"), resource("bodies.usda"), bytes(ARCS));
      case USDC -> List.of(resource("stage.usdc"), resource("types.usdc"));
      case USDZ -> List.of(packed());
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
      case RECIPE -> List.of(ground.recipe(), bytes(CORRECTED), bytes(GRADED));
      case BAND -> List.of(ground.banded().band());
      case SURVEY -> List.of(survey(ground));
      case LINKS -> links();
      case EXR -> pictures(ground);
      case HDR -> List.of(Files.readAllBytes(ground.folder().resolve("sky.hdr")));
      case TEXTURE -> List.of(image("png"), image("jpg"));
    };
  }

  private static byte[] packed() throws IOException {
    ByteArrayOutputStream out = new ByteArrayOutputStream();
    try (ZipOutputStream zip = new ZipOutputStream(out)) {
      for (String name : List.of("stage.usdc", "stage.usda")) {
        byte[] bytes = resource(name);
        ZipEntry entry = new ZipEntry(name);
        entry.setMethod(ZipEntry.STORED);
        entry.setSize(bytes.length);
        CRC32 sum = new CRC32();
        sum.update(bytes);
        entry.setCrc(sum.getValue());
        zip.putNextEntry(entry);
        zip.write(bytes);
      }
    }
    return out.toByteArray();
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
    for (int name = 0; name < LinkedDelivery.NAMES.size(); name++) {
      for (int target = 0; target < LinkedDelivery.TARGETS.size(); target++) {
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
