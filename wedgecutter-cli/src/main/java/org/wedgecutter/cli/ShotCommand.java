package org.wedgecutter.cli;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.io.PrintWriter;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Objects;
import java.util.concurrent.Callable;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.command.Commands;
import org.wedgecutter.command.Result;
import org.wedgecutter.command.Threads;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.plan.FrameRange;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.propose.StillBut;
import org.wedgecutter.core.render.FrameRenderer;
import org.wedgecutter.core.resolve.EntitySet;
import org.wedgecutter.core.resolve.HeldFrames;
import org.wedgecutter.core.survey.DepthOrder;
import org.wedgecutter.core.survey.FrameSurvey;
import org.wedgecutter.core.survey.LightMatrix;
import org.wedgecutter.core.survey.Matter;
import org.wedgecutter.core.survey.Noise;
import org.wedgecutter.core.survey.Parts;
import org.wedgecutter.core.survey.SampleSpread;
import org.wedgecutter.core.survey.ShotSurvey;
import org.wedgecutter.core.survey.SurveyStore;
import org.wedgecutter.core.survey.Surveyor;
import org.wedgecutter.core.survey.TimeEstimate;
import org.wedgecutter.core.survey.Times;
import picocli.CommandLine.ArgGroup;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.ParameterException;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

@Command(
    name = "shot",
    description =
        "Reads a shot: what moves, what is in front, who lights whom, which frames matter, and what the layers cost in time and noise.",
    mixinStandardHelpOptions = true,
    footer = {
      "",
      "Quick traces are made whatever is asked for; --scale and --samples say for which render",
      "time and noise are estimated.",
      "Example: wedgecutter shot demo/orrery/orrery.wedge --samples 64"
    })
@SuppressWarnings("NullAway.Init")
final class ShotCommand implements Callable<Integer> {
  private static final double LEAST_SHARE = 0.0005;

  @Mixin private Result result;
  @Spec private CommandSpec spec;

  @Parameters(paramLabel = "PLAN|SCENE", description = "A plan (.wedge), or a scene.")
  private Path file;

  @Option(
      names = "--frames",
      paramLabel = "RANGE",
      description = "Look only at these frames, for example 1-24x2,30.")
  private @Nullable String frames;

  @Option(
      names = "--looks",
      paramLabel = "N",
      defaultValue = "5",
      description = "How many frames are traced at most. Default: ${DEFAULT-VALUE}.")
  private int looks;

  @Option(
      names = "--afresh",
      description = "Ignore cached quick traces, which are in the .survey folder beside the plan.")
  private boolean fresh;

  @ArgGroup(exclusive = true)
  private @Nullable Aim aim;

  /** What samples are to reach. */
  private static final class Aim {
    @Option(
        names = "--noise",
        paramLabel = "PERCENT",
        description =
            "Print the samples of each layer that reach this noise of the rejoined frame in the least time.")
    private @Nullable Double noise;

    @Option(
        names = "--hours",
        paramLabel = "H",
        description =
            "Tell the samples of each layer that give the least noise in these hours for the shot.")
    private @Nullable Double hours;
  }

  @Mixin private Options options;
  @Mixin private Threads threads;

  private record KeyedOverride(String layer, String property, List<Integer> frames) {}

  private record PartFacts(
      String part,
      int entities,
      String kind,
      @Nullable String moves,
      @Nullable String visible,
      double coverage,
      @Nullable Integer coverageFrame,
      @JsonInclude(JsonInclude.Include.NON_EMPTY) List<KeyedOverride> keyed) {}

  private record InFront(String front, String behind) {}

  private record Crossing(String part, String other, String frames) {}

  private record Light(String of, String by, double via, double blocked) {}

  private record Matters(int frame, List<String> reasons) {}

  private record NoiseFacts(@Nullable Double rms, @Nullable Double relative) {}

