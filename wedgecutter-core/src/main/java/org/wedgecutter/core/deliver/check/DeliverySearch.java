package org.wedgecutter.core.deliver.check;

import java.io.IOException;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.concurrent.CancellationException;
import java.util.function.BooleanSupplier;
import org.wedgecutter.core.deliver.Delivery;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.mistake.Message;
import org.wedgecutter.core.mistake.Mistake;
import org.wedgecutter.core.mistake.Sentence;
import org.wedgecutter.core.plan.CellOverride;
import org.wedgecutter.core.plan.Join;
import org.wedgecutter.core.plan.LayerDef;
import org.wedgecutter.core.plan.Output;
import org.wedgecutter.core.plan.Recipe;
import org.wedgecutter.core.proof.BeforeAfter;
import org.wedgecutter.core.proof.Cause;
import org.wedgecutter.core.proof.CauseSearch;
import org.wedgecutter.core.rejoin.Precision;

/**
 * Why a delivery's frame does not rejoin, in the order of evidence: numbers that are not finite;
 * files against their records; records against the digest of the plan; findings of the plan that
 * was delivered, measured by tracing it small; and last what was done to files that somebody else
 * made. Each step begins with what the one before left of the residual, so a file that fits its
 * record is never accused, and shares add up.
 */
final class DeliverySearch {
  /** Pixels across of the pictures that are kept as evidence. */
  private static final int EVIDENCE_WIDTH = 540;

  /** Part of the residual that a plan must show when traced small to explain all of it. */
  private static final double MOST = 0.5;

  private final Delivery delivery;
  private final DeliveredPlan plan;
  private final boolean traces;
  private final Digests digests;
  private final BooleanSupplier stopped;
  private final FileFrame begin;
  private final double first;
  private final List<Cause> causes = new ArrayList<>();
  private final Map<Cause, BeforeAfter> evidence = new LinkedHashMap<>();
  private FileFrame now;

  private DeliverySearch(
      FileFrame begin,
      DeliveredPlan plan,
      boolean traces,
      Digests digests,
      BooleanSupplier stopped) {
    this.delivery = begin.delivery();
    this.plan = plan;
    this.traces = traces;
    this.digests = digests;
    this.stopped = stopped;
    this.begin = begin;
    now = begin;
    first = begin.residual();
  }

  /**
   * What was found.
   *
   * @param residual the sum of what is beyond the tolerance
   * @param causes with their shares of it, in the order of evidence
   * @param unexplained share of it that is left
   * @param evidence by cause, what putting a file right does to the frame
   */
  record Found(
      double residual, List<Cause> causes, double unexplained, Map<Cause, BeforeAfter> evidence) {
    Found {
      causes = List.copyOf(causes);
      evidence = Map.copyOf(evidence);
    }
  }

  /**
   * Searches a frame, or a part of one.
   *
   * @param plan that was delivered
   * @param traces whether it is traced, to measure what its mistakes explain
   */
  static Found of(
      FileFrame begin, DeliveredPlan plan, boolean traces, Digests digests, BooleanSupplier stopped)
      throws IOException {
    DeliverySearch search = new DeliverySearch(begin, plan, traces, digests, stopped);
    double unexplained = search.search();
    return new Found(search.first, search.causes, unexplained, search.evidence);
  }

  /** Returns the share of the residual that is left. */
  private double search() throws IOException {
    invalid();
    changed();
    if (!isLeft()) {
      return 0;
    }
    stale();
    double left = left();
    if (left > FileSearch.NOTHING) {
      left *= own(left);
    }
    if (left > FileSearch.NOTHING && delivery.units().isEmpty()) {
      double before = now.residual();
      foreign();
      left *= before > 0 ? now.residual() / before : 1;
    }
    if (left > FileSearch.NOTHING) {
      settings();
    }
    if (left > FileSearch.NOTHING && causes.isEmpty()) {
      causes.add(new Cause(Message.of(Sentence.RECORDS_DOUBTED), "", Double.NaN));
    }
    return left;
  }

  private double left() {
    return first > 0 ? now.residual() / first : 0;
  }

  private boolean isLeft() {
    return left() > FileSearch.NOTHING;
  }

  private void goOn() {
    if (stopped.getAsBoolean()) {
      throw new CancellationException("the proof was stopped");
    }
  }

  // ---- numbers that are not finite

  private void invalid() throws IOException {
    List<FrameFile> files = new ArrayList<>(begin.layers());
    files.add(begin.uncut());
    boolean[] all = new boolean[begin.all().length];
    for (FrameFile f : files) {
      boolean[] own = new boolean[all.length];
      int count = 0;
      int infinite = 0;
      int at = -1;
      float[] c = f.picture().rgba();
      for (int i = 0; i < c.length; i++) {
        if (!Float.isFinite(c[i])) {
          count++;
          infinite += Float.isNaN(c[i]) ? 0 : 1;
          at = at < 0 ? i / 4 : at;
          int p = Math.min(i / 4, all.length - 1);
          own[p] |= !all[p];
          all[p] = true;
        }
      }
      if (count > 0) {
        int width = f.picture().width();
        boolean isRange = infinite == count && f.precision() == Precision.HALF;
        Message message =
            Message.of(
                isRange ? Sentence.HALF_RANGE : Sentence.FILE_INVALID,
                "file",
                f.path(),
                "count",
                count,
                "at",
                "%d, %d"
                    .formatted(at % width, begin.part().y() - delivery.region().y() + at / width));
        double share = 0;
        for (int p = 0; p < own.length; p++) {
          share += own[p] ? pixel(p) : 0;
        }
        causes.add(new Cause(message, f.layer(), share / first));
      }
    }
    if (!causes.isEmpty()) {
      now = begin.blanked(all);
    }
  }

