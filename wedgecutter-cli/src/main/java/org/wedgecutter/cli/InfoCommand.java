package org.wedgecutter.cli;

import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.JsonNodeFactory;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.nio.file.Path;
import java.util.List;
import java.util.concurrent.Callable;
import org.wedgecutter.core.scene.Entity;
import org.wedgecutter.core.scene.EntityKind;
import org.wedgecutter.core.scene.Scene;
import org.wedgecutter.core.scene.SceneFacts;
import org.wedgecutter.core.scene.files.SceneFiles;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Parameters;

@Command(
    name = "info",
    description = "Prints what is in a scene, and what was not understood.",
    mixinStandardHelpOptions = true,
    footer = {"", "Example: wedgecutter info demo/orrery/orrery.glb"})
@SuppressWarnings("NullAway.Init")
final class InfoCommand implements Callable<Integer> {
  @Mixin private Output output;

  @Parameters(paramLabel = "SCENE", description = "A .gltf or .glb file.")
  private Path file;

  @Override
  public Integer call() throws Exception {
    Scene scene = SceneFiles.read(file);
    if (output.json) {
      output.document(document(scene));
    } else {
      print(scene);
    }
    return 0;
  }

  private void print(Scene scene) {
    var out = output.out();
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
    for (Entity e : scene.entities()) {
      float[] when = SceneFacts.movesWhen(scene, e);
      out.printf(
          "    %-44s %s%s%s%n",
          e.path(),
          e.kind().word(),
          when.length == 0 ? "" : "  moves %.3f to %.3f s".formatted(when[0], when[1]),
          e.tags().isEmpty() ? "" : "  tags " + String.join(" ", e.tags()));
    }
    out.println(scene.notUnderstood().isEmpty() ? "  all was understood" : "  not understood");
    scene.notUnderstood().forEach(line -> out.println("    " + line));
    out.flush();
  }

  private ObjectNode document(Scene scene) {
    ObjectNode n = JsonNodeFactory.instance.objectNode();
    n.put("scene", file.toString()).put("triangles", scene.triangles());
    n.put("duration", scene.duration());
    texts(n.putArray("materials"), SceneFacts.materialNames(scene));
    texts(n.putArray("lights"), SceneFacts.lights(scene));
    texts(n.putArray("cameras"), SceneFacts.cameraNames(scene));
    ArrayNode bounds = n.putArray("bounds");
    for (float value : SceneFacts.bounds(scene)) {
      bounds.add(value);
    }
    ArrayNode entities = n.putArray("entities");
    for (Entity e : scene.entities()) {
      ObjectNode one = entities.addObject().put("path", e.path()).put("kind", e.kind().word());
      one.put("moves", e.moves());
      for (float second : SceneFacts.movesWhen(scene, e)) {
        one.withArray("seconds").add(second);
      }
      texts(one.putArray("materials"), e.materials());
      texts(one.putArray("tags"), e.tags());
    }
    texts(n.putArray("notUnderstood"), scene.notUnderstood());
    return n;
  }

  private static void texts(ArrayNode array, List<String> texts) {
    texts.forEach(array::add);
  }
}
