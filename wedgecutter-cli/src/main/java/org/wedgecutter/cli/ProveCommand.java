package org.wedgecutter.cli;

import com.fasterxml.jackson.annotation.JsonIgnore;
import com.fasterxml.jackson.annotation.JsonInclude;
import java.io.PrintWriter;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.concurrent.Callable;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.command.Commands;
import org.wedgecutter.command.Result;
import org.wedgecutter.command.Threads;
import org.wedgecutter.core.deliver.Delivery;
import org.wedgecutter.core.deliver.check.DeliveryComparison;
import org.wedgecutter.core.deliver.check.DeliveryProof;
import org.wedgecutter.core.fragment.CatchFit;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.measure.InterplayTable;
import org.wedgecutter.core.plan.Correction;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.proof.Cause;
import org.wedgecutter.core.proof.PlanProof;
import org.wedgecutter.core.proof.Residual;
import org.wedgecutter.core.proof.Tolerance;
import org.wedgecutter.core.render.FrameRenderer;
import org.wedgecutter.core.resolve.ResolvedLayer;
import org.wedgecutter.core.resolve.ResolvedShot;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

@Command(
    name = "prove",
    description =
        "Proves whether the layers rejoin to the uncut frame; if not, prints the residual and its causes.",
    mixinStandardHelpOptions = true,
    footer = {
      "",
      "A plan is traced. Of a delivery, the written files are read.",
      "Example: wedgecutter prove demo/orrery/orrery.wedge --frame 20 --scale 0.25 --samples 4"
    })
@SuppressWarnings("NullAway.Init")
final class ProveCommand implements Callable<Integer> {
  @Mixin private Result result;

  @Parameters(
      paramLabel = "PLAN|DELIVERY",
      description = "A plan (.wedge) or the folder of a delivery.")
  private Path path;

  @Option(names = "--frame", description = "Frame. Default: the first.")
  private @Nullable Integer frame;

  @Option(
      names = "--frames",
      paramLabel = "RANGE",
      description = "Of a delivery: prove these frames, or 'all'.")
  private @Nullable String frames;

  @Option(
      names = "--against",
      paramLabel = "DELIVERY",
      description = "Of a delivery: compare another one with it, layer by layer.")
  private @Nullable Path against;

  @Mixin private Options options;
  @Mixin private Threads threads;

  @Override
  public Integer call() throws Exception {
    options.scale();
    options.samples();
    return threads.limit(this::prove);
  }

  private int prove() throws Exception {
    if (Delivery.isDelivery(path) || java.nio.file.Files.isDirectory(path)) {
      Delivery delivery = Delivery.read(path);
      if (against != null) {
        return compared(delivery, Delivery.read(against));
      }
      if (frames != null) {
        return all(delivery, frames);
      }
      int chosen = frame(delivery, frame);
      DeliveryProof proof = DeliveryProof.prove(delivery, chosen);
      return tell(
          delivery.plan(),
          chosen,
          proof.exact(),
          proof.residual(),
          proof.causes(),
          proof.unexplained(),
          null);
    }
    LoadedShot shot = options.withSeed(LoadedShot.load(path));
    int chosen = frame == null ? shot.plan().requireShot().frames().first() : frame;
    FrameRenderer renderer =
        new FrameRenderer(
            shot,
            FrameRenderer.Settings.of(
                shot, options.scale(), options.samples(), threads.asked(), options.separately()));
    PlanProof proof;
    try (var _ = Commands.onInterrupt(renderer::stop)) {
      proof = PlanProof.prove(shot, chosen, renderer, p -> result.progress("frame " + chosen, p));
    }
    return tell(
        shot.plan(),
        chosen,
        proof.residual().exact(),
        proof.residual(),
        proof.causes(),
        proof.unexplained(),
        new Traced(
            proof.traced().invalidSamples(),
            proof.traced().cutShort(),
            pairs(shot.resolve(chosen), proof.traced().interplay()),
            catches(proof)));
  }

  private static List<Catch> catches(PlanProof proof) {
    return proof.traced().catches().entrySet().stream()
        .map(e ->
            new Catch(
                e.getKey(), e.getValue().over(), e.getValue().aboveAlpha(), e.getValue().line()))
        .toList();
  }

