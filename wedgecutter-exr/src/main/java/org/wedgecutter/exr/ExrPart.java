package org.wedgecutter.exr;

import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.SortedMap;
import java.util.TreeMap;

/**
 * One part of a file: a header and its channels.
 *
 * @param name the part's name; may be empty in a file of one part, must be unique in a file of
 *     several
 * @param compression how its chunks are packed
 * @param dataWindow where there are pixels
 * @param displayWindow the frame of the picture
 * @param attributes further header attributes, in order
 * @param channels every channel's samples, ascending by name
 */
public record ExrPart(
    String name,
    Compression compression,
    Box dataWindow,
    Box displayWindow,
    Map<String, Attribute> attributes,
    SortedMap<Channel, Samples> channels) {

  public ExrPart {
    attributes = Collections.unmodifiableMap(new LinkedHashMap<>(attributes));
    SortedMap<Channel, Samples> sorted = newChannels();
    sorted.putAll(channels);
    long pixels = (long) dataWindow.width() * dataWindow.height();
    for (Map.Entry<Channel, Samples> e : sorted.entrySet()) {
      boolean whole = e.getKey().type() == PixelType.UINT;
      if (e.getValue().size() != pixels || whole != (e.getValue() instanceof Samples.Whole)) {
        throw new IllegalArgumentException(
            "channel %s needs %d samples of type %s"
                .formatted(e.getKey().name(), pixels, e.getKey().type()));
      }
    }
    channels = Collections.unmodifiableSortedMap(sorted);
  }

  /** Returns an empty map of channels in the order of the file. */
  public static SortedMap<Channel, Samples> newChannels() {
    return new TreeMap<>((a, b) -> a.name().compareTo(b.name()));
  }

  /**
   * Returns the numbers of a half or float channel.
   *
   * @throws ExrException if there is no such channel, or it holds whole numbers
   */
  public float[] real(String channel) throws ExrException {
    for (Map.Entry<Channel, Samples> e : channels.entrySet()) {
      if (e.getKey().name().equals(channel) && e.getValue() instanceof Samples.Real real) {
        return real.values();
      }
    }
    throw new ExrException("part '%s' has no half or float channel '%s'".formatted(name, channel));
  }

  /** Whether there is a channel of this name. */
  public boolean has(String channel) {
    return channels.keySet().stream().anyMatch(c -> c.name().equals(channel));
  }
}
