package org.wedgecutter.core.plan;

import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/**
 * A correction of colours where the layers rejoin: of a layer, of one of its passes, or of all that
 * is rejoined.
 *
 * @param layer name of the layer; empty for the rejoined picture
 * @param pass title of a pass of light, such as {@code light.Key}: the layer changes by as much as
 *     the pass does; empty for the layer's beauty
 * @param type what is done
 * @param values as {@link Type} says
 * @param on whether it is done
 * @param extra unknown keys
 */
public record Correction(
    String layer, String pass, Type type, List<Double> values, boolean on, Extra extra) {
  public Correction {
    values = List.copyOf(values);
    String wrong = type.wrong(values);
    if (!wrong.isEmpty()) {
      throw new IllegalArgumentException("%s: %s".formatted(type.word(), wrong));
    }
  }

  /** What is done to scene-linear colours that are not premultiplied. */
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
    SOFT_CLIP(2, 0, 1e6);

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
      return this == SOFT_CLIP && values.get(1) <= values.get(0)
          ? "a ceiling that is not above the threshold"
          : "";
    }
  }

  /** A correction that is on. */
  public static Correction of(String layer, String pass, Type type, Double... values) {
    return new Correction(layer, pass, type, List.of(values), true, Extra.NONE);
  }

  /** Returns it on, or off. */
  public Correction switched(boolean next) {
    return new Correction(layer, pass, type, values, next, extra);
  }

  /** Returns it for a layer of another name. */
  public Correction withLayer(String next) {
    return new Correction(next, pass, type, values, on, extra);
  }
}
