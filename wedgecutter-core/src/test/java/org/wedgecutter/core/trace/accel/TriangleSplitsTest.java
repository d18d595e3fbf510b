package org.wedgecutter.core.trace.accel;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.Arrays;
import java.util.Random;
import org.junit.jupiter.api.Assumptions;
import org.junit.jupiter.api.Test;
import org.wedgecutter.core.scene.Mesh;
import org.wedgecutter.core.trace.MeshRays;

/** Boxes about pieces of triangles, the loops that sort them, and rays against triangles alone. */
class TriangleSplitsTest {
  /** Small triangles, and every twentieth a long thin one askew. */
  private static Mesh mixed(int count) {
    Random random = new Random(9);
    float[] p = new float[9 * count];
    int[] index = new int[3 * count];
    for (int t = 0; t < count; t++) {
      double length = t % 20 == 0 ? 6 : 0.05;
      for (int k = 0; k < 3; k++) {
        float at = (float) (random.nextDouble() * 4);
        p[9 * t + k] = at;
        p[9 * t + 3 + k] = (float) (at + length * (random.nextDouble() + 0.2));
        p[9 * t + 6 + k] = at + 0.01f * random.nextFloat();
      }
      for (int k = 0; k < 3; k++) {
        index[3 * t + k] = 3 * t + k;
      }
    }
    return new Mesh("mixed", p, null, null, index, new int[count]);
  }

  @Test
  void everyPointOfATriangleIsInTheBoxOfOneOfItsPieces() {
    Mesh mesh = mixed(400);
    TriangleSplits pieces = new TriangleSplits(mesh);
    Random random = new Random(3);
    float[] p = mesh.positions();
    for (int k = 0; k < 20_000; k++) {
      int t = random.nextInt(400);
      double a = random.nextDouble();
      double b = random.nextDouble() * (1 - a);
      double[] at = new double[3];
      for (int c = 0; c < 3; c++) {
        at[c] = (1 - a - b) * p[9 * t + c] + a * p[9 * t + 3 + c] + b * p[9 * t + 6 + c];
      }
      boolean in = false;
      for (int i = 0; i < pieces.triangle.length && !in; i++) {
        in = pieces.triangle[i] == t && holds(pieces.boxes, 6 * i, at);
      }
      assertThat(in).as("point %d of triangle %d", k, t).isTrue();
    }
  }

  private static boolean holds(float[] box, int at, double[] point) {
    boolean in = true;
    for (int c = 0; c < 3; c++) {
      in &= point[c] >= box[at + c] - 2e-6 && point[c] <= box[at + 3 + c] + 2e-6;
    }
    return in;
  }

  @Test
  void longOnesAreCutAndShortOnesAreNot() {
    TriangleSplits pieces = new TriangleSplits(mixed(2000));
    int[] times = new int[2000];
    for (int t : pieces.triangle) {
      times[t]++;
    }
    assertThat(pieces.triangle.length).isBetween(2100, 3200);
    assertThat(Arrays.stream(times).min().orElse(0)).isEqualTo(1);
    for (int t = 0; t < 2000; t += 20) {
      assertThat(times[t]).isGreaterThan(2);
    }
    assertThat(times[1]).isEqualTo(1);
  }

  @Test
  void bothKindsOfLoopsSortAlike() {
    Assumptions.assumeTrue(VectorSupport.isAvailable());
    float[] things = new float[8 * 500];
    Random random = new Random(5);
    for (int i = 0; i < 500; i++) {
      for (int k = 0; k < 3; k++) {
        things[8 * i + k] = random.nextFloat() * 10 - 5;
        things[8 * i + 4 + k] = -things[8 * i + k] - random.nextFloat();
      }
    }
    float[][] found = new float[2][];
    BoxSweep[] both = {new BoxSweep(), new VectorBoxSweep()};
    for (int k = 0; k < 2; k++) {
      float[] box = new float[8];
      float[] middles = new float[8];
      both[k].measure(things, 20, 480, box, middles);
      int[] counts = new int[24];
      float[] bins = new float[8 * 24];
      Arrays.fill(bins, Float.POSITIVE_INFINITY);
      float[] scale = new float[4];
      for (int a = 0; a < 3; a++) {
        scale[a] = 8 / (-middles[4 + a] - middles[a]) * 0.9999f;
      }
      both[k].bin(things, 20, 480, middles, scale, counts, bins, 8);
      found[k] = new float[16 + 24 + bins.length];
      System.arraycopy(box, 0, found[k], 0, 8);
      System.arraycopy(middles, 0, found[k], 8, 8);
      for (int c = 0; c < 24; c++) {
        found[k][16 + c] = counts[c];
      }
      System.arraycopy(bins, 0, found[k], 40, bins.length);
      assertThat(Arrays.stream(counts).sum()).isEqualTo(3 * 460);
    }
    assertThat(found[1]).isEqualTo(found[0]);
  }

  @Test
  void raysAgainstTrianglesKeepToTheirBounds() {
    MeshRays mesh = new MeshRays(new float[] {0, 0, 0, 1, 0, 0, 0, 1, 0}, new int[] {0, 1, 2});
    MeshRays.Thread thread = mesh.thread();
    float[] ray = {0.2f, 0.2f, 2, 0, 0, 0, -1, 2};
    assertThat(thread.closest(ray, 0)).isEqualTo(2f);
    assertThat(thread.any(ray, 0)).isTrue();
    ray[7] = 1.99f;
    assertThat(thread.closest(ray, 0)).isNaN();
    assertThat(thread.any(ray, 0)).isFalse();
    ray[7] = 10;
    ray[3] = 2;
    assertThat(thread.closest(ray, 0)).as("a hit lies beyond the least distance").isNaN();
    assertThatThrownBy(() -> new MeshRays(new float[9], new int[] {0, 1, 3}))
        .isInstanceOf(IllegalArgumentException.class)
        .hasMessageContaining("no corner 3");
  }
}
