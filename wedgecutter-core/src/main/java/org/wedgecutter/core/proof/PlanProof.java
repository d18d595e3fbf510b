package org.wedgecutter.core.proof;

import java.util.ArrayList;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.function.DoubleConsumer;
import org.wedgecutter.core.fragment.CatchFit;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.image.Region;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.measure.InterplayTable;
import org.wedgecutter.core.mistake.Message;
import org.wedgecutter.core.mistake.Sentence;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.Recipe;
import org.wedgecutter.core.rejoin.Rejoiner;
import org.wedgecutter.core.rejoin.TracedSource;
import org.wedgecutter.core.render.FrameBands;
import org.wedgecutter.core.render.FrameRenderer;
import org.wedgecutter.core.render.RenderedFrame;

/**
 * Whether the layers of a plan rejoin, by tracing them and the uncut frame. A large frame is traced
 * and compared band by band, of which none is kept.
 *
 * @param frame the frame that was traced
 * @param residual rejoined minus uncut
 * @param causes why it is beyond the tolerance, what explains most of it first; empty if it is not
 * @param unexplained share of the residual that is left when all causes are mended; NaN where that
 *     was not measured
 * @param traced what else the trace found
 */
public record PlanProof(
    int frame, Residual residual, List<Cause> causes, double unexplained, Traced traced) {
  /** Pixels of a band, about. */
  private static final int BAND_PIXELS = 1 << 20;

  public PlanProof {
    causes = List.copyOf(causes);
  }

  /**
   * What a trace finds besides pictures.
   *
   * @param invalidSamples fragments that were left out: NaN, infinite or negative
   * @param cutShort walks through media that took too many steps
   * @param interplay how entities change one another's light
   * @param catches how near each joined catch comes to its surface over even backgrounds, by layer
   */
  public record Traced(
      long invalidSamples, long cutShort, InterplayTable interplay, Map<String, CatchFit> catches) {
    static final Traced NOTHING = new Traced(0, 0, InterplayTable.NONE, Map.of());

    public Traced {
      catches = Collections.unmodifiableMap(new LinkedHashMap<>(catches));
    }

    Traced plus(RenderedFrame band) {
      return new Traced(
          invalidSamples + band.invalidSamples(),
          cutShort + band.cutShort(),
          interplay.plus(band.interplay()),
          catches);
    }

    Traced plus(String layer, CatchFit fit) {
      Map<String, CatchFit> all = new LinkedHashMap<>(catches);
      all.merge(layer, fit, CatchFit::plus);
      return new Traced(invalidSamples, cutShort, interplay, all);
    }
  }

  /**
   * Traces a frame and compares. A layer that is disabled is not joined: a render has no file of
   * it.
   *
   * @param progress receives the share that is done, 0 to 1
   */
  public static PlanProof prove(
      LoadedShot shot, int frame, FrameRenderer renderer, DoubleConsumer progress) {
    return prove(shot, frame, renderer, BAND_PIXELS, progress);
  }

  /**
   * @param bandPixels of a band, about
   */
  static PlanProof prove(
      LoadedShot shot, int frame, FrameRenderer renderer, int bandPixels, DoubleConsumer progress) {
    var resolved = shot.resolve(frame);
    List<Region> bands = FrameBands.of(resolved, renderer.settings(), FrameBands.LINES, bandPixels);
    Sums sums = new Sums(shot, renderer.settings().region());
    for (int b = 0; b < bands.size(); b++) {
      int done = b;
      sums.add(
          renderer.render(
              frame,
              bands.get(b),
              sums.joined::contains,
              true,
              p -> progress.accept((done + p) / bands.size())),
          bands.get(b));
    }
    Residual residual = sums.residual.residual();
    List<Cause> causes = residual.invalid() > 0 ? sums.invalid() : List.of();
    double unexplained = 0;
    if (!residual.exact() && causes.isEmpty()) {
      causes =
          CauseFinder.find(shot.plan(), shot.scene(), resolved, sums.shares.shares()).stream()
              .map(sums::withLoss)
              .toList();
      CauseSearch.Ranked ranked =
          TracedEvidence.of(shot, frame, renderer, sums.worst, p -> {}).ranked(causes);
      causes = ranked.causes();
      unexplained = ranked.unexplained();
    }
    return new PlanProof(frame, residual, causes, unexplained, sums.traced);
  }

  /** What is gathered over the bands of a frame. */
  private static final class Sums {
    private final Plan plan;
    private final Recipe recipe;
    private final Region whole;
    private final List<Integer> joined = new ArrayList<>();
    private final ResidualSum residual = new ResidualSum();
    private final EntityShares shares;
    private final int[] invalid;
    private final String[] firstInvalid;
    private final double[] lost;
    private Traced traced = Traced.NOTHING;
    private Region worst;
    private double worstExcess;

    Sums(LoadedShot shot, Region whole) {
      this.whole = whole;
      worst = whole;
      plan = shot.plan();
      recipe = plan.enabledRecipe();
      recipe.joins().forEach(step -> joined.add(plan.layerIndex(step.layer())));
      shares = new EntityShares(shot.scene().entities().size());
      int layers = plan.layers().size();
      invalid = new int[layers];
      firstInvalid = new String[layers];
      lost = new double[layers];
    }

    void add(RenderedFrame band, Region at) {
      Picture uncut = band.uncut();
      Rejoiner.Rejoined rejoined =
          Rejoiner.rejoin(recipe, uncut.width(), uncut.height(), new TracedSource(plan, band));
      Tolerance tolerance = Tolerance.of(uncut);
      residual.add(rejoined, tolerance, at.y() - whole.y());
      shares.add(rejoined.picture(), uncut, band::dominant);
      traced = traced.plus(band);
      double excess = tolerance.excess(rejoined.picture(), rejoined.scale());
      if (excess > worstExcess) {
        worstExcess = excess;
        worst = at;
      }
      for (int layer : joined) {
        lost[layer] += band.lostByClamping(layer);
        CatchFit fit = band.catchFit(layer);
        if (fit != null) {
          traced = traced.plus(plan.layers().get(layer).name(), fit);
        }
        invalid(layer, band.layer(layer), at.y() - whole.y());
      }
    }

    private void invalid(int layer, Picture own, int firstLine) {
      for (int i = 0; i < own.rgba().length; i++) {
        if (!Float.isFinite(own.rgba()[i]) && invalid[layer]++ == 0) {
          int p = i / 4;
          firstInvalid[layer] = "%d, %d".formatted(p % own.width(), firstLine + p / own.width());
        }
      }
    }

    /**
     * Returns the layers with values that are not finite: as long as there are any, nothing else is
     * measured.
     */
    List<Cause> invalid() {
      List<Cause> out = new ArrayList<>();
      for (int layer : joined) {
        if (invalid[layer] > 0) {
          String name = plan.layers().get(layer).name();
          Message message =
              Message.of(
                  Sentence.INVALID_LIGHT,
                  "layer",
                  name,
                  "count",
                  invalid[layer],
                  "at",
                  firstInvalid[layer]);
          out.add(new Cause(message, name, Double.NaN));
        }
      }
      return out;
    }

    /** Adds how much light a catcher's picture could not hold. */
    Cause withLoss(Cause cause) {
      Sentence told = cause.message().sentence();
      boolean grey = told == Sentence.GREY_CATCH;
      if (!grey && told != Sentence.RATIO_ON_SPECULAR) {
        return cause;
      }
      Sentence sentence = grey ? Sentence.GREY_CATCH_MEASURED : Sentence.RATIO_MEASURED;
      Message message =
          Message.of(
              sentence, "layer", cause.layer(), "lost", lost[plan.layerIndex(cause.layer())]);
      return new Cause(message, cause.layer(), cause.entity(), cause.entities(), cause.share());
    }
  }
}
