package org.wedgecutter.demo;

import com.fasterxml.jackson.databind.node.ObjectNode;
import java.io.IOException;
import java.io.OutputStream;

/**
 * A clockwork orrery on a walnut table under an attic window, 48 frames at 24 a second. The table's
 * top is the plane y = 0, x to the right, the camera on the side of +z. Lengths are metres.
 */
final class OrreryScene {
  static final int FRAMES = 48;
  static final int FPS = 24;

  private final GlbWriter glb = new GlbWriter();
  private int brass;
  private int brassPolished;
  private int brassDark;
  private int graduated;
  private int steel;
  private int walnut;
  private int gold;

  static void write(OutputStream out) throws IOException {
    OrreryScene scene = new OrreryScene();
    scene.materials();
    scene.room();
    scene.lamp();
    scene.table();
    scene.orrery();
    scene.foreground();
    scene.light();
    scene.glb.write(out);
  }

  private int textured(
      String name,
      int color,
      int roughMetal,
      double r,
      double g,
      double b,
      double metallic,
      double roughness) {
    ObjectNode m = glb.material(name, r, g, b, metallic, roughness);
    if (color >= 0) {
      GlbWriter.pbr(m).putObject("baseColorTexture").put("index", color);
    }
    if (roughMetal >= 0) {
      GlbWriter.pbr(m).putObject("metallicRoughnessTexture").put("index", roughMetal);
    }
    return glb.lastMaterial();
  }

  private int jpeg(String name, byte[] bytes) {
    return glb.texture(name, bytes, "image/jpeg");
  }

  private void materials() {
    int wear = jpeg("brass wear", Paint.brassWear());
    int brassColor = jpeg("brass colour", Paint.brassColor());
    brass = textured("brass", brassColor, wear, 1, 1, 1, 1, 0.52);
    brassPolished = textured("brass polished", brassColor, wear, 1, 1, 1, 1, 0.30);
    brassDark = textured("brass dark", brassColor, wear, 0.50, 0.42, 0.36, 1, 0.62);
    graduated =
        textured("brass graduated", jpeg("graduation", Paint.graduation()), wear, 1, 1, 1, 1, 0.5);
    steel = textured("steel", -1, wear, 0.62, 0.63, 0.66, 1, 0.42);
    gold = textured("gold", -1, -1, 1.0, 0.76, 0.33, 1, 0.16);
    walnut =
        textured(
            "walnut polished",
            jpeg("walnut", Paint.walnut()),
            jpeg("varnish", Paint.varnish()),
            1,
            1,
            1,
            1,
            0.44);
  }

  // ---- the room and what stands in it