  private record LayerCost(
      String layer,
      List<String> sharesTraceWith,
      String rendered,
      TimeEstimate.Seconds secondsPerFrame,
      TimeEstimate.Seconds shotSeconds,
      NoiseFacts noise) {}

  private record Cost(
      int width,
      int height,
      int samples,
      int threads,
      TimeEstimate.Seconds shot,
      TimeEstimate.Seconds uncutShot,
      NoiseFacts uncutNoise,
      NoiseFacts rejoinedNoise,
      List<LayerCost> layers,
      @JsonInclude(JsonInclude.Include.NON_NULL) @Nullable Best bestSamples) {}

  private record Samples(List<String> layers, int samples) {}

  private record Best(List<Samples> traces, double shotSeconds, double rejoinedNoise) {}

  private record Held(String layer, List<String> butFor, double share, double savedSeconds) {}

  private record Read(
      String frames,
      @Nullable String cameraMoves,
      List<PartFacts> parts,
      List<InFront> inFront,
      List<Crossing> crossings,
      List<Integer> traced,
      List<Light> light,
      List<Matters> framesThatMatter,
      Cost cost,
      List<Held> stillButFor) {}

  @Override
  public Integer call() throws Exception {
    options.scale();
    options.samples();
    if (looks < 1) {
      throw new ParameterException(spec.commandLine(), "--looks: expected 1 or more");
    }
    Aim a = aim;
    if (a != null) {
      positive("--noise", a.noise);
      positive("--hours", a.hours);
    }
    return threads.limit(this::read);
  }

  private void positive(String option, @Nullable Double value) {
    if (value != null && !(value > 0 && value < 1e9)) {
      throw new ParameterException(
          spec.commandLine(), "%s: expected a number above 0".formatted(option));
    }
  }

  /** Returns the samples that reach what is asked for, or null if nothing is. */
  private @Nullable Best best(Plan plan, ShotSurvey survey, TimeEstimate time) {
    Aim a = aim;
    if (a == null) {
      return null;
    }
    SampleSpread all = new SampleSpread(survey.traced(), time);
    Double noise = a.noise;
    Double hours = a.hours;
    SampleSpread.Spread made =
        noise != null
            ? all.forNoise(noise / 100)
            : all.forSeconds(Objects.requireNonNull(hours) * 3600);
    return new Best(
        made.traces().stream()
            .map(t ->
                new Samples(
                    t.layers().stream().map(l -> plan.layers().get(l).name()).toList(),
                    t.samples()))
            .toList(),
        made.seconds(),
        made.noise());
  }

  private int read() throws Exception {
    LoadedShot shot = options.withSeed(LoadedShot.load(file));
    if (frames != null) {
      FrameRange range = options.range(frames);
      shot =
          shot.withPlan(
              shot.plan().withShot(shot.plan().requireShot().with(s -> s.frames = range)));
    }
    List<Integer> range = shot.plan().requireShot().frames().frames();
    Surveyor surveyor =
        new Surveyor(
            shot, Surveyor.quick(shot, threads.asked()), fresh ? null : new SurveyStore(shot));
    ShotSurvey survey;
    try (var _ = Commands.onInterrupt(surveyor::stop)) {
      survey = surveyor.survey(range, looks, p -> result.progress("survey", p));
    }
    FrameRenderer.Settings render =
        FrameRenderer.Settings.of(shot, options.scale(), options.samples(), threads.asked(), false);
    Read document = document(shot, survey, render);
    result.print(document, o -> print(o, document));
    return Commands.FINE;
  }

  private static @Nullable String text(List<Integer> frames) {
    return frames.isEmpty() ? null : FrameRange.of(frames).text();
  }