  private int compared(Delivery first, Delivery second) throws Exception {
    int chosen = frame(first, frame);
    frame(second, chosen);
    DeliveryComparison told = DeliveryComparison.of(first, second, chosen);
    result.print(
        told,
        o -> {
          for (DeliveryComparison.Part p : told.parts()) {
            String text =
                !p.there().equals("both")
                    ? "only in the %s delivery".formatted(p.there())
                    : p.isSame()
                        ? "the same"
                        : "max difference %.3g, rms %.3g, %.2f %% of pixels"
                            .formatted(p.max(), p.rms(), 100 * p.beyond());
            o.printf("%s: %s%n", p.layer(), text);
          }
        });
    return told.isSame() ? Commands.FINE : Commands.NO;
  }

  private record ProvedFrame(int frame, boolean exact, double max, List<Reason> causes) {}

  private record ProvedFrames(boolean exact, double max, List<ProvedFrame> frames) {}

  private int all(Delivery delivery, String range) throws Exception {
    List<Integer> chosen = range.equals("all") ? delivery.frames() : options.range(range).frames();
    if (chosen.isEmpty()) {
      throw new InputException(delivery.folder(), "files", "no frame has been rendered");
    }
    List<ProvedFrame> out = new ArrayList<>();
    for (int each : chosen) {
      int at = frame(delivery, each);
      DeliveryProof proof = DeliveryProof.judge(delivery, at);
      if (!proof.exact() && out.stream().allMatch(ProvedFrame::exact)) {
        // causes are measured at the first frame that is not exact
        proof = DeliveryProof.prove(delivery, at);
      }
      out.add(
          new ProvedFrame(
              each,
              proof.exact(),
              proof.residual().max(),
              proof.causes().stream().map(ProveCommand::reason).toList()));
      result.progress("frame " + each, out.size() / (double) chosen.size());
    }
    ProvedFrames told =
        new ProvedFrames(
            out.stream().allMatch(ProvedFrame::exact),
            out.stream().mapToDouble(ProvedFrame::max).max().orElse(0),
            out);
    result.print(
        told,
        o -> {
          o.printf(
              "%d of %d frames rejoin exactly, max residual %.3g%n",
              out.stream().filter(ProvedFrame::exact).count(), out.size(), told.max());
          out.stream()
              .filter(f -> !f.exact())
              .forEach(f -> {
                o.printf("frame %d: max residual %.3g%n", f.frame(), f.max());
                f.causes()
                    .forEach(c ->
                        o.printf("  %s: %s%n", c.suspected() ? "suspected" : "cause", c.text()));
              });
        });
    return told.exact() ? Commands.FINE : Commands.NO;
  }

  /**
   * What only a trace tells.
   *
   * @param invalid samples that were left out because a value was NaN, infinite or negative
   * @param cutShort walks through media that took too many steps
   * @param interplay the pairs of layers that do most to one another
   * @param catches the catches among the layers
   */
  private record Traced(long invalid, long cutShort, List<Pair> interplay, List<Catch> catches) {}

  /**
   * A catch over even backgrounds.
   *
   * @param over how far it is from what its surface gives on each
   * @param aboveAlpha share of its colour above its alpha
   */
  private record Catch(
      String layer, List<CatchFit.Over> over, double aboveAlpha, @JsonIgnore String line) {}

  /** How much the objects of one layer do to the light of another, as a share of it. */
  private record Pair(String of, String by, double share) {}

  private static List<Pair> pairs(ResolvedShot shot, InterplayTable table) {
    List<Pair> out = new ArrayList<>();
    for (ResolvedLayer a : shot.layers()) {
      for (ResolvedLayer b : shot.layers()) {
        if (!a.name().equals(b.name()) && !a.seen().isEmpty() && !b.seen().isEmpty()) {
          double share = table.share(a.seen(), b.seen());
          if (share > 0.0005) {
            out.add(new Pair(a.name(), b.name(), share));
          }
        }
      }
    }
    out.sort(Comparator.comparingDouble(p -> -p.share()));
    return out;
  }

  /** The frame that was asked for, or the first of a delivery. */
  static int frame(Delivery delivery, @Nullable Integer asked) throws InputException {
    List<Integer> frames = delivery.frames();
    if (frames.isEmpty()) {
      throw new InputException(delivery.folder(), "files", "no frame has been rendered");
    }
    if (asked != null && !frames.contains(asked)) {
      throw new InputException(
          delivery.folder(),
          "files",
          "frame %d was not rendered; the frames are %s".formatted(asked, frames));
    }
    return asked == null ? frames.getFirst() : asked;
  }

  private record Tolerated(double absolute, double relative, double alpha) {}

  private record Joined(String layer, String join) {}

