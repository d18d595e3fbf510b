package org.wedgecutter.cli;

import java.io.PrintWriter;
import java.nio.file.Path;
import java.util.List;
import java.util.concurrent.Callable;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.command.Commands;
import org.wedgecutter.command.Result;
import org.wedgecutter.core.check.Catalogue;
import org.wedgecutter.core.check.Finding;
import org.wedgecutter.core.check.PlanCheck;
import org.wedgecutter.core.check.SeenTable;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.mistake.Mistake;
import org.wedgecutter.core.resolve.ResolvedShot;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.ParameterException;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

@Command(
    name = "check",
    description = "Checks a plan without rendering and prints the findings.",
    mixinStandardHelpOptions = true,
    footer = {"", "Example: wedgecutter check demo/orrery/orrery.wedge"})
@SuppressWarnings("NullAway.Init")
final class CheckCommand implements Callable<Integer> {
  @Mixin private Result result;

  @Parameters(paramLabel = "PLAN", arity = "0..1", description = "A plan (.wedge).")
  private @Nullable Path file;

  @Option(names = "--catalogue", description = "Print the catalogue of findings, as Markdown.")
  private boolean catalogue;

  @Option(
      names = "--frame",
      description = "Frame at which keyed values are read. Default: the first.")
  private @Nullable Integer frame;

  @Spec private CommandSpec spec;

  /** One finding. */
  private record Found(
      String kind,
      String severity,
      String layer,
      String entity,
      String cause,
      String fix,
      boolean fixable) {}

  /** How often entities are seen in a range of frames. */
  private record Seen(List<Integer> frames, int never, int twice) {}

  private record Checked(List<Found> findings, List<Seen> seen) {}

  @Override
  public Integer call() throws Exception {
    if (catalogue) {
      result.print(Catalogue.page());
      return Commands.FINE;
    }
    if (file == null) {
      throw new ParameterException(spec.commandLine(), "expected a plan");
    }
    LoadedShot shot = LoadedShot.load(file);
    int at = frame == null ? shot.plan().requireShot().frames().first() : frame;
    ResolvedShot resolved = shot.resolve(at);
    List<Finding> findings = PlanCheck.check(shot, resolved);
    List<SeenTable.Span> spans = SeenTable.of(shot.plan(), shot.members(), resolved);
    result.print(document(findings, spans), o -> print(o, findings, spans));
    boolean errors = findings.stream().anyMatch(f -> f.severity() == Mistake.Severity.ERROR);
    return errors ? Commands.NO : Commands.FINE;
  }

  private static void print(PrintWriter o, List<Finding> findings, List<SeenTable.Span> spans) {
    for (Finding f : findings) {
      o.printf(
          "%-8s %-20s %s%n         fix: %s%n",
          f.severity().word(), f.kind().word(), f.text(), f.advice());
    }
    if (findings.isEmpty()) {
      o.println("no findings");
    }
    for (SeenTable.Span span : spans) {
      o.printf(
          "frames %d to %d: %s%n",
          span.first(),
          span.last(),
          span.causes().isEmpty()
              ? "everything is seen exactly once"
              : "%d missing, %d seen twice or more"
                  .formatted(span.never().size(), span.twice().size()));
    }
  }

  private static Checked document(List<Finding> findings, List<SeenTable.Span> spans) {
    return new Checked(
        findings.stream()
            .map(f ->
                new Found(
                    f.kind().word(),
                    f.severity().word(),
                    f.layer(),
                    f.entity(),
                    f.text(),
                    f.advice(),
                    f.fix() != null))
            .toList(),
        spans.stream()
            .map(s -> new Seen(List.of(s.first(), s.last()), s.never().size(), s.twice().size()))
            .toList());
  }
}
