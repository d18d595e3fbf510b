package org.wedgecutter.demo;

import static org.wedgecutter.demo.Turns.v;

import com.fasterxml.jackson.databind.node.ObjectNode;

/** The attic room, its shelf, the lamp and the table. */
final class OrreryRoom {
  private final GlbWriter glb;
  private final OrreryPaints paints;

  OrreryRoom(GlbWriter glb, OrreryPaints paints) {
    this.glb = glb;
    this.paints = paints;
  }

  /** Adds everything to the scene. */
  void build() {
    room();
    lamp();
    table();
  }

  // ---- the room and what stands in it

  private void room() {
    int room = glb.node("room", -1);
    ObjectNode plasterMaterial = glb.material("plaster", 0.86, 0.88, 0.84, 0, 0.92);
    GlbWriter.pbr(plasterMaterial)
        .putObject("baseColorTexture")
        .put("index", paints.jpeg("plaster", Paint::plaster));
    plasterMaterial
        .putObject("normalTexture")
        .put("index", paints.jpeg("plaster normals", Paint::plasterNormals))
        .put("scale", 0.7f);
    int plaster = glb.lastMaterial();
    int boards =
        paints.textured("floor boards", paints.jpeg("boards", Paint::boards), -1, 1, 1, 1, 0, 0.7);
    int beamWood = paints.textured("old beam", -1, -1, 0.10, 0.066, 0.044, 0, 0.8);

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
        paints.textured("panel paint", -1, -1, 0.085, 0.13, 0.125, 0, 0.5));

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
        paints.walnut);
    MeshMaker brackets = new MeshMaker();
    for (double x : new double[] {-0.86, 0.02, 0.82}) {
      brackets.box(x - 0.012, 0.40, -0.985, x + 0.012, 0.545, -0.965, 0.003, 1);
      brackets.rod(v(x, 0.41, -0.97), v(x, 0.54, -0.80), 0.009, 0.007, 12);
    }
    glb.object("brackets", shelf, brackets, 30, paints.brassDark);
    int leather = paints.jpeg("leather", Paint::leather);
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
          paints.textured(
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
            "jar",
            shelf,
            jar,
            50,
            paints.textured("glazed clay", -1, -1, 0.045, 0.16, 0.17, 0, 0.22));
    glb.move(jarNode, -0.26, 0.5755, -0.87);
    MeshMaker globe = new MeshMaker().sphere(0, 0.11, 0, 0.062, 32);
    int globeNode =
        glb.object(
            "globe",
            shelf,
            globe,
            60,
            paints.textured("old globe", -1, -1, 0.50, 0.38, 0.20, 0, 0.5));
    glb.move(globeNode, 0.50, 0.5755, -0.87);
    MeshMaker stand =
        new MeshMaker().lathe(48, 0, 0, 0.05, 0, 0.05, 0.008, 0.012, 0.016, 0.008, 0.045);
    stand.rod(v(0, 0.03, 0), v(0, 0.19, 0), 0.004, 0.004, 10);
    glb.move(glb.object("globe_stand", shelf, stand, 40, paints.brassDark), 0.50, 0.5755, -0.87);
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
    glb.object("font", lamp, font, 42, paints.brassPolished);
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
    glb.object("burner", lamp, burner, 42, paints.brassDark);
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
    glb.object("top", table, top, 30, paints.walnut);
    MeshMaker frame = new MeshMaker().box(-0.78, -0.14, -0.48, 0.78, -0.042, 0.50, 0.004, 0.8);
    for (double x : new double[] {-0.76, 0.70}) {
      for (double z : new double[] {-0.46, 0.42}) {
        frame.box(x, -0.76, z, x + 0.06, -0.14, z + 0.06, 0.006, 0.8);
      }
    }
    glb.object("frame", table, frame, 30, paints.walnut);
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
            paints.textured("paper", paints.jpeg("chart", Paint::chart), -1, 1, 1, 1, 0, 0.85));
    glb.move(sheet, 0.34, 0, 0.24);
    glb.turn(sheet, 0, Math.sin(-0.16), 0, Math.cos(-0.16));
  }
}
