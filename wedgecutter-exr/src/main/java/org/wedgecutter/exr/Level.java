package org.wedgecutter.exr;

import java.util.Collections;
import java.util.Map;
import java.util.SortedMap;
import org.jspecify.annotations.Nullable;

/**
 * The pixels of a part, or of one of its smaller pictures.
 *
 * @param x how often it is halved across
 * @param y how often it is halved down
 * @param window where there are pixels
 * @param counts of a deep part: how many samples each pixel has, line by line from the top; else
 *     null
 * @param channels every channel's samples, ascending by name: one for each pixel that its sampling
 *     takes, line by line from the top; of a deep part those of each pixel after those of the one
 *     before
 */
public record Level(
    int x, int y, Box window, int @Nullable [] counts, SortedMap<Channel, Samples> channels) {
  public Level {
    SortedMap<Channel, Samples> sorted = ExrPart.newChannels();
    sorted.putAll(channels);
    long pixels = (long) window.width() * window.height();
    long deep = 0;
    if (counts != null) {
      if (counts.length != pixels) {
        throw new IllegalArgumentException(
            "%d counts of samples for %d pixels".formatted(counts.length, pixels));
      }
      for (int count : counts) {
        deep += count;
      }
    }
    for (Map.Entry<Channel, Samples> e : sorted.entrySet()) {
      boolean whole = e.getKey().type() == PixelType.UINT;
      long needed = counts == null ? e.getKey().samples(window) : deep;
      if (e.getValue().size() != needed || whole != (e.getValue() instanceof Samples.Whole)) {
        throw new IllegalArgumentException(
            "channel %s needs %d samples of type %s"
                .formatted(e.getKey().name(), needed, e.getKey().type()));
      }
    }
    channels = Collections.unmodifiableSortedMap(sorted);
  }
}