  /**
   * A cause.
   *
   * @param suspected whether it was not measured how much it explains; it has no share then
   */
  private record Reason(
      String kind,
      String layer,
      String entity,
      @Nullable Double share,
      boolean suspected,
      String text,
      String fix) {}

  private record Influence(String layer, String by, double share) {}

  private record Proved(
      boolean exact,
      int frame,
      Tolerated tolerance,
      double max,
      double maxRelative,
      double rms,
      double beyond,
      int invalidValues,
      List<Joined> layers,
      List<Reason> causes,
      @Nullable Double unexplained,
      List<String> notProved,
      @JsonInclude(JsonInclude.Include.NON_NULL) @Nullable Long invalidSamples,
      @JsonInclude(JsonInclude.Include.NON_NULL) @Nullable Long cutShort,
      @JsonInclude(JsonInclude.Include.NON_NULL) @Nullable List<Influence> interplay,
      @JsonInclude(JsonInclude.Include.NON_EMPTY) List<Catch> catches) {}

  private int tell(
      Plan plan,
      int chosen,
      boolean exact,
      Residual residual,
      List<Cause> causes,
      double unexplained,
      @Nullable Traced traced) {
    result.print(
        new Proved(
            exact,
            chosen,
            new Tolerated(residual.absolute(), residual.relative(), Tolerance.ALPHA),
            residual.max(),
            residual.maxRelative(),
            residual.rms(),
            residual.beyond(),
            residual.invalid(),
            plan.recipe().joins().stream()
                .map(step -> new Joined(step.layer(), step.join().word()))
                .toList(),
            causes.stream().map(ProveCommand::reason).toList(),
            Double.isNaN(unexplained) ? null : unexplained,
            corrections(plan),
            traced == null ? null : traced.invalid(),
            traced == null ? null : traced.cutShort(),
            traced == null
                ? null
                : traced.interplay().stream()
                    .map(p -> new Influence(p.of(), p.by(), p.share()))
                    .toList(),
            traced == null ? List.of() : traced.catches()),
        o -> print(o, chosen, exact, residual, causes, unexplained, corrections(plan), traced));
    return exact ? Commands.FINE : Commands.NO;
  }

  /** What the recipe does besides joining: a proof is of the joins alone. */
  private static List<String> corrections(Plan plan) {
    return plan.recipe().corrections().stream()
        .filter(Correction::on)
        .map(Correction::title)
        .toList();
  }

  private static Reason reason(Cause c) {
    Double share = c.isMeasured() ? c.share() : null;
    return new Reason(
        c.kind().word(), c.layer(), c.entity(), share, !c.isMeasured(), c.text(), c.fix());
  }

  private static void print(
      PrintWriter o,
      int chosen,
      boolean exact,
      Residual residual,
      List<Cause> causes,
      double unexplained,
      List<String> corrections,
      @Nullable Traced traced) {
    o.printf(
        "frame %d: %s%n  max residual %.3g (%.3g relative), rms %.3g, %.4f %% of pixels beyond tolerance%n",
        chosen,
        exact
            ? "rejoins exactly"
            : residual.exact()
                ? "adds up, but not from the files that were rendered"
                : "does not rejoin exactly",
        residual.max(),
        residual.maxRelative(),
        residual.rms(),
        residual.beyond() * 100);
    if (residual.invalid() > 0) {
      o.printf("  values that are not finite: %d%n", residual.invalid());
    }
    for (Cause c : causes) {
      String share =
          !c.isMeasured()
              ? "suspected"
              : c.share() > 0 ? "cause (%.1f %%)".formatted(c.share() * 100) : "note";
      o.printf("  %s: %s%n    fix: %s%n", share, c.text(), c.fix());
    }
    if (!corrections.isEmpty()) {
      o.printf("  not proved, as the proof is of the joins: %s%n", String.join("; ", corrections));
    }
    if (unexplained > 0.001) {
      o.printf("  unexplained (%.1f %%)%n", unexplained * 100);
    }
    if (traced != null) {
      o.printf("  invalid samples (NaN, infinite or negative): %d%n", traced.invalid());
      if (traced.cutShort() > 0) {
        o.printf("  volume paths terminated: %d%n", traced.cutShort());
      }
      traced.interplay().stream()
          .limit(6)
          .forEach(p ->
              o.printf(
                  "  interplay: %.1f %% of the light of %s comes via %s or is blocked by it%n",
                  p.share() * 100, p.of(), p.by()));
      traced
          .catches()
          .forEach(c -> o.printf("  %s differs from its surface by %s%n", c.layer(), c.line()));
    }
  }
}
