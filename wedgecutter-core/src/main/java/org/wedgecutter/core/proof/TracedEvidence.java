package org.wedgecutter.core.proof;

import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.function.DoubleConsumer;
import java.util.function.UnaryOperator;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.image.Region;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.Recipe;
import org.wedgecutter.core.rejoin.Rejoiner;
import org.wedgecutter.core.rejoin.TracedSource;
import org.wedgecutter.core.render.FrameRenderer;
import org.wedgecutter.core.render.RenderedFrame;

/**
 * A plan's frame, traced small and with few samples; a cause is undone by an edit of the plan. Each
 * plan is traced once. The random numbers are the same for all, so noise is no difference.
 */
public final class TracedEvidence implements Evidence {
  private static final int WIDTH = 160;
  private static final int SAMPLES = 2;

  private final Traces traces;
  private final Plan plan;
  private final Picture uncut;
  private final Picture rejoined;
  private final double residual;

  private TracedEvidence(Traces traces, Plan plan) {
    this.traces = traces;
    this.plan = plan;
    Recipe recipe = plan.enabledRecipe();
    List<Integer> joined = recipe.joins().stream().map(s -> plan.layerIndex(s.layer())).toList();
    RenderedFrame rendered =
        traces
            .renderer
            .of(plan, traces.settings)
            .render(traces.frame, joined::contains, true, traces.progress);
    uncut = rendered.uncut();
    Rejoiner.Rejoined all =
        Rejoiner.rejoin(recipe, uncut.width(), uncut.height(), new TracedSource(plan, rendered));
    rejoined = all.picture();
    residual = Tolerance.of(uncut).excess(all.picture(), all.scale());
  }

  /** What was traced of one shot at one frame. */
  private static final class Traces {
    private final int frame;
    private final FrameRenderer renderer;
    private final FrameRenderer.Settings settings;
    private final DoubleConsumer progress;
    private final CauseFixes fixes;
    private final Map<Plan, TracedEvidence> known = new HashMap<>();

    Traces(
        LoadedShot shot,
        int frame,
        FrameRenderer renderer,
        FrameRenderer.Settings settings,
        DoubleConsumer progress) {
      this.progress = progress;
      this.frame = frame;
      this.renderer = renderer;
      this.settings = settings;
      fixes = new CauseFixes(shot.plan(), shot.members(), shot.resolve(frame));
    }

    TracedEvidence of(Plan plan) {
      TracedEvidence before = known.get(plan);
      if (before == null) {
        before = new TracedEvidence(this, plan);
        known.put(plan, before);
      }
      return before;
    }
  }

  /**
   * Traces a plan's frame at a small size.
   *
   * @param renderer stopping it stops this, too, with a CancellationException
   * @param progress receives the share of a trace that is done; called by several threads
   */
  public static TracedEvidence of(
      LoadedShot shot, int frame, FrameRenderer renderer, DoubleConsumer progress) {
    return of(shot, frame, renderer, renderer.settings().region(), progress);
  }

  /**
   * Traces a plan's frame at a small size.
   *
   * @param where what is wrong shows: this part is traced at full size where nothing is wrong at a
   *     small one
   */
  static TracedEvidence of(
      LoadedShot shot, int frame, FrameRenderer renderer, Region where, DoubleConsumer progress) {
    return of(shot, frame, renderer, WIDTH, SAMPLES, where, progress);
  }

  /**
   * Traces a plan's frame. Where nothing is wrong at a small size, as what is wrong is small, it is
   * traced as large as the renderer does.
   *
   * @param across most pixels in a line
   * @param samples most samples per pixel
   */
  public static TracedEvidence of(
      LoadedShot shot,
      int frame,
      FrameRenderer renderer,
      int across,
      int samples,
      DoubleConsumer progress) {
    return of(shot, frame, renderer, across, samples, renderer.settings().region(), progress);
  }

  private static TracedEvidence of(
      LoadedShot shot,
      int frame,
      FrameRenderer renderer,
      int across,
      int samples,
      Region where,
      DoubleConsumer progress) {
    FrameRenderer.Settings s = renderer.settings();
    int width = Math.min(across, s.width());
    int height = Math.max(1, Math.round(s.height() * (float) width / s.width()));
    FrameRenderer.Settings small =
        new FrameRenderer.Settings(
            width,
            height,
            Math.min(samples, s.samples()),
            s.threads(),
            false,
            Region.whole(width, height));
    TracedEvidence out = new Traces(shot, frame, renderer, small, progress).of(shot.plan());
    boolean isSmaller = width < s.width() || small.samples() < s.samples();
    return out.residual > 0 || !isSmaller
        ? out
        : new Traces(shot, frame, renderer, s.within(where), progress).of(shot.plan());
  }

  /** Returns the uncut frame. */
  public Picture uncut() {
    return uncut;
  }

  @Override
  public double residual() {
    return residual;
  }

  @Override
  public Picture rejoined() {
    return rejoined;
  }

  @Override
  public @Nullable Evidence without(Cause cause) {
    UnaryOperator<Plan> edit = traces.fixes.without(cause);
    Plan next = edit == null ? null : edit.apply(plan);
    return next == null || next.equals(plan) ? null : traces.of(next);
  }

  /** Returns the causes that explain what is left of the frame. */
  public CauseSearch.Ranked ranked(List<Cause> found) {
    return CauseSearch.ranked(this, uncut, found);
  }
}