  private void room() {
    int room = glb.node("room", -1);
    ObjectNode plasterMaterial = glb.material("plaster", 0.86, 0.88, 0.84, 0, 0.92);
    GlbWriter.pbr(plasterMaterial)
        .putObject("baseColorTexture")
        .put("index", jpeg("plaster", Paint.plaster()));
    plasterMaterial
        .putObject("normalTexture")
        .put("index", jpeg("plaster normals", Paint.plasterNormals()))
        .put("scale", 0.7f);
    int plaster = glb.lastMaterial();
    int boards = textured("floor boards", jpeg("boards", Paint.boards()), -1, 1, 1, 1, 0, 0.7);
    int beamWood = textured("old beam", -1, -1, 0.10, 0.066, 0.044, 0, 0.8);

    glb.object(
        "wall_back",
        room,
        new MeshMaker().panel(v(-2, -0.76, -1.0), v(3.6, 0, 0), v(0, 2.6, 0), 2.2, 1.6),
        1,
        plaster);
    glb.object(
        "wall_left",
        room,
        new MeshMaker().panel(v(-2, -0.76, 1.6), v(0, 0, -2.6), v(0, 2.6, 0), 1.6, 1.6),
        1,
        plaster);
    glb.object(
        "floor",
        room,
        new MeshMaker().panel(v(-2, -0.76, 1.6), v(3.6, 0, 0), v(0, 0, -2.6), 2, 1.5),
        1,
        boards);
    glb.object(
        "ceiling",
        room,
        new MeshMaker().panel(v(-2, 1.75, -1.0), v(3.6, 0, 0), v(0, 0.35, 2.6), 2, 1.5),
        1,
        boards);
    MeshMaker right = new MeshMaker();
    right.panel(v(1.6, -0.76, -1.0), v(0, 0, 2.6), v(0, 0.82, 0), 1.6, 0.5);
    right.panel(v(1.6, 1.46, -1.0), v(0, 0, 2.6), v(0, 0.7, 0), 1.6, 0.4);
    right.panel(v(1.6, 0.06, -1.0), v(0, 0, 0.42), v(0, 1.4, 0), 0.3, 0.9);
    right.panel(v(1.6, 0.06, 0.72), v(0, 0, 0.88), v(0, 1.4, 0), 0.6, 0.9);
    glb.object("wall_right", room, right, 1, plaster);
    MeshMaker beams = new MeshMaker();
    beams.box(-2, 1.30, -0.995, 1.6, 1.44, -0.86, 0.012, 1);
    beams.box(-1.62, -0.76, -0.995, -1.46, 1.75, -0.86, 0.012, 1);
    glb.object("beams", room, beams, 30, beamWood);
    MeshMaker skirting = new MeshMaker().box(-2, 0.30, -0.998, 1.6, 0.325, -0.965, 0.006, 1);
    skirting.box(-2, -0.76, -0.998, 1.6, 0.30, -0.982, 0.004, 1);
    glb.object(
        "panelling",
        room,
        skirting,
        30,
        textured("panel paint", -1, -1, 0.085, 0.13, 0.125, 0, 0.5));

    int window = glb.node("window", room);
    MeshMaker frame = new MeshMaker();
    for (int k = 0; k < 4; k++) {
      double z = -0.58 + k * 0.4333;
      frame.box(1.56, 0.06, z - 0.018, 1.61, 1.46, z + 0.018, 0.004, 1);
    }
    for (int k = 0; k < 4; k++) {
      double y = 0.06 + k * 0.4667;
      frame.box(1.56, y - 0.018, -0.58, 1.61, y + 0.018, 0.72, 0.004, 1);
    }
    glb.object("frame", window, frame, 30, beamWood);
    ObjectNode pane = glb.material("window light", 0, 0, 0, 0, 1);
    glb.emit(pane, 0.72, 0.87, 1.0, 9.5);
    glb.object(
        "sky",
        window,
        new MeshMaker().panel(v(1.64, 0.06, -0.58), v(0, 0, 1.3), v(0, 1.4, 0), 1, 1),
        1,
        glb.lastMaterial());

    shelf(room);
  }

