package org.wedgecutter.core.scene.subdivision;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import org.junit.jupiter.api.Test;
import org.wedgecutter.core.scene.Mesh;
import org.wedgecutter.core.testing.SceneMaker;

/** Loop's subdivision keeps what it must and smooths what it should. */
class LoopTest {
  private static double volume(Mesh m) {
    double sum = 0;
    float[] p = m.positions();
    for (int t = 0; t < m.indices().length; t += 3) {
      int a = 3 * m.indices()[t];
      int b = 3 * m.indices()[t + 1];
      int c = 3 * m.indices()[t + 2];
      sum +=
          p[a] * (p[b + 1] * (double) p[c + 2] - p[b + 2] * (double) p[c + 1])
              - p[a + 1] * (p[b] * (double) p[c + 2] - p[b + 2] * (double) p[c])
              + p[a + 2] * (p[b] * (double) p[c + 1] - p[b + 1] * (double) p[c]);
    }
    return Math.abs(sum / 6);
  }

  @Test
  void everyLevelMakesFourOfOne() {
    Mesh box = SceneMaker.box(1);
    assertThat(Loop.divided(box, 0)).isSameAs(box);
    for (int levels = 1; levels <= 3; levels++) {
      Mesh fine = Loop.divided(box, levels);
      assertThat(fine.triangles()).isEqualTo(box.triangles() << 2 * levels);
      assertThat(fine.normals()).isNotNull();
    }
  }

  @Test
  void aBoxShrinksToARoundBodyWithoutGaps() {
    Mesh box = SceneMaker.box(1);
    double before = volume(box);
    double last = before;
    for (int levels = 1; levels <= 4; levels++) {
      double now = volume(Loop.divided(box, levels));
      assertThat(now).isLessThan(last);
      assertThat(now).isGreaterThan(0.2 * before);
      last = now;
    }
    // volumes converge: the last step changes little
    assertThat(volume(Loop.divided(box, 5))).isCloseTo(last, within(0.01 * before));
  }

  @Test
  void aFlatSheetStaysFlatAndKeepsItsEdges() {
    Mesh wall = SceneMaker.wall(1, 1);
    Mesh fine = Loop.divided(wall, 3);
    float[] p = fine.positions();
    float high = 0;
    for (int i = 0; i < p.length; i += 3) {
      assertThat(p[i + 2]).isEqualTo(0);
      high = Math.max(high, Math.abs(p[i]));
    }
    assertThat(high).as("corners are rounded, the border stays").isBetween(0.5f, 1f);
  }

  @Test
  void aRegularPlaceMovesByTheRule() {
    // a hexagon's middle is lifted: 1 - 6 * 3/48 of its height stays
    float[] p = new float[21];
    p[2] = 1;
    int[] indices = new int[18];
    for (int k = 0; k < 6; k++) {
      p[3 * (k + 1)] = (float) Math.cos(Math.PI * k / 3);
      p[3 * (k + 1) + 1] = (float) Math.sin(Math.PI * k / 3);
      indices[3 * k] = 0;
      indices[3 * k + 1] = k + 1;
      indices[3 * k + 2] = (k + 1) % 6 + 1;
    }
    Mesh fine = Loop.divided(new Mesh("cap", p, null, null, indices, new int[6]), 1);
    assertThat(fine.positions()[2]).isCloseTo(1 - 6 / 16f, within(1e-6f));
  }

  @Test
  void whatVerticesCarryIsHalved() {
    Mesh wall = SceneMaker.wall(1, 1);
    float[] uvs = {0, 0, 1, 0, 1, 1, 0, 1};
    float[] colors = new float[16];
    java.util.Arrays.fill(colors, 0.5f);
    Mesh painted =
        new Mesh(
            "m", wall.positions(), null, uvs, colors, wall.indices(), wall.triangleMaterials());
    Mesh fine = Loop.divided(painted, 2);
    assertThat(fine.uvs()).hasSize(fine.positions().length / 3 * 2);
    for (float c : fine.colors()) {
      assertThat(c).isEqualTo(0.5f);
    }
    for (float u : fine.uvs()) {
      assertThat(u).isBetween(0f, 1f);
    }
  }
}
