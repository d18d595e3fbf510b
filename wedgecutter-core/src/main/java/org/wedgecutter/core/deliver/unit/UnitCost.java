package org.wedgecutter.core.deliver.unit;

import java.util.Locale;
import java.util.Optional;
import org.wedgecutter.core.render.PictureNoise;
import org.wedgecutter.core.render.RenderedFrame;

/**
 * What a unit has cost, and how noisy it has become by it.
 *
 * @param seconds its share of the wall time of the traces that served it
 * @param rays its share of the rays
 */
record UnitCost(double seconds, double rays, PictureNoise noise) {
  static final UnitCost NONE = new UnitCost(0, 0, PictureNoise.UNKNOWN);

  UnitCost plus(UnitCost other) {
    return new UnitCost(seconds + other.seconds, rays + other.rays, noise.plus(other.noise));
  }

  /** The share of a unit: each trace's cost is divided equally among those that it served. */
  static UnitCost of(RenderedFrame rendered, String layer, int column) {
    double seconds = 0;
    double rays = 0;
    for (RenderedFrame.ClassTime time : rendered.classes()) {
      if (time.layers().contains(layer)) {
        int of = time.layers().size();
        seconds += time.seconds() / of;
        rays += (double) time.rays() / of;
      }
    }
    return new UnitCost(seconds, rays, rendered.noise(column));
  }

  String text() {
    return String.format(
        Locale.ROOT, "%.6f %.3f %s %d", seconds, rays, noise.squares(), noise.numbers());
  }

  /** Reads what {@link #text} wrote; empty for any other text. */
  static Optional<UnitCost> parse(String text) {
    String[] words = text.split(" ");
    try {
      UnitCost cost =
          new UnitCost(
              Double.parseDouble(words[0]),
              Double.parseDouble(words[1]),
              new PictureNoise(Double.parseDouble(words[2]), Long.parseLong(words[3])));
      return Double.isFinite(cost.seconds + cost.rays) ? Optional.of(cost) : Optional.empty();
    } catch (NumberFormatException | ArrayIndexOutOfBoundsException e) {
      return Optional.empty();
    }
  }
}