  private void shelf(int room) {
    int shelf = glb.node("shelf", room);
    glb.object(
        "board",
        shelf,
        new MeshMaker().box(-1.05, 0.545, -0.99, 0.98, 0.575, -0.77, 0.004, 1.2),
        30,
        walnut);
    MeshMaker brackets = new MeshMaker();
    for (double x : new double[] {-0.86, 0.02, 0.82}) {
      brackets.box(x - 0.012, 0.40, -0.985, x + 0.012, 0.545, -0.965, 0.003, 1);
      brackets.rod(v(x, 0.41, -0.97), v(x, 0.54, -0.80), 0.009, 0.007, 12);
    }
    glb.object("brackets", shelf, brackets, 30, brassDark);
    int leather = jpeg("leather", Paint.leather());
    double[][] dyes = {
      {0.30, 0.07, 0.05},
      {0.07, 0.13, 0.11},
      {0.34, 0.20, 0.08},
      {0.09, 0.10, 0.19},
      {0.24, 0.16, 0.10},
      {0.42, 0.33, 0.20},
      {0.13, 0.17, 0.07}
    };
    int[] dyed = new int[dyes.length];
    for (int k = 0; k < dyes.length; k++) {
      dyed[k] =
          textured(
              "leather " + k,
              leather,
              -1,
              dyes[k][0] * 1.5,
              dyes[k][1] * 1.5,
              dyes[k][2] * 1.5,
              0,
              0.55);
    }
    int books = glb.node("books", shelf);
    double x = -0.80;
    for (int k = 0; k < 24; k++) {
      double thick = 0.022 + 0.022 * (0.5 + 0.5 * Noise.at(k * 1.37, 2, 2, 401));
      double high = 0.15 + 0.055 * Noise.at(k * 2.11, 4, 2, 402);
      double deep = 0.12 + 0.03 * Noise.at(k * 1.73, 6, 2, 403);
      if (k == 9) {
        x += 0.30;
      }
      if (k == 17) {
        x += 0.14;
      }
      int node =
          glb.object(
              "book_%02d".formatted(k + 1),
              books,
              book(thick, high, deep),
              30,
              dyed[(k * 5 + k / 3) % dyes.length]);
      double lean = k == 8 ? -0.20 : k == 16 ? -0.16 : 0;
      glb.move(
          node, x + (lean != 0 ? 0.018 : 0), 0.5755, -0.80 - 0.01 * Noise.at(k * 3.1, 1, 1, 404));
      glb.turn(node, 0, 0, Math.sin(-lean / 2), Math.cos(lean / 2));
      x += thick + 0.0025;
    }
    MeshMaker jar =
        new MeshMaker()
            .lathe(
                64, 0, 0, 0.05, 0, 0.062, 0.02, 0.066, 0.07, 0.055, 0.115, 0.03, 0.135, 0.03, 0.15,
                0.036, 0.155, 0.03, 0.158, 0.024, 0.15, 0.02, 0.12);
    int jarNode =
        glb.object(
            "jar", shelf, jar, 50, textured("glazed clay", -1, -1, 0.045, 0.16, 0.17, 0, 0.22));
    glb.move(jarNode, -0.26, 0.5755, -0.87);
    MeshMaker globe = new MeshMaker().sphere(0, 0.11, 0, 0.062, 32);
    int globeNode =
        glb.object(
            "globe", shelf, globe, 60, textured("old globe", -1, -1, 0.50, 0.38, 0.20, 0, 0.5));
    glb.move(globeNode, 0.50, 0.5755, -0.87);
    MeshMaker stand =
        new MeshMaker().lathe(48, 0, 0, 0.05, 0, 0.05, 0.008, 0.012, 0.016, 0.008, 0.045);
    stand.rod(v(0, 0.03, 0), v(0, 0.19, 0), 0.004, 0.004, 10);
    glb.move(glb.object("globe_stand", shelf, stand, 40, brassDark), 0.50, 0.5755, -0.87);
  }

  private static MeshMaker book(double thick, double high, double deep) {
    MeshMaker m = new MeshMaker();
    // the back of the book faces the room and is slightly round
    int steps = 6;
    int[][] grid = new int[2][steps + 1];
    for (int s = 0; s <= steps; s++) {
      double a = Math.PI * (1 - (double) s / steps);
      for (int e = 0; e < 2; e++) {
        grid[e][s] =
            m.vertex(
                thick / 2 + thick / 2 * Math.cos(a),
                e * high,
                0.007 * Math.sin(a),
                (double) s / steps,
                1 - e);
      }
    }
    for (int s = 0; s < steps; s++) {
      m.quad(grid[0][s], grid[0][s + 1], grid[1][s + 1], grid[1][s]);
    }
    return m.box(0, 0, -deep, thick, high, 0.0005, 0.001, 4);
  }

  private void lamp() {
    int lamp = glb.node("lamp", -1);
    glb.move(lamp, -0.50, 0, -0.16);
    MeshMaker font =
        new MeshMaker()
            .lathe(
                96, 0, 0, 0.062, 0, 0.066, 0.004, 0.066, 0.010, 0.058, 0.016, 0.030, 0.022, 0.022,
                0.034, 0.020, 0.055, 0.026, 0.064, 0.052, 0.074, 0.064, 0.092, 0.062, 0.112, 0.046,
                0.126, 0.024, 0.132, 0.022, 0.140, 0.0, 0.140);
    glb.object("font", lamp, font, 42, brassPolished);
    MeshMaker burner =
        new MeshMaker()
            .lathe(
                64, 0, 0.138, 0.026, 0.138, 0.028, 0.142, 0.028, 0.150, 0.020, 0.156, 0.016, 0.168,
                0.012, 0.170, 0, 0.170);
    for (int k = 0; k < 8; k++) {
      double a = 2 * Math.PI * k / 8;
      burner.rod(
          v(0.026 * Math.cos(a), 0.150, 0.026 * Math.sin(a)),
          v(0.031 * Math.cos(a), 0.176, 0.031 * Math.sin(a)),
          0.0016,
          0.001,
          8);
    }
    burner.rod(v(0.026, 0.147, 0), v(0.052, 0.147, 0.008), 0.0018, 0.0018, 8);
    glb.object("burner", lamp, burner, 42, brassDark);
    MeshMaker flame =
        new MeshMaker()
            .lathe(
                24, 0.0005, 0.171, 0.0050, 0.176, 0.0072, 0.183, 0.0066, 0.192, 0.0044, 0.201,
                0.0018, 0.209, 0, 0.213);
    ObjectNode fire = glb.material("flame", 0, 0, 0, 0, 1);
    glb.emit(fire, 1.0, 0.52, 0.17, 420);
    glb.object("flame", lamp, flame, 60, glb.lastMaterial());
  }

