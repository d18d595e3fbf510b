package org.wedgecutter.core.testing;

import java.util.Arrays;
import java.util.List;
import org.wedgecutter.core.fragment.FragmentSums;
import org.wedgecutter.core.fragment.FrameTrace;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.pass.LightPass;
import org.wedgecutter.core.resolve.EntitySet;
import org.wedgecutter.core.resolve.TraceSettings;
import org.wedgecutter.core.resolve.TransportClass;
import org.wedgecutter.core.scene.Scene;
import org.wedgecutter.core.trace.Environment;
import org.wedgecutter.core.trace.SceneTracer;
import org.wedgecutter.core.trace.TraceJob;

/** Traces small scenes for tests. */
public final class Traces {
  /** The shutter is open where scenes that move are in the middle of it. */
  private static final SceneTracer.Time TIME = new SceneTracer.Time(0.5, 0.2, 0.25);

  private Traces() {}

  /** The same light from everywhere. */
  public static Environment uniform(double radiance) {
    Picture p = Picture.empty(16, 8);
    Arrays.fill(p.rgba(), (float) radiance);
    return new Environment(p, 0, 1);
  }

  public static EntitySet all(Scene scene) {
    return EntitySet.where(scene.entities().size(), e -> true);
  }

  public static EntitySet set(Scene scene, String... paths) {
    List<String> wanted = List.of(paths);
    return EntitySet.where(
        scene.entities().size(), e -> wanted.contains(scene.entities().get(e).path()));
  }

  public static TransportClass whole(Scene scene, int bounces) {
    return TransportClass.whole(scene.entities().size(), TraceSettings.unbiased(bounces, 1));
  }

  public static TraceJob job(Scene scene, int bounces) {
    return new TraceJob(
        whole(scene, bounces),
        EntitySet.NONE,
        List.of(new TraceJob.View(EntitySet.NONE, all(scene))));
  }

  /** The scene in the middle of its movement, with the shutter open. */
  public static SceneTracer.Frame frame(Scene scene, Environment environment) {
    return new SceneTracer(scene).at(TIME, environment);
  }

  public static FragmentSums trace(
      Scene scene, Environment environment, TraceJob job, int width, int height, int samples) {
    return trace(scene, environment, job, width, height, samples, 2);
  }

  public static FragmentSums trace(
      Scene scene,
      Environment environment,
      TraceJob job,
      int width,
      int height,
      int samples,
      int threads) {
    FragmentSums sums = new FragmentSums(job, width, height);
    SceneTracer.Frame frame = frame(scene, environment);
    new FrameTrace(f -> frame, scene.cameras().getFirst(), List.of(sums))
        .run(samples, threads, p -> {});
    return sums;
  }

  /** The picture of everything. */
  public static Picture picture(
      Scene scene, Environment environment, int bounces, int width, int height, int samples) {
    return trace(scene, environment, job(scene, bounces), width, height, samples)
        .picture(0, all(scene));
  }

  /** Mean of a channel over the middle third of a picture. */
  public static double middle(Picture p, int channel) {
    double sum = 0;
    int count = 0;
    for (int y = p.height() / 3; y < Math.max(p.height() / 3 + 1, 2 * p.height() / 3); y++) {
      for (int x = p.width() / 3; x < Math.max(p.width() / 3 + 1, 2 * p.width() / 3); x++) {
        sum += p.rgba()[4 * (y * p.width() + x) + channel];
        count++;
      }
    }
    return sum / count;
  }

  /** Mean of one part of the light, red, over all pixels. */
  public static double mean(float[] passes, LightPass pass) {
    double sum = 0;
    int pixels = passes.length / LightPass.NUMBERS;
    for (int p = 0; p < pixels; p++) {
      sum += passes[LightPass.NUMBERS * p + pass.at()];
    }
    return sum / pixels;
  }
}
