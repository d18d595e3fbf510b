package org.wedgecutter.cli;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.io.PrintWriter;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.concurrent.Callable;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.command.Commands;
import org.wedgecutter.command.Result;
import org.wedgecutter.core.image.ImageFacts;
import org.wedgecutter.core.scene.Entity;
import org.wedgecutter.core.scene.EntityKind;
import org.wedgecutter.core.scene.Scene;
import org.wedgecutter.core.scene.SceneFacts;
import org.wedgecutter.core.scene.TimeDigest;
import org.wedgecutter.core.scene.files.SceneFiles;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.ParameterException;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

@Command(
    name = "info",
    description =
        "Prints what a scene contains, and what in it is unsupported; or what an image file holds: parts, attributes, channels with min, max and mean, and ID mattes.",
    mixinStandardHelpOptions = true,
    footer = {"", "Example: wedgecutter info demo/orrery/orrery.glb"})
@SuppressWarnings("NullAway.Init")
final class InfoCommand implements Callable<Integer> {
  @Mixin private Result result;

  @Spec private CommandSpec spec;

  @Option(names = "--formats", description = "Print what is read and written, by format.")
  private boolean formats;

  @Parameters(
      arity = "0..1",
      paramLabel = "SCENE|IMAGE",
      description =
          "A scene (.glb, .gltf, .usd, .usdz, .obj) or an image (.exr, .hdr, .tif, .png, .jpg).")
  private @Nullable Path file;

  /**
   * A format.
   *
   * @param reads what is read of it; empty if nothing
   * @param writes what is written of it; empty if nothing
   */
  private record Format(String name, List<String> endings, String reads, String writes) {}

  private record Formats(List<Format> formats) {}

  private static final Formats FORMATS =
      new Formats(
          List.of(
              new Format(
                  "glTF 2.0",
                  List.of(".glb", ".gltf"),
                  "meshes, hierarchy, materials, textures, cameras, lights, animation, skins, morphs, instances, variants, media by extras",
                  ""),
              new Format(
                  "OpenUSD",
                  List.of(".usd", ".usda", ".usdc", ".usdz"),
                  "stages of any number of layers: sublayers, references, payloads, inherits, variants, specializes, instances and point instancers; meshes, smooth by Catmull-Clark where they ask for it; solids; skeletons, blend shapes; transforms, points and visibility over time; preview materials, lights, cameras, collections",
                  "collections and render passes of a plan"),
              new Format("OBJ with MTL", List.of(".obj"), "groups, materials, textures", ""),
              new Format(
                  "OpenEXR",
                  List.of(".exr"),
                  "lines, tiles with smaller pictures, deep, several parts, all compressions, sub-sampled channels",
                  "layers with their passes, one file each; half or float; none, RLE, ZIPS, ZIP, PIZ"),
              new Format(
                  "Radiance HDR", List.of(".hdr"), "environments, plates", "rejoined frames"),
              new Format(
                  "TIFF",
                  List.of(".tif", ".tiff"),
                  "facts alone",
                  "rejoined frames, 32-bit floats"),
              new Format(
                  "PNG",
                  List.of(".png"),
                  "textures, plates, environments; 8 bits",
                  "rejoined frames, 16-bit sRGB"),
              new Format("JPEG", List.of(".jpg", ".jpeg"), "textures, plates, environments", ""),
              new Format(
                  "OpenRaster",
                  List.of(".ora"),
                  "",
                  "a frame's layers with their joins, as a screen shows them"),
              new Format("plan", List.of(".wedge"), "JSON", "JSON"),
              new Format("camera and points", List.of(".json", ".csv"), "", "at each frame"),
              new Format(
                  "shell script", List.of(".sh"), "", "the joins of a delivery by oiiotool")));

  private static void print(PrintWriter out) {
    for (Format f : FORMATS.formats) {
      out.printf("%s (%s)%n", f.name, String.join(", ", f.endings));
      if (!f.reads.isEmpty()) {
        out.printf("  read     %s%n", f.reads);
      }
      if (!f.writes.isEmpty()) {
        out.printf("  written  %s%n", f.writes);
      }
    }
  }

  @Override
  public Integer call() throws Exception {
    if (formats) {
      result.print(FORMATS, InfoCommand::print);
      return Commands.FINE;
    }
    Path of = file;
    if (of == null) {
      throw new ParameterException(
          spec.commandLine(), "expected a scene or an image, or --formats");
    }
    if (ImageFacts.isImage(of)) {
      ImageFacts facts = ImageFacts.of(of);
      result.print(facts, out -> print(out, facts));
      return Commands.FINE;
    }
    Scene scene = SceneFiles.read(of);
    result.print(document(scene), out -> print(out, scene));
    return Commands.FINE;
  }

