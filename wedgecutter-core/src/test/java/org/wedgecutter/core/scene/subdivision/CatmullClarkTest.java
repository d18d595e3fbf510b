package org.wedgecutter.core.scene.subdivision;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Random;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;
import org.wedgecutter.core.scene.Cage;
import org.wedgecutter.core.scene.Mesh;

/** Catmull-Clark surfaces, against closed values and another implementation. */
class CatmullClarkTest {
  @TempDir static Path dir;
  private static Path peer;

  @BeforeAll
  static void build() throws Exception {
    peer = dir.resolve("subdivide");
    Path source = Path.of("src/test/native/subdivide.cpp").toAbsolutePath();
    Process p =
        new ProcessBuilder("g++", "-O1", "-o", peer.toString(), source.toString(), "-losdCPU")
            .inheritIO()
            .start();
    assertThat(p.waitFor(120, TimeUnit.SECONDS)).isTrue();
    assertThat(p.exitValue()).as("the compiler").isZero();
  }

  private static final float[] CUBE = {
    -1, -1, -1, 1, -1, -1, 1, 1, -1, -1, 1, -1, -1, -1, 1, 1, -1, 1, 1, 1, 1, -1, 1, 1
  };
  private static final int[] CUBE_CORNERS = {
    0, 3, 2, 1, 4, 5, 6, 7, 0, 1, 5, 4, 1, 2, 6, 5, 2, 3, 7, 6, 3, 0, 4, 7
  };

  private static Cage cage(
      float[] points, int[] counts, int[] corners, Cage.Creases creases, Cage.Peaks peaks) {
    return new Cage(
        2,
        points,
        counts,
        corners,
        new int[counts.length],
        creases,
        peaks,
        Cage.Boundary.SHARP_CORNERS,
        null,
        null);
  }

  private static Cage cube(Cage.Creases creases) {
    int[] counts = {4, 4, 4, 4, 4, 4};
    return cage(CUBE, counts, CUBE_CORNERS, creases, Cage.Peaks.NONE);
  }

  private static Mesh divided(Cage cage, int levels) {
    return Subdivision.of("m", cage, cage.points(), levels);
  }

  private static float largest(float[] of) {
    float most = 0;
    for (float x : of) {
      most = Math.max(most, Math.abs(x));
    }
    return most;
  }

  @Test
  void cornersOfACubeLieHalfWayToItsMiddleAtEveryLevel() {
    // (9 (1,1,1) + 4 (1,1,1) - (1,1,1)) / 24, and a level does not move a limit
    for (int levels = 1; levels <= 4; levels++) {
      Mesh m = divided(cube(Cage.Creases.NONE), levels);
      assertThat(m.triangles()).isEqualTo(12 << 2 * levels);
      boolean found = false;
      for (int v = 0; v < m.positions().length; v += 3) {
        found |=
            Math.abs(m.positions()[v] - 0.5) < 1e-6
                && Math.abs(m.positions()[v + 1] - 0.5) < 1e-6
                && Math.abs(m.positions()[v + 2] - 0.5) < 1e-6;
      }
      assertThat(found).as("level %d", levels).isTrue();
    }
  }

  @Test
  void normalsPointOutOfARoundBodyAndHaveUnitLength() {
    Mesh m = divided(cube(Cage.Creases.NONE), 3);
    for (int v = 0; v < m.positions().length; v += 3) {
      double dot = 0;
      double n = 0;
      double p = 0;
      for (int k = 0; k < 3; k++) {
        dot += m.normals()[v + k] * m.positions()[v + k];
        n += m.normals()[v + k] * m.normals()[v + k];
        p += m.positions()[v + k] * m.positions()[v + k];
      }
      assertThat(n).isCloseTo(1, within(1e-6));
      assertThat(dot / Math.sqrt(p)).isGreaterThan(0.9);
    }
  }