  // ---- the table

  private void table() {
    int table = glb.node("table", -1);
    MeshMaker top = new MeshMaker().box(-0.86, -0.042, -0.55, 0.86, 0, 0.56, 0.010, 0.62);
    glb.object("top", table, top, 30, walnut);
    MeshMaker frame = new MeshMaker().box(-0.78, -0.14, -0.48, 0.78, -0.042, 0.50, 0.004, 0.8);
    for (double x : new double[] {-0.76, 0.70}) {
      for (double z : new double[] {-0.46, 0.42}) {
        frame.box(x, -0.76, z, x + 0.06, -0.14, z + 0.06, 0.006, 0.8);
      }
    }
    glb.object("frame", table, frame, 30, walnut);
    MeshMaker chart = new MeshMaker();
    int rows = 12;
    int[][] grid = new int[rows + 1][rows + 1];
    for (int i = 0; i <= rows; i++) {
      for (int j = 0; j <= rows; j++) {
        double u = (double) i / rows;
        double v = (double) j / rows;
        double curl =
            0.010 * Math.pow(Math.max(0, u - 0.75) * 4, 2) * Math.pow(v, 2)
                + 0.006 * Math.pow(1 - u, 6) * (1 - v);
        grid[i][j] = chart.vertex((u - 0.5) * 0.40, 0.0008 + curl, (v - 0.5) * 0.30, u, v);
      }
    }
    for (int i = 0; i < rows; i++) {
      for (int j = 0; j < rows; j++) {
        chart.quad(grid[i][j], grid[i][j + 1], grid[i + 1][j + 1], grid[i + 1][j]);
      }
    }
    int sheet =
        glb.object(
            "chart",
            table,
            chart,
            60,
            textured("paper", jpeg("chart", Paint.chart()), -1, 1, 1, 1, 0, 0.85));
    glb.move(sheet, 0.34, 0, 0.24);
    glb.turn(sheet, 0, Math.sin(-0.16), 0, Math.cos(-0.16));
  }

  // ---- the orrery

