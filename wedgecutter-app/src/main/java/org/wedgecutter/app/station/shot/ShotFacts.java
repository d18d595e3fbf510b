package org.wedgecutter.app.station.shot;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.app.live.LiveSurvey;
import org.wedgecutter.app.panel.FactGrid.Cell;
import org.wedgecutter.app.panel.FactGrid.Facts;
import org.wedgecutter.core.mistake.Message;
import org.wedgecutter.core.plan.FrameRange;
import org.wedgecutter.core.plan.LayerDef;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.propose.StillBut;
import org.wedgecutter.core.resolve.EntitySet;
import org.wedgecutter.core.survey.Changes;
import org.wedgecutter.core.survey.FrameSurvey;
import org.wedgecutter.core.survey.LightMatrix;
import org.wedgecutter.core.survey.Noise;
import org.wedgecutter.core.survey.Parts;
import org.wedgecutter.core.survey.SampleSpread;
import org.wedgecutter.core.survey.ShotSurvey;
import org.wedgecutter.core.survey.TimeEstimate;
import org.wedgecutter.core.survey.Times;

/** What the survey tells, as tables to be read: a short text in each cell, and a sentence. */
final class ShotFacts {
  /** Noise that is aimed at, as a share of the light. */
  static final double GOAL = 0.02;

  private static final double LEAST = 0.0005;

  private final LiveSurvey.Result result;
  private final ShotSurvey survey;
  private final Parts parts;

  ShotFacts(LiveSurvey.Result result) {
    this.result = result;
    survey = result.survey();
    parts = survey.parts();
  }

  private List<String> names() {
    return parts.parts().stream().map(Parts.Part::name).toList();
  }

  static String frames(List<Integer> frames) {
    return frames.isEmpty() ? "" : FrameRange.of(frames).text().replace("-", "–");
  }

  static String percent(double share) {
    return share < LEAST ? "0" : String.format(Locale.ROOT, "%.1f", share * 100);
  }

  // ---- motion

  List<MotionStrips.Strip> motion() {
    List<Integer> frames = survey.changes().frames();
    boolean[][] crosses = new boolean[parts.size()][frames.size()];
    for (ShotSurvey.Crossing c : survey.crossings()) {
      if (c.frames().size() < survey.frames().size()) {
        for (int f : c.frames()) {
          int at = frames.indexOf(f);
          crosses[c.part()][at] = true;
          crosses[c.other()][at] = true;
        }
      }
    }
    List<MotionStrips.Strip> out = new ArrayList<>();
    for (int p = 0; p < parts.size(); p++) {
      EntitySet own = parts.parts().get(p).entities();
      List<Integer> moving = survey.changes().moving(own);
      boolean[] visible = new boolean[frames.size()];
      boolean[] moves = new boolean[frames.size()];
      for (int k = 0; k < frames.size(); k++) {
        moves[k] = moving.contains(frames.get(k));
        visible[k] =
            survey.frames().contains(frames.get(k)) && survey.coverage(p, frames.get(k)) > 0;
      }
      Changes.Kind kind = survey.changes().kind(own);
      String words =
          switch (kind) {
            case STILL -> keyed(own);
            case MOVES -> "moves " + frames(moving);
            case DEFORMS -> "deforms " + frames(moving);
          };
      out.add(
          new MotionStrips.Strip(
              parts.name(p), words, visible, moves, kind == Changes.Kind.DEFORMS, crosses[p]));
    }
    return out;
  }

  private String keyed(EntitySet own) {
    return survey.changes().keyed().stream()
        .filter(k -> k.entities().meets(own))
        .findFirst()
        .map(k -> "%s keyed %d–%d".formatted(k.property(), k.first(), k.last()))
        .orElse("still");
  }

  // ---- in front and behind

  Facts order() {
    List<List<Cell>> cells = new ArrayList<>();
    for (int a = 0; a < parts.size(); a++) {
      List<Cell> row = new ArrayList<>();
      for (int b = 0; b < parts.size(); b++) {
        row.add(a == b ? Cell.EMPTY : order(a, b));
      }
      cells.add(row);
    }
    return new Facts("row relative to column", names(), names(), cells);
  }

  private Cell order(int a, int b) {
    String one = parts.name(a);
    String other = parts.name(b);
    return switch (survey.order(a, b)) {
      case NONE -> new Cell("·", 0, "%s and %s never overlap.".formatted(one, other));
      case FRONT ->
          new Cell(
              "front", 0.5, "%s is in front of %s wherever they overlap.".formatted(one, other));
      case BEHIND ->
          new Cell("behind", 0, "%s is behind %s wherever they overlap.".formatted(one, other));
      case INTERLOCKED -> new Cell("both", 1, interlocked(a, b));
    };
  }

