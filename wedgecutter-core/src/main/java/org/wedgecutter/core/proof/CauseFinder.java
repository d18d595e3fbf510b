package org.wedgecutter.core.proof;

import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.mistake.Message;
import org.wedgecutter.core.mistake.Sentence;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.Recipe;
import org.wedgecutter.core.rejoin.JoinRule;
import org.wedgecutter.core.resolve.ResolvedShot;
import org.wedgecutter.core.scene.Scene;

/**
 * Finds from plan and scene why layers cannot rejoin exactly. Only what the camera can see counts:
 * entities of kind mesh, and the environment. Shares of the residual are by {@link EntityShares}.
 */
public final class CauseFinder {
  private CauseFinder() {}

  /**
   * Finds what is suspected, first what the largest part of the residual lies on.
   *
   * @param residualByEntity share of the residual on each entity, or null if it was not measured
   */
  public static List<Cause> find(
      Plan plan, Scene scene, ResolvedShot shot, double @Nullable [] residualByEntity) {
    Causes all = new Causes(plan, scene, shot, residualByEntity);
    LightCauses light = new LightCauses(all);
    light.partition();
    new JoinCauses(all, light).steps();
    return all.sorted();
  }

  /**
   * Finds what is Seen in no layer, or in several layers that do not divide its light among them.
   */
  public static List<Cause> partition(Plan plan, Scene scene, ResolvedShot shot) {
    Causes all = new Causes(plan, scene, shot, null);
    new LightCauses(all).partition();
    return all.inOrder();
  }

  /** Finds the causes that show in the recipe alone, without the scene: joins that approximate. */
  public static List<Cause> ofRecipe(Recipe recipe) {
    List<Cause> out = new ArrayList<>();
    for (int s = 1; s < recipe.joins().size(); s++) {
      Recipe.Step step = recipe.joins().get(s);
      Sentence sentence =
          switch (JoinRule.of(step.join()).exactness()) {
            case EXACT -> step.opacity() < 1 ? Sentence.JOIN_FOR_LOOKS : null;
            case EDGES -> Sentence.JOIN_APPROXIMATES;
            case GREY -> Sentence.CATCH_APPROXIMATES;
            case DIFFUSE -> Sentence.RATIO_APPROXIMATES;
            case LOOK -> Sentence.JOIN_FOR_LOOKS;
          };
      if (sentence != null) {
        Message message = Message.of(sentence, "layer", step.layer(), "join", step.join().word());
        out.add(new Cause(message, step.layer(), Double.NaN));
      }
    }
    return out;
  }
}
