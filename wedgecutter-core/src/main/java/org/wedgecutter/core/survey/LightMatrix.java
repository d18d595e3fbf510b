package org.wedgecutter.core.survey;

import org.wedgecutter.core.measure.InterplayTable;

/**
 * Who lights whom, by parts: of the light that the camera sees on one part, how much came via
 * another, and how much of the emitters' light another blocked.
 *
 * <p>Units: luminance summed over pixels, mean over samples. Shares are of the seen part's light.
 * Light via a part is light whose path meets that part next after the visible surface, reflected,
 * refracted or bounced; for an emitter also its own light. Light that is blocked would have come
 * straight from an emitter. What would change without a part is about {@code via - blocked}, less
 * what then arrives from behind it.
 */
public final class LightMatrix {
  private final int parts;
  private final double[] light;
  private final double[] via;
  private final double[] blocked;

  private LightMatrix(int parts) {
    this.parts = parts;
    light = new double[parts];
    via = new double[parts * parts];
    blocked = new double[parts * parts];
  }

  /**
   * Adds up tables of frames.
   *
   * @param partOf the part of each entity, by index; -1 for none
   */
  public static LightMatrix of(Iterable<InterplayTable> frames, int[] partOf, int parts) {
    LightMatrix m = new LightMatrix(parts);
    for (InterplayTable table : frames) {
      for (int e = 0; e < table.light().length; e++) {
        if (partOf[e] >= 0) {
          m.light[partOf[e]] += table.light()[e];
        }
      }
      for (InterplayTable.Pair pair : table.pairs()) {
        int of = partOf[pair.of()];
        int by = partOf[pair.by()];
        if (of >= 0 && by >= 0) {
          m.via[of * parts + by] += pair.way();
          m.blocked[of * parts + by] += pair.blocked();
        }
      }
    }
    return m;
  }

  /** Returns the number of parts. */
  public int size() {
    return parts;
  }

  /** Returns the light of a part. */
  public double light(int of) {
    return light[of];
  }

  /** Returns the share of a part's light that comes via another, 0 to 1. */
  public double via(int of, int by) {
    return light[of] > 0 ? via[of * parts + by] / light[of] : 0;
  }

  /** Returns the light that another part blocks, as a share of the part's light; 0 or more. */
  public double blocked(int of, int by) {
    return light[of] > 0 ? blocked[of * parts + by] / light[of] : 0;
  }

  /** Returns both: what a part loses at most if another is Absent, as a share of its light. */
  public double share(int of, int by) {
    return via(of, by) + blocked(of, by);
  }

  /** Returns the sum over all pairs of different parts, as a share of all light. */
  public double all() {
    double sum = 0;
    double whole = 0;
    for (int a = 0; a < parts; a++) {
      whole += light[a];
      for (int b = 0; b < parts; b++) {
        sum += a == b ? 0 : via[a * parts + b] + blocked[a * parts + b];
      }
    }
    return whole > 0 ? sum / whole : 0;
  }
}
