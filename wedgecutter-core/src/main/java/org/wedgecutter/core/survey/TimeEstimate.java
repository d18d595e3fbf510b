package org.wedgecutter.core.survey;

import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import java.util.SortedMap;
import java.util.TreeMap;
import java.util.function.ToDoubleFunction;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.resolve.HeldFrames;

/**
 * How long frames and layers take, from quick traces.
 *
 * <p>A trace takes {@code c * pixels * samples} of processor time, where {@code c} is that of the
 * second half of a quick trace's samples, when code is compiled and the scene is placed. It is
 * divided equally among the layers that it serves, as in a delivery's record. Making passes and
 * files takes a time in proportion to the pixels; putting a file on the disk a time for each, and
 * placing the scene a time for each frame. Between frames that were traced, everything is
 * interpolated. Wall time is processor time by the number of threads, on a machine that does
 * nothing else.
 *
 * <p>The range about an estimate comes from what differs: between the two frames on either side,
 * and between wall and processor time while it was measured; at least {@link #LEAST} either way.
 */
public final class TimeEstimate {
  /** Least uncertainty, as a share. */
  public static final double LEAST = 0.1;

  private static final double MOST = 1;

  private final Plan plan;
  private final HeldFrames held;
  private final SortedMap<Integer, FrameSurvey> traced;
  private final double pixels;
  private final double samples;
  private final int threads;

  /**
   * A time with the range that it lies in.
   *
   * @param low seconds
   * @param middle seconds
   * @param high seconds
   */
  public record Seconds(double low, double middle, double high) {
    /** No time at all. */
    public static final Seconds ZERO = new Seconds(0, 0, 0);

    static Seconds about(double middle, double uncertainty) {
      return new Seconds(middle / (1 + uncertainty), middle, middle * (1 + uncertainty));
    }

    /** Returns the sum; what makes one too long makes the other too long. */
    public Seconds plus(Seconds other) {
      return new Seconds(low + other.low, middle + other.middle, high + other.high);
    }

    /** Returns a multiple. */
    public Seconds times(double factor) {
      return new Seconds(low * factor, middle * factor, high * factor);
    }
  }

  /**
   * @param traced quick traces of this plan, by frame; at least one
   * @param held which frames are the same, over the frames that are asked about
   * @param width pixels in a line of the frames to be rendered
   * @param height their lines
   * @param samples samples per pixel of the frames to be rendered
   * @param threads threads that render them
   */
  public TimeEstimate(
      LoadedShot shot,
      SortedMap<Integer, FrameSurvey> traced,
      HeldFrames held,
      int width,
      int height,
      int samples,
      int threads) {
    if (traced.isEmpty()) {
      throw new IllegalArgumentException("no frame was traced");
    }
    this.plan = shot.plan();
    this.held = held;
    this.traced = new TreeMap<>(traced);
    this.pixels = (double) width * height;
    this.samples = samples;
    this.threads = threads;
  }

  /** Interpolates a time between the traced frames. */
  private Seconds at(int frame, ToDoubleFunction<FrameSurvey> time) {
    SortedMap<Integer, FrameSurvey> before = traced.headMap(frame + 1);
    SortedMap<Integer, FrameSurvey> after = traced.tailMap(frame);
    FrameSurvey a =
        Objects.requireNonNull(traced.get(before.isEmpty() ? after.firstKey() : before.lastKey()));
    FrameSurvey b =
        Objects.requireNonNull(traced.get(after.isEmpty() ? before.lastKey() : after.firstKey()));
    double from = time.applyAsDouble(a);
    double to = time.applyAsDouble(b);
    double part =
        a.frame() == b.frame() ? 0 : (double) (frame - a.frame()) / (b.frame() - a.frame());
    double middle = from + (to - from) * part;
    double differs = from + to > 0 ? Math.abs(to - from) / (from + to) : 0;
    double uncertainty =
        Math.min(MOST, LEAST + (a.frame() == b.frame() ? 0 : differs) + Math.max(load(a), load(b)));
    return Seconds.about(middle, uncertainty);
  }