  private void orrery() {
    int orrery = glb.node("orrery", -1);
    MeshMaker base =
        new MeshMaker()
            .lathe(
                128, 0, 0.016, 0.112, 0.016, 0.120, 0.020, 0.122, 0.028, 0.116, 0.035, 0.104, 0.038,
                0.100, 0.044, 0.086, 0.047, 0.080, 0.054, 0.050, 0.058, 0.036, 0.064, 0.030, 0.075,
                0, 0.075);
    for (int k = 0; k < 3; k++) {
      double a = 2 * Math.PI * k / 3 + 0.5;
      base.sphere(0.090 * Math.cos(a), 0.011, 0.090 * Math.sin(a), 0.011, 16);
    }
    glb.object("base", orrery, base, 38, brass);
    MeshMaker pillar =
        new MeshMaker()
            .lathe(
                96, 0.030, 0.072, 0.022, 0.082, 0.018, 0.092, 0.024, 0.100, 0.024, 0.106, 0.017,
                0.112, 0.013, 0.130, 0.0115, 0.165, 0.0135, 0.195, 0.018, 0.202, 0.018, 0.208,
                0.013, 0.214, 0.010, 0.240, 0.010, 0.330, 0, 0.330);
    glb.object("pillar", orrery, pillar, 38, brassPolished);
    int ring =
        glb.object(
            "great_ring", orrery, new MeshMaker().ring(0.262, 0.010, 0.026, 160), 38, graduated);
    glb.move(ring, 0, 0.262, 0);
    // stands on edge, turned a little from the camera
    double tilt = Math.toRadians(82);
    double turn = Math.toRadians(34);
    double[] q = product(axis(0, 1, 0, turn), axis(1, 0, 0, tilt));
    glb.turn(ring, q[0], q[1], q[2], q[3]);
    int horizon =
        glb.object(
            "horizon_ring", orrery, new MeshMaker().ring(0.215, 0.022, 0.006, 160), 38, graduated);
    glb.move(horizon, 0, 0.118, 0);
    MeshMaker props = new MeshMaker();
    for (int k = 0; k < 4; k++) {
      double a = Math.PI / 2 * k + 0.62;
      double c = Math.cos(a);
      double s = Math.sin(a);
      double[] last = v(0.060 * c, 0.052, 0.060 * s);
      for (int step = 1; step <= 10; step++) {
        double t = step / 10.0;
        double r = 0.060 + 0.150 * Math.sin(t * Math.PI / 2);
        double y = 0.052 + 0.063 * (1 - Math.cos(t * Math.PI / 2));
        double[] next = v(r * c, y, r * s);
        props.rod(last, next, 0.0042, 0.0042, 12);
        last = next;
      }
      props.sphere(0.213 * c, 0.124, 0.213 * s, 0.0065, 12);
    }
    glb.object("ring_props", orrery, props, 60, brass);
    int gears = glb.node("gears", orrery);
    double[][] wheels = {
      {0.052, 0.224, 60}, {0.040, 0.238, 48}, {0.060, 0.252, 72}, {0.034, 0.266, 40}
    };
    for (int k = 0; k < wheels.length; k++) {
      int wheel =
          glb.object(
              "wheel_" + (k + 1),
              gears,
              new MeshMaker().gear(wheels[k][0], 0.0034, 0.006, (int) wheels[k][2]),
              25,
              k % 2 == 0 ? brass : brassDark);
      glb.move(wheel, 0, wheels[k][1], 0);
      spin(wheel, 0.2 * k, (k % 2 == 0 ? 1 : -1) * (1.2 + 0.4 * k));
    }
    int pinion =
        glb.object(
            "pinion",
            gears,
            new MeshMaker()
                .gear(0.020, 0.0032, 0.010, 24)
                .rod(v(0, -0.03, 0), v(0, 0.02, 0), 0.004, 0.004, 16),
            25,
            steel);
    glb.move(pinion, 0.0755, 0.252, 0);
    spin(pinion, 0, -4);
    MeshMaker sun = new MeshMaker().sphere(0, 0.352, 0, 0.034, 48);
    glb.object("sun", orrery, sun, 60, gold);
    arms(orrery);
  }

  private void arms(int orrery) {
    int arms = glb.node("arms", orrery);
    // name, radius of orbit, height of arm, planet's radius, first angle, degrees turned
    arm(
        arms,
        "ember",
        0.084,
        0.298,
        0.0125,
        300,
        230,
        textured(
            "ember",
            jpeg(
                "ember",
                Paint.stony(v(0.30, 0.10, 0.06), v(0.75, 0.32, 0.14), v(0.95, 0.62, 0.28), 501)),
            -1,
            1,
            1,
            1,
            0,
            0.34));
    arm(
        arms,
        "dune",
        0.140,
        0.291,
        0.0185,
        205,
        120,
        textured(
            "dune",
            jpeg(
                "dune",
                Paint.stony(v(0.62, 0.43, 0.24), v(0.87, 0.72, 0.47), v(0.96, 0.88, 0.70), 511)),
            -1,
            1,
            1,
            1,
            0,
            0.36));
    arm(
        arms,
        "verdant",
        0.200,
        0.284,
        0.0330,
        128,
        -196,
        textured("verdant", jpeg("verdant", Paint.verdant()), -1, 1, 1, 1, 0, 0.28));
    arm(
        arms,
        "amber",
        0.305,
        0.277,
        0.0460,
        172,
        44,
        textured("amber", jpeg("amber", Paint.amber()), -1, 1, 1, 1, 0, 0.30));
    arm(
        arms,
        "frost",
        0.385,
        0.270,
        0.0260,
        18,
        40,
        textured(
            "frost",
            jpeg(
                "frost",
                Paint.stony(v(0.35, 0.52, 0.66), v(0.72, 0.84, 0.90), v(0.96, 0.98, 1.0), 521)),
            -1,
            1,
            1,
            1,
            0,
            0.24));
  }

