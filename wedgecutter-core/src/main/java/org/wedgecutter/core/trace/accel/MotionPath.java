package org.wedgecutter.core.trace.accel;

import java.util.Arrays;
import org.joml.Matrix4f;

/**
 * Where something stands while the shutter is open, at any moment: a transform as a function of
 * time, 0 when the shutter opens and 1 when it closes.
 *
 * <p>The interval is cut into pieces; in each the twelve numbers of the transform are cubics, kept
 * as the four control matrices of a Bézier curve. A cubic through the Chebyshev nodes of a piece of
 * length h differs from a smooth motion by at most h^4 max|f''''| / 3072, so a turn of 11 degrees
 * within a piece is met to 5e-7 of its radius; whoever makes a path cuts pieces until the motion
 * itself is met. A curve stays within the hull of its controls: boxes about the controls hold what
 * moves, at every moment.
 *
 * <p>A transform is row-major, three rows of four numbers.
 */
public final class MotionPath {
  /** Numbers of a transform. */
  public static final int SIZE = 12;

  /** Controls of a piece. */
  static final int CONTROLS = 4;

  private static final int PIECE = CONTROLS * SIZE;

  /** Moments of a piece, as shares of its length, at which {@link #fit} asks for transforms. */
  private static final double[] NODES = nodes();

  private static final double[][] FROM_NODES = fromNodes();

  /** Where each piece ends, ascending; the last ends at 1. */
  private final float[] ends;

  /** The controls of each piece; a path that is still has one transform alone. */
  private final float[] control;

  private MotionPath(float[] ends, float[] control) {
    this.ends = ends;
    this.control = control;
  }

  /** Returns the path of what stays where it is. */
  public static MotionPath still(Matrix4f at) {
    float[] m = new float[SIZE];
    Instances.store(at, m, 0);
    return new MotionPath(new float[0], m);
  }

  /**
   * Returns a path of pieces.
   *
   * @param ends where each piece ends, ascending; the last at 1
   * @param control four matrices a piece, as {@link #fit} gives them
   */
  public static MotionPath of(float[] ends, float[] control) {
    if (ends.length == 0 || control.length != ends.length * PIECE) {
      throw new IllegalArgumentException("a piece has %d numbers".formatted(PIECE));
    }
    return new MotionPath(ends.clone(), control.clone());
  }

  /** Whether it is not the same at all moments. */
  public boolean moves() {
    return ends.length > 0;
  }

  /** Returns the transform of a path that is still; not to be changed. */
  public float[] standing() {
    return control;
  }

  /** Writes the transform at a moment. */
  public void at(float moment, float[] out, int to) {
    if (ends.length == 0) {
      System.arraycopy(control, 0, out, to, SIZE);
      return;
    }
    int piece = 0;
    while (piece < ends.length - 1 && moment >= ends[piece]) {
      piece++;
    }
    float from = piece == 0 ? 0 : ends[piece - 1];
    float t = Math.max(0, Math.min(1, (moment - from) / (ends[piece] - from)));
    float s = 1 - t;
    float a = s * s * s;
    float b = 3 * s * s * t;
    float c = 3 * s * t * t;
    float d = t * t * t;
    int p = PIECE * piece;
    float[] m = control;
    for (int k = 0; k < SIZE; k++) {
      out[to + k] = a * m[p + k] + b * m[p + 12 + k] + c * m[p + 24 + k] + d * m[p + 36 + k];
    }
  }

  /** Receives control matrices. */
  @FunctionalInterface
  public interface Controls {
    /** Receives one: twelve numbers from a place in an array, which must not be kept. */
    void control(float[] matrix, int at);
  }

