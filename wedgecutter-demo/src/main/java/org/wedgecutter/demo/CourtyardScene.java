package org.wedgecutter.demo;

import static org.wedgecutter.demo.Turns.look;
import static org.wedgecutter.demo.Turns.v;

import com.fasterxml.jackson.databind.node.ObjectNode;
import java.io.IOException;
import java.io.OutputStream;

/**
 * A courtyard with a copper heron. The paving is the plane y = 0, the back wall stands at z = -3, a
 * low wall in front of it at the left; the camera is on the side of +z. Lengths are metres.
 *
 * <p>The scene that is cut holds stand-ins for what the plate shows, and the heron. The plate's own
 * scene has the same surfaces with more about them, and no heron.
 */
final class CourtyardScene {
  static final int FPS = 24;

  private final GlbWriter glb = new GlbWriter();
  private final OrreryPaints.Maker paints = new OrreryPaints.Maker(glb);

  /** Writes the scene that is cut. */
  static void write(OutputStream out) throws IOException {
    CourtyardScene scene = new CourtyardScene();
    scene.standIns();
    scene.heron();
    scene.lightAndCamera();
    scene.glb.write(out);
  }

  /** Writes the scene that the plate is a picture of. */
  static void writePlate(OutputStream out) throws IOException {
    CourtyardScene scene = new CourtyardScene();
    scene.standIns();
    scene.dressing();
    scene.lightAndCamera();
    scene.glb.write(out);
  }

  private void standIns() {
    int place = glb.node("courtyard", -1);
    ObjectNode stone = glb.material("paving", 1, 1, 1, 0, 1);
    GlbWriter.pbr(stone)
        .putObject("baseColorTexture")
        .put("index", paints.jpeg("paving", CourtyardPaint::paving));
    GlbWriter.pbr(stone)
        .putObject("metallicRoughnessTexture")
        .put("index", paints.jpeg("wet and dry", CourtyardPaint::pavingRoughness));
    int paving = glb.lastMaterial();
    glb.object(
        "paving",
        place,
        new MeshMaker().panel(v(-4, 0, 4.5), v(8, 0, 0), v(0, 0, -7.5), 1, 1),
        1,
        paving);
    int render =
        paints.textured(
            "lime render", paints.jpeg("render", CourtyardPaint::render), -1, 1, 1, 1, 0, 0.95);
    glb.object(
        "back_wall",
        place,
        new MeshMaker().panel(v(-4, 0, -3), v(8, 0, 0), v(0, 4.2, 0), 1, 1),
        1,
        render);
    int rubble =
        paints.textured(
            "rubble", paints.jpeg("rubble", CourtyardPaint::rubble), -1, 1, 1, 1, 0, 0.92);
    glb.object(
        "low_wall",
        place,
        new MeshMaker().box(-2.6, 0, 0.30, -0.16, 0.42, 0.62, 0.02, 1.15),
        30,
        rubble);
    glb.tag(place, "plate");
  }

