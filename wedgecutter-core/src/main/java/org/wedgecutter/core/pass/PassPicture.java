package org.wedgecutter.core.pass;

import java.util.List;

/**
 * A pass of a picture.
 *
 * @param name its name, the first part of its channels' names; may be empty
 * @param channels the last part of each channel's name: {@code R}, {@code G}, {@code B}; or whole
 *     names where the pass has none
 * @param values a number for each channel of each pixel, line by line; not copied
 * @param exact whether the numbers lose their meaning when rounded to 16 bits
 */
public record PassPicture(String name, List<String> channels, float[] values, boolean exact) {
  /** Light: red, green, blue. */
  public static final List<String> RGB = List.of("R", "G", "B");

  public PassPicture {
    channels = List.copyOf(channels);
  }

  /** A pass of light. */
  public static PassPicture light(String name, float[] values) {
    return new PassPicture(name, RGB, values, false);
  }

  /** Returns its name, or its channel's where it has none. */
  public String title() {
    return name.isEmpty() ? channels.getFirst() : name;
  }

  /** Returns the whole name of a channel. */
  public String channel(int c) {
    return name.isEmpty() ? channels.get(c) : name + "." + channels.get(c);
  }

  /** Whether it adds up with others to the beauty. */
  public boolean isLight() {
    return channels.equals(RGB) && !exact;
  }
}
