package org.wedgecutter.core.plan;

import java.math.BigDecimal;
import java.math.MathContext;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.TreeMap;
import java.util.stream.IntStream;

/**
 * A correction of colours, or an effect, where the layers rejoin: of a layer, of one of its passes,
 * of a layer with all that is behind it, or of all that is rejoined.
 *
 * @param layer name of the layer; empty for the rejoined picture
 * @param pass title of a pass of light, such as {@code light.Key}: the layer changes by as much as
 *     the pass does; empty for the layer's beauty
 * @param reach of how much of the picture it is
 * @param matte name of the matte through which it is done; empty for the whole picture
 * @param type what is done
 * @param values as {@link Type} says
 * @param picture path of the picture that {@link Type#SURFACE} shows, relative to the plan, where
 *     {@code {frame:4}} stands for the frame's number with four digits; empty for other types
 * @param on whether it is done
 * @param keys the values over frames, ascending; empty for values that stay. What is done to a
 *     picture is done by a correction {@link #at} its frame
 * @param extra unknown keys
 */
public record Correction(
    String layer,
    String pass,
    Reach reach,
    String matte,
    Type type,
    List<Double> values,
    String picture,
    boolean on,
    List<Key> keys,
    Extra extra) {
  /**
   * Values at a frame.
   *
   * @param values as many as at every other key
   */
  public record Key(int frame, List<Double> values) {
    public Key {
      values = List.copyOf(values);
    }
  }

  public Correction {
    keys = List.copyOf(keys);
    values = keys.isEmpty() ? List.copyOf(values) : keys.getFirst().values();
    for (int k = 0; k < keys.size(); k++) {
      String fault = type.wrong(keys.get(k).values());
      if (!fault.isEmpty()) {
        throw new IllegalArgumentException(
            "%s at frame %d: %s".formatted(type.word(), keys.get(k).frame(), fault));
      }
      if (k > 0
          && (keys.get(k).frame() <= keys.get(k - 1).frame()
              || keys.get(k).values().size() != values.size())) {
        throw new IllegalArgumentException(
            "%s: expected keys of ascending frames, each with %d values"
                .formatted(type.word(), values.size()));
      }
    }
    String wrong = type.wrong(values);
    if (wrong.isEmpty() && type.needsPicture() && (layer.isEmpty() || !pass.isEmpty())) {
      wrong = "expected a layer's beauty: it reads the layer's UV pass";
    }
    if (wrong.isEmpty() && type == Type.SHADOW && (layer.isEmpty() || reach == Reach.BEHIND)) {
      wrong = "expected one layer, which darkens what is behind it";
    }
    if (!wrong.isEmpty()) {
      throw new IllegalArgumentException("%s: %s".formatted(type.word(), wrong));
    }
  }

  /** Of how much of the picture a correction is. */
  public enum Reach {
    /** Of the layer alone, before it is joined; of all that is rejoined where no layer is named. */
    LAYER,
    /** Of the layer and all that is behind it, once they are joined. */
    BEHIND;

    /** Returns the word in plans and on screens. */
    public String word() {
      return name().toLowerCase(Locale.ROOT);
    }
  }

  /**
   * What is done to scene-linear light. Colours are corrected without their alpha; effects, which
   * look at neighbours too, take light and alpha as they are. Lengths are in pixels of the shot's
   * size.
   */
  public enum Type {
    /** Stops: {@code c * 2^v}. */
    EXPOSURE(1, -100, 100),
    /** Factors of red, green, blue: {@code c * v}. */
    GAIN(3, 0, 1e6),
    /** Added to red, green, blue: {@code c + v}. */
    OFFSET(3, -1e6, 1e6),
    /** Exponent, above 0: {@code c^(1/v)}, negative values mirrored. */
    GAMMA(1, 1e-3, 1e3),
    /** Factor of the distance from grey of the same luminance: {@code y + v (c - y)}. */
    SATURATION(1, 0, 100),
    /** Degrees around the axis of greys. */
    HUE(1, -360, 360),
    /** Exponent about a pivot: {@code p (c / p)^v}; exponent and pivot, both above 0. */
    CONTRAST(2, 1e-3, 1e3),
    /** Colour temperature of the light that white is to have, kelvin; 6504 changes nothing. */
    TEMPERATURE(1, 1000, 40000),
    /**
     * Points x, y, x, y ... with ascending x, joined by a smooth curve without overshoot; beyond
     * the ends it goes on straight.
     */
    CURVE(0, -1e6, 1e6),
    /** Light above a threshold approaches a ceiling: threshold and ceiling, the latter above. */
    SOFT_CLIP(2, 0, 1e6),
    /** How much is left of light and alpha, 0 to 1. */
    FADE(1, 0, 1),
    /**
     * The shadow of a layer that darkens what is behind it: its density, 1 as it is; and the red,
     * green and blue to which it is lifted, each 0 (as it is) to 1 (no shadow).
     */
    SHADOW(4, 0, 10),
    /** A Gaussian blur: standard deviation, pixels. */
    BLUR(1, 0, 500),
    /** Light above a threshold spreads as a Gaussian: threshold, standard deviation, gain. */
    GLOW(3, 0, 1e4),
    /**
     * Blurs by depth: distance in focus, metres; radius of what is infinitely far, pixels; number
     * of the aperture's blades, 0 for a round one.
     */
    DEFOCUS(3, 0, 1e6),
    /** Lens distortion: factors of the second and fourth power of the distance from the middle. */
    DISTORTION(2, -1, 1),
    /**
     * Another picture on a surface, placed by its UV pass: gain of the picture; and from 0, lit as
     * the surface is, to 1, shining by itself.
     */
    SURFACE(2, 0, 1e4);

    private final int count;
    private final double least;
    private final double most;

    /**
     * @param count how many values it has; 0 for points
     */
    Type(int count, double least, double most) {
      this.count = count;
      this.least = least;
      this.most = most;
    }

    /** Returns the word in plans and on screens. */
    public String word() {
      return name().toLowerCase(Locale.ROOT).replace('_', '-');
    }

    /** Finds a type by its word. */
    public static Optional<Type> of(String word) {
      return Arrays.stream(values()).filter(t -> t.word().equals(word)).findFirst();
    }

    /** Whether it needs the pass of depth. */
    public boolean needsDepth() {
      return this == DEFOCUS;
    }

    /** Whether it shows a picture of its own. */
    public boolean needsPicture() {
      return this == SURFACE;
    }

    /** Whether a pixel depends on its neighbours. */
    public boolean isSpatial() {
      return ordinal() >= BLUR.ordinal();
    }

    /** Returns what is wrong with values; empty if nothing is. */
    public String wrong(List<Double> values) {
      if (count > 0 && values.size() != count) {
        return "%d values, expected %d".formatted(values.size(), count);
      }
      if (count == 0 && (values.size() < 4 || values.size() % 2 != 0)) {
        return "%d values, expected points x, y, at least two".formatted(values.size());
      }
      for (double v : values) {
        if (!(v >= least && v <= most)) {
          return "%s, expected %s to %s".formatted(v, least, most);
        }
      }
      for (int k = 2; count == 0 && k < values.size(); k += 2) {
        if (values.get(k) <= values.get(k - 2)) {
          return "points whose x does not ascend";
        }
      }
      if (this == DEFOCUS && (values.get(0) <= 0 || values.get(1) > MOST_RADIUS)) {
        return "expected a distance above 0 and at most %d pixels".formatted(MOST_RADIUS);
      }
      if (this == SURFACE && values.get(1) > 1) {
        return "expected a share of own light, 0 to 1";
      }
      if (this == SHADOW && values.subList(1, 4).stream().anyMatch(v -> v > 1)) {
        return "expected a tint of 0 to 1";
      }
      return this == SOFT_CLIP && values.get(1) <= values.get(0)
          ? "a ceiling that is not above the threshold"
          : "";
    }
  }

  /** Largest radius of {@link Type#DEFOCUS}, pixels. */
  public static final int MOST_RADIUS = 64;

  /** A correction that is on. */
  public static Correction of(String layer, String pass, Type type, Double... values) {
    return new Correction(
        layer, pass, Reach.LAYER, "", type, List.of(values), "", true, List.of(), Extra.NONE);
  }

  /** Whether its values change over frames. */
  public boolean isKeyed() {
    return !keys.isEmpty();
  }

  /**
   * Returns its values, if they stay.
   *
   * @throws IllegalStateException if they change over frames: then {@link #at} has some
   */
  @Override
  public List<Double> values() {
    if (isKeyed()) {
      throw new IllegalStateException(type.word() + " has keys: it has values at a frame");
    }
    return values;
  }

  /**
   * Returns it as it is at a frame: with values that stay, in a line between two keys, and those of
   * the first and last key before and after them.
   */
  public Correction at(int frame) {
    if (!isKeyed()) {
      return this;
    }
    Between<Key> at = Between.of(keys, Key::frame, frame);
    return withKeys(List.of())
        .withValues(
            IntStream.range(0, values.size())
                .mapToObj(k -> at.between(at.from().values.get(k), at.to().values.get(k)))
                .toList());
  }

  /** Returns it with other keys; with none, it has the values of the first that it had. */
  public Correction withKeys(List<Key> next) {
    return new Correction(layer, pass, reach, matte, type, values, picture, on, next, extra);
  }

  /** Returns it with a key at a frame, in the place of one that was there. */
  public Correction withKey(int frame, List<Double> next) {
    TreeMap<Integer, Key> all = new TreeMap<>();
    keys.forEach(k -> all.put(k.frame, k));
    all.put(frame, new Key(frame, next));
    return withKeys(List.copyOf(all.values()));
  }

  /** Returns it without the key at a frame; without the last one, its values stay as they were. */
  public Correction withoutKey(int frame) {
    return withKeys(keys.stream().filter(k -> k.frame != frame).toList());
  }

  /** Returns it with other values at a frame: as a key if it has keys, else for all frames. */
  public Correction withValues(int frame, List<Double> next) {
    return isKeyed() ? withKey(frame, next) : withValues(next);
  }

  /** Whether it is of all that is rejoined. */
  public boolean isOfWhole() {
    return layer.isEmpty();
  }

  /** Returns what it does, in words: what it is of, its type and its values. */
  public String title() {
    String of = layer.isEmpty() ? "all layers" : pass.isEmpty() ? layer : layer + "." + pass;
    return of + " " + change();
  }

  /** Returns what it does in as many layers, in words. */
  public String title(int layers) {
    return "%s%s of %d layers".formatted(pass.isEmpty() ? "" : pass + " ", change(), layers);
  }

  /** Its type and its values. */
  private String change() {
    String first = type.word() + numbers(values);
    return isKeyed()
        ? "%s to%s over frames %d to %d"
            .formatted(
                first, numbers(keys.getLast().values), keys.getFirst().frame, keys.getLast().frame)
        : first;
  }

  private static String numbers(List<Double> of) {
    StringBuilder out = new StringBuilder();
    for (double v : of) {
      // four digits, without zeros that say nothing
      BigDecimal four = new BigDecimal(v).round(new MathContext(4)).stripTrailingZeros();
      out.append(' ').append(four.toPlainString());
    }
    return out.toString();
  }

  /** Returns it with other values, which stay. */
  public Correction withValues(List<Double> next) {
    return new Correction(layer, pass, reach, matte, type, next, picture, on, List.of(), extra);
  }

  /** Returns it through a matte; empty for none. */
  public Correction through(String next) {
    return new Correction(layer, pass, reach, next, type, values, picture, on, keys, extra);
  }

  /** Returns it of more of the picture, or less. */
  public Correction withReach(Reach next) {
    return new Correction(layer, pass, next, matte, type, values, picture, on, keys, extra);
  }

  /** Returns it on, or off. */
  public Correction switched(boolean next) {
    return new Correction(layer, pass, reach, matte, type, values, picture, next, keys, extra);
  }

  /** Returns it for a layer of another name. */
  public Correction withLayer(String next) {
    return new Correction(next, pass, reach, matte, type, values, picture, on, keys, extra);
  }

  /** Returns it with another picture. */
  public Correction showing(String next) {
    return new Correction(layer, pass, reach, matte, type, values, next, on, keys, extra);
  }
}
