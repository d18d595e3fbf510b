package org.wedgecutter.core.fragment;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.pass.LightPass;
import org.wedgecutter.core.plan.CatcherOutput;
import org.wedgecutter.core.resolve.CatcherSpec;
import org.wedgecutter.core.resolve.ResolvedLayer;
import org.wedgecutter.core.resolve.ResolvedShot;

/** The pictures of layers, made of the sums of traces. Cheap: nothing is traced. */
public final class LayerPictures {
  private final ResolvedShot shot;
  private final JobPlan jobs;
  private final List<FragmentSums> sums;

  /**
   * @param shot what every layer is
   * @param jobs where each finds its light
   * @param sums one for each job
   */
  public LayerPictures(ResolvedShot shot, JobPlan jobs, List<FragmentSums> sums) {
    this.shot = shot;
    this.jobs = jobs;
    this.sums = List.copyOf(sums);
  }

  /** Returns the uncut frame. */
  public Picture uncut() {
    return sums.get(jobs.uncut().job()).picture(jobs.uncut().view(), shot.all());
  }

  /** Returns the entity that covers most of a pixel of the uncut frame, or -1. */
  public int foremost(int x, int y) {
    return sums.get(jobs.uncut().job()).foremost(jobs.uncut().view(), x, y);
  }

  /** Returns the share of the uncut frame that each entity covers. */
  public double[] coverage() {
    return sums.get(jobs.uncut().job()).coverage(jobs.uncut().view());
  }

  /** Returns the picture of a layer. */
  public Picture layer(int index) {
    ResolvedLayer layer = shot.layers().get(index);
    JobPlan.Source source = jobs.layer(index);
    Picture seen = sums.get(source.job()).picture(source.view(), layer.seen());
    CatcherSpec catcher = layer.catcher();
    if (catcher == null) {
      return seen;
    }
    Picture caught =
        switch (catcher.output()) {
          case DIFFERENCE -> difference(index, catcher);
          case RATIO -> arithmetic(index, catcher).ratio();
          case CATCH -> arithmetic(index, catcher).caught();
        };
    return layer.seen().isEmpty() ? caught : sum(seen, caught, catcher.output());
  }

  /** A ratio of a layer that also shows something cannot be one picture: what is seen is left out of it. */
  private static Picture sum(Picture seen, Picture caught, CatcherOutput output) {
    if (output == CatcherOutput.RATIO) {
      return caught;
    }
    Picture out = seen.copy();
    for (int i = 0; i < out.rgba().length; i++) {
      out.rgba()[i] += caught.rgba()[i];
    }
    return out;
  }

  /** With minus without; alpha 0, since the surface itself is in another layer. */
  private Picture difference(int index, CatcherSpec catcher) {
    JobPlan.Source with = jobs.layer(index);
    JobPlan.Source without = jobs.without(index);
    Picture out = sums.get(with.job()).picture(with.view(), catcher.surfaces());
    Picture less = sums.get(without.job()).picture(without.view(), catcher.surfaces());
    for (int i = 0; i < out.rgba().length; i++) {
      out.rgba()[i] = (i & 3) == 3 ? 0 : out.rgba()[i] - less.rgba()[i];
    }
    return out;
  }

  private CatcherArithmetic arithmetic(int index, CatcherSpec catcher) {
    JobPlan.Source with = jobs.layer(index);
    JobPlan.Source without = jobs.without(index);
    FragmentSums a = sums.get(with.job());
    FragmentSums b = sums.get(without.job());
    return new CatcherArithmetic(
        a.passes(with.view(), catcher.surfaces()),
        b.passes(without.view(), catcher.surfaces()),
        a.picture(with.view(), catcher.surfaces()));
  }

  /** Returns what clamping took from a catch picture, mean over pixels; 0 for other layers. */
  public double lostByClamping(int index) {
    CatcherSpec catcher = shot.layers().get(index).catcher();
    if (catcher == null || catcher.output() != CatcherOutput.CATCH) {
      return 0;
    }
    CatcherArithmetic arithmetic = arithmetic(index, catcher);
    arithmetic.caught();
    return arithmetic.lost();
  }

  /**
   * Returns the passes of a layer by name: three numbers a pixel. They add up to the layer's beauty. A layer
   * that catches in another form than a difference has none.
   */
  public Map<String, float[]> passes(int index) {
    ResolvedLayer layer = shot.layers().get(index);
    CatcherSpec catcher = layer.catcher();
    if (catcher != null && catcher.output() != CatcherOutput.DIFFERENCE) {
      return Map.of();
    }
    JobPlan.Source source = jobs.layer(index);
    FragmentSums own = sums.get(source.job());
    float[] light =
        own.passes(
            source.view(),
            catcher == null ? layer.seen() : layer.seen().or(catcher.surfaces()));
    if (catcher != null) {
      JobPlan.Source without = jobs.without(index);
      float[] less = sums.get(without.job()).passes(without.view(), catcher.surfaces());
      for (int i = 0; i < light.length; i++) {
        light[i] -= less[i];
      }
    }
    return named(light);
  }

  /** Returns the passes of the uncut frame. */
  public Map<String, float[]> uncutPasses() {
    return named(sums.get(jobs.uncut().job()).passes(jobs.uncut().view(), shot.all()));
  }

  private static Map<String, float[]> named(float[] light) {
    int pixels = light.length / LightPass.NUMBERS;
    Map<String, float[]> out = new LinkedHashMap<>();
    for (LightPass.Named pass : LightPass.PASSES) {
      float[] rgb = new float[3 * pixels];
      for (int p = 0; p < pixels; p++) {
        for (LightPass part : pass.parts()) {
          for (int c = 0; c < 3; c++) {
            rgb[3 * p + c] += light[LightPass.NUMBERS * p + part.at() + c];
          }
        }
      }
      out.put(pass.name(), rgb);
    }
    return out;
  }
}
