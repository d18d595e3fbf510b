package org.wedgecutter.core.proof;

import java.util.ArrayList;
import java.util.List;
import java.util.function.DoubleConsumer;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.mistake.Message;
import org.wedgecutter.core.mistake.Sentence;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.Recipe;
import org.wedgecutter.core.rejoin.Rejoiner;
import org.wedgecutter.core.rejoin.TracedSource;
import org.wedgecutter.core.render.FrameRenderer;
import org.wedgecutter.core.render.RenderedFrame;

/**
 * Whether the layers of a plan rejoin, by tracing them and the uncut frame.
 *
 * @param frame the frame that was traced
 * @param residual rejoined minus uncut
 * @param causes why it is beyond the tolerance, what explains most of it first; empty if it is not
 * @param unexplained share of the residual that is left when all causes are mended; NaN where that
 *     was not measured
 * @param rendered the pictures
 */
public record PlanProof(
    int frame, Residual residual, List<Cause> causes, double unexplained, RenderedFrame rendered) {
  public PlanProof {
    causes = List.copyOf(causes);
  }

  /**
   * Traces a frame and compares. A layer that is disabled is not joined: a render has no file of
   * it.
   */
  public static PlanProof prove(
      LoadedShot shot, int frame, FrameRenderer renderer, DoubleConsumer progress) {
    Plan plan = shot.plan();
    List<Integer> joined = new ArrayList<>();
    Recipe recipe = plan.enabledRecipe();
    for (Recipe.Step step : recipe.joins()) {
      joined.add(plan.layerIndex(step.layer()));
    }
    RenderedFrame rendered = renderer.render(frame, joined::contains, true, progress);
    var uncut = rendered.uncut();
    var rejoined =
        Rejoiner.rejoin(recipe, uncut.width(), uncut.height(), new TracedSource(plan, rendered));
    Residual residual = Residual.of(rejoined, Tolerance.of(uncut));
    List<Cause> causes = new ArrayList<>();
    double unexplained = 0;
    if (residual.invalid() > 0) {
      causes.addAll(invalid(plan, rendered, joined));
    }
    if (!residual.exact() && causes.isEmpty()) {
      int entities = shot.scene().entities().size();
      double[] byEntity = CauseFinder.byEntity(residual, entities, rendered::dominant);
      causes =
          CauseFinder.find(plan, shot.scene(), shot.resolve(frame), byEntity).stream()
              .map(c -> withLoss(c, plan, rendered))
              .toList();
      CauseSearch.Ranked ranked = TracedEvidence.of(shot, frame, renderer, p -> {}).ranked(causes);
      causes = ranked.causes();
      unexplained = ranked.unexplained();
    }
    return new PlanProof(frame, residual, causes, unexplained, rendered);
  }

  /**
   * The layers with values that are not finite: as long as there are any, nothing else is measured.
   */
  private static List<Cause> invalid(Plan plan, RenderedFrame rendered, List<Integer> joined) {
    List<Cause> out = new ArrayList<>();
    for (int layer : joined) {
      Picture own = rendered.layer(layer);
      int count = 0;
      int first = 0;
      for (int i = 0; i < own.rgba().length; i++) {
        if (!Float.isFinite(own.rgba()[i])) {
          first = count++ == 0 ? i / 4 : first;
        }
      }
      if (count > 0) {
        String name = plan.layers().get(layer).name();
        Message message =
            Message.of(
                Sentence.INVALID_LIGHT,
                "layer",
                name,
                "count",
                count,
                "at",
                "%d, %d".formatted(first % own.width(), first / own.width()));
        out.add(new Cause(message, name, Double.NaN));
      }
    }
    return out;
  }

  /** Adds how much light a catcher's picture could not hold. */
  private static Cause withLoss(Cause cause, Plan plan, RenderedFrame rendered) {
    Sentence told = cause.message().sentence();
    boolean grey = told == Sentence.GREY_CATCH;
    if (!grey && told != Sentence.RATIO_ON_SPECULAR) {
      return cause;
    }
    double lost = rendered.lostByClamping(plan.layerIndex(cause.layer()));
    Sentence sentence = grey ? Sentence.GREY_CATCH_MEASURED : Sentence.RATIO_MEASURED;
    Message message = Message.of(sentence, "layer", cause.layer(), "lost", lost);
    return new Cause(message, cause.layer(), cause.entity(), cause.entities(), cause.share());
  }
}
