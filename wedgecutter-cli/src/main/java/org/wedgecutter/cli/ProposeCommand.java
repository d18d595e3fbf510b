package org.wedgecutter.cli;

import java.io.PrintWriter;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.concurrent.Callable;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.command.Commands;
import org.wedgecutter.command.Result;
import org.wedgecutter.command.Threads;
import org.wedgecutter.core.cut.CompFreedom;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.propose.Proposal;
import org.wedgecutter.core.propose.Proposer;
import org.wedgecutter.core.survey.Surveyor;
import org.wedgecutter.core.survey.TimeEstimate;
import org.wedgecutter.core.survey.Times;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.ParameterException;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

@Command(
    name = "propose",
    description =
        "Proposes first cuts of a scene, with their reasons, their time, and what each lets you change later; writes one as a plan.",
    mixinStandardHelpOptions = true,
    footer = {
      "",
      "Each proposal is proved by a small trace. Without --out, nothing is written.",
      "Example: wedgecutter propose demo/orrery/orrery.glb -o demo/orrery/first.wedge"
    })
@SuppressWarnings("NullAway.Init")
final class ProposeCommand implements Callable<Integer> {
  @Mixin private Result result;
  @Spec private CommandSpec spec;

  @Parameters(
      paramLabel = "SCENE|PLAN",
      description =
          "A scene; or a plan, whose shot settings are used and whose layers are ignored.")
  private Path file;

  @Option(
      names = {"-o", "--out"},
      paramLabel = "PLAN",
      description = "The plan to write; in the scene's folder or above it.")
  private @Nullable Path out;

  @Option(names = "--replace", description = "Replace the plan if it exists.")
  private boolean replace;

  @Option(
      names = "--choose",
      paramLabel = "N",
      defaultValue = "1",
      description = "Which proposal is written. Default: the first.")
  private int choose;

  @Mixin private Threads threads;

  /**
   * @param freeInComp what compositing may do to the layer without a hole
   */
  private record Layer(
      String layer, String reason, List<String> freeInComp, TimeEstimate.Seconds seconds) {}

  private record Row(String collection, String rule, int picked) {}

  private record Proved(int frame, boolean exact, double max, double beyond, List<String> causes) {}

  private record Change(String change, List<String> layers, int of, TimeEstimate.Seconds seconds) {}

  private record Told(
      String title,
      String summary,
      List<Row> collections,
      List<Layer> layers,
      Proved proof,
      TimeEstimate.Seconds seconds,
      List<Change> later) {}

  private record Document(List<Told> proposals, @Nullable String written) {}

  @Override
  public Integer call() throws Exception {
    return threads.limit(this::propose);
  }

  private int propose() throws Exception {
    if (choose < 1) {
      throw wrongChoice("1 or more");
    }
    LoadedShot shot = LoadedShot.load(file);
    String scene = out == null ? "" : scene(shot, out);
    if (out != null && Files.exists(out) && !replace) {
      throw new InputException(out, "", "exists; choose another name, or give --replace");
    }
    Proposer proposer = new Proposer(shot, Surveyor.quick(shot, threads.asked()));
    List<Proposal> proposals;
    try (var _ = Commands.onInterrupt(proposer::stop)) {
      proposals = proposer.propose(p -> result.progress("propose", p));
    }
    if (choose > proposals.size()) {
      throw wrongChoice("1 to " + proposals.size());
    }
    if (out != null) {
      Plan plan = proposals.get(choose - 1).plan();
      plan = plan.withShot(plan.requireShot().with(s -> s.scene = scene));
      shot.withPlan(plan).withFile(out).save();
    }
    List<Told> told = proposals.stream().map(ProposeCommand::told).toList();
    result.print(new Document(told, out == null ? null : out.toString()), o -> print(o, told));
    return Commands.FINE;
  }

  private ParameterException wrongChoice(String expected) {
    return new ParameterException(
        spec.commandLine(), "--choose: %d, expected %s".formatted(choose, expected));
  }

  /** The path of the scene as the new plan names it. */
  private String scene(LoadedShot shot, Path plan) throws InputException {
    Path folder = plan.toAbsolutePath().normalize().getParent();
    Path own = shot.file().toAbsolutePath().normalize().getParent();
    if (folder == null || own == null) {
      throw new InputException(plan, "", "not a file");
    }
    Path scene = own.resolve(shot.plan().requireShot().scene());
    String path = folder.relativize(scene).toString().replace('\\', '/');
    if (path.startsWith("..")) {
      throw new InputException(
          plan, "", "the scene %s lies outside of this folder".formatted(scene));
    }
    return path;
  }

  private static Told told(Proposal p) {
    return new Told(
        p.title(),
        p.summary(),
        p.plan().collections().stream()
            .map(c -> new Row(c.name(), c.rule().text(), c.added().size()))
            .toList(),
        p.layers().stream()
            .map(l ->
                new Layer(
                    l.layer(),
                    l.text(),
                    l.comp().free().stream().map(CompFreedom.Change::word).toList(),
                    l.seconds()))
            .toList(),
        new Proved(
            p.proof().frame(),
            p.proof().exact(),
            p.proof().max(),
            p.proof().beyond(),
            p.proof().causes()),
        p.shot(),
        p.later().stream()
            .map(c -> new Change(c.change(), c.layers(), c.of(), c.seconds()))
            .toList());
  }

  private void print(PrintWriter o, List<Told> proposals) {
    int number = 0;
    for (Told p : proposals) {
      o.printf(
          "%d. %s, %s%n   %s%n", ++number, p.title, Times.words(p.seconds.middle()), p.summary);
      o.printf(
          "   %s%n",
          p.proof.exact
              ? "rejoins exactly at frame %d".formatted(p.proof.frame)
              : "max residual %.2g, %.2f %% of pixels at frame %d: %s"
                  .formatted(
                      p.proof.max,
                      p.proof.beyond * 100,
                      p.proof.frame,
                      String.join("; ", p.proof.causes)));
      for (Row row : p.collections) {
        o.printf(
            "   %-30s %s%n",
            "collection " + row.collection,
            row.rule.isEmpty() ? "%d objects by hand".formatted(row.picked) : row.rule);
      }
      for (Layer layer : p.layers) {
        o.printf(
            "   %-30s %8s  %s%n", layer.layer, Times.words(layer.seconds.middle()), layer.reason);
        o.printf("   %-30s %8s  free in comp: %s%n", "", "", String.join(", ", layer.freeInComp));
      }
      for (Change c : p.later) {
        o.printf(
            "   %s: re-render %d layer%s of %d, %s of %s%n",
            c.change,
            c.layers.size(),
            c.layers.size() == 1 ? "" : "s",
            c.of,
            Times.words(c.seconds.middle()),
            Times.words(p.seconds.middle()));
      }
    }
    if (out != null) {
      o.printf("wrote proposal %d to %s%n", choose, out);
    }
  }
}