  /** What only the plate has: coping stones, a door, pots, weeds in the joints. */
  private void dressing() {
    int more = glb.node("dressing", -1);
    int coping = paints.textured("coping", -1, -1, 0.33, 0.315, 0.275, 0, 0.9);
    MeshMaker stones = new MeshMaker();
    double x = -2.64;
    for (int k = 0; k < 6; k++) {
      double wide = 0.44 + 0.08 * Noise.at(k * 1.9, 2, 2, 701);
      double end = Math.min(-0.13, x + wide);
      stones.box(x, 0.42, 0.27, end - 0.006, 0.475 + 0.006 * (k % 2), 0.65, 0.012, 1);
      x = end;
    }
    glb.object("coping", more, stones, 30, coping);
    int oak = paints.textured("old oak", -1, -1, 0.16, 0.20, 0.17, 0, 0.8);
    MeshMaker door = new MeshMaker();
    for (int k = 0; k < 6; k++) {
      door.box(1.25 + k * 0.155, 0.02, -2.985, 1.398 + k * 0.155, 2.05, -2.93, 0.008, 1);
    }
    door.box(1.25, 0.35, -2.93, 2.175, 0.47, -2.905, 0.006, 1);
    door.box(1.25, 1.55, -2.93, 2.175, 1.67, -2.905, 0.006, 1);
    glb.object("door", more, door, 30, oak);
    MeshMaker frame = new MeshMaker();
    frame.box(1.08, 0, -3, 1.24, 2.22, -2.87, 0.015, 1);
    frame.box(2.185, 0, -3, 2.345, 2.22, -2.87, 0.015, 1);
    frame.box(1.08, 2.06, -3, 2.345, 2.24, -2.86, 0.015, 1);
    glb.object("door_frame", more, frame, 30, coping);
    int clay = paints.textured("clay", -1, -1, 0.50, 0.22, 0.13, 0, 0.85);
    int leaf = paints.textured("leaf", -1, -1, 0.10, 0.19, 0.05, 0, 0.6);
    double[][] pots = {{2.75, -2.45, 0.30}, {0.55, -2.62, 0.20}, {-2.95, -2.30, 0.34}};
    for (double[] p : pots) {
      double r = p[2];
      MeshMaker pot =
          new MeshMaker()
              .lathe(
                  48, 0, 0, r * 0.62, 0, r * 0.66, 0.02, r * 0.88, r * 1.35, r, r * 1.36, r,
                  r * 1.55, r * 0.88, r * 1.56, r * 0.84, r * 1.42, 0, r * 1.40);
      glb.move(glb.object("pot", more, pot, 40, clay), p[0], 0, p[1]);
      MeshMaker bush = new MeshMaker();
      for (int k = 0; k < 260; k++) {
        double a = k * 2.39996;
        double up = (k + 0.5) / 260;
        double out = r * (0.25 + 1.05 * Math.sin(Math.PI * Math.min(1, up * 0.9 + 0.08)));
        double lean = 0.75 + 0.5 * Noise.at(k * 0.7, 1, 1, 711);
        double bx = out * lean * Math.cos(a);
        double bz = out * lean * Math.sin(a);
        double by = r * (1.45 + 2.5 * up * lean);
        blade(bush, bx, by, bz, a, 0.075 + 0.03 * Noise.at(k, 5, 1, 713), 0.024);
        if (k % 3 == 0) {
          bush.rod(v(0.15 * bx, r * 1.38, 0.15 * bz), v(bx, by + 0.01, bz), 0.0022, 0.0010, 5);
        }
      }
      glb.move(glb.object("bush", more, bush, 20, leaf), p[0], 0, p[1]);
    }
    MeshMaker weeds = new MeshMaker();
    for (int k = 0; k < 420; k++) {
      double wx = -3.6 + 7.2 * (0.5 + 0.5 * Noise.at(k * 1.71, 3, 3, 721));
      boolean foot = k % 3 != 0;
      double wz = foot ? -2.93 : 0.66 + 0.02 * Noise.at(k * 0.9, 2, 2, 723);
      if (!foot && (wx > -0.2 || wx < -2.6)) {
        continue;
      }
      double tall = 0.05 + 0.09 * Math.abs(Noise.at(k * 2.3, 6, 2, 725));
      blade(weeds, wx, 0, wz, k * 1.3, tall, 0.010);
    }
    glb.object("weeds", more, weeds, 20, leaf);
  }

  /** A bent blade of a leaf from a place outwards. */
  private static void blade(
      MeshMaker m, double x, double y, double z, double a, double length, double wide) {
    double cx = Math.cos(a);
    double cz = Math.sin(a);
    int[][] rows = new int[4][2];
    for (int k = 0; k < 4; k++) {
      double t = k / 3.0;
      double out = length * 0.6 * t * t;
      double up = length * (t - 0.25 * t * t);
      double w = wide * (1 - t) * (0.5 + t) + 0.001;
      for (int s = 0; s < 2; s++) {
        double side = s == 0 ? -w : w;
        rows[k][s] = m.vertex(x + cx * out - cz * side, y + up, z + cz * out + cx * side, s, t);
      }
    }
    for (int k = 0; k < 3; k++) {
      m.quad(rows[k][0], rows[k][1], rows[k + 1][1], rows[k + 1][0]);
    }
  }