  private Read document(LoadedShot shot, ShotSurvey survey, FrameRenderer.Settings render) {
    HeldFrames held = HeldFrames.of(shot.plan(), shot.members());
    TimeEstimate time = estimate(shot, survey, held, render);
    Parts parts = survey.parts();
    List<PartFacts> facts = new ArrayList<>();
    for (int p = 0; p < parts.size(); p++) {
      facts.add(part(survey, p));
    }
    List<InFront> order = new ArrayList<>();
    for (int a = 0; a < parts.size(); a++) {
      for (int b = 0; b < parts.size(); b++) {
        if (a != b && survey.order(a, b) == DepthOrder.Order.FRONT) {
          order.add(new InFront(parts.name(a), parts.name(b)));
        }
      }
    }
    List<Crossing> crossings =
        survey.crossings().stream()
            .map(c ->
                new Crossing(
                    parts.name(c.part()), parts.name(c.other()), FrameRange.of(c.frames()).text()))
            .toList();
    LightMatrix matrix = survey.matrix();
    List<Light> light = new ArrayList<>();
    for (int a = 0; a < parts.size(); a++) {
      for (int b = 0; b < parts.size(); b++) {
        if (a != b && matrix.share(a, b) >= LEAST_SHARE) {
          light.add(
              new Light(parts.name(a), parts.name(b), matrix.via(a, b), matrix.blocked(a, b)));
        }
      }
    }
    light.sort((x, y) -> Double.compare(y.via + y.blocked, x.via + x.blocked));
    return new Read(
        shot.plan().requireShot().frames().text(),
        text(survey.changes().camera()),
        facts,
        order,
        crossings,
        List.copyOf(survey.traced().keySet()),
        light,
        survey.matters().stream()
            .map(
                m -> new Matters(m.frame(), m.reasons().stream().map(Matter.Reason::text).toList()))
            .toList(),
        cost(shot, survey, render, time),
        stillBut(shot, survey, held, time));
  }

  private static List<Held> stillBut(
      LoadedShot shot, ShotSurvey survey, HeldFrames held, TimeEstimate time) {
    return StillBut.of(shot, survey, held, time).stream()
        .map(b ->
            new Held(
                shot.plan().layers().get(b.layer()).name(),
                survey.parts().names(b.movers()),
                b.share(),
                b.saved()))
        .toList();
  }

  private static TimeEstimate estimate(
      LoadedShot shot, ShotSurvey survey, HeldFrames held, FrameRenderer.Settings render) {
    return new TimeEstimate(
        shot,
        survey.traced(),
        held,
        render.width(),
        render.height(),
        render.samples(),
        render.threads());
  }

  private static PartFacts part(ShotSurvey survey, int p) {
    EntitySet entities = survey.parts().parts().get(p).entities();
    List<Integer> visible = survey.visible(p);
    double most = 0;
    Integer at = null;
    for (int frame : visible) {
      if (survey.coverage(p, frame) > most) {
        most = survey.coverage(p, frame);
        at = frame;
      }
    }
    return new PartFacts(
        survey.parts().name(p),
        entities.size(),
        survey.changes().kind(entities).name().toLowerCase(Locale.ROOT),
        text(survey.changes().moving(entities)),
        text(visible),
        most,
        at,
        survey.changes().keyed().stream()
            .filter(k -> k.entities().meets(entities))
            .map(k -> new KeyedOverride(k.layer(), k.property(), List.of(k.first(), k.last())))
            .toList());
  }

  private Cost cost(
      LoadedShot shot, ShotSurvey survey, FrameRenderer.Settings render, TimeEstimate time) {
    Plan plan = shot.plan();
    FrameSurvey last = Objects.requireNonNull(survey.traced().get(survey.traced().lastKey()));
    List<LayerCost> layers = new ArrayList<>();
    for (int l = 0; l < plan.layers().size(); l++) {
      List<Integer> rendered = time.rendered(l);
      List<String> sharing =
          last.sharing(l).stream().map(k -> plan.layers().get(k).name()).toList();
      layers.add(
          new LayerCost(
              plan.layers().get(l).name(),
              sharing,
              rendered.isEmpty() ? "" : FrameRange.of(rendered).text(),
              rendered.isEmpty()
                  ? TimeEstimate.Seconds.ZERO
                  : time.layer(l).times(1.0 / rendered.size()),
              time.layer(l),
              noise(last.layer(l, render.samples()))));
    }
    return new Cost(
        render.width(),
        render.height(),
        render.samples(),
        render.threads(),
        time.shot(),
        time.uncut(),
        noise(last.uncut().at(render.samples())),
        noise(last.rejoined().at(render.samples())),
        layers,
        best(plan, survey, time));
  }

