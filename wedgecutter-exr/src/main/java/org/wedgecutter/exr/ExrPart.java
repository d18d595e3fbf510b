package org.wedgecutter.exr;

import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.SortedMap;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;

/**
 * One part of a file: a header and its pixels.
 *
 * @param header what the file tells of it
 * @param levels its pixels, the full picture first; then the smaller ones, if it has any: across by
 *     across, line of levels by line of levels
 */
public record ExrPart(ExrHeader header, List<Level> levels) {
  public ExrPart {
    levels = List.copyOf(levels);
    List<Box> windows = header.windows();
    if (levels.size() != windows.size()) {
      throw new IllegalArgumentException(
          "%d levels, expected %d".formatted(levels.size(), windows.size()));
    }
    for (int k = 0; k < windows.size(); k++) {
      Level level = levels.get(k);
      if (!level.window().equals(windows.get(k))
          || header.deep() != (level.counts() != null)
          || !List.copyOf(level.channels().keySet()).equals(header.channels())) {
        throw new IllegalArgumentException("level %d does not fit its header".formatted(k));
      }
    }
  }

  /**
   * A flat part of lines.
   *
   * @param name the part's name; may be empty in a file of one part, must be unique in a file of
   *     several
   * @param compression how its chunks are packed
   * @param dataWindow where there are pixels
   * @param displayWindow the frame of the picture
   * @param attributes further header attributes, in order
   * @param channels every channel's samples
   */
  public ExrPart(
      String name,
      Compression compression,
      Box dataWindow,
      Box displayWindow,
      Map<String, Attribute> attributes,
      SortedMap<Channel, Samples> channels) {
    this(
        ExrHeader.of(
            name,
            compression,
            dataWindow,
            displayWindow,
            attributes,
            List.copyOf(sorted(channels).keySet())),
        List.of(new Level(0, 0, dataWindow, null, channels)));
  }

  private static SortedMap<Channel, Samples> sorted(Map<Channel, Samples> channels) {
    SortedMap<Channel, Samples> out = newChannels();
    out.putAll(channels);
    return out;
  }

  /** Returns an empty map of channels in the order of the file. */
  public static SortedMap<Channel, Samples> newChannels() {
    return new TreeMap<>((a, b) -> a.name().compareTo(b.name()));
  }

  /** Returns the part's name. */
  public String name() {
    return header.name();
  }

  /** Returns how its chunks are packed. */
  public Compression compression() {
    return header.compression();
  }

  /** Returns where there are pixels. */
  public Box dataWindow() {
    return header.dataWindow();
  }

  /** Returns the frame of the picture. */
  public Box displayWindow() {
    return header.displayWindow();
  }

  /** Returns the further header attributes, in order. */
  public Map<String, Attribute> attributes() {
    return header.attributes();
  }

  /** Returns every channel's samples of the full picture, ascending by name. */
  public SortedMap<Channel, Samples> channels() {
    return levels.getFirst().channels();
  }

  /** Returns how many samples each pixel of a deep part has; null of a flat one. */
  public int @Nullable [] counts() {
    return levels.getFirst().counts();
  }

  /**
   * Returns the numbers of a half or float channel.
   *
   * @throws ExrException if there is no such channel, or it holds whole numbers
   */
  public float[] real(String channel) throws ExrException {
    for (Map.Entry<Channel, Samples> e : channels().entrySet()) {
      if (e.getKey().name().equals(channel) && e.getValue() instanceof Samples.Real real) {
        return real.values();
      }
    }
    throw new ExrException(
        "part '%s' has no half or float channel '%s'".formatted(name(), channel));
  }

  /** Whether there is a channel of this name. */
  public boolean has(String channel) {
    return channels().keySet().stream().anyMatch(c -> c.name().equals(channel));
  }

  static Map<String, Attribute> copy(Map<String, Attribute> attributes) {
    return Collections.unmodifiableMap(new LinkedHashMap<>(attributes));
  }
}
