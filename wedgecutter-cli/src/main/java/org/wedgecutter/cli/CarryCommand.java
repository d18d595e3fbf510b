package org.wedgecutter.cli;

import java.io.PrintWriter;
import java.nio.file.Path;
import java.util.List;
import java.util.concurrent.Callable;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.command.Commands;
import org.wedgecutter.command.Result;
import org.wedgecutter.core.carry.Carry;
import org.wedgecutter.core.carry.PlanCarrier;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

@Command(
    name = "carry",
    description =
        "Carries a plan or a template to another scene and reports what each rule matches there.",
    mixinStandardHelpOptions = true,
    footer = {
      "",
      "Example: wedgecutter carry demo/orrery/orrery.wedge --to demo/desk/desk.glb -o demo/desk/new.wedge"
    })
@SuppressWarnings("NullAway.Init")
final class CarryCommand implements Callable<Integer> {
  @Mixin private Result result;

  @Parameters(paramLabel = "PLAN", description = "A plan, or a template (a plan without a shot).")
  private Path file;

  @Option(names = "--to", required = true, paramLabel = "SCENE", description = "The new scene.")
  private Path scene;

  @Option(
      names = {"-o", "--out"},
      required = true,
      paramLabel = "PLAN2",
      description = "The plan to write.")
  private Path out;

  /** What a rule matches here and there. */
  private record Row(
      String collection, String rule, @Nullable Integer here, int there, List<String> lost) {}

  /** What carrying did. */
  private record Carried(
      List<Row> collections, List<String> rest, List<String> idle, List<String> notes) {}

  @Override
  public Integer call() throws Exception {
    Carry.Carried carried = PlanCarrier.carry(file, scene, out);
    PlanCarrier.save(carried.plan(), file, out);
    Carry.Report report = carried.report();
    List<Row> rows =
        report.rows().stream()
            .map(r ->
                new Row(
                    r.collection(), r.rule(), r.here() < 0 ? null : r.here(), r.there(), r.lost()))
            .toList();
    result.print(
        new Carried(rows, report.left(), report.idle(), report.notes()),
        o -> print(o, rows, report));
    return Commands.FINE;
  }

  private void print(PrintWriter o, List<Row> rows, Carry.Report report) {
    o.printf("%-24s %8s %8s  %s%n", "collection", "old", "new", "rule");
    for (Row row : rows) {
      o.printf(
          "%-24s %8s %8d  %s%n",
          row.collection, row.here == null ? "-" : row.here, row.there, row.rule);
      row.lost.forEach(p -> o.printf("%-24s picked object lost: %s%n", "", p));
    }
    list(o, "in the rest:", report.left());
    list(o, "overrides that match nothing:", report.idle());
    report.notes().forEach(o::println);
    o.println("wrote " + out);
  }

  private static void list(PrintWriter o, String title, List<String> lines) {
    if (!lines.isEmpty()) {
      o.println(title);
      lines.forEach(line -> o.println("  " + line));
    }
  }
}
