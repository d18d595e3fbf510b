package org.wedgecutter.core.motion;

import java.util.List;
import org.joml.Matrix4f;
import org.joml.Vector3f;
import org.wedgecutter.core.plan.Shot;
import org.wedgecutter.core.scene.Deformation;
import org.wedgecutter.core.scene.Entity;
import org.wedgecutter.core.scene.EntityKind;
import org.wedgecutter.core.scene.Medium;
import org.wedgecutter.core.scene.Scene;
import org.wedgecutter.core.scene.Track;

/**
 * How much each entity moves from one frame to the next.
 *
 * @param byEntity for each entity one number per frame of the shot, 0 (still) to 1 (the fastest
 *     that this entity is); empty for entities that never move
 */
public record MotionTable(double[][] byEntity) {
  private static final double STILL = 1e-6;

  /**
   * Measures a shot: the way of the origin and of a point near it, so that turning in place counts;
   * of what deforms that of its joints and the change of its morph weights, of smoke that rises by
   * its own law the way that it rises.
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
      out[e.index()] = e.moves() ? ways(shot, scene, e, poses) : new double[0];
    }
    return new MotionTable(out);
  }

  private static double[] ways(Shot shot, Scene scene, Entity e, Matrix4f[][] poses) {
    double[] way = new double[poses.length - 1];
    add(way, poses, e.node());
    Deformation d = scene.deformations().get(e.index());
    if (d != null && d.skin() != null) {
      for (int joint : d.skin().nodes()) {
        add(way, poses, joint);
      }
    }
    List<Integer> frames = shot.frames().frames();
    if (d != null && d.morph() != null && d.morph().weights() != null) {
      Track weights = d.morph().weights();
      float[] a = new float[weights.size()];
      float[] b = new float[weights.size()];
      for (int f = 0; f < way.length; f++) {
        weights.sample(shot.time(frames.get(f)), a);
        weights.sample(shot.time(frames.get(f) + 1), b);
        for (int w = 0; w < a.length; w++) {
          way[f] += Math.abs(b[w] - a[w]);
        }
      }
    }
    Medium.Puff puff = e.kind() == EntityKind.MEDIUM ? scene.media().get(e.payload()).puff() : null;
    if (puff != null) {
      float rise = puff.rise();
      for (int f = 0; f < way.length; f++) {
        way[f] += Math.abs(rise) / shot.fps();
      }
    }
    double most = 0;
    for (double w : way) {
      most = Math.max(most, w);
    }
    if (most <= STILL) {
      return new double[0];
    }
    for (int f = 0; f < way.length; f++) {
      way[f] /= most;
    }
    return way;
  }

  private static void add(double[] way, Matrix4f[][] poses, int node) {
    Vector3f a = new Vector3f();
    Vector3f b = new Vector3f();
    for (int f = 0; f < way.length && node >= 0; f++) {
      for (float x : new float[] {0, 0.05f}) {
        poses[f][node].transformPosition(a.set(x, 0, x));
        poses[f + 1][node].transformPosition(b.set(x, 0, x));
        way[f] += a.distance(b);
      }
    }
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