  private String interlocked(int a, int b) {
    List<Integer> front = new ArrayList<>();
    List<Integer> behind = new ArrayList<>();
    List<Integer> both = new ArrayList<>();
    for (int frame : survey.frames()) {
      switch (survey.order(frame).order(a, b)) {
        case FRONT -> front.add(frame);
        case BEHIND -> behind.add(frame);
        case INTERLOCKED -> both.add(frame);
        case NONE -> {}
      }
    }
    List<String> said = new ArrayList<>();
    if (!front.isEmpty()) {
      said.add("is in front of %s at %s".formatted(parts.name(b), frames(front)));
    }
    if (!behind.isEmpty()) {
      said.add("behind it at %s".formatted(frames(behind)));
    }
    if (!both.isEmpty()) {
      said.add("interlocks with %s at %s".formatted(parts.name(b), frames(both)));
    }
    return "%s %s: hold them out of each other.".formatted(parts.name(a), String.join(", ", said));
  }

  // ---- light

  /** Whether any frame was traced. */
  boolean hasLight() {
    return !survey.traced().isEmpty();
  }

  /** Returns the traced frame that is nearest to a frame. */
  int nearestTraced(int frame) {
    return survey.traced().keySet().stream()
        .min(Comparator.comparingInt(f -> Math.abs(f - frame)))
        .orElse(frame);
  }

  /**
   * Returns who lights whom.
   *
   * @param frame a traced frame, or null for all of them
   */
  Facts light(@Nullable Integer frame) {
    LightMatrix m = frame == null ? survey.matrix() : survey.matrix(frame);
    List<List<Cell>> cells = new ArrayList<>();
    for (int a = 0; a < parts.size(); a++) {
      List<Cell> row = new ArrayList<>();
      for (int b = 0; b < parts.size(); b++) {
        row.add(a == b || m.share(a, b) < LEAST ? none(a, b) : light(m, a, b));
      }
      cells.add(row);
    }
    return new Facts("light on …", names(), names(), cells);
  }

  private Cell none(int a, int b) {
    return a == b
        ? Cell.EMPTY
        : new Cell(
            "·",
            0,
            "%s has no measurable effect on the light of %s."
                .formatted(parts.name(b), parts.name(a)));
  }

  private Cell light(LightMatrix m, int a, int b) {
    double via = m.via(a, b);
    double blocked = m.blocked(a, b);
    String text =
        blocked < LEAST
            ? percent(via)
            : via < LEAST ? "−" + percent(blocked) : percent(via) + " −" + percent(blocked);
    return new Cell(
        text,
        m.share(a, b),
        "Of the light on %s, %s %% comes via %s; %s blocks another %s %%."
            .formatted(
                parts.name(a), percent(via), parts.name(b), parts.name(b), percent(blocked)));
  }

  // ---- cost

  /** Whether costs are there. */
  boolean hasCosts() {
    return !result.costs().isEmpty();
  }

  /** Returns what keeps a layer from being still, if it shows only what is. */
  Optional<StillBut> stillBut(int layer) {
    return result.stillBut().stream().filter(b -> b.layer() == layer).findFirst();
  }

  private String but(int layer) {
    return stillBut(layer)
        .map(b ->
            " Static except for %s (%s %% of its light): holding it would save %s."
                    .formatted(
                        Message.all(parts.names(b.movers())),
                        percent(b.share()),
                        Times.words(b.saved()))
                + loss(layer))
        .orElse("");
  }

  /** What a trace of two frames says of holding a layer. */
  private String loss(int layer) {
    StillBut.Loss loss = result.losses().get(layer);
    return loss == null
        ? ""
        : " If held anyway, the error is up to %.2g, in %.0f %% of its pixels."
            .formatted(loss.max(), Math.ceil(loss.beyond() * 100));
  }

  /**
   * Returns the samples that reach an aim; empty if the noise is not known.
   *
   * @param aim null stands for the time that the plan takes as it is
   */
  Optional<SampleSpread.Spread> spread(SampleBar.@Nullable Aim aim) {
    TimeEstimate time = result.estimate();
    SampleSpread all = new SampleSpread(result.costs(), time);
    return !all.isKnown()
        ? Optional.empty()
        : Optional.of(aim == null ? all.forSeconds(time.shot().middle()) : aim.of(all));
  }

  /** Whether samples are other than the plan's. */
  boolean changesSamples(SampleSpread.Spread spread) {
    Plan plan = result.shot().plan();
    return !spread.apply(plan).equals(plan);
  }