  private void print(PrintWriter out, ImageFacts facts) {
    out.println(file);
    for (ImageFacts.Part p : facts.parts()) {
      List<Integer> w = p.dataWindow();
      out.printf(
          "  %s%s%s, %d x %d pixels from (%d, %d), display (%d, %d) to (%d, %d)%n",
          p.name().isEmpty() ? "" : p.name() + ": ",
          p.type(),
          p.compression().isEmpty() ? "" : ", " + p.compression(),
          w.get(2) - w.get(0) + 1,
          w.get(3) - w.get(1) + 1,
          w.get(0),
          w.get(1),
          p.displayWindow().get(0),
          p.displayWindow().get(1),
          p.displayWindow().get(2),
          p.displayWindow().get(3));
      ImageFacts.Deep deep = p.deep();
      if (deep != null) {
        out.printf("    %,d samples, at most %d in a pixel%n", deep.samples(), deep.most());
      }
      p.attributes()
          .forEach((name, value) -> out.printf("    %-32s %s%n", name, shortened(text(value))));
      out.printf("    %-32s %-6s %12s %12s %12s%n", "channel", "type", "min", "max", "mean");
      for (ImageFacts.ChannelFacts c : p.channels()) {
        out.printf(
            "    %-32s %-6s %12s %12s %12s%s%s%n",
            c.name(),
            c.type(),
            number(c.min()),
            number(c.max()),
            number(c.mean()),
            c.nan() > 0 ? "  %d NaN".formatted(c.nan()) : "",
            c.infinite() > 0 ? "  %d infinite".formatted(c.infinite()) : "");
      }
      p.mattes()
          .forEach(m ->
              out.printf(
                  "    ID mattes %s: %d names: %s%n",
                  m.name(), m.names().size(), shortened(String.join(", ", m.names()))));
    }
  }

  private static String number(@Nullable Double value) {
    return value == null ? "-" : "%.6g".formatted(value);
  }

  private static String text(Object value) {
    return switch (value) {
      case float[] f -> Arrays.toString(f);
      case double[] d -> Arrays.toString(d);
      case int[] i -> Arrays.toString(i);
      default -> String.valueOf(value);
    };
  }

  private static String shortened(String text) {
    String line = text.replaceAll("\\s+", " ");
    return line.length() > 100 ? line.substring(0, 99) + "…" : line;
  }

  private void print(PrintWriter out, Scene scene) {
    out.println(file);
    out.printf("  %d entities, %,d triangles%n", scene.entities().size(), scene.triangles());
    for (EntityKind kind : EntityKind.values()) {
      long count = scene.entities().stream().filter(e -> e.kind() == kind).count();
      if (count > 0) {
        out.printf("    %d of kind %s%n", count, kind.word());
      }
    }
    out.printf("  materials  %s%n", String.join(", ", SceneFacts.materialNames(scene)));
    out.printf("  lights     %s%n", String.join(", ", SceneFacts.lights(scene)));
    out.printf("  cameras    %s%n", String.join(", ", SceneFacts.cameraNames(scene)));
    out.printf("  animation  %.3f s%n", scene.duration());
    float[] b = SceneFacts.bounds(scene);
    out.printf(
        "  bounds     %.3f %.3f %.3f to %.3f %.3f %.3f m%n", b[0], b[1], b[2], b[3], b[4], b[5]);
    out.println("  entities");
    TimeDigest time = new TimeDigest(scene);
    for (Entity e : scene.entities()) {
      float[] when = time.movesWhen(e);
      out.printf(
          "    %-44s %s%s%s%n",
          e.path(),
          e.kind().word(),
          when.length == 0 ? "" : "  moves %.3f to %.3f s".formatted(when[0], when[1]),
          e.tags().isEmpty() ? "" : "  tags " + String.join(" ", e.tags()));
    }
    out.println(scene.unsupported().isEmpty() ? "  everything is supported" : "  unsupported");
    scene.unsupported().forEach(line -> out.println("    " + line));
    if (!scene.missing().isEmpty()) {
      out.println("  missing");
      scene.missing().forEach(line -> out.println("    " + line));
    }
  }

  private record EntityFacts(
      String path,
      String kind,
      boolean moves,
      @JsonInclude(JsonInclude.Include.NON_EMPTY) List<Float> seconds,
      List<String> materials,
      List<String> tags) {}

  private record SceneInfo(
      String scene,
      long triangles,
      double duration,
      List<String> materials,
      List<String> lights,
      List<String> cameras,
      float[] bounds,
      List<EntityFacts> entities,
      List<String> unsupported,
      List<String> missing) {}

  private SceneInfo document(Scene scene) {
    TimeDigest time = new TimeDigest(scene);
    return new SceneInfo(
        String.valueOf(file),
        scene.triangles(),
        scene.duration(),
        SceneFacts.materialNames(scene),
        SceneFacts.lights(scene),
        SceneFacts.cameraNames(scene),
        SceneFacts.bounds(scene),
        scene.entities().stream().map(e -> facts(time, e)).toList(),
        scene.unsupported(),
        scene.missing());
  }

  private static EntityFacts facts(TimeDigest time, Entity e) {
    List<Float> seconds = new ArrayList<>();
    for (float second : time.movesWhen(e)) {
      seconds.add(second);
    }
    return new EntityFacts(e.path(), e.kind().word(), e.moves(), seconds, e.materials(), e.tags());
  }
}