  private void arm(
      int arms,
      String planet,
      double orbit,
      double height,
      double radius,
      double from,
      double by,
      int paint) {
    int arm = glb.node("arm_" + planet, arms);
    spin(arm, Math.toRadians(from), Math.toRadians(by));
    MeshMaker rod = new MeshMaker();
    rod.rod(v(-0.30 * orbit, height, 0), v(orbit, height, 0), 0.0026, 0.0020, 12);
    rod.sphere(-0.30 * orbit, height, 0, 0.0075, 14);
    rod.lathe(
        48,
        0.0105,
        height - 0.0035,
        0.0150,
        height - 0.0035,
        0.0150,
        height + 0.0035,
        0.0105,
        height + 0.0035);
    glb.object("rod", arm, rod, 45, brassPolished);
    // the hero hangs below its arm, so that it passes behind the wheels and the pillar
    boolean hangs = planet.equals("verdant");
    double lift = hangs ? -0.022 : 0.030 + radius * 0.35;
    double centre = height + lift + (hangs ? -radius : radius);
    MeshMaker pin = new MeshMaker();
    pin.rod(
        v(orbit, height + (hangs ? 0.006 : -0.006), 0),
        v(orbit, height + lift, 0),
        0.0019,
        0.0015,
        10);
    glb.object("pin", arm, pin, 45, steel);
    int globe =
        glb.object(
            planet,
            arm,
            new MeshMaker().sphere(0, 0, 0, radius, radius > 0.03 ? 64 : 40),
            70,
            paint);
    glb.move(globe, orbit, centre, 0);
    glb.turn(globe, 0, 0, Math.sin(0.2), Math.cos(0.2));
    if (planet.equals("verdant")) {
      glb.tag(globe, "hero");
      int moon =
          glb.object(
              "moon",
              globe,
              new MeshMaker()
                  .sphere(0, 0, 0, 0.0075, 24)
                  .rod(v(0, 0, 0), v(-0.026, -0.003, 0), 0.0010, 0.0010, 8),
              60,
              brassPolished);
      glb.move(moon, 0.057, 0.006, 0.010);
    }
    if (planet.equals("amber")) {
      int ring =
          glb.object(
              "amber_ring", arm, new MeshMaker().ring(0.066, 0.020, 0.0012, 128), 30, graduated);
      glb.move(ring, orbit, centre, 0);
      double[] q = product(axis(0, 0, 1, 0.34), axis(1, 0, 0, 0.20));
      glb.turn(ring, q[0], q[1], q[2], q[3]);
    }
  }

  /** Turns a node about the vertical over all frames; the angle grows towards -z from +x. */
  private void spin(int node, double from, double by) {
    int keys = 13;
    float[] times = new float[keys];
    float[] turns = new float[4 * keys];
    for (int k = 0; k < keys; k++) {
      double t = (double) k / (keys - 1);
      double[] q = axis(0, 1, 0, from + by * t);
      times[k] = (float) (t * (FRAMES - 1) / FPS);
      for (int c = 0; c < 4; c++) {
        turns[4 * k + c] = (float) q[c];
      }
    }
    double[] first = axis(0, 1, 0, from);
    glb.turn(node, first);
    glb.animateTurn(node, times, turns);
  }

  // ---- in front

