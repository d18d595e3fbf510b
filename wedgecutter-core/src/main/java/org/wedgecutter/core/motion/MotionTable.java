package org.wedgecutter.core.motion;

import java.util.List;
import org.joml.Matrix4f;
import org.joml.Vector3f;
import org.wedgecutter.core.plan.Shot;
import org.wedgecutter.core.scene.Entity;
import org.wedgecutter.core.scene.Scene;

/**
 * How much each entity moves from one frame to the next.
 *
 * @param byEntity for each entity one number per frame of the shot, 0 (still) to 1 (the fastest
 *     that this entity is); empty for entities that never move
 */
public record MotionTable(double[][] byEntity) {
  private static final double STILL = 1e-6;

  /**
   * Measures a shot: the way of the origin and of a point beside it, so that turning in place
   * counts.
   */
  public static MotionTable of(Shot shot, Scene scene) {
    List<Integer> frames = shot.frames().frames();
    double[][] out = new double[scene.entities().size()][];
    Matrix4f[][] poses = new Matrix4f[frames.size() + 1][];
    for (int f = 0; f < frames.size(); f++) {
      poses[f] = scene.pose(shot.time(frames.get(f)));
    }
    poses[frames.size()] = scene.pose(shot.time(frames.getLast() + 1));
    for (Entity e : scene.entities()) {
      out[e.index()] = e.moves() ? ways(poses, e.node()) : new double[0];
    }
    return new MotionTable(out);
  }

  private static double[] ways(Matrix4f[][] poses, int node) {
    double[] way = new double[poses.length - 1];
    double most = 0;
    Vector3f a = new Vector3f();
    Vector3f b = new Vector3f();
    for (int f = 0; f + 1 < poses.length; f++) {
      for (float x : new float[] {0, 0.05f}) {
        poses[f][node].transformPosition(a.set(x, 0, x));
        poses[f + 1][node].transformPosition(b.set(x, 0, x));
        way[f] += a.distance(b);
      }
      most = Math.max(most, way[f]);
    }
    if (most <= STILL) {
      return new double[0];
    }
    for (int f = 0; f < way.length; f++) {
      way[f] /= most;
    }
    return way;
  }

  /** Returns the mean over all that moves, one number per frame; empty if nothing does. */
  public double[] mean() {
    double[] sum = new double[0];
    int count = 0;
    for (double[] one : byEntity) {
      if (one.length > 0) {
        sum = sum.length == 0 ? new double[one.length] : sum;
        for (int f = 0; f < one.length; f++) {
          sum[f] += one[f];
        }
        count++;
      }
    }
    for (int f = 0; f < sum.length; f++) {
      sum[f] /= count;
    }
    return sum;
  }
}