  /** A heron of beaten copper on one leg, the other drawn up; its foot is behind the low wall. */
  private void heron() {
    int heron = glb.node("heron", -1);
    glb.tag(heron, "hero");
    glb.move(heron, -0.22, 0, -0.02);
    glb.turn(heron, 0, Math.sin(0.18), 0, Math.cos(0.18));
    ObjectNode skin = glb.material("copper", 1, 1, 1, 1, 1);
    GlbWriter.pbr(skin)
        .putObject("baseColorTexture")
        .put("index", paints.jpeg("copper", CourtyardPaint::copper));
    GlbWriter.pbr(skin)
        .putObject("metallicRoughnessTexture")
        .put("index", paints.jpeg("copper wear", CourtyardPaint::copperWear));
    int copper = glb.lastMaterial();
    int dark = paints.textured("copper dark", -1, -1, 0.36, 0.23, 0.17, 1, 0.5);
    int glass = paints.textured("eye", -1, -1, 0.02, 0.015, 0.01, 0, 0.05);

    // the body: a drop from breast to tail, leaning back
    MeshMaker body = new MeshMaker();
    tube(
        body,
        new double[][] {
          {0.27, 0.98, 0, 0.015}, {0.24, 0.985, 0, 0.07}, {0.17, 0.96, 0, 0.125},
          {0.06, 0.915, 0, 0.155}, {-0.08, 0.85, 0, 0.150}, {-0.22, 0.775, 0, 0.115},
          {-0.36, 0.70, 0, 0.066}, {-0.50, 0.635, 0, 0.026}, {-0.585, 0.60, 0, 0.006}
        },
        40,
        0.80);
    glb.object("body", heron, body, 60, copper);
    MeshMaker neck = new MeshMaker();
    tube(
        neck,
        new double[][] {
          {0.19, 0.965, 0, 0.095}, {0.27, 1.01, 0, 0.072}, {0.325, 1.08, 0, 0.056},
          {0.335, 1.16, 0, 0.048}, {0.295, 1.235, 0, 0.044}, {0.235, 1.30, 0, 0.041},
          {0.205, 1.38, 0, 0.038}, {0.225, 1.46, 0, 0.037}, {0.285, 1.515, 0, 0.043},
          {0.345, 1.53, 0, 0.048}, {0.405, 1.522, 0, 0.036}, {0.44, 1.515, 0, 0.022}
        },
        32,
        1);
    glb.object("neck", heron, neck, 60, copper);
    MeshMaker beak = new MeshMaker();
    beak.rod(v(0.425, 1.522, 0), v(0.70, 1.475, 0), 0.019, 0.002, 16);
    beak.rod(v(0.43, 1.506, 0), v(0.665, 1.468, 0), 0.013, 0.0015, 16);
    glb.object("beak", heron, beak, 50, dark);
    MeshMaker crest = new MeshMaker();
    for (int k = -1; k <= 1; k++) {
      tube(
          crest,
          new double[][] {
            {0.335, 1.572, 0.01 * k, 0.008}, {0.26, 1.578 + 0.01 * k, 0.018 * k, 0.007},
            {0.16, 1.55 + 0.012 * k, 0.03 * k, 0.005}, {0.07, 1.49 + 0.014 * k, 0.04 * k, 0.001}
          },
          10,
          1);
    }
    glb.object("crest", heron, crest, 60, dark);
    MeshMaker eyes = new MeshMaker();
    eyes.sphere(0.375, 1.538, 0.040, 0.0085, 12).sphere(0.375, 1.538, -0.040, 0.0085, 12);
    glb.object("eyes", heron, eyes, 60, glass);

    for (int side = -1; side <= 1; side += 2) {
      MeshMaker wing = new MeshMaker();
      int rows = 7;
      for (int k = 0; k < rows; k++) {
        double t = k / (rows - 1.0);
        for (int f = 0; f < 7 - k / 2; f++) {
          double along = f / 6.0;
          double fx = 0.14 - 0.10 * t - 0.40 * along * (0.6 + 0.5 * t);
          double fy = 0.985 - 0.16 * t - 0.26 * along - 0.02 * Math.abs(along - 0.4);
          double fz = side * (0.128 - 0.018 * t - 0.07 * along);
          feather(wing, fx, fy, fz, side, 0.15 + 0.10 * t + 0.05 * along);
        }
      }
      glb.object(side < 0 ? "wing_far" : "wing_near", heron, wing, 20, copper);
    }
    MeshMaker legs = new MeshMaker();
    legs.rod(v(-0.02, 0.80, 0.045), v(-0.045, 0.46, 0.05), 0.026, 0.0115, 20);
    legs.sphere(-0.045, 0.46, 0.05, 0.0175, 16);
    legs.rod(v(-0.045, 0.46, 0.05), v(0.0, 0.02, 0.05), 0.0105, 0.0095, 18);
    legs.rod(v(-0.03, 0.80, -0.045), v(0.10, 0.56, -0.05), 0.024, 0.0115, 20);
    legs.sphere(0.10, 0.56, -0.05, 0.0165, 16);
    legs.rod(v(0.10, 0.56, -0.05), v(-0.10, 0.40, -0.05), 0.010, 0.008, 16);
    for (int toe = 0; toe < 4; toe++) {
      double a = toe == 3 ? Math.PI : -0.55 + 0.55 * toe;
      legs.rod(
          v(0, 0.014, 0.05),
          v(0.15 * Math.cos(a), 0.007, 0.05 + 0.15 * Math.sin(a)),
          0.010,
          0.004,
          12);
      legs.rod(
          v(-0.10, 0.40, -0.05),
          v(-0.14 - 0.05 * Math.cos(a), 0.33, -0.05 + 0.04 * Math.sin(a)),
          0.007,
          0.003,
          10);
    }
    glb.object("legs", heron, legs, 50, dark);
  }