  @Test
  void aCubeWithAllEdgesSharpStaysACubeWithFlatSides() {
    List<Integer> ends = new ArrayList<>();
    for (int f = 0; f < 6; f++) {
      for (int c = 0; c < 4; c++) {
        ends.add(CUBE_CORNERS[4 * f + c]);
        ends.add(CUBE_CORNERS[4 * f + (c + 1) % 4]);
      }
    }
    float[] sharp = new float[24];
    Arrays.fill(sharp, 10);
    int[] pairs = ends.stream().mapToInt(i -> i).toArray();
    Mesh m = divided(cube(new Cage.Creases(pairs, sharp)), 3);
    assertThat(largest(m.positions())).isEqualTo(1);
    for (int v = 0; v < m.positions().length; v += 3) {
      float n = 0;
      for (int k = 0; k < 3; k++) {
        n = Math.max(n, Math.abs(m.normals()[v + k]));
      }
      assertThat(n).as("along an axis").isCloseTo(1, within(1e-6f));
      assertThat(
              Math.max(
                  Math.abs(m.positions()[v]),
                  Math.max(Math.abs(m.positions()[v + 1]), Math.abs(m.positions()[v + 2]))))
          .isCloseTo(1, within(1e-6f));
    }
  }

  @Test
  void aGridIsACubicSpline() {
    // heights x^2 on unit spacing: a cubic B-spline over them is x^2 + 1/3 within
    int n = 7;
    float[] p = new float[3 * n * n];
    int[] counts = new int[(n - 1) * (n - 1)];
    Arrays.fill(counts, 4);
    int[] corners = new int[4 * counts.length];
    for (int i = 0; i < n * n; i++) {
      int x = i % n - 3;
      p[3 * i] = x;
      p[3 * i + 1] = i / n - 3;
      p[3 * i + 2] = x * x;
    }
    for (int f = 0; f < counts.length; f++) {
      int at = f / (n - 1) * n + f % (n - 1);
      corners[4 * f] = at;
      corners[4 * f + 1] = at + 1;
      corners[4 * f + 2] = at + n + 1;
      corners[4 * f + 3] = at + n;
    }
    Mesh m = divided(cage(p, counts, corners, Cage.Creases.NONE, Cage.Peaks.NONE), 3);
    int inside = 0;
    for (int v = 0; v < m.positions().length; v += 3) {
      double x = m.positions()[v];
      if (Math.abs(x) <= 2 && Math.abs(m.positions()[v + 1]) <= 2) {
        inside++;
        assertThat((double) m.positions()[v + 2]).isCloseTo(x * x + 1 / 3.0, within(1e-5));
        double slope = -m.normals()[v] / m.normals()[v + 2];
        assertThat(slope).isCloseTo(2 * x, within(1e-4));
      }
    }
    assertThat(inside).isGreaterThan(1000);
  }

  @Test
  void facesThatAreHolesShapeTheirNeighboursOnly() {
    Cage whole = cube(Cage.Creases.NONE);
    int[] materials = {0, Cage.HOLE, 0, 3, 0, 0};
    Cage open =
        new Cage(
            2,
            whole.points(),
            whole.counts(),
            whole.corners(),
            materials,
            whole.creases(),
            whole.peaks(),
            whole.boundary(),
            null,
            null);
    Mesh m = divided(open, 2);
    assertThat(m.triangles()).isEqualTo(5 * 32);
    assertThat(Arrays.stream(m.triangleMaterials()).filter(k -> k == 3).count()).isEqualTo(32);
    assertThat(largest(m.positions())).isEqualTo(largest(divided(whole, 2).positions()));
  }

  @Test
  void withoutLevelsTheCageIsShown() {
    Mesh m = divided(cube(Cage.Creases.NONE), 0);
    assertThat(m.triangles()).isEqualTo(12);
    assertThat(m.normals()).isNull();
    assertThat(largest(m.positions())).isEqualTo(1);
  }

  // ---- against another implementation

