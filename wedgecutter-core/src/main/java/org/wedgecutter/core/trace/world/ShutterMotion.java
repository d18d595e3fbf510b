package org.wedgecutter.core.trace.world;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.TreeSet;
import org.joml.Matrix4f;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.scene.Channel;
import org.wedgecutter.core.scene.Deformation;
import org.wedgecutter.core.scene.Entity;
import org.wedgecutter.core.scene.EntityKind;
import org.wedgecutter.core.scene.Mesh;
import org.wedgecutter.core.scene.Node;
import org.wedgecutter.core.scene.Scene;
import org.wedgecutter.core.scene.TimeDigest;
import org.wedgecutter.core.scene.Track;
import org.wedgecutter.core.trace.accel.Instances;
import org.wedgecutter.core.trace.accel.MotionPath;

/**
 * How the nodes of a scene move while the shutter is open.
 *
 * <p>The scene's {@link TimeDigest} decides what changes. The transform of a node that does is
 * followed by a {@link MotionPath}: pieces end where keys are, and are halved until the path meets
 * the scene's own transforms, between the moments at which it was made, to {@link #CLOSE} of the
 * largest number. So there are no poses: a sample sees everything at its own moment.
 */
public final class ShutterMotion {
  /** Largest difference of a number of a transform, by the largest number, or by 1. */
  static final double CLOSE = 4e-6;

  /** Most pieces of a path: beyond, a motion is followed less closely. */
  private static final int MOST = 256;

  /** Most keys that pieces end at. */
  private static final int MOST_KEYS = 64;

  private static final double[] CHECKED = {0.15, 0.5, 0.85};

  private final Scene scene;
  private final TimeDigest time;
  private final double open;
  private final double length;
  private final Matrix4f[] middle;
  private final boolean[] visible;
  private final @Nullable MotionPath[] paths;
  private final boolean moves;

  private ShutterMotion(
      Scene scene, TimeDigest time, double open, double length, @Nullable MotionPath[] paths) {
    this.scene = scene;
    this.time = time;
    this.open = open;
    this.length = length;
    this.paths = paths;
    middle = scene.pose(open + length / 2);
    visible = scene.visible(open + length / 2);
    boolean any = Arrays.stream(paths).anyMatch(p -> p != null);
    for (Entity e : scene.entities()) {
      any |= e.kind() != EntityKind.ENVIRONMENT && time.changes(e, open, open + length);
    }
    moves = any;
  }

  /**
   * Returns the motion of a scene.
   *
   * @param middle of the interval, seconds
   * @param shutter length of the interval, seconds; 0 means that nothing moves
   */
  public static ShutterMotion of(Scene scene, TimeDigest time, double middle, double shutter) {
    double open = middle - shutter / 2;
    return new ShutterMotion(scene, time, open, shutter, paths(scene, time, open, shutter));
  }

  /** Returns the scene as it stands at a time. */
  public static ShutterMotion still(Scene scene, TimeDigest time, double at) {
    return of(scene, time, at, 0);
  }

  private static @Nullable MotionPath[] paths(
      Scene scene, TimeDigest time, double open, double length) {
    MotionPath[] out = new MotionPath[scene.nodes().size()];
    List<Integer> left = new ArrayList<>();
    for (int n = 0; n < out.length; n++) {
      if (time.nodeChanges(n, open, open + length)) {
        left.add(n);
      }
    }
    double[] ends = ends(scene, open, length);
    while (!left.isEmpty()) {
      boolean last = ends.length * 2 > MOST;
      left = follow(scene, open, length, ends, left, last, out);
      ends = halved(ends);
    }
    return out;
  }