  /** A feather: a long flat leaf that points back and down. */
  private static void feather(MeshMaker m, double x, double y, double z, int side, double length) {
    double dx = -0.86;
    double dy = -0.50;
    int[][] rows = new int[7][3];
    for (int k = 0; k < 7; k++) {
      double t = k / 6.0;
      double w = 0.030 * Math.sqrt(Math.max(0, Math.sin(Math.PI * (0.12 + 0.88 * t)))) + 0.001;
      for (int s = 0; s < 3; s++) {
        double across = (s - 1) * w;
        double out = side * (0.006 * (1 - Math.abs(s - 1)) - 0.020 * t);
        rows[k][s] =
            m.vertex(
                x + dx * length * t - dy * across,
                y + dy * length * t + dx * across,
                z + out,
                x * 1.4 + 0.3 * s + 0.5,
                y * 1.3 + t * length);
      }
    }
    for (int k = 0; k < 6; k++) {
      for (int s = 0; s < 2; s++) {
        if (side > 0) {
          m.quad(rows[k][s], rows[k + 1][s], rows[k + 1][s + 1], rows[k][s + 1]);
        } else {
          m.quad(rows[k][s + 1], rows[k + 1][s + 1], rows[k + 1][s], rows[k][s]);
        }
      }
    }
  }

  /** A smooth tube through places of a radius each; {@code flat} narrows it sideways. */
  private static void tube(MeshMaker m, double[][] through, int segments, double flat) {
    int steps = 6 * (through.length - 1);
    int[][] grid = new int[steps + 1][segments + 1];
    for (int k = 0; k <= steps; k++) {
      double[] at = curve(through, k / 6.0);
      double[] ahead = curve(through, Math.min(through.length - 1, k / 6.0 + 0.05));
      double[] behind = curve(through, Math.max(0, k / 6.0 - 0.05));
      double tx = ahead[0] - behind[0];
      double ty = ahead[1] - behind[1];
      double length = Math.hypot(tx, ty);
      double nx = -ty / length;
      double ny = tx / length;
      for (int s = 0; s <= segments; s++) {
        double a = 2 * Math.PI * s / segments;
        double up = at[3] * Math.cos(a);
        grid[k][s] =
            m.vertex(
                at[0] + nx * up,
                at[1] + ny * up,
                at[2] + flat * at[3] * Math.sin(a),
                2.0 * s / segments,
                k * 0.03);
      }
    }
    for (int k = 0; k < steps; k++) {
      for (int s = 0; s < segments; s++) {
        m.quad(grid[k][s], grid[k + 1][s], grid[k + 1][s + 1], grid[k][s + 1]);
      }
    }
  }

  /** E. Catmull and R. Rom, "A Class of Local Interpolating Splines", 1974. */
  private static double[] curve(double[][] p, double at) {
    int k = Math.min(p.length - 2, (int) at);
    double t = at - k;
    double[] out = new double[4];
    for (int c = 0; c < 4; c++) {
      double a = p[Math.max(0, k - 1)][c];
      double b = p[k][c];
      double d = p[k + 1][c];
      double e = p[Math.min(p.length - 1, k + 2)][c];
      out[c] = b + 0.5 * t * (d - a + t * (2 * a - 5 * b + 4 * d - e + t * (3 * (b - d) + e - a)));
    }
    out[3] = Math.max(0.0005, out[3]);
    return out;
  }

  private void lightAndCamera() {
    int lights = glb.node("lights", -1);
    int sun = glb.node("sun", lights);
    glb.sun(sun, "sun", v(1.0, 0.83, 0.62), 4.6, 1.2);
    double[] s = CourtyardSky.SUN;
    glb.turn(sun, look(v(0, 0, 0), v(-s[0], -s[1], -s[2])));
    int camera = glb.node("camera", -1);
    double[] from = v(0.62, 1.12, 4.05);
    glb.move(camera, from);
    glb.turn(camera, look(from, v(0.14, 0.70, 0)));
    glb.camera(camera, "main", Math.toRadians(27.5));
    glb.lens(0.024, 8, 4.0);
  }
}
