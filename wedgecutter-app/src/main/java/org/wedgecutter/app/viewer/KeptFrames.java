package org.wedgecutter.app.viewer;

import java.util.HashMap;
import java.util.Map;
import javafx.scene.image.Image;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.app.live.Pictures;
import org.wedgecutter.core.plan.Plan;

/**
 * What the viewer showed of each frame, for playback: of one plan, in one look. A picture takes the
 * place of one that is smaller or has fewer samples. For the interface thread.
 */
public final class KeptFrames {
  /** A picture that is smaller than this by its width is too coarse to judge motion by. */
  private static final int COARSE = 4;

  private final long mostBytes;
  private final Map<Integer, Kept> byFrame = new HashMap<>();
  private @Nullable Plan plan;
  private @Nullable Shown shown;
  private long bytes;

  /**
   * A frame as it was shown.
   *
   * @param whole whether it has the shot's size
   * @param samples of each pixel
   */
  record Kept(ShownImages images, boolean whole, int width, int height, int samples) {
    static Kept of(Pictures pictures, ShownImages images) {
      return new Kept(
          images.withoutPass(),
          pictures.width() >= pictures.plan().requireShot().width(),
          pictures.width(),
          pictures.height(),
          pictures.samples());
    }

    private long bytes() {
      return size(images.main()) + size(images.other());
    }

    private static long size(@Nullable Image image) {
      return image == null ? 0 : (long) (4 * image.getWidth() * image.getHeight());
    }

    private boolean isBetterThan(Kept other) {
      return width > other.width || (width == other.width && samples > other.samples);
    }
  }

  /**
   * @param mostBytes of memory that all pictures may take
   */
  KeptFrames(long mostBytes) {
    this.mostBytes = mostBytes;
  }

  /** Forgets all. */
  void clear() {
    byFrame.clear();
    bytes = 0;
    plan = null;
    shown = null;
  }

  /** Keeps a frame as it was shown, unless there is better, or no room. */
  void keep(Plan of, Shown look, int frame, Kept next) {
    if (next.width * COARSE < of.requireShot().width()) {
      return;
    }
    if (!isOf(of, look)) {
      clear();
      plan = of;
      shown = look;
    }
    Kept before = byFrame.get(frame);
    if (before != null && !next.isBetterThan(before)) {
      return;
    }
    // one that takes the place of another of its size always has room
    long after = bytes - (before == null ? 0 : before.bytes()) + next.bytes();
    if (after <= mostBytes) {
      byFrame.put(frame, next);
      bytes = after;
    }
  }

  private boolean isOf(Plan of, Shown look) {
    return of.equals(plan) && look.equals(shown);
  }

  /** Returns what is kept of a frame, or null. */
  @Nullable Kept of(Plan of, Shown look, int frame) {
    return isOf(of, look) ? byFrame.get(frame) : null;
  }

  /** How much is kept of a frame. */
  public enum State {
    /** Nothing. */
    MISSING,
    /** A picture that is smaller than the shot's. */
    SMALL,
    /** One of the shot's size. */
    WHOLE
  }

  State state(Plan of, Shown look, int frame) {
    Kept kept = of(of, look, frame);
    return kept == null ? State.MISSING : kept.whole() ? State.WHOLE : State.SMALL;
  }

  /**
   * Returns how good a picture of a frame is: 0 for none, 1 for a small one; from 2 on, one step
   * more for four times the samples, and {@link Integer#MAX_VALUE} for all that the plan asks for.
   */
  int quality(Plan of, Shown look, int frame) {
    Kept kept = of(of, look, frame);
    if (kept == null || !kept.whole()) {
      return kept == null ? 0 : 1;
    }
    boolean all = kept.samples() >= of.requireShot().samples();
    return all ? Integer.MAX_VALUE : 2 + (31 - Integer.numberOfLeadingZeros(kept.samples())) / 2;
  }

  /** Whether another picture like the largest that is kept has room. */
  boolean hasRoom() {
    long largest = byFrame.values().stream().mapToLong(Kept::bytes).max().orElse(0);
    return bytes + largest <= mostBytes;
  }
}
