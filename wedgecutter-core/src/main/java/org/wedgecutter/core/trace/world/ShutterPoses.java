package org.wedgecutter.core.trace.world;

import org.joml.Matrix4f;
import org.wedgecutter.core.scene.Deformation;
import org.wedgecutter.core.scene.Scene;
import org.wedgecutter.core.trace.accel.Instances;

/**
 * World transforms of all nodes of a scene at the moments into which the shutter interval is
 * divided: one moment where nothing moves, else the middles of equal parts of the interval.
 */
public final class ShutterPoses {
  /** Moments of an interval in which anything moves. */
  static final int MOMENTS = 32;

  private final Matrix4f[][] at;
  private final double first;
  private final double last;

  /**
   * @param at world transform of each node at each moment
   * @param first time of the first moment, seconds
   * @param last time of the last moment, seconds
   */
  public ShutterPoses(Matrix4f[][] at, double first, double last) {
    this.at = at;
    this.first = first;
    this.last = last;
  }

  /**
   * Returns the poses of a scene.
   *
   * @param time of the middle of the interval, seconds
   * @param shutter length of the interval, seconds
   */
  public static ShutterPoses of(Scene scene, double time, double shutter) {
    Matrix4f[] middle = scene.pose(time);
    double open = time - shutter / 2;
    if (shutter <= 0 || !moves(scene, scene.pose(open), middle, scene.pose(time + shutter / 2))) {
      return new ShutterPoses(new Matrix4f[][] {middle}, time, time);
    }
    Matrix4f[][] poses = new Matrix4f[MOMENTS][];
    for (int m = 0; m < MOMENTS; m++) {
      poses[m] = scene.pose(open + shutter * (m + 0.5) / MOMENTS);
    }
    double half = shutter / 2 * (1 - 1.0 / MOMENTS);
    return new ShutterPoses(poses, time - half, time + half);
  }

  private static boolean moves(Scene scene, Matrix4f[] a, Matrix4f[] b, Matrix4f[] c) {
    for (int n = 0; n < a.length; n++) {
      if (!a[n].equals(b[n]) || !b[n].equals(c[n])) {
        return true;
      }
    }
    return scene.deformations().values().stream()
        .map(Deformation::morph)
        .anyMatch(morph -> morph != null && morph.weights() != null);
  }

  /** Returns the poses frozen at the middle of the interval. */
  public ShutterPoses still(double time) {
    return new ShutterPoses(new Matrix4f[][] {middle()}, time, time);
  }

  /** Returns the number of moments. */
  public int moments() {
    return at.length;
  }

  /** Whether the nodes stand differently at different moments. */
  public boolean moves() {
    return at.length > 1;
  }

  /** Returns the transform of each node at a moment. */
  public Matrix4f[] at(int moment) {
    return at[moment];
  }

  /** Returns the transform of each node at the middle of the interval. */
  public Matrix4f[] middle() {
    return at[Instances.middle(at.length)];
  }

  /** Returns the time of the first moment, seconds. */
  double first() {
    return first;
  }

  /** Returns the time of the last moment, seconds. */
  double last() {
    return last;
  }
}
