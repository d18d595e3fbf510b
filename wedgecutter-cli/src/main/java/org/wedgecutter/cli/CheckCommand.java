package org.wedgecutter.cli;

import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.JsonNodeFactory;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.nio.file.Path;
import java.util.List;
import java.util.concurrent.Callable;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.check.Catalogue;
import org.wedgecutter.core.check.Finding;
import org.wedgecutter.core.check.PlanCheck;
import org.wedgecutter.core.check.SeenTable;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.mistake.Mistake;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.ParameterException;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

@Command(
    name = "check",
    description = "Prints findings on a plan, without rendering.",
    mixinStandardHelpOptions = true,
    footer = {"", "Example: wedgecutter check demo/orrery/orrery.wedge"})
@SuppressWarnings("NullAway.Init")
final class CheckCommand implements Callable<Integer> {
  @Mixin private Output output;

  @Parameters(paramLabel = "PLAN", arity = "0..1", description = "A .wedge file.")
  private @Nullable Path file;

  @Option(names = "--catalogue", description = "Print the catalogue of findings, as Markdown.")
  private boolean catalogue;

  @Option(
      names = "--frame",
      description = "Frame whose keyed values are looked at; the first by default.")
  private @Nullable Integer frame;

  @Spec private CommandSpec spec;

  @Override
  public Integer call() throws Exception {
    if (catalogue) {
      output.out().print(Catalogue.page());
      output.out().flush();
      return 0;
    }
    if (file == null) {
      throw new ParameterException(spec.commandLine(), "expected a plan");
    }
    LoadedShot shot = LoadedShot.load(file);
    int at = frame == null ? shot.plan().requireShot().frames().first() : frame;
    List<Finding> findings = PlanCheck.check(shot.plan(), shot.members(), shot.resolve(at));
    if (output.json) {
      output.document(document(shot, findings, at));
    } else {
      for (Finding f : findings) {
        output
            .out()
            .printf(
                "%-8s %-20s %s%n         fix: %s%n",
                f.severity().word(), f.kind().word(), f.text(), f.advice());
      }
      if (findings.isEmpty()) {
        output.out().println("no findings");
      }
      for (SeenTable.Span span : spans(shot, at)) {
        output
            .out()
            .printf(
                "frames %d-%d: %s%n",
                span.first(),
                span.last(),
                span.causes().isEmpty()
                    ? "everything is seen exactly once"
                    : "%d never seen, %d more than once"
                        .formatted(span.never().size(), span.twice().size()));
      }
      output.out().flush();
    }
    boolean errors = findings.stream().anyMatch(f -> f.severity() == Mistake.Severity.ERROR);
    return errors ? Main.NO : 0;
  }

  private static List<SeenTable.Span> spans(LoadedShot shot, int frame) {
    return SeenTable.of(shot.plan(), shot.members(), shot.resolve(frame));
  }

  private static ObjectNode document(LoadedShot shot, List<Finding> findings, int frame) {
    ObjectNode n = JsonNodeFactory.instance.objectNode();
    ArrayNode list = n.putArray("findings");
    for (Finding f : findings) {
      ObjectNode one = list.addObject().put("kind", f.kind().word());
      one.put("severity", f.severity().word());
      one.put("layer", f.layer()).put("entity", f.entity());
      one.put("cause", f.text()).put("fix", f.advice());
      one.put("fixable", f.fix() != null);
    }
    ArrayNode seen = n.putArray("seen");
    for (SeenTable.Span span : spans(shot, frame)) {
      ObjectNode one = seen.addObject();
      one.putArray("frames").add(span.first()).add(span.last());
      one.put("never", span.never().size()).put("twice", span.twice().size());
    }
    return n;
  }
}
