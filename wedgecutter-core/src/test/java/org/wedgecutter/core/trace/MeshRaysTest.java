package org.wedgecutter.core.trace;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** A mesh at several places is met as its copies are. */
class MeshRaysTest {
  private static float[] corners(Random random, int triangles) {
    float[] xyz = new float[9 * triangles];
    for (int t = 0; t < triangles; t++) {
      float[] at = {random.nextFloat(), random.nextFloat(), random.nextFloat()};
      for (int k = 0; k < 9; k++) {
        xyz[9 * t + k] = at[k % 3] + 0.8f * random.nextFloat();
      }
    }
    return xyz;
  }

  private static int[] inOrder(int corners) {
    int[] index = new int[corners];
    for (int k = 0; k < corners; k++) {
      index[k] = k;
    }
    return index;
  }

  @ParameterizedTest
  @ValueSource(longs = {1, 2, 3})
  void instancesAreMetAsCopiesAre(long seed) {
    Random random = new Random(seed);
    float[] xyz = corners(random, 60);
    float[][] places = new float[40][3];
    float[] all = new float[places.length * xyz.length];
    for (int p = 0; p < places.length; p++) {
      for (int k = 0; k < 3; k++) {
        places[p][k] = 12 * random.nextFloat();
      }
      for (int k = 0; k < xyz.length; k++) {
        all[p * xyz.length + k] = xyz[k] + places[p][k % 3];
      }
    }
    MeshRays.Thread levels = new MeshRays(xyz, inOrder(xyz.length / 3), places).thread();
    MeshRays.Thread flat = new MeshRays(all, inOrder(all.length / 3)).thread();
    int hits = 0;
    int differ = 0;
    for (int r = 0; r < 4000; r++) {
      float[] ray = new float[8];
      for (int k = 0; k < 3; k++) {
        ray[k] = 14 * random.nextFloat() - 1;
        ray[4 + k] = random.nextFloat() - 0.5f;
      }
      ray[7] = r % 3 == 0 ? 5 : 1e9f;
      float a = levels.closest(ray, 0);
      float b = flat.closest(ray, 0);
      assertThat(levels.any(ray, 0)).isEqualTo(!Float.isNaN(a));
      assertThat(flat.any(ray, 0)).isEqualTo(!Float.isNaN(b));
      if (Float.isNaN(a) != Float.isNaN(b)) {
        // by an edge, since the copies are rounded
        differ++;
      } else if (!Float.isNaN(a)) {
        hits++;
        assertThat(a).isCloseTo(b, within(1e-3f * (1 + b)));
      }
    }
    assertThat(hits).isGreaterThan(300);
    assertThat(differ).isLessThan(10);
  }

  @Test
  void cornersThatAreNotThereAreRefused() {
    assertThatThrownBy(() -> new MeshRays(new float[9], new int[] {0, 1, 3}))
        .isInstanceOf(IllegalArgumentException.class)
        .hasMessage("there is no corner 3");
    assertThatThrownBy(() -> new MeshRays(new float[9], new int[] {0, -1, 2}))
        .hasMessage("there is no corner -1");
  }

  @Test
  void aHitLiesBeyondTheLeastAndNotBeyondTheGreatestDistance() {
    float[] xyz = {-1, -1, 0, 3, -1, 0, -1, 3, 0};
    MeshRays.Thread rays = new MeshRays(xyz, new int[] {0, 1, 2}).thread();
    float[] ray = {0, 0, 4, 0, 0, 0, -1, 10};
    assertThat(rays.closest(ray, 0)).isEqualTo(4);
    ray[7] = 4;
    assertThat(rays.closest(ray, 0)).isEqualTo(4);
    ray[7] = 3.9f;
    assertThat(rays.closest(ray, 0)).isNaN();
    ray[7] = 10;
    ray[3] = 4;
    assertThat(rays.closest(ray, 0)).isNaN();
  }
}