  private void foreground() {
    int front = glb.node("foreground", -1);
    int dividers = glb.node("dividers", front);
    glb.move(dividers, 0.215, 0, 0.49);
    double[] q = product(axis(0, 1, 0, -0.42), axis(1, 0, 0, -0.10));
    glb.turn(dividers, q[0], q[1], q[2], q[3]);
    for (int side = -1; side <= 1; side += 2) {
      MeshMaker leg = new MeshMaker();
      leg.rod(v(side * 0.058, 0.001, 0), v(side * 0.047, 0.045, 0), 0.0006, 0.0034, 16);
      leg.rod(v(side * 0.047, 0.045, 0), v(side * 0.007, 0.200, 0), 0.0042, 0.0058, 24);
      leg.sphere(side * 0.047, 0.045, 0, 0.0056, 16);
      glb.object(
          side < 0 ? "leg_left" : "leg_right", dividers, leg, 50, side < 0 ? brass : brassPolished);
    }
    MeshMaker hinge = new MeshMaker().sphere(0, 0.206, 0, 0.0155, 32);
    hinge.rod(v(0, 0.206, -0.012), v(0, 0.206, 0.0185), 0.0085, 0.0080, 32);
    hinge.rod(v(0, 0.216, 0), v(0, 0.244, 0), 0.0050, 0.0042, 24);
    hinge.sphere(0, 0.247, 0, 0.0066, 16);
    glb.object("hinge", dividers, hinge, 45, steel);
    MeshMaker arc = new MeshMaker();
    double[] last = null;
    for (int s = 0; s <= 14; s++) {
      double a = Math.toRadians(-112 + 44.0 * s / 14);
      double[] next = v(0.135 * Math.cos(a), 0.206 + 0.135 * Math.sin(a), 0.005);
      if (last != null) {
        arc.rod(last, next, 0.0024, 0.0024, 10);
      }
      last = next;
    }
    glb.object("arc", dividers, arc, 60, brassDark);
    MeshMaker lens = new MeshMaker().ring(0.052, 0.009, 0.011, 96);
    lens.rod(v(0.055, 0, 0), v(0.082, 0, 0), 0.0042, 0.0050, 20);
    int magnifier = glb.node("magnifier", front);
    glb.object("rim", magnifier, lens, 40, brassPolished);
    MeshMaker handle = new MeshMaker().rod(v(0.080, 0, 0), v(0.100, 0, 0), 0.0062, 0.0086, 24);
    handle.rod(v(0.100, 0, 0), v(0.158, 0, 0), 0.0086, 0.0070, 24);
    handle.sphere(0.158, 0, 0, 0.0080, 18);
    glb.object(
        "handle", magnifier, handle, 40, textured("ebony", -1, -1, 0.018, 0.014, 0.012, 0, 0.28));
    glb.move(magnifier, -0.33, 0.0085, 0.40);
    double[] m = product(axis(0, 1, 0, 0.75), axis(0, 0, 1, 0.01));
    glb.turn(magnifier, m[0], m[1], m[2], m[3]);
  }

  private void light() {
    int lights = glb.node("lights", -1);
    int sun = glb.node("sunbeam", lights);
    glb.spot(sun, "sunbeam", v(1.0, 0.83, 0.60), 27, 0.12, 0.23);
    double[] q = look(v(1.45, 1.22, 0.10), v(0.02, 0.10, 0.0));
    glb.move(sun, 1.45, 1.22, 0.10);
    glb.turn(sun, q);
    int camera = glb.node("camera", -1);
    double[] from = v(-0.10, 0.345, 1.36);
    glb.move(camera, from);
    glb.turn(camera, look(from, v(-0.015, 0.200, 0)));
    glb.camera(camera, "main", Math.toRadians(28.5));
  }

  /** The turn that points -z from one place to another with y up. */
  private static double[] look(double[] from, double[] to) {
    double x = to[0] - from[0];
    double y = to[1] - from[1];
    double z = to[2] - from[2];
    double yaw = Math.atan2(-x, -z);
    double pitch = Math.atan2(y, Math.hypot(x, z));
    return product(axis(0, 1, 0, yaw), axis(1, 0, 0, pitch));
  }

  private static double[] axis(double x, double y, double z, double angle) {
    double s = Math.sin(angle / 2);
    return new double[] {x * s, y * s, z * s, Math.cos(angle / 2)};
  }

  private static double[] product(double[] a, double[] b) {
    return new double[] {
      a[3] * b[0] + a[0] * b[3] + a[1] * b[2] - a[2] * b[1],
      a[3] * b[1] - a[0] * b[2] + a[1] * b[3] + a[2] * b[0],
      a[3] * b[2] + a[0] * b[1] - a[1] * b[0] + a[2] * b[3],
      a[3] * b[3] - a[0] * b[0] - a[1] * b[1] - a[2] * b[2]
    };
  }

  private static double[] v(double... values) {
    return values;
  }
}
