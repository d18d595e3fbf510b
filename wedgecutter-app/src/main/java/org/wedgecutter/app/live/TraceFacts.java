package org.wedgecutter.app.live;

import org.wedgecutter.core.fragment.LayerPictures;
import org.wedgecutter.core.measure.InterplayTable;

/**
 * What the trace of the uncut frame tells beside its picture: which objects cover it, how they
 * change one another's light, and what went wrong. Complete once {@link Pictures#complete} is.
 */
public final class TraceFacts {
  private static final int[] NONE = {};

  /** What is counted at once. */
  private record Counted(double[] coverage, InterplayTable interplay) {}

  private final int width;
  private final Made<int[]> dominant;
  private final Made<Counted> counted;
  private volatile long invalidSamples;
  private volatile long cutShort;

  TraceFacts(Object lock, LayerPictures source) {
    width = source.uncutSums().width();
    dominant = new Made<>(lock, source::dominant);
    counted =
        new Made<>(
            lock, () -> new Counted(source.coverage(), InterplayTable.of(source.uncutSums())));
  }

  /** Counts all that has not been counted yet. */
  void complete(LayerPictures source) {
    invalidSamples = source.invalidSamples();
    cutShort = source.cutShort();
    counted.get();
    dominant.get();
  }

  /** Takes over what does not depend on the layers. */
  void takeOver(TraceFacts before) {
    dominant.takeOver(before.dominant);
    counted.takeOver(before.counted);
  }

  /** Takes over what went wrong in the same trace. */
  void takeOverFaults(TraceFacts before) {
    invalidSamples = before.invalidSamples;
    cutShort = before.cutShort;
  }

  /** Returns how entities change one another's light, once complete. */
  public InterplayTable interplay() {
    Counted known = counted.ifMade();
    return known == null ? InterplayTable.NONE : known.interplay();
  }

  /** Returns the share of the uncut frame that each entity covers, once complete. */
  public double[] coverage() {
    Counted known = counted.ifMade();
    return known == null ? new double[0] : known.coverage();
  }

  /** Returns the number of invalid fragments (NaN, infinite or negative), once complete. */
  public long invalidSamples() {
    return invalidSamples;
  }

  /** Returns how many volume paths were terminated, once complete. */
  public long cutShort() {
    return cutShort;
  }

  /**
   * Returns the dominant entity of each pixel of the uncut frame, line by line, once complete;
   * empty before. Must not be changed.
   */
  public int[] entities() {
    int[] known = dominant.ifMade();
    return known == null ? NONE : known;
  }

  /** Returns the dominant entity of each pixel like {@link #entities}, and makes it if need be. */
  public int[] dominant() {
    return dominant.get();
  }

  /** Returns the dominant entity of a pixel, or -1; once complete. */
  public int entityAt(int x, int y) {
    int[] of = entities();
    int at = y * width + x;
    return at < of.length ? of[at] : -1;
  }
}