  /** By what share wall time was longer than processor time by threads. */
  private static double load(FrameSurvey f) {
    double wall = 0;
    double cpu = 0;
    for (FrameSurvey.Cost c : f.costs()) {
      wall += c.wall();
      cpu += c.cpu() / f.threads();
    }
    return cpu > 0 ? Math.clamp(wall / cpu - 1, 0, 1) / 2 : 0;
  }

  private double trace(FrameSurvey.Cost c) {
    return c.cpu() * pixels * c.size() * samples(c.samples()) / threads;
  }

  /** Whether a layer is rendered at a frame: enabled, and not held from another. */
  private boolean isRendered(int layer, int frame) {
    return plan.layers().get(layer).render() && held.from(layer, frame) == frame;
  }

  /** Returns the time of a layer at a frame; nothing where it is disabled or held. */
  public Seconds layer(int layer, int frame) {
    return isRendered(layer, frame)
        ? at(frame, f -> f.written()[layer] * pixels + f.file() + traced(f, layer, frame))
        : Seconds.ZERO;
  }

  /** A layer's part of the traces of a frame, by what a quick trace told. */
  private double traced(FrameSurvey f, int layer, int frame) {
    double sum = 0;
    for (FrameSurvey.Cost c : f.costs()) {
      if (c.layers().contains(layer)) {
        long sharing = c.layers().stream().filter(l -> isRendered(l, frame)).count();
        sum += trace(c) / sharing;
      }
    }
    return sum;
  }

  /**
   * Returns the samples per pixel of a trace in the frames to be rendered.
   *
   * @param share its samples, as a share of the frame's
   */
  public double samples(double share) {
    return samples * share;
  }

  /**
   * Returns the part of a layer's time over all frames that grows with its samples: that of its
   * traces.
   */
  public double tracing(int layer) {
    double sum = 0;
    for (int frame : held.frames()) {
      if (isRendered(layer, frame)) {
        sum += at(frame, f -> traced(f, layer, frame)).middle();
      }
    }
    return sum;
  }

  /** Returns the time of a layer over all frames. */
  public Seconds layer(int layer) {
    Seconds sum = Seconds.ZERO;
    for (int frame : held.frames()) {
      sum = sum.plus(layer(layer, frame));
    }
    return sum;
  }

  /** Returns the time of a frame of all layers, with placing the scene; without the uncut frame. */
  public Seconds frame(int frame) {
    boolean any = false;
    Seconds sum = Seconds.ZERO;
    for (int l = 0; l < plan.layers().size(); l++) {
      any |= isRendered(l, frame);
      sum = sum.plus(layer(l, frame));
    }
    // the delivery is noted after each frame: one more file
    return any ? sum.plus(at(frame, f -> f.placedSeconds() + f.file())) : sum;
  }

  /** Returns the time of all layers over all frames. */
  public Seconds shot() {
    Seconds sum = Seconds.ZERO;
    for (int frame : held.frames()) {
      sum = sum.plus(frame(frame));
    }
    return sum;
  }

  /** Returns the time of the uncut frame alone at a frame; nothing where it is held. */
  public Seconds uncut(int frame) {
    return held.uncutFrom(frame) != frame
        ? Seconds.ZERO
        : at(
            frame,
            f -> {
              double sum = f.uncutWritten() * pixels + f.placedSeconds() + f.file();
              for (FrameSurvey.Cost c : f.costs()) {
                sum += c.uncut() ? trace(c) : 0;
              }
              return sum;
            });
  }

  /** Returns the time of the uncut shot. */
  public Seconds uncut() {
    Seconds sum = Seconds.ZERO;
    for (int frame : held.frames()) {
      sum = sum.plus(uncut(frame));
    }
    return sum;
  }

  /** Returns the time of a layer over all frames if its first were held at all others. */
  public Seconds heldThroughout(int layer) {
    int first = held.frames().getFirst();
    return layer(layer, first);
  }

  /** Returns the frames at which a layer is rendered, ascending. */
  public List<Integer> rendered(int layer) {
    List<Integer> out = new ArrayList<>();
    for (int frame : held.frames()) {
      if (isRendered(layer, frame)) {
        out.add(frame);
      }
    }
    return out;
  }
}