  /** A grid of quads and triangles with holes, bumps, sharp edges and seams of coordinates. */
  private static Cage random(Random r, Cage.Boundary boundary, Cage.Seams seams, boolean sharp) {
    int n = 3 + r.nextInt(3);
    float[] p = new float[3 * n * n];
    for (int i = 0; i < n * n; i++) {
      p[3 * i] = i % n + 0.3f * r.nextFloat();
      p[3 * i + 1] = i / n + 0.3f * r.nextFloat();
      p[3 * i + 2] = r.nextFloat();
    }
    List<int[]> faces = new ArrayList<>();
    for (int y = 0; y + 1 < n; y++) {
      for (int x = 0; x + 1 < n; x++) {
        int at = y * n + x;
        int kind = r.nextInt(8);
        if (kind == 0) {
          faces.add(new int[] {at, at + 1, at + n + 1});
          faces.add(new int[] {at, at + n + 1, at + n});
        } else if (kind > 1 || faces.isEmpty()) {
          faces.add(new int[] {at, at + 1, at + n + 1, at + n});
        }
      }
    }
    int[] counts = faces.stream().mapToInt(f -> f.length).toArray();
    int[] corners = faces.stream().flatMapToInt(Arrays::stream).toArray();
    List<Float> uv = new ArrayList<>();
    int[] uvOf = new int[corners.length];
    int[][] islands = new int[n * n][4];
    int c = 0;
    for (int[] f : faces) {
      int island = f[0] % n < n / 2 ? 0 : r.nextInt(5) == 0 ? 2 : 1;
      for (int v : f) {
        if (islands[v][island] == 0) {
          uv.add(p[3 * v] + 10 * island);
          uv.add(p[3 * v + 1] + r.nextFloat());
          islands[v][island] = uv.size() / 2;
        }
        uvOf[c++] = islands[v][island] - 1;
      }
    }
    // the first edges of some faces: none comes twice
    int creases = sharp ? 1 + r.nextInt(Math.min(5, faces.size())) : 0;
    int[] ends = new int[2 * creases];
    float[] sharpness = new float[creases];
    for (int k = 0; k < creases; k++) {
      int[] f = faces.get(k % faces.size());
      int at = 0;
      ends[2 * k] = f[at];
      ends[2 * k + 1] = f[(at + 1) % f.length];
      // spent within the levels, or never: what is left on the last level is sharp here
      sharpness[k] = r.nextBoolean() ? 10 : 3 * r.nextFloat();
    }
    Cage.Peaks peaks =
        sharp && r.nextBoolean()
            ? new Cage.Peaks(
                new int[] {corners[r.nextInt(corners.length)]},
                new float[] {r.nextBoolean() ? 10 : 2 * r.nextFloat()})
            : Cage.Peaks.NONE;
    float[] values = new float[uv.size()];
    for (int k = 0; k < values.length; k++) {
      values[k] = uv.get(k);
    }
    return new Cage(
        3,
        p,
        counts,
        corners,
        new int[counts.length],
        new Cage.Creases(ends, sharpness),
        peaks,
        boundary,
        new Cage.Values(2, values, uvOf, seams),
        null);
  }

  private static void put(StringBuilder out, float[] values) {
    for (float v : values) {
      out.append(String.format(Locale.ROOT, "%.9g ", v));
    }
    out.append('\n');
  }

  private static void put(StringBuilder out, int... values) {
    for (int v : values) {
      out.append(v).append(' ');
    }
    out.append('\n');
  }

