package org.wedgecutter.cli;

import java.io.PrintWriter;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.Callable;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.command.Commands;
import org.wedgecutter.command.Result;
import org.wedgecutter.core.carry.Carry;
import org.wedgecutter.core.carry.PlanCarrier;
import org.wedgecutter.core.check.Finding;
import org.wedgecutter.core.check.PlanCheck;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.mistake.Mistake;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

@Command(
    name = "carry",
    description =
        "Carries a plan or a template to other scenes and reports what each rule matches there.",
    mixinStandardHelpOptions = true,
    footer = {
      "",
      "To several scenes, the plans are written into a folder, named after the scenes.",
      "Example: wedgecutter carry demo/orrery/orrery.wedge --to demo/desk/desk.glb -o demo/desk/new.wedge"
    })
@SuppressWarnings("NullAway.Init")
final class CarryCommand implements Callable<Integer> {
  @Mixin private Result result;

  @Parameters(paramLabel = "PLAN", description = "A plan, or a template (a plan without a shot).")
  private Path file;

  @Option(
      names = "--to",
      required = true,
      arity = "1..*",
      paramLabel = "SCENE",
      description = "The new scene, or several.")
  private List<Path> scenes;

  @Option(
      names = {"-o", "--out"},
      required = true,
      paramLabel = "PLAN2|FOLDER",
      description = "The plan to write; for several scenes, the folder to write plans into.")
  private Path out;

  /** What a rule matches here and there. */
  private record Row(
      String collection, String rule, @Nullable Integer here, int there, List<String> lost) {}

  /** What carrying did. */
  private record Carried(
      List<Row> collections, List<String> rest, List<String> idle, List<String> notes) {}

  /** One shot of a sequence. */
  private record ShotLine(
      String plan,
      String scene,
      int errors,
      int warnings,
      int notes,
      List<String> emptyRules,
      int inTheRest,
      List<String> findings) {}

  private record Sequence(List<ShotLine> shots) {}

  @Override
  public Integer call() throws Exception {
    return scenes.size() > 1 || Files.isDirectory(out) ? many() : one();
  }

  /** Carries to every scene, or to none if one cannot be read. */
  private int many() throws Exception {
    Files.createDirectories(out);
    Map<Path, Carry.Carried> carried = new LinkedHashMap<>();
    for (Path scene : scenes) {
      String name = String.valueOf(scene.getFileName());
      int dot = name.lastIndexOf('.');
      Path plan = out.resolve((dot > 0 ? name.substring(0, dot) : name) + ".wedge");
      if (carried.containsKey(plan) || Files.exists(plan)) {
        throw new InputException(plan, "", "exists; choose another folder");
      }
      carried.put(plan, PlanCarrier.carry(file, scene, plan));
    }
    List<ShotLine> lines = new ArrayList<>();
    int at = 0;
    for (Map.Entry<Path, Carry.Carried> one : carried.entrySet()) {
      PlanCarrier.save(one.getValue().plan(), file, one.getKey());
      lines.add(line(one.getKey(), scenes.get(at++), one.getValue().report()));
    }
    result.print(new Sequence(lines), o -> print(o, lines));
    return lines.stream().anyMatch(l -> l.errors > 0) ? Commands.NO : Commands.FINE;
  }

  private static ShotLine line(Path plan, Path scene, Carry.Report report) throws Exception {
    LoadedShot shot = LoadedShot.load(plan);
    int first = shot.plan().requireShot().frames().first();
    List<Finding> found = PlanCheck.check(shot, shot.resolve(first));
    return new ShotLine(
        plan.toString(),
        scene.toString(),
        count(found, Mistake.Severity.ERROR),
        count(found, Mistake.Severity.WARNING),
        count(found, Mistake.Severity.NOTE),
        report.rows().stream()
            .filter(r -> r.there() == 0 && !r.rule().isEmpty())
            .map(Carry.Row::collection)
            .toList(),
        report.left().size(),
        found.stream().map(Finding::text).toList());
  }

  private static int count(List<Finding> found, Mistake.Severity severity) {
    return (int) found.stream().filter(f -> f.severity() == severity).count();
  }

  private static void print(PrintWriter o, List<ShotLine> lines) {
    o.printf(
        "%-24s %6s %8s %6s %12s %8s%n",
        "shot", "errors", "warnings", "notes", "empty rules", "the rest");
    for (ShotLine l : lines) {
      o.printf(
          "%-24s %6d %8d %6d %12d %8d%n",
          Path.of(l.plan).getFileName(),
          l.errors,
          l.warnings,
          l.notes,
          l.emptyRules.size(),
          l.inTheRest);
      l.findings.forEach(text -> o.println("  " + text));
    }
  }

  private int one() throws Exception {
    Path scene = scenes.getFirst();
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