  /** Follows nodes by pieces; returns those that pieces do not meet closely enough. */
  private static List<Integer> follow(
      Scene scene,
      double open,
      double length,
      double[] ends,
      List<Integer> nodes,
      boolean last,
      @Nullable MotionPath[] out) {
    int piece = 4 * MotionPath.SIZE;
    double[] moments = MotionPath.moments();
    float[][] control = new float[nodes.size()][piece * ends.length];
    boolean[] met = new boolean[nodes.size()];
    Arrays.fill(met, true);
    float[][] at = new float[moments.length][MotionPath.SIZE];
    float[] own = new float[MotionPath.SIZE];
    float[] found = new float[MotionPath.SIZE];
    double start = 0;
    for (int k = 0; k < ends.length; k++) {
      double from = open + length * start;
      double width = length * (ends[k] - start);
      Matrix4f[][] poses = new Matrix4f[moments.length][];
      for (int m = 0; m < moments.length; m++) {
        poses[m] = scene.pose(from + width * moments[m]);
      }
      Matrix4f[][] checks = new Matrix4f[CHECKED.length][];
      for (int c = 0; c < CHECKED.length; c++) {
        checks[c] = scene.pose(from + width * CHECKED[c]);
      }
      for (int i = 0; i < nodes.size(); i++) {
        int node = nodes.get(i);
        for (int m = 0; m < moments.length; m++) {
          Instances.store(poses[m][node], at[m], 0);
        }
        MotionPath.fit(at, control[i], piece * k);
        MotionPath alone =
            MotionPath.of(
                new float[] {1}, Arrays.copyOfRange(control[i], piece * k, piece * (k + 1)));
        for (int c = 0; c < CHECKED.length; c++) {
          Instances.store(checks[c][node], own, 0);
          alone.at((float) CHECKED[c], found, 0);
          met[i] &= close(own, found);
        }
      }
      start = ends[k];
    }
    float[] borders = new float[ends.length];
    for (int k = 0; k < ends.length; k++) {
      borders[k] = (float) ends[k];
    }
    List<Integer> rest = new ArrayList<>();
    for (int i = 0; i < nodes.size(); i++) {
      if (met[i] || last) {
        out[nodes.get(i)] = MotionPath.of(borders, control[i]);
      } else {
        rest.add(nodes.get(i));
      }
    }
    return rest;
  }

  private static boolean close(float[] a, float[] b) {
    double largest = 1;
    double difference = 0;
    for (int k = 0; k < a.length; k++) {
      largest = Math.max(largest, Math.abs(a[k]));
      difference = Math.max(difference, Math.abs(a[k] - b[k]));
    }
    return difference <= CLOSE * largest;
  }

  private static double[] halved(double[] ends) {
    double[] out = new double[2 * ends.length];
    double start = 0;
    for (int k = 0; k < ends.length; k++) {
      out[2 * k] = (start + ends[k]) / 2;
      out[2 * k + 1] = ends[k];
      start = ends[k];
    }
    return out;
  }

  /** Where pieces end at least: at the keys of the interval, where motion may turn or jump. */
  private static double[] ends(Scene scene, double open, double length) {
    TreeSet<Double> out = new TreeSet<>();
    for (Node node : scene.nodes()) {
      for (Channel c : node.channels()) {
        if (c.changes()) {
          keys(c.track(), open, length, out);
        }
      }
    }
    while (out.size() > MOST_KEYS) {
      out.pollLast();
    }
    out.add(1.0);
    return out.stream().mapToDouble(d -> d).toArray();
  }

  private static void keys(Track track, double open, double length, TreeSet<Double> out) {
    for (float t : track.times()) {
      double at = (t - open) / length;
      if (at > 1e-6 && at < 1 - 1e-6) {
        out.add(at);
      }
    }
  }

  /** Returns the motion of nobody: everything as it is in the middle of the interval. */
  public ShutterMotion still() {
    return still(scene, time, open + length / 2);
  }

  /** Whether anything is different at different moments. */
  public boolean moves() {
    return moves;
  }

  /** Returns the transform of each node in the middle of the interval. */
  public Matrix4f[] middle() {
    return middle;
  }

  /** Returns which nodes are there in the middle of the interval, and count so for all of it. */
  public boolean[] visible() {
    return visible;
  }

  /** Returns how a node moves. */
  public MotionPath path(int node) {
    MotionPath path = paths[node];
    return path == null ? MotionPath.still(middle[node]) : path;
  }

  /** Returns how a node moves, or null if it does not. */
  @Nullable MotionPath moving(int node) {
    return paths[node];
  }

  /** Whether the shape of an entity changes. */
  boolean deforms(Entity e) {
    return time.deforms(e, open, open + length);
  }

  /** Returns the time of a moment, seconds. */
  public double seconds(double moment) {
    return open + length * moment;
  }

  /** Returns the points of an entity's mesh, in its own space, at a moment. */
  DeformedMeshes.Points points(Mesh rest, Deformation d, Entity e, double moment) {
    double at = seconds(moment);
    return DeformedMeshes.deformed(rest, d, e, scene.pose(at), at);
  }
}