  private static NoiseFacts noise(Noise at) {
    return Double.isNaN(at.rms())
        ? new NoiseFacts(null, null)
        : new NoiseFacts(at.rms(), at.relative());
  }

  private static void print(PrintWriter o, Read r) {
    o.printf("frames %s%s%n", r.frames, r.cameraMoves == null ? "" : ", the camera moves");
    o.printf(
        "%-24s %6s  %-8s %-12s %-12s %s%n", "part", "objects", "", "moves", "visible", "covers");
    for (PartFacts p : r.parts) {
      o.printf(
          "%-24s %6d  %-8s %-12s %-12s %5.1f %%%s%n",
          p.part,
          p.entities,
          p.kind,
          p.moves == null ? "-" : p.moves,
          p.visible == null ? "never" : p.visible,
          p.coverage * 100,
          p.coverageFrame == null ? "" : " at %d".formatted(p.coverageFrame));
    }
    for (Crossing c : r.crossings) {
      if (c.frames.equals(r.frames)) {
        o.printf("%s and %s interlock throughout%n", c.part, c.other);
      } else {
        o.printf("%s crosses %s at %s%n", c.part, c.other, c.frames);
      }
    }
    o.printf("light, from frames %s%n", r.traced);
    r.light.stream()
        .limit(20)
        .forEach(l ->
            o.printf(
                "  of the light on %s, %4.1f %% comes via %s; it blocks %4.1f %%%n",
                l.of, l.via * 100, l.by, l.blocked * 100));
    o.println("frames that matter");
    r.framesThatMatter.forEach(m -> o.printf("  %4d  %s%n", m.frame, String.join("; ", m.reasons)));
    Cost c = r.cost;
    o.printf(
        "time and noise at %d x %d, %d samples, %d threads%n",
        c.width, c.height, c.samples, c.threads);
    o.printf("  %-28s %10s %12s %10s  %s%n", "layer", "s/frame", "shot", "noise", "frames");
    for (LayerCost l : c.layers) {
      o.printf(
          "  %-28s %10.2f %12s %10s  %s%n",
          l.layer,
          l.secondsPerFrame.middle(),
          Times.words(l.shotSeconds.middle()),
          percent(l.noise),
          l.rendered);
    }
    total(o, "all layers", c.shot, c.rejoinedNoise);
    total(o, "uncut", c.uncutShot, c.uncutNoise);
    Best best = c.bestSamples;
    if (best != null) {
      o.printf(
          "best samples for %.2f %% noise in %s%n",
          best.rejoinedNoise * 100, Times.words(best.shotSeconds));
      best.traces.forEach(t -> o.printf("  %6d  %s%n", t.samples, String.join(", ", t.layers)));
    }
    print(o, r.stillButFor);
  }

  private static void total(
      PrintWriter o, String name, TimeEstimate.Seconds shot, NoiseFacts noise) {
    o.printf(
        "  %-28s %10s %12s %10s  %s to %s%n",
        name,
        "",
        Times.words(shot.middle()),
        percent(noise),
        Times.words(shot.low()),
        Times.words(shot.high()));
  }

  private static void print(PrintWriter o, List<Held> held) {
    for (Held h : held) {
      o.printf(
          "layer %s is still but for %s (%.1f %% of its light): holding it saves %s%n",
          h.layer, String.join(", ", h.butFor), h.share * 100, Times.words(h.savedSeconds));
    }
  }

  private static String percent(NoiseFacts noise) {
    Double relative = noise.relative;
    return relative == null ? "-" : "%.1f %%".formatted(relative * 100);
  }
}