  /**
   * Returns times and noise.
   *
   * @param spread samples that reach what is aimed at
   */
  Facts cost(Optional<SampleSpread.Spread> spread) {
    Plan plan = result.shot().plan();
    TimeEstimate time = result.estimate();
    FrameSurvey last = Objects.requireNonNull(result.costs().get(result.costs().lastKey()));
    int samples = plan.requireShot().samples();
    List<String> rows = new ArrayList<>();
    List<List<Cell>> cells = new ArrayList<>();
    for (int l = 0; l < plan.layers().size(); l++) {
      LayerDef layer = plan.layers().get(l);
      rows.add(layer.name());
      List<Integer> rendered = time.rendered(l);
      TimeEstimate.Seconds all = time.layer(l);
      String what = sentence(layer.name(), rendered, all) + but(l);
      String shared = shared(names(plan, last.sharing(l)));
      cells.add(
          row(
              rendered.isEmpty() ? 0 : all.middle() / rendered.size(),
              all,
              last.layer(l, samples),
              best(spread, l),
              frames(rendered),
              what,
              shared,
              time.shot().middle()));
    }
    rows.add("all layers");
    cells.add(
        row(
            Double.NaN,
            time.shot(),
            last.rejoined().at(samples),
            "",
            "",
            "All layers take %s (%s to %s) on this machine; the uncut shot takes %s."
                .formatted(
                    Times.words(time.shot().middle()),
                    Times.words(time.shot().low()),
                    Times.words(time.shot().high()),
                    Times.words(time.uncut().middle())),
            spread
                .map(s ->
                    " With the best samples: %s %% noise in %s."
                        .formatted(percent(s.noise()), Times.words(s.seconds())))
                .orElse(""),
            time.shot().middle()));
    rows.add("uncut");
    cells.add(
        row(
            time.uncut(last.frame()).middle(),
            time.uncut(),
            last.uncut().at(samples),
            "",
            "",
            "The uncut shot takes %s (%s to %s) on this machine."
                .formatted(
                    Times.words(time.uncut().middle()),
                    Times.words(time.uncut().low()),
                    Times.words(time.uncut().high())),
            "",
            time.shot().middle()));
    whatIf(rows, cells, time);
    return new Facts(
        "layer",
        rows,
        List.of("frame", "shot", "noise", "samples", "best samples", "frames"),
        cells);
  }

  /** Rows of what the whole shot would take with a change. */
  private void whatIf(List<String> rows, List<List<Cell>> cells, TimeEstimate time) {
    double whole = time.shot().middle();
    Map<String, Double> changes = new LinkedHashMap<>();
    changes.put("at half the size", whole / 4);
    changes.put("half the samples", whole / 2);
    result.whatIf().forEach(w -> changes.put(w.change(), whole * w.factor()));
    changes.forEach((name, seconds) -> {
      String said =
          "All layers %s take about %s: %s %s."
              .formatted(
                  name,
                  Times.words(seconds),
                  Times.words(Math.abs(whole - seconds)),
                  seconds <= whole ? "less" : "more");
      rows.add("… " + name);
      cells.add(
          List.of(
              new Cell("", 0, said),
              new Cell(Times.words(seconds), whole > 0 ? seconds / whole : 0, said),
              new Cell("", 0, said),
              new Cell("", 0, said),
              new Cell("", 0, said),
              new Cell("", 0, said)));
    });
  }

  private static List<String> names(Plan plan, List<Integer> layers) {
    return layers.stream().map(k -> plan.layers().get(k).name()).toList();
  }

  private static String sentence(String layer, List<Integer> rendered, TimeEstimate.Seconds all) {
    return rendered.size() == 1
        ? "%s is still: frame %d is rendered once (%s) and held."
            .formatted(layer, rendered.getFirst(), Times.words(all.middle()))
        : "%s takes %s (%s to %s) for %d frames."
            .formatted(
                layer,
                Times.words(all.middle()),
                Times.words(all.low()),
                Times.words(all.high()),
                rendered.size());
  }

  private static String shared(List<String> sharing) {
    return sharing.isEmpty()
        ? ""
        : " Shares its trace and samples with %s.".formatted(String.join(", ", sharing));
  }

  private static String best(Optional<SampleSpread.Spread> spread, int layer) {
    int samples = spread.map(s -> s.samples(layer)).orElse(0);
    return samples > 0 ? Integer.toString(samples) : "";
  }

  private static List<Cell> row(
      double frame,
      TimeEstimate.Seconds shot,
      Noise now,
      String best,
      String frames,
      String said,
      String ofSamples,
      double whole) {
    boolean known = !Double.isNaN(now.relative());
    String noisy =
        known
            ? "Noise at %d samples: %s %%; %.0f %% needs %.0f samples."
                .formatted(
                    now.samples(),
                    percent(now.relative()),
                    GOAL * 100,
                    Math.ceil(now.samplesFor(GOAL)))
            : "The noise is not known yet.";
    String samples = (noisy + ofSamples).strip();
    return List.of(
        new Cell(Double.isNaN(frame) ? "" : Times.words(frame), 0, said),
        new Cell(Times.words(shot.middle()), whole > 0 ? shot.middle() / whole : 0, said),
        new Cell(
            known ? percent(now.relative()) + " %" : "?", known ? now.relative() * 5 : 0, samples),
        new Cell(Integer.toString(now.samples()), 0, samples),
        new Cell(best, 0, samples),
        new Cell(frames, 0, said));
  }
}
