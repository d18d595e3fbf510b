package org.wedgecutter.cli;

import java.io.PrintWriter;
import java.nio.file.Path;
import java.util.List;
import java.util.concurrent.Callable;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.command.Commands;
import org.wedgecutter.command.Result;
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
    description =
        "Explains the role of an entity in a layer: which row, rule or override decided it.",
    mixinStandardHelpOptions = true,
    footer = {
      "",
      "Example: wedgecutter explain demo/orrery/orrery.wedge Hero /orrery/arms/verdant/planet"
    })
@SuppressWarnings("NullAway.Init")
final class ExplainCommand implements Callable<Integer> {
  @Mixin private Result result;

  @Parameters(index = "0", paramLabel = "PLAN", description = "A plan (.wedge).")
  private Path file;

  @Parameters(index = "1", paramLabel = "LAYER", description = "Name of the layer.")
  private String layer;

  @Parameters(
      index = "2",
      paramLabel = "ENTITY",
      description = "Path of the entity, as info lists it.")
  private String entity;

  @Option(
      names = "--frame",
      description = "Frame at which keyed values are read. Default: the first.")
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
    result.print(document(e), o -> print(o, e));
    return Commands.FINE;
  }

  private void print(PrintWriter o, Explanation e) {
    o.printf("%s in layer %s is %s, by %s%n", entity, layer, e.role().word(), e.by());
    for (Explanation.RowSays row : e.rows()) {
      String role = row.role() == null ? "-" : row.role().word();
      o.printf("  %-20s %-10s %s%n", row.row(), role, row.why());
    }
    for (Explanation.PropertySays p : e.properties()) {
      if (p.override() != null) {
        o.printf(
            "  %-24s %s -> %s, by %s (%s)%n",
            p.property().word(), p.before(), p.after(), p.by(), p.override().text());
      }
    }
  }

  private record Row(String row, String why, @Nullable String role) {}

  private record Value(
      String property,
      String before,
      String after,
      @Nullable String by,
      @Nullable String override) {}

  private record Explained(String role, String by, List<Row> rows, List<Value> properties) {}

  private static Explained document(Explanation e) {
    return new Explained(
        e.role().word(),
        e.by(),
        e.rows().stream()
            .map(r -> new Row(r.row(), r.why(), r.role() == null ? null : r.role().word()))
            .toList(),
        e.properties().stream()
            .map(p ->
                new Value(
                    p.property().word(),
                    p.before(),
                    p.after(),
                    p.by(),
                    p.override() == null ? null : p.override().text()))
            .toList());
  }
}
