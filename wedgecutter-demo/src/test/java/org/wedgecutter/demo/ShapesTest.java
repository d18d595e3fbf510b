package org.wedgecutter.demo;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.util.function.Supplier;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;

/** Shapes are whole: closed ones enclose what they should, and normals look outwards. */
class ShapesTest {
  /** Volume by the divergence theorem: only right if the surface is closed and faces outwards. */
  private static double volume(MeshMaker.Finished m) {
    double sum = 0;
    for (int i = 0; i < m.indices().length; i += 3) {
      double[][] p = new double[3][3];
      for (int k = 0; k < 3; k++) {
        for (int c = 0; c < 3; c++) {
          p[k][c] = m.points()[3 * m.indices()[i + k] + c];
        }
      }
      sum +=
          p[0][0] * (p[1][1] * p[2][2] - p[1][2] * p[2][1])
              - p[0][1] * (p[1][0] * p[2][2] - p[1][2] * p[2][0])
              + p[0][2] * (p[1][0] * p[2][1] - p[1][1] * p[2][0]);
    }
    return sum / 6;
  }

  record Case(String name, Supplier<MeshMaker> shape, double volume) {
    @Override
    public String toString() {
      return name;
    }
  }

  static Stream<Case> closed() {
    return Stream.of(
        new Case("sphere", () -> new MeshMaker().sphere(1, 2, 3, 0.5, 48), Math.PI / 6),
        new Case("cylinder", () -> new MeshMaker().lathe(128, 0, 0, 1, 0, 1, 2, 0, 2), 2 * Math.PI),
        new Case("cone", () -> new MeshMaker().lathe(128, 0, 0, 1, 0, 0, 3), Math.PI),
        new Case(
            "rod",
            () -> new MeshMaker().rod(new double[] {0, 0, 0}, new double[] {1, 1, 1}, 0.1, 0.1, 64),
            Math.PI * 0.01 * Math.sqrt(3)),
        new Case("box", () -> new MeshMaker().box(0, 0, 0, 1, 2, 3, 0, 1), 6),
        new Case(
            "bevelled box",
            () -> new MeshMaker().box(0, 0, 0, 1, 2, 3, 0.01, 1),
            6 - 0.5 * 0.0001 * 24),
        new Case(
            "ring",
            () -> new MeshMaker().ring(2, 0.2, 0.2, 256),
            2 * Math.PI * 2 * (0.04 - 2 * 0.036 * 0.036)));
  }

  @ParameterizedTest
  @MethodSource("closed")
  void closedShapesEncloseTheirVolume(Case shape) {
    assertThat(volume(shape.shape().get().finish(40)))
        .isCloseTo(shape.volume(), within(0.01 * shape.volume()));
  }

  @ParameterizedTest
  @MethodSource("closed")
  void normalsAreUnitAndOnTheSideOfTheirFaces(Case shape) {
    MeshMaker.Finished m = shape.shape().get().finish(40);
    for (int i = 0; i < m.indices().length; i += 3) {
      double[] face = face(m, i);
      for (int k = 0; k < 3; k++) {
        int at = 3 * m.indices()[i + k];
        double length = 0;
        double dot = 0;
        for (int c = 0; c < 3; c++) {
          length += m.normals()[at + c] * m.normals()[at + c];
          dot += m.normals()[at + c] * face[c];
        }
        assertThat(length).isCloseTo(1, within(1e-4));
        assertThat(dot).isGreaterThanOrEqualTo(0);
      }
    }
  }

  private static double[] face(MeshMaker.Finished m, int i) {
    float[] p = m.points();
    int a = 3 * m.indices()[i];
    int b = 3 * m.indices()[i + 1];
    int c = 3 * m.indices()[i + 2];
    double[] u = {p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]};
    double[] v = {p[c] - p[a], p[c + 1] - p[a + 1], p[c + 2] - p[a + 2]};
    return new double[] {
      u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]
    };
  }

  @Test
  void edgesSharperThanTheCreaseStaySharp() {
    MeshMaker.Finished sharp = new MeshMaker().box(0, 0, 0, 1, 1, 1, 0, 1).finish(40);
    for (int i = 0; i < sharp.normals().length; i += 3) {
      float largest =
          Math.max(
              Math.abs(sharp.normals()[i]),
              Math.max(Math.abs(sharp.normals()[i + 1]), Math.abs(sharp.normals()[i + 2])));
      assertThat(largest).isEqualTo(1);
    }
    MeshMaker.Finished smooth = new MeshMaker().sphere(0, 0, 0, 1, 24).finish(60);
    for (int i = 0; i < smooth.normals().length; i += 3) {
      for (int c = 0; c < 3; c++) {
        assertThat(smooth.normals()[i + c]).isCloseTo(smooth.points()[i + c], within(0.05f));
      }
    }
  }

  @Test
  void noiseIsSmoothBoundedAndTheSameEachTime() {
    double most = 0;
    for (int k = 0; k < 2000; k++) {
      double x = k * 0.173;
      double a = Noise.at(x, x * 0.7, -x, 3);
      most = Math.max(most, Math.abs(a));
      assertThat(Noise.at(x + 1e-4, x * 0.7, -x, 3)).isCloseTo(a, within(2e-3));
      assertThat(Noise.at(x, x * 0.7, -x, 3)).isEqualTo(a);
    }
    assertThat(most).isBetween(0.4, 2.0);
    assertThat(Noise.at(0.3, 0.4, 0.5, 1)).isNotEqualTo(Noise.at(0.3, 0.4, 0.5, 2));
  }

  @Test
  void theSkyIsLightAndNowhereNegative() {
    var sky = AtticSky.picture();
    for (float v : sky.rgba()) {
      assertThat(v).isFinite().isNotNegative();
    }
  }
}
