package org.wedgecutter.core.proof;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.List;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.Recipe;
import org.wedgecutter.core.rejoin.Rejoiner;
import org.wedgecutter.core.rejoin.TracedSource;
import org.wedgecutter.core.render.FrameRenderer;
import org.wedgecutter.core.render.RenderedFrame;
import org.wedgecutter.core.resolve.ResolvedShot;

/**
 * What is left between a plan's layers and the uncut frame, without looking for causes: for charts
 * over many frames.
 *
 * @param frame the frame
 * @param residual rejoined minus uncut
 * @param rejoined the layers put together, as they are
 * @param layers share of it by the foremost layer that shows the pixel's dominant object, the
 *     largest first; pixels that no joined layer shows are under an empty name
 * @param entities share of it by dominant object, the largest first
 */
public record FrameResidual(
    int frame, Residual residual, Picture rejoined, List<Share> layers, List<Share> entities) {
  public FrameResidual {
    layers = List.copyOf(layers);
    entities = List.copyOf(entities);
  }

  /**
   * A share of a residual.
   *
   * @param name name of a layer, or path of an entity
   * @param share 0 to 1
   */
  public record Share(String name, double share) {}

  /**
   * Traces a frame and compares.
   *
   * @param renderer of the shot; stopping it ends this with a CancellationException
   */
  public static FrameResidual of(LoadedShot shot, int frame, FrameRenderer renderer) {
    Plan plan = shot.plan();
    Recipe recipe = plan.enabledRecipe();
    List<Integer> joined = recipe.joins().stream().map(s -> plan.layerIndex(s.layer())).toList();
    RenderedFrame rendered = renderer.render(frame, joined::contains, true, p -> {});
    Picture uncut = rendered.uncut();
    Rejoiner.Rejoined rejoined =
        Rejoiner.rejoin(recipe, uncut.width(), uncut.height(), new TracedSource(plan, rendered));
    Residual residual = Residual.of(rejoined, Tolerance.of(uncut));
    int entities = shot.scene().entities().size();
    double[] by =
        new EntityShares(entities).add(rejoined.picture(), uncut, rendered::dominant).shares();
    List<Share> objects = new ArrayList<>();
    double[] byLayer = new double[plan.layers().size()];
    double nowhere = 0;
    int[] shownBy = shownBy(plan, shot.resolve(frame), entities);
    for (int e = 0; e < entities && !residual.exact(); e++) {
      if (by[e] > 0) {
        objects.add(new Share(shot.scene().entities().get(e).path(), by[e]));
        if (shownBy[e] < 0) {
          nowhere += by[e];
        } else {
          byLayer[shownBy[e]] += by[e];
        }
      }
    }
    List<Share> layers = new ArrayList<>();
    for (int l = 0; l < byLayer.length; l++) {
      if (byLayer[l] > 0) {
        layers.add(new Share(plan.layers().get(l).name(), byLayer[l]));
      }
    }
    if (nowhere > 0) {
      layers.add(new Share("", nowhere));
    }
    Comparator<Share> largest = Comparator.comparingDouble(s -> -s.share());
    layers.sort(largest);
    objects.sort(largest);
    return new FrameResidual(frame, residual, rejoined.picture(), layers, objects);
  }

  /**
   * Returns for each entity the foremost joined layer that shows it, by index; -1 where none does.
   */
  public static int[] shownBy(Plan plan, ResolvedShot resolved, int entities) {
    int[] out = new int[entities];
    Arrays.fill(out, -1);
    for (Recipe.Step step : plan.enabledRecipe().joins()) {
      int layer = plan.layerIndex(step.layer());
      for (int e : resolved.layers().get(layer).seen().indices()) {
        out[e] = layer;
      }
    }
    return out;
  }
}