  /** What is beyond the tolerance in one pixel. */
  private double pixel(int p) {
    double out = 0;
    float[] r = begin.rejoined().picture().rgba();
    float[] scale = begin.rejoined().scale().rgba();
    for (int i = 4 * p; i < 4 * p + 4; i++) {
      out += begin.tolerance().excess(i, r[i], scale[i]);
    }
    return out;
  }

  // ---- files

  private void take(FileSearch.Found found) throws IOException {
    for (Cause c : found.causes()) {
      boolean isNote = c.kind() == Mistake.FILE_REWRITTEN;
      if (isNote && causes.stream().anyMatch(other -> other.layer().equals(c.layer()))) {
        continue;
      }
      FrameFile put = found.frame().file(c.layer());
      FrameFile was = begin.file(c.layer());
      if (!put.isUncut() && !put.picture().equals(was.picture())) {
        evidence.put(
            c,
            new BeforeAfter(
                small(begin.uncut().picture()),
                small(begin.rejoined().picture()),
                small(begin.with(was.with(put.picture(), true)).rejoined().picture())));
      }
      causes.add(c);
    }
    now = found.frame();
  }

  private static Picture small(Picture of) {
    int width = Math.min(of.width(), EVIDENCE_WIDTH);
    return of.resized(width, Math.max(1, of.height() * width / of.width()));
  }

  private List<String> standing(FrameFile.Standing... any) {
    List<FrameFile> all = new ArrayList<>(begin.layers());
    all.add(begin.uncut());
    List<FrameFile.Standing> wanted = List.of(any);
    return all.stream().filter(f -> wanted.contains(f.standing())).map(FrameFile::layer).toList();
  }

  private void changed() throws IOException {
    List<String> names = standing(FrameFile.Standing.CHANGED, FrameFile.Standing.MISSING);
    if (!names.isEmpty()) {
      take(FileSearch.of(now, first, names, stopped));
    }
    for (Recipe.Step step : begin.recipe().joins()) {
      Delivery.Entry deep = delivery.deep(step.layer(), begin.frame()).orElse(null);
      if (step.join() == Join.DEEP
          && deep != null
          && !digests.of(delivery.path(deep)).equals(deep.sha256())) {
        Message message =
            Message.of(
                isLeft() ? Sentence.FILE_CHANGED : Sentence.FILE_REWRITTEN, "file", deep.path());
        causes.add(new Cause(message, step.layer(), isLeft() ? Double.NaN : 0));
      }
    }
  }

  private void foreign() throws IOException {
    List<String> names = standing(FrameFile.Standing.FOREIGN);
    if (!names.isEmpty()) {
      take(FileSearch.of(now, first, names, stopped));
    }
  }

  // ---- the plan

  /** Files that were rendered before the plan or the scene were changed, and others after. */
  private void stale() throws IOException {
    List<String> old = plan.stale(standing(FrameFile.Standing.RECORDED));
    if (!old.isEmpty()) {
      FileFrame put = FileSearch.mended(now, old);
      double explained = (now.residual() - put.residual()) / first;
      if (explained > FileSearch.NOTHING) {
        List<String> paths = old.stream().map(n -> begin.file(n).path()).toList();
        causes.add(
            new Cause(Message.of(Sentence.STALE, "files", paths), old.getFirst(), explained));
        now = put;
      }
    }
  }

  /**
   * Finds what the plan itself leaves, and returns which share of what is left that does not
   * explain.
   */
  private double own(double left) {
    List<Cause> found = plan.found(begin.recipe());
    LoadedShot of = plan.shot().orElse(null);
    if (of == null || found.isEmpty() || !traces) {
      causes.addAll(found);
      return 1;
    }
    DeliveredPlan.Measured measured = plan.measured(of, found);
    goOn();
    CauseSearch.Ranked ranked = measured.ranked();
    double part = measured.residual() / (now.residual() / begin.uncut().picture().rgba().length);
    double share = part > MOST ? 1 : part;
    for (Cause c : ranked.causes()) {
      Cause own = c.withShare(left * share * c.share());
      causes.add(own);
      BeforeAfter pictures = ranked.evidence().get(c.message());
      if (pictures != null) {
        evidence.put(own, pictures);
      }
    }
    double rest = Double.isNaN(ranked.unexplained()) ? 1 : ranked.unexplained();
    return 1 - share * (1 - rest);
  }

  /** What else may explain a rest: it is suspected. */
  private void settings() {
    Output output = delivery.plan().output();
    if (output.isLossy()) {
      String packed = output.compression().name().toLowerCase(Locale.ROOT);
      suspect(Message.of(Sentence.COMPRESSION_LOSSY, "compression", packed), "");
    }
    if (begin.tolerance().isDark()) {
      suspect(Message.of(Sentence.HALF_RANGE_DARK), "");
    }
    for (Recipe.Step step : delivery.plan().recipe().joins()) {
      if (!begin.recipe().joins().contains(step)) {
        suspect(Message.of(Sentence.LAYER_NOT_RENDERED, "layer", step.layer()), step.layer());
      }
    }
    if (plan.shot().isPresent()) {
      return;
    }
    for (LayerDef layer : delivery.plan().layers()) {
      List<String> own =
          layer.settings().stream().filter(CellOverride::on).map(CellOverride::text).toList();
      if (!own.isEmpty() && delivery.plan().join(layer.name()).isPresent()) {
        suspect(
            Message.of(
                Sentence.SETTINGS_RENDERED,
                "layer",
                layer.name(),
                "settings",
                String.join(", ", own)),
            layer.name());
      }
    }
  }

  private void suspect(Message message, String layer) {
    if (causes.stream().noneMatch(c -> c.message().equals(message))) {
      causes.add(new Cause(message, layer, Double.NaN));
    }
  }
}
