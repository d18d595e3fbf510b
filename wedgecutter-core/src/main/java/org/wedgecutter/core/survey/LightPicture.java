package org.wedgecutter.core.survey;

import java.util.List;
import org.wedgecutter.core.fragment.FragmentSums;
import org.wedgecutter.core.fragment.FrameTrace;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.resolve.EntitySet;
import org.wedgecutter.core.resolve.ResolvedShot;
import org.wedgecutter.core.resolve.TransportClass;
import org.wedgecutter.core.trace.SceneTracer;
import org.wedgecutter.core.trace.TraceJob;

/**
 * What one part does to the light of another, as a picture: the light with it less the light
 * without it, traced with the same random numbers, so that noise cancels. Positive where light
 * comes via it, negative where it blocks light.
 */
public final class LightPicture {
  private final FrameTrace trace;
  private final FragmentSums with;
  private final FragmentSums without;
  private final EntitySet of;

  /**
   * @param of the visible entities
   * @param by what affects its light; it hides them in both traces alike
   * @param width pixels in a line
   * @param height lines
   */
  public LightPicture(
      LoadedShot shot, int frame, EntitySet of, EntitySet by, int width, int height) {
    ResolvedShot resolved = shot.resolve(frame);
    EntitySet seen = of.minus(by);
    this.of = seen;
    with = sums(resolved.uncut(), seen, width, height);
    without = sums(resolved.uncut().without(by), seen, width, height);
    SceneTracer.Frame placed = shot.frame(frame);
    trace = new FrameTrace(f -> placed, shot.camera(), List.of(with, without));
  }

  private static FragmentSums sums(TransportClass transport, EntitySet seen, int w, int h) {
    TraceJob job =
        new TraceJob(transport, EntitySet.NONE, List.of(new TraceJob.View(EntitySet.NONE, seen)));
    return new FragmentSums(job, w, h);
  }

  /** Stops {@link #trace} from another thread. */
  public void stop() {
    trace.stop();
  }

  /** Traces and returns the signed picture; alpha is that of the visible entities. */
  public Picture trace(int samples, int threads) {
    trace.run(samples, threads, p -> {});
    Picture a = with.picture(0, of);
    Picture b = without.picture(0, of);
    Picture out = a.copy();
    for (int i = 0; i < out.rgba().length; i++) {
      if ((i & 3) < 3) {
        out.rgba()[i] -= b.rgba()[i];
      }
    }
    return out;
  }
}
