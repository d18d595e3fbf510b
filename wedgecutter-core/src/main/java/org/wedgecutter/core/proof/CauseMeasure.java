package org.wedgecutter.core.proof;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.function.UnaryOperator;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.image.Region;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.mistake.Mistake;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.Recipe;
import org.wedgecutter.core.rejoin.Rejoiner;
import org.wedgecutter.core.render.FrameRenderer;
import org.wedgecutter.core.render.RenderedFrame;

/**
 * How much of a residual each cause explains, measured: the plan is mended of that cause alone and
 * traced again, small and with few samples, and what is gone of the residual is its share. Shares
 * of causes that depend on one another need not add up to 1. Causes that explain nothing alone are
 * measured again on top of the largest one, which may hide them.
 */
final class CauseMeasure {
  private static final int WIDTH = 160;
  private static final int SAMPLES = 2;

  /** Most causes that are measured; the others keep their place behind. */
  private static final int MOST = 16;

  /** Share of the residual below which a cause explains nothing. */
  private static final double NOTHING = 0.02;

  private final LoadedShot shot;
  private final int frame;
  private final FrameRenderer renderer;
  private final FrameRenderer.Settings small;

  /**
   * @param renderer traced the proof; stopping it stops the measure
   */
  CauseMeasure(LoadedShot shot, int frame, FrameRenderer renderer) {
    this.shot = shot;
    this.frame = frame;
    this.renderer = renderer;
    FrameRenderer.Settings s = renderer.settings();
    int width = Math.min(WIDTH, s.width());
    int height = Math.max(1, Math.round(s.height() * (float) width / s.width()));
    small =
        new FrameRenderer.Settings(
            width,
            height,
            Math.min(SAMPLES, s.samples()),
            s.threads(),
            false,
            Region.whole(width, height));
  }

  /**
   * Returns causes with the share of the residual that each explains, the largest first. Those that
   * explain nothing are left out, unless none explains anything.
   *
   * @param found with shares of the residual by entity
   */
  List<Cause> ranked(List<Cause> found) {
    double before = residual(shot.plan());
    if (!(before > 0)) {
      return found;
    }
    CauseFixes fixes = new CauseFixes(shot.plan(), shot.members(), shot.resolve(frame));
    List<Cause> measured = new ArrayList<>();
    List<Cause> hidden = new ArrayList<>();
    List<Cause> open = new ArrayList<>();
    Plan best = shot.plan();
    double most = 0;
    for (int c = 0; c < found.size(); c++) {
      Cause cause = found.get(c);
      Plan mended = c < MOST ? mended(shot.plan(), fixes.without(cause)) : null;
      if (mended == null) {
        open.add(cause);
        continue;
      }
      double explained = 1 - residual(mended) / before;
      if (explained > most) {
        most = explained;
        best = mended;
      }
      if (explained >= NOTHING) {
        measured.add(cause.withShare(explained));
      } else {
        hidden.add(cause);
      }
    }
    measured.sort(
        Comparator.comparingInt((Cause c) -> -(int) Math.round(c.share() * 50))
            .thenComparingInt(CauseMeasure::breadth));
    if (most < 1 - NOTHING) {
      measured.addAll(behind(best, 1 - most, hidden, fixes, before));
    }
    double rest = 1 - most;
    for (Cause cause : open) {
      if (rest >= NOTHING) {
        measured.add(Double.isNaN(cause.share()) ? cause : cause.withShare(rest * cause.share()));
      }
    }
    return measured.isEmpty() ? found : measured;
  }

  /**
   * Returns the causes that a larger one hides: what they explain of a pixel shows only when that
   * is mended too.
   *
   * @param best the plan without the largest cause, which leaves a share of the residual
   */
  private List<Cause> behind(
      Plan best, double left, List<Cause> hidden, CauseFixes fixes, double before) {
    List<Cause> out = new ArrayList<>();
    for (Cause cause : hidden) {
      Plan mended = mended(best, fixes.without(cause));
      double explained = mended == null ? 0 : left - residual(mended) / before;
      if (explained >= NOTHING) {
        out.add(cause.withShare(explained));
      }
    }
    out.sort(Comparator.comparingDouble(c -> -c.share()));
    return out;
  }

  private static @Nullable Plan mended(Plan plan, @Nullable UnaryOperator<Plan> fix) {
    Plan next = fix == null ? null : fix.apply(plan);
    return next == null || next.equals(plan) ? null : next;
  }

  /** Of causes that explain alike, one that is about a whole layer says it more simply. */
  private static int breadth(Cause cause) {
    Mistake kind = cause.kind();
    return kind == Mistake.LAYER_NOT_RENDERED || kind == Mistake.LAYER_NOT_JOINED ? 0 : 1;
  }

  /** The sum of a plan's residual over pixels and channels. */
  private double residual(Plan plan) {
    Recipe recipe = plan.enabledRecipe();
    List<Integer> joined = recipe.joins().stream().map(s -> plan.layerIndex(s.layer())).toList();
    RenderedFrame rendered =
        renderer.of(plan, small).render(frame, joined::contains, true, p -> {});
    var uncut = rendered.uncut();
    var rejoined =
        Rejoiner.<RuntimeException>rejoin(
            recipe, uncut.width(), uncut.height(), layer -> rendered.layer(plan.layerIndex(layer)));
    double sum = 0;
    for (int i = 0; i < uncut.rgba().length; i++) {
      double d = rejoined.picture().rgba()[i] - (double) uncut.rgba()[i];
      double allowed = Tolerance.FLOAT.absolute();
      double size = Double.isFinite(d) ? Math.abs(d) : 1e6;
      sum += size > allowed ? size : 0;
    }
    return sum;
  }
}