  /** Reports matrices whose hull holds the transform at every moment between two. */
  public void between(float from, float to, Controls controls) {
    if (ends.length == 0) {
      controls.control(control, 0);
      return;
    }
    float[] part = new float[PIECE];
    float start = 0;
    for (int piece = 0; piece < ends.length; piece++) {
      float end = ends[piece];
      if (end >= from && start <= to) {
        float length = end - start;
        float a = Math.max(0, (from - start) / length);
        float b = Math.min(1, (to - start) / length);
        System.arraycopy(control, PIECE * piece, part, 0, PIECE);
        cut(part, a, b);
        for (int c = 0; c < CONTROLS; c++) {
          controls.control(part, SIZE * c);
        }
      }
      start = end;
    }
  }

  /** Replaces a piece's controls by those of a part of it (de Casteljau's rule, twice). */
  private static void cut(float[] p, float a, float b) {
    for (int k = 0; k < SIZE; k++) {
      double p0 = p[k];
      double p1 = p[SIZE + k];
      double p2 = p[2 * SIZE + k];
      double p3 = p[3 * SIZE + k];
      p[k] = (float) blossom(p0, p1, p2, p3, a, a, a);
      p[SIZE + k] = (float) blossom(p0, p1, p2, p3, a, a, b);
      p[2 * SIZE + k] = (float) blossom(p0, p1, p2, p3, a, b, b);
      p[3 * SIZE + k] = (float) blossom(p0, p1, p2, p3, b, b, b);
    }
  }

  /** The polar form of a cubic, which gives the controls of any part of it. */
  private static double blossom(
      double p0, double p1, double p2, double p3, double r, double s, double t) {
    double a = p0 + r * (p1 - p0);
    double b = p1 + r * (p2 - p1);
    double c = p2 + r * (p3 - p2);
    double d = a + s * (b - a);
    double e = b + s * (c - b);
    return d + t * (e - d);
  }

  /** Returns the moments of a piece, as shares of its length, that {@link #fit} needs. */
  public static double[] moments() {
    return NODES.clone();
  }

  /**
   * Writes the controls of the cubics that meet transforms at the moments of a piece.
   *
   * @param met one transform for each of {@link #moments}
   */
  public static void fit(float[][] met, float[] out, int to) {
    for (int c = 0; c < CONTROLS; c++) {
      for (int k = 0; k < SIZE; k++) {
        double sum = 0;
        for (int n = 0; n < CONTROLS; n++) {
          sum += FROM_NODES[c][n] * met[n][k];
        }
        out[to + SIZE * c + k] = (float) sum;
      }
    }
  }

  private static double[] nodes() {
    double[] out = new double[CONTROLS];
    for (int n = 0; n < CONTROLS; n++) {
      out[n] = 0.5 - 0.5 * Math.cos(Math.PI * (2 * n + 1) / (2.0 * CONTROLS));
    }
    return out;
  }

  /** The inverse of the matrix of Bernstein polynomials at the nodes, by Gauss and Jordan. */
  private static double[][] fromNodes() {
    double[][] m = new double[CONTROLS][2 * CONTROLS];
    for (int n = 0; n < CONTROLS; n++) {
      double t = NODES[n];
      double s = 1 - t;
      m[n][0] = s * s * s;
      m[n][1] = 3 * s * s * t;
      m[n][2] = 3 * s * t * t;
      m[n][3] = t * t * t;
      m[n][CONTROLS + n] = 1;
    }
    for (int pivot = 0; pivot < CONTROLS; pivot++) {
      double by = m[pivot][pivot];
      for (int k = 0; k < 2 * CONTROLS; k++) {
        m[pivot][k] /= by;
      }
      for (int row = 0; row < CONTROLS; row++) {
        double f = m[row][pivot];
        for (int k = 0; row != pivot && k < 2 * CONTROLS; k++) {
          m[row][k] -= f * m[pivot][k];
        }
      }
    }
    double[][] out = new double[CONTROLS][];
    for (int row = 0; row < CONTROLS; row++) {
      out[row] = Arrays.copyOfRange(m[row], CONTROLS, 2 * CONTROLS);
    }
    return out;
  }
}
