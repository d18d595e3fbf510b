package org.wedgecutter.bench;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Random;
import org.wedgecutter.core.trace.MeshRays;

/**
 * The cost of instancing: one mesh at many places against the same triangles copied into one mesh,
 * with the same rays, in turn.
 */
final class InstanceBench {
  private static final int ACROSS = 8;
  private static final int RINGS = 60;
  private static final int RAYS = 60_000;
  private static final int ROUNDS = 5;

  private InstanceBench() {}

  static void run(List<Measure> out) {
    float[] xyz = ball();
    int[] index = faces(RINGS);
    float[][] places = new float[ACROSS * ACROSS * ACROSS][];
    for (int k = 0; k < places.length; k++) {
      places[k] =
          new float[] {3f * (k % ACROSS), 3f * (k / ACROSS % ACROSS), 3f * (k / ACROSS / ACROSS)};
    }
    MeshRays.Thread levels = new MeshRays(xyz, index, places).thread();
    MeshRays.Thread flat = flat(xyz, index, places).thread();
    float[] rays = rays();
    List<Double> closest = new ArrayList<>();
    List<Double> any = new ArrayList<>();
    int[] hits = new int[4];
    for (int round = -2; round < ROUNDS; round++) {
      double a = Measure.milliseconds(() -> hits[0] = closest(levels, rays));
      double b = Measure.milliseconds(() -> hits[1] = closest(flat, rays));
      double c = Measure.milliseconds(() -> hits[2] = any(levels, rays));
      double d = Measure.milliseconds(() -> hits[3] = any(flat, rays));
      if (round >= 0) {
        closest.add(a / b);
        any.add(c / d);
      }
    }
    // copies are rounded: a few rays may slip by an edge
    if (Math.abs(hits[0] - hits[1]) > RAYS / 1000 || hits[0] != hits[2]) {
      throw new IllegalStateException("hits differ: " + Arrays.toString(hits));
    }
    String text = "%d instances to as many copies in one mesh, %s";
    out.add(
        new Measure(
            "instances_closest_to_flat",
            text.formatted(places.length, "closest hit"),
            Measure.median(closest),
            ""));
    out.add(
        new Measure(
            "instances_any_to_flat",
            text.formatted(places.length, "any hit"),
            Measure.median(any),
            ""));
  }

  private static int closest(MeshRays.Thread thread, float[] rays) {
    int hits = 0;
    for (int at = 0; at < rays.length; at += 8) {
      hits += Float.isNaN(thread.closest(rays, at)) ? 0 : 1;
    }
    return hits;
  }

  private static int any(MeshRays.Thread thread, float[] rays) {
    int hits = 0;
    for (int at = 0; at < rays.length; at += 8) {
      hits += thread.any(rays, at) ? 1 : 0;
    }
    return hits;
  }

  /** Rays from anywhere among the balls to anywhere. */
  private static float[] rays() {
    Random random = new Random(4);
    float[] rays = new float[8 * RAYS];
    for (int r = 0; r < rays.length; r += 8) {
      double z = 2 * random.nextDouble() - 1;
      double a = 2 * Math.PI * random.nextDouble();
      double s = Math.sqrt(1 - z * z);
      for (int k = 0; k < 3; k++) {
        rays[r + k] = 3f * ACROSS * random.nextFloat();
      }
      rays[r + 4] = (float) (s * Math.cos(a));
      rays[r + 5] = (float) (s * Math.sin(a));
      rays[r + 6] = (float) z;
      rays[r + 7] = 1e9f;
    }
    return rays;
  }

  private static float[] ball() {
    float[] xyz = new float[3 * (RINGS + 1) * (RINGS + 1)];
    for (int k = 0; k < xyz.length / 3; k++) {
      double v = Math.PI * (k / (RINGS + 1)) / RINGS;
      double u = 2 * Math.PI * (k % (RINGS + 1)) / RINGS;
      double r = 1 + 0.1 * Math.sin(9 * v) * Math.sin(7 * u);
      xyz[3 * k] = (float) (r * Math.sin(v) * Math.cos(u));
      xyz[3 * k + 1] = (float) (r * Math.cos(v));
      xyz[3 * k + 2] = (float) (r * Math.sin(v) * Math.sin(u));
    }
    return xyz;
  }

  /** Two triangles for each cell of a grid of side x side cells, its corners line by line. */
  static int[] faces(int side) {
    int[] index = new int[6 * side * side];
    for (int k = 0; k < side * side; k++) {
      int a = k / side * (side + 1) + k % side;
      int b = a + side + 1;
      int[] two = {a, b, a + 1, a + 1, b, b + 1};
      System.arraycopy(two, 0, index, 6 * k, 6);
    }
    return index;
  }

  private static MeshRays flat(float[] xyz, int[] index, float[][] places) {
    float[] all = new float[xyz.length * places.length];
    int[] faces = new int[index.length * places.length];
    for (int p = 0; p < places.length; p++) {
      for (int k = 0; k < xyz.length; k++) {
        all[p * xyz.length + k] = xyz[k] + places[p][k % 3];
      }
      for (int k = 0; k < index.length; k++) {
        faces[p * index.length + k] = index[k] + p * xyz.length / 3;
      }
    }
    return new MeshRays(all, faces);
  }
}