  /** Position, normal and coordinates of each corner of each face, by the other implementation. */
  private static float[][] reference(Cage cage, int levels) throws Exception {
    StringBuilder in = new StringBuilder();
    put(in, levels, cage.boundary().ordinal(), cage.uvs().seams().ordinal() - 1);
    put(in, cage.faces());
    put(in, cage.counts());
    put(in, cage.corners());
    put(in, cage.points().length / 3);
    put(in, cage.points());
    put(in, cage.creases().sharpness().length);
    for (int k = 0; k < cage.creases().sharpness().length; k++) {
      put(in, cage.creases().ends()[2 * k], cage.creases().ends()[2 * k + 1]);
      put(in, new float[] {cage.creases().sharpness()[k]});
    }
    put(in, cage.peaks().points().length);
    for (int k = 0; k < cage.peaks().points().length; k++) {
      put(in, cage.peaks().points()[k]);
      put(in, new float[] {cage.peaks().sharpness()[k]});
    }
    put(in, cage.uvs().values().length / 2);
    put(in, cage.uvs().values());
    put(in, cage.uvs().corners());
    Path given = dir.resolve("in");
    Path taken = dir.resolve("out");
    Files.writeString(given, in);
    Process p =
        new ProcessBuilder(peer.toString())
            .redirectInput(given.toFile())
            .redirectOutput(taken.toFile())
            .start();
    assertThat(p.waitFor(60, TimeUnit.SECONDS)).isTrue();
    assertThat(p.exitValue()).isZero();
    return Files.readAllLines(taken, StandardCharsets.UTF_8).stream()
        .map(l -> {
          String[] words = l.split(" ");
          float[] out = new float[words.length];
          for (int k = 0; k < out.length; k++) {
            out[k] = Float.parseFloat(words[k]);
          }
          return out;
        })
        .toArray(float[][]::new);
  }

  private static double far(float[] of, Mesh m, int v, boolean coordinates) {
    double sum = 0;
    for (int k = 0; k < 3; k++) {
      sum = Math.max(sum, Math.abs(of[k] - m.positions()[3 * v + k]));
    }
    for (int k = 0; k < 2 && coordinates; k++) {
      sum = Math.max(sum, Math.abs(of[6 + k] - m.uvs()[2 * v + k]));
    }
    return sum;
  }

  /** Whether it is not one of several sides that touch in a point; the other one knows one side. */
  private static boolean hasOneNormal(Mesh m, int v) {
    for (int w = 0; w < m.positions().length / 3; w++) {
      boolean same = true;
      boolean turned = false;
      for (int k = 0; k < 3; k++) {
        same &= m.positions()[3 * v + k] == m.positions()[3 * w + k];
        turned |= m.normals()[3 * v + k] != m.normals()[3 * w + k];
      }
      if (same && turned) {
        return false;
      }
    }
    return true;
  }

  /**
   * @param everything whether normals and coordinates are compared too
   */
  private static void compare(Cage cage, int levels, boolean everything, String what)
      throws Exception {
    float[][] all = reference(cage, levels);
    Mesh m = divided(cage, levels);
    assertThat(m.triangles()).as(what).isEqualTo(all.length / 2);
    for (int v = 0; v < m.positions().length / 3; v++) {
      float[] best = all[0];
      for (float[] one : all) {
        if (far(one, m, v, everything) < far(best, m, v, everything)) {
          best = one;
        }
      }
      assertThat(far(best, m, v, everything)).as("%s, vertex %d", what, v).isLessThan(1e-4);
      boolean told = best[3] * best[3] + best[4] * best[4] + best[5] * best[5] > 0.5;
      if (everything && told && hasOneNormal(m, v)) {
        double dot = 0;
        for (int k = 0; k < 3; k++) {
          dot += best[3 + k] * m.normals()[3 * v + k];
        }
        assertThat(dot).as("%s, normal of vertex %d", what, v).isGreaterThan(0.9999);
      }
    }
  }

  @ParameterizedTest
  @EnumSource(value = Cage.Seams.class, names = "AS_POINTS", mode = EnumSource.Mode.EXCLUDE)
  void randomCagesAreAsAnotherImplementationHasThem(Cage.Seams seams) throws Exception {
    for (int seed = 0; seed < 12; seed++) {
      Random r = new Random(31L * seed + seams.ordinal());
      Cage.Boundary boundary = r.nextBoolean() ? Cage.Boundary.SMOOTH : Cage.Boundary.SHARP_CORNERS;
      // how sharp edges shape coordinates where they meet seams is each implementation's own
      boolean sharp = seed % 2 == 1;
      Cage cage = random(r, boundary, seams, sharp);
      compare(cage, sharp ? 3 : 1 + seed % 3, !sharp, "%s, %d".formatted(seams, seed));
    }
  }
}
