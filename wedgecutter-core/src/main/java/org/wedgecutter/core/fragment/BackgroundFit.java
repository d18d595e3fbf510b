package org.wedgecutter.core.fragment;

import java.util.Arrays;

/**
 * The one transparent picture that comes nearest, over several even backgrounds, to what a surface
 * gives there.
 *
 * <p>On a background b the surface shows T = r b + s for each colour: r is the share of the
 * background's light that it keeps, s light that is added, or, below 0, taken away whatever the
 * background. A transparent picture shows P = C + (1 - a) b, with one alpha a for all colours, C
 * not below 0 and a from 0 to 1. What is found makes the sum of ((P - T) / (b + 0.01))^2 over
 * colours and backgrounds least: an error is seen in proportion to what it lies on. For a given a,
 * C = max(0, s + (r - 1 + a) m) with m the mean background by these weights, so that the sum is
 * convex in a and its slope a line between the places where a C becomes 0: the least is found piece
 * by piece.
 */
final class BackgroundFit {
  /** So little that it only decides where every alpha serves alike. */
  private static final double TIE = 1e-9;

  /** Errors on backgrounds below this are seen alike. */
  private static final double DARKEST = 0.01;

  private final double mean;
  private final double square;
  private final double variance;

  /**
   * @param levels of the backgrounds, scene-linear, 0 and more; at least one
   */
  BackgroundFit(double... levels) {
    double all = Arrays.stream(levels).map(BackgroundFit::weight).sum();
    mean = Arrays.stream(levels).map(b -> weight(b) * b).sum() / all;
    square = Arrays.stream(levels).map(b -> weight(b) * b * b).sum() / all;
    variance = Math.max(0, square - mean * mean) + TIE * square;
  }

  private static double weight(double background) {
    double seen = background + DARKEST;
    return 1 / (seen * seen);
  }

  /**
   * Finds the picture of a pixel.
   *
   * @param kept r of each colour
   * @param added s of each colour
   * @param out takes the three colours, premultiplied, and alpha
   */
  void solve(double[] kept, double[] added, float[] out) {
    double through = Math.max(0, Math.min(1, through(kept, added)));
    for (int c = 0; c < 3; c++) {
      out[c] = (float) Math.max(0, added[c] + (kept[c] - through) * mean);
    }
    out[3] = (float) (1 - through);
  }

  /** Returns what a pixel's picture lets through of the background, 1 - a, without its bounds. */
  private double through(double[] kept, double[] added) {
    if (!(mean > 0)) {
      return (kept[0] + kept[1] + kept[2]) / 3;
    }
    // a colour is 0 where more is let through than this
    double[] full = new double[3];
    for (int c = 0; c < 3; c++) {
      full[c] = kept[c] + added[c] / mean;
    }
    double[] ends = full.clone();
    Arrays.sort(ends);
    for (int piece = 0; piece <= 3; piece++) {
      double from = piece == 0 ? Double.NEGATIVE_INFINITY : ends[piece - 1];
      double to = piece == 3 ? Double.POSITIVE_INFINITY : ends[piece];
      double sum = 0;
      double weight = 0;
      for (int c = 0; c < 3; c++) {
        if (full[c] > from) {
          sum += variance * kept[c];
          weight += variance;
        } else {
          sum += square * kept[c] + mean * added[c];
          weight += square;
        }
      }
      double least = sum / weight;
      if (least <= to) {
        // the slope has no jumps, so what lies before this piece has its least at its beginning
        return Math.max(from, least);
      }
    }
    throw new IllegalStateException("the last piece has no end");
  }
}
