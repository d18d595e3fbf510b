package org.wedgecutter.core.fragment;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.pass.LightPass;
import org.wedgecutter.core.plan.CatcherOutput;
import org.wedgecutter.core.resolve.CatcherSpec;
import org.wedgecutter.core.resolve.EntitySet;
import org.wedgecutter.core.resolve.ResolvedLayer;
import org.wedgecutter.core.resolve.ResolvedShot;
import org.wedgecutter.core.trace.TraceJob;

/** The pictures of layers, made of the sums of traces. Cheap: nothing is traced. */
public final class LayerPictures {
  private final ResolvedShot shot;
  private final JobPlan jobs;
  private final List<TraceJob> planned;
  private final List<FragmentSums> sums;

  /**
   * @param shot what every layer is
   * @param jobs where each finds its light
   * @param sums one for each job, which may hold more than the job asks for
   */
  public LayerPictures(ResolvedShot shot, JobPlan jobs, List<FragmentSums> sums) {
    this.shot = shot;
    this.jobs = jobs;
    this.planned = jobs.jobs();
    this.sums = List.copyOf(sums);
  }

  private FragmentSums sumsOf(JobPlan.Source source) {
    return sums.get(source.job());
  }

  private int viewOf(JobPlan.Source source) {
    return sumsOf(source).viewFor(planned.get(source.job()).views().get(source.view()));
  }

  private Picture picture(JobPlan.Source source, EntitySet entities) {
    return sumsOf(source).picture(viewOf(source), entities);
  }

  private float[] light(JobPlan.Source source, EntitySet entities) {
    return sumsOf(source).passes(viewOf(source), entities);
  }

  /** Returns the uncut frame. */
  public Picture uncut() {
    return picture(jobs.uncut(), shot.all());
  }

  /** Returns the entity that covers most of a pixel of the uncut frame, or -1. */
  public int foremost(int x, int y) {
    return sumsOf(jobs.uncut()).foremost(viewOf(jobs.uncut()), x, y);
  }

  /** Returns the entity that covers most of each pixel of the uncut frame, or -1. */
  public int[] foremost() {
    return sumsOf(jobs.uncut()).foremost(viewOf(jobs.uncut()));
  }

  /** Returns the share of the uncut frame that each entity covers. */
  public double[] coverage() {
    return sumsOf(jobs.uncut()).coverage(viewOf(jobs.uncut()));
  }

  /** Returns the picture of a layer. */
  public Picture layer(int index) {
    ResolvedLayer layer = shot.layers().get(index);
    Picture seen = picture(jobs.layer(index), layer.seen());
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

  /**
   * A ratio of a layer that also shows something cannot be one picture: what is seen is left out of
   * it.
   */
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
    Picture out = picture(jobs.layer(index), catcher.surfaces());
    Picture less = picture(jobs.without(index), catcher.surfaces());
    for (int i = 0; i < out.rgba().length; i++) {
      out.rgba()[i] = (i & 3) == 3 ? 0 : out.rgba()[i] - less.rgba()[i];
    }
    return out;
  }

  private CatcherArithmetic arithmetic(int index, CatcherSpec catcher) {
    return new CatcherArithmetic(
        light(jobs.layer(index), catcher.surfaces()),
        light(jobs.without(index), catcher.surfaces()),
        picture(jobs.layer(index), catcher.surfaces()));
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
   * Returns the passes of a layer by name: three numbers a pixel. They add up to the layer's
   * beauty. A layer that catches in another form than a difference has none.
   */
  public Map<String, float[]> passes(int index) {
    ResolvedLayer layer = shot.layers().get(index);
    CatcherSpec catcher = layer.catcher();
    if (catcher != null && catcher.output() != CatcherOutput.DIFFERENCE) {
      return Map.of();
    }
    float[] light =
        light(
            jobs.layer(index),
            catcher == null ? layer.seen() : layer.seen().or(catcher.surfaces()));
    if (catcher != null) {
      float[] less = light(jobs.without(index), catcher.surfaces());
      for (int i = 0; i < light.length; i++) {
        light[i] -= less[i];
      }
    }
    return named(light);
  }

  /** Returns the passes of the uncut frame. */
  public Map<String, float[]> uncutPasses() {
    return named(light(jobs.uncut(), shot.all()));
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
