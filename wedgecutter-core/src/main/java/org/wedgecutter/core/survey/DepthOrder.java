package org.wedgecutter.core.survey;

import org.wedgecutter.core.trace.SightLines;

/**
 * Which part is nearer where two overlap in a frame: of each pair, the number of sight lines that
 * meet both, by which is met first.
 *
 * <p>Immutable once made. Shape: {@code parts x parts}; row: the nearer one.
 */
public final class DepthOrder {
  /** The order of two parts. */
  public enum Order {
    /** They do not overlap, or in too few sight lines to tell. */
    NONE,
    /** The first is nearer wherever they overlap. */
    FRONT,
    /** The first is farther away wherever they overlap. */
    BEHIND,
    /** Each is nearer somewhere: they interlock. */
    INTERLOCKED
  }

  /** Fewest sight lines that count: fewer lie on an edge by chance. */
  private static final int FEWEST = 3;

  /** Share of an overlap that the other order must have to count. */
  private static final double SHARE = 0.01;

  private final int parts;
  private final int[] nearer;

  /** For each part, in how many sight lines it is met first of all. */
  private final int[] foremost;

  private final int pixels;

  private DepthOrder(int parts, int[] nearer, int[] foremost, int pixels) {
    this.parts = parts;
    this.nearer = nearer;
    this.foremost = foremost;
    this.pixels = pixels;
  }

  /**
   * Counts a frame.
   *
   * @param partOf the part of each entity, by index; -1 for none
   */
  public static DepthOrder of(SightLines sights, int[] partOf, int parts) {
    int[] nearer = new int[parts * parts];
    int[] foremost = new int[parts];
    int[] met = new int[parts];
    for (int p = 0; p < sights.pixels(); p++) {
      int count = 0;
      for (int k = 0; k < sights.count(p); k++) {
        int part = partOf[sights.entity(p, k)];
        boolean known = part < 0;
        for (int m = 0; m < count && !known; m++) {
          known = met[m] == part;
        }
        if (!known) {
          for (int m = 0; m < count; m++) {
            nearer[met[m] * parts + part]++;
          }
          met[count++] = part;
        }
      }
      if (count > 0) {
        foremost[met[0]]++;
      }
    }
    return new DepthOrder(parts, nearer, foremost, sights.pixels());
  }

  /** Returns in how many sight lines one part is nearer than another. */
  public int nearer(int part, int than) {
    return nearer[part * parts + than];
  }

  /** Returns the share of the picture in which a part is the nearest of all, 0 to 1. */
  public double foremost(int part) {
    return (double) foremost[part] / pixels;
  }

  /** Returns the order of two parts. */
  public Order order(int a, int b) {
    int front = nearer(a, b);
    int behind = nearer(b, a);
    double least = Math.max(FEWEST, SHARE * (front + behind));
    boolean isFront = front >= least;
    boolean isBehind = behind >= least;
    return isFront && isBehind
        ? Order.INTERLOCKED
        : isFront ? Order.FRONT : isBehind ? Order.BEHIND : Order.NONE;
  }
}
