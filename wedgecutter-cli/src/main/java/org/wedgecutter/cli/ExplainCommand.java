package org.wedgecutter.cli;

import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.JsonNodeFactory;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.nio.file.Path;
import java.util.concurrent.Callable;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.cut.Explanation;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.plan.LayerDef;
import org.wedgecutter.core.scene.Entity;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

@Command(
    name = "explain",
    description = "Says what an entity is to a layer, and which row, rule or override decided.",
    mixinStandardHelpOptions = true,
    footer = {
      "",
      "Example: wedgecutter explain demo/orrery/orrery.wedge Hero /orrery/arms/verdant/planet"
    })
@SuppressWarnings("NullAway.Init")
final class ExplainCommand implements Callable<Integer> {
  @Mixin private Output output;

  @Parameters(index = "0", paramLabel = "PLAN", description = "A .wedge file.")
  private Path file;

  @Parameters(index = "1", paramLabel = "LAYER", description = "Name of a layer.")
  private String layer;

  @Parameters(index = "2", paramLabel = "ENTITY", description = "Path of an entity.")
  private String entity;

  @Option(names = "--frame", description = "Frame of keyed values; the first by default.")
  private @Nullable Integer frame;

  @Override
  public Integer call() throws Exception {
    LoadedShot shot = LoadedShot.load(file);
    LayerDef def =
        shot.plan()
            .layer(layer)
            .orElseThrow(() ->
                new InputException(file, "layers", "there is no layer '%s'".formatted(layer)));
    Entity found =
        shot.scene()
            .entity(entity)
            .orElseThrow(() ->
                new InputException(
                    file,
                    "shot/scene",
                    "there is no entity '%s'; info lists them".formatted(entity)));
    int at = frame == null ? shot.plan().requireShot().frames().first() : frame;
    Explanation e = Explanation.of(shot.plan(), shot.members(), def, found, at);
    if (output.json) {
      output.document(document(e));
      return 0;
    }
    output.out().printf("%s in layer %s is %s, by %s%n", entity, layer, e.role().word(), e.by());
    for (Explanation.RowSays row : e.rows()) {
      output
          .out()
          .printf(
              "  %-20s %-10s %s%n",
              row.row(), row.role() == null ? "-" : row.role().word(), row.why());
    }
    for (Explanation.PropertySays p : e.properties()) {
      if (p.override() != null) {
        output
            .out()
            .printf(
                "  %-24s %s -> %s, by %s (%s)%n",
                p.property().word(), p.before(), p.after(), p.by(), p.override().text());
      }
    }
    output.out().flush();
    return 0;
  }

  private static ObjectNode document(Explanation e) {
    ObjectNode n = JsonNodeFactory.instance.objectNode();
    n.put("role", e.role().word()).put("by", e.by());
    ArrayNode rows = n.putArray("rows");
    for (Explanation.RowSays row : e.rows()) {
      ObjectNode one = rows.addObject().put("row", row.row()).put("why", row.why());
      one.put("role", row.role() == null ? null : row.role().word());
    }
    ArrayNode properties = n.putArray("properties");
    for (Explanation.PropertySays p : e.properties()) {
      ObjectNode one = properties.addObject().put("property", p.property().word());
      one.put("before", p.before()).put("after", p.after()).put("by", p.by());
      one.put("override", p.override() == null ? null : p.override().text());
    }
    return n;
  }
}
