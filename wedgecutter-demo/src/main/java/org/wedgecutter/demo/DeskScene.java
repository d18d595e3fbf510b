package org.wedgecutter.demo;

import static org.wedgecutter.demo.Turns.axis;
import static org.wedgecutter.demo.Turns.look;
import static org.wedgecutter.demo.Turns.product;
import static org.wedgecutter.demo.Turns.v;

import com.fasterxml.jackson.databind.node.ObjectNode;
import java.io.IOException;
import java.io.OutputStream;

/**
 * Another desk: a small tellurion by a window at dusk, with a reading lamp, a pen and a loupe.
 * Other things than in the attic, under the same names, so that the orrery's plan fits. The inkwell
 * is something that the orrery's plan has no rule for.
 */
final class DeskScene {
  private final GlbWriter glb = new GlbWriter();
  private final OrreryPaints paints = new OrreryPaints(glb);

  static void write(OutputStream out) throws IOException {
    DeskScene scene = new DeskScene();
    scene.room();
    scene.lamp();
    scene.table();
    scene.tellurion();
    scene.foreground();
    scene.inkwell();
    scene.camera();
    scene.glb.write(out);
  }

  private void room() {
    int room = glb.node("room", -1);
    int wall = paints.textured("dusk green", -1, -1, 0.10, 0.17, 0.15, 0, 0.7);
    int wood = paints.textured("limed oak", -1, -1, 0.30, 0.24, 0.17, 0, 0.6);
    glb.object(
        "wall_back",
        room,
        new MeshMaker().panel(v(-1.6, -0.76, -0.72), v(3.2, 0, 0), v(0, 2.4, 0), 2, 1.5),
        1,
        wall);
    glb.object(
        "wall_right",
        room,
        new MeshMaker().panel(v(1.3, -0.76, -0.72), v(0, 0, 2.6), v(0, 2.4, 0), 2, 1.5),
        1,
        wall);
    MeshMaker panels = new MeshMaker();
    for (int k = 0; k < 6; k++) {
      double x = -1.32 + 0.46 * k;
      panels.box(x, 0.30, -0.722, x + 0.40, 0.322, -0.702, 0.004, 1);
      panels.box(x, 0.98, -0.722, x + 0.40, 1.002, -0.702, 0.004, 1);
      panels.box(x, 0.30, -0.722, x + 0.022, 1.0, -0.702, 0.004, 1);
      panels.box(x + 0.378, 0.30, -0.722, x + 0.40, 1.0, -0.702, 0.004, 1);
    }
    panels.box(-1.6, 0.20, -0.73, 1.3, 0.235, -0.69, 0.006, 1);
    glb.object("panelling", room, panels, 30, wall);
    int frame = glb.node("picture", room);
    glb.object(
        "moulding",
        frame,
        new MeshMaker().box(0.235, 0.42, -0.72, 0.625, 0.90, -0.688, 0.010, 1),
        30,
        paints.brassDark);
    glb.object(
        "print",
        frame,
        new MeshMaker().panel(v(0.262, 0.447, -0.6875), v(0.336, 0, 0), v(0, 0.426, 0), 1, 1),
        1,
        paints.textured("print", paints.jpeg("chart", Paint::chart), -1, 0.8, 0.8, 0.75, 0, 0.9));
    int window = glb.node("window", room);
    MeshMaker bars = new MeshMaker();
    for (int k = 0; k < 4; k++) {
      double z = -0.52 + k * 0.40;
      bars.box(-1.255, 0.0, z - 0.016, -1.215, 1.36, z + 0.016, 0.004, 1);
      double y = k * 0.4533;
      bars.box(-1.255, y - 0.016, -0.52, -1.215, y + 0.016, 0.68, 0.004, 1);
    }
    glb.object("frame", window, bars, 30, wood);
    ObjectNode dusk = glb.material("dusk", 0, 0, 0, 0, 1);
    glb.emit(dusk, 0.36, 0.55, 1.0, 1.7);
    glb.object(
        "sky",
        window,
        new MeshMaker().panel(v(-1.28, 0.0, 0.68), v(0, 0, -1.2), v(0, 1.36, 0), 1, 1),
        1,
        glb.lastMaterial());
    MeshMaker left = new MeshMaker();
    left.panel(v(-1.24, -0.76, 1.8), v(0, 0, -2.52), v(0, 0.76, 0), 1.6, 0.5);
    left.panel(v(-1.24, 1.36, 1.8), v(0, 0, -2.52), v(0, 0.4, 0), 1.6, 0.4);
    left.panel(v(-1.24, 0, -0.52), v(0, 0, -0.20), v(0, 1.36, 0), 0.3, 0.9);
    left.panel(v(-1.24, 0, 1.8), v(0, 0, -1.12), v(0, 1.36, 0), 0.6, 0.9);
    glb.object("wall_left", room, left, 1, wall);
  }

  private void lamp() {
    int lamp = glb.node("lamp", -1);
    glb.move(lamp, 0.36, 0, -0.20);
    MeshMaker foot =
        new MeshMaker()
            .lathe(
                80, 0, 0, 0.085, 0, 0.090, 0.006, 0.086, 0.014, 0.040, 0.024, 0.014, 0.036, 0.010,
                0.06, 0.0085, 0.30, 0, 0.30);
    glb.object("foot", lamp, foot, 40, paints.brassPolished);
    MeshMaker arm = new MeshMaker();
    double[] last = v(0, 0.30, 0);
    for (int s = 1; s <= 12; s++) {
      double a = Math.PI * s / 12;
      double[] next = v(-0.05 + 0.05 * Math.cos(a), 0.30 + 0.06 * Math.sin(a), 0.02 * s / 12);
      arm.rod(last, next, 0.0065, 0.0065, 12);
      last = next;
    }
    glb.object("arm", lamp, arm, 60, paints.brassPolished);
    MeshMaker shade =
        new MeshMaker()
            .lathe(
                80, 0.022, 0.316, 0.040, 0.312, 0.095, 0.262, 0.118, 0.214, 0.115, 0.214, 0.092,
                0.258, 0.038, 0.306, 0.020, 0.310);
    int shadeNode =
        glb.object(
            "shade",
            lamp,
            shade,
            50,
            paints.textured("enamel green", -1, -1, 0.015, 0.14, 0.085, 0, 0.16));
    glb.move(shadeNode, -0.10, -0.02, 0.02);
    ObjectNode glow = glb.material("bulb light", 0, 0, 0, 0, 1);
    glb.emit(glow, 1.0, 0.60, 0.28, 560);
    int bulb =
        glb.object(
            "bulb", lamp, new MeshMaker().sphere(0, 0.236, 0, 0.021, 20), 60, glb.lastMaterial());
    glb.move(bulb, -0.10, 0, 0.02);
  }

  private void table() {
    int table = glb.node("table", -1);
    glb.object(
        "top",
        table,
        new MeshMaker().box(-0.90, -0.04, -0.52, 0.82, 0, 0.60, 0.010, 0.62),
        30,
        paints.walnut);
    int leather = paints.jpeg("leather", Paint::leather);
    glb.object(
        "pad",
        table,
        new MeshMaker().box(-0.40, 0, 0.06, 0.30, 0.0045, 0.46, 0.002, 3),
        30,
        paints.textured("oxblood leather", leather, -1, 0.36, 0.10, 0.07, 0, 0.5));
    int paper = paints.textured("letter", -1, -1, 0.74, 0.70, 0.60, 0, 0.9);
    int letters =
        glb.object(
            "letter",
            table,
            new MeshMaker().box(-0.105, 0.0045, -0.15, 0.105, 0.0056, 0.15, 0.0002, 1),
            30,
            paper);
    glb.move(letters, 0.07, 0, 0.27);
    glb.turn(letters, axis(0, 1, 0, 0.24));
    int books = glb.node("books", table);
    double[][] dyes = {{0.30, 0.20, 0.09}, {0.08, 0.13, 0.18}, {0.26, 0.08, 0.06}};
    double y = 0;
    for (int k = 0; k < dyes.length; k++) {
      double high = 0.034 - 0.005 * k;
      double wide = 0.115 - 0.012 * k;
      int node =
          glb.object(
              "book_" + (k + 1),
              books,
              new MeshMaker().box(-wide, y, -0.085, wide, y + high, 0.085, 0.003, 3),
              30,
              paints.textured(
                  "cloth " + k, leather, -1, dyes[k][0], dyes[k][1], dyes[k][2], 0, 0.6));
      glb.move(node, -0.50, 0, -0.26);
      glb.turn(node, axis(0, 1, 0, 0.5 - 0.32 * k));
      y += high;
    }
  }

  private void tellurion() {
    int orrery = glb.node("orrery", -1);
    glb.move(orrery, -0.10, 0, -0.10);
    MeshMaker base =
        new MeshMaker()
            .lathe(
                96, 0, 0.010, 0.080, 0.010, 0.086, 0.014, 0.086, 0.022, 0.070, 0.030, 0.052, 0.036,
                0.026, 0.044, 0, 0.044);
    for (int k = 0; k < 3; k++) {
      double a = 2 * Math.PI * k / 3 + 0.4;
      base.sphere(0.066 * Math.cos(a), 0.008, 0.066 * Math.sin(a), 0.009, 14);
    }
    glb.object("base", orrery, base, 38, paints.brass);
    glb.object(
        "pillar",
        orrery,
        new MeshMaker()
            .lathe(
                80, 0.022, 0.042, 0.014, 0.056, 0.017, 0.064, 0.010, 0.074, 0.0085, 0.130, 0.0125,
                0.150, 0.0085, 0.162, 0.0075, 0.205, 0, 0.205),
        38,
        paints.brassPolished);
    int ring =
        glb.object(
            "zodiac_ring",
            orrery,
            new MeshMaker().ring(0.118, 0.020, 0.004, 128),
            38,
            paints.graduated);
    glb.move(ring, 0, 0.105, 0);
    MeshMaker props = new MeshMaker();
    for (int k = 0; k < 3; k++) {
      double a = 2 * Math.PI * k / 3 + 1.4;
      props.rod(
          v(0.040 * Math.cos(a), 0.036, 0.040 * Math.sin(a)),
          v(0.116 * Math.cos(a), 0.104, 0.116 * Math.sin(a)),
          0.0030,
          0.0026,
          12);
    }
    glb.object("ring_props", orrery, props, 60, paints.brass);
    glb.object("sun", orrery, new MeshMaker().sphere(0, 0.232, 0, 0.030, 40), 60, paints.gold);
    int wheel =
        glb.object(
            "wheel", orrery, new MeshMaker().gear(0.046, 0.0032, 0.006, 60), 25, paints.brassDark);
    glb.move(wheel, 0, 0.176, 0);
    OrreryScene.spin(glb, wheel, 0, -2.6);
    int arms = glb.node("arms", orrery);
    int arm = glb.node("arm_verdant", arms);
    OrreryScene.spin(glb, arm, Math.toRadians(150), Math.toRadians(-205));
    MeshMaker rod = new MeshMaker();
    rod.rod(v(-0.07, 0.190, 0), v(0.205, 0.190, 0), 0.0036, 0.0030, 14);
    rod.sphere(-0.07, 0.190, 0, 0.011, 18);
    glb.object("rod", arm, rod, 45, paints.brassPolished);
    MeshMaker pin = new MeshMaker();
    pin.rod(v(0.200, 0.184, 0), v(0.200, 0.214, 0), 0.0024, 0.0020, 12);
    glb.object("pin", arm, pin, 45, paints.steel);
    int globe =
        glb.object(
            "verdant",
            arm,
            new MeshMaker().sphere(0, 0, 0, 0.046, 64),
            70,
            paints.textured(
                "verdant", paints.jpeg("verdant", Paint::verdant), -1, 1, 1, 1, 0, 0.28));
    glb.move(globe, 0.200, 0.258, 0);
    glb.turn(globe, 0, 0, Math.sin(0.2), Math.cos(0.2));
    glb.tag(globe, "hero");
    int moon =
        glb.object(
            "moon",
            globe,
            new MeshMaker()
                .sphere(0, 0, 0, 0.0105, 28)
                .rod(v(0, 0, 0), v(-0.040, -0.003, 0), 0.0012, 0.0012, 8),
            60,
            paints.brassPolished);
    glb.move(moon, 0.083, 0.010, 0.014);
  }

  private void foreground() {
    int front = glb.node("foreground", -1);
    int pen = glb.node("pen", front);
    glb.move(pen, 0.10, 0.013, 0.27);
    double[] q = product(axis(0, 1, 0, 0.62), axis(0, 0, 1, -0.03));
    glb.turn(pen, q[0], q[1], q[2], q[3]);
    int ebonite = paints.textured("ebonite", -1, -1, 0.02, 0.022, 0.03, 0, 0.14);
    MeshMaker barrel = new MeshMaker().rod(v(-0.075, 0, 0), v(0.045, 0, 0), 0.0052, 0.0068, 28);
    barrel.sphere(-0.075, 0, 0, 0.0052, 18);
    glb.object("barrel", pen, barrel, 45, ebonite);
    MeshMaker bands = new MeshMaker().rod(v(0.042, 0, 0), v(0.048, 0, 0), 0.0071, 0.0071, 28);
    bands.rod(v(-0.020, 0, 0), v(-0.016, 0, 0), 0.0066, 0.0066, 28);
    glb.object("bands", pen, bands, 45, paints.gold);
    glb.object(
        "section",
        pen,
        new MeshMaker().rod(v(0.046, 0, 0), v(0.066, 0, 0), 0.0060, 0.0044, 24),
        45,
        ebonite);
    glb.object(
        "nib",
        pen,
        new MeshMaker().rod(v(0.066, 0, 0), v(0.088, -0.001, 0), 0.0034, 0.0004, 16),
        45,
        paints.gold);
    int loupe = glb.node("loupe", front);
    glb.object("rim", loupe, new MeshMaker().ring(0.034, 0.007, 0.010, 80), 40, paints.steel);
    MeshMaker handle = new MeshMaker().rod(v(0.038, 0, 0), v(0.055, 0, 0), 0.0038, 0.0050, 18);
    handle.rod(v(0.055, 0, 0), v(0.112, 0, 0), 0.0064, 0.0056, 20);
    handle.sphere(0.112, 0, 0, 0.0060, 16);
    glb.object("handle", loupe, handle, 40, ebonite);
    glb.move(loupe, -0.25, 0.0105, 0.27);
    glb.turn(loupe, axis(0, 1, 0, 2.5));
  }

  private void inkwell() {
    int inkwell = glb.node("inkwell", -1);
    glb.move(inkwell, 0.27, 0, 0.06);
    MeshMaker pot =
        new MeshMaker()
            .lathe(
                64, 0, 0, 0.034, 0, 0.037, 0.004, 0.038, 0.030, 0.030, 0.042, 0.018, 0.046, 0.018,
                0.050, 0.014, 0.050, 0.013, 0.030);
    glb.object(
        "pot", inkwell, pot, 45, paints.textured("cobalt glaze", -1, -1, 0.02, 0.05, 0.22, 0, 0.1));
    int lid =
        glb.object(
            "lid",
            inkwell,
            new MeshMaker().lathe(48, 0, 0, 0.020, 0, 0.021, 0.004, 0.012, 0.010, 0, 0.012),
            45,
            paints.brassPolished);
    glb.move(lid, 0.052, 0.001, 0.016);
  }

  private void camera() {
    int lights = glb.node("lights", -1);
    int beam = glb.node("dusk_beam", lights);
    glb.spot(beam, "dusk_beam", v(0.45, 0.62, 1.0), 4.5, 0.16, 0.30);
    glb.move(beam, -1.15, 1.15, 0.35);
    glb.turn(beam, look(v(-1.15, 1.15, 0.35), v(-0.12, 0.05, -0.05)));
    int camera = glb.node("camera", -1);
    double[] from = v(-0.14, 0.40, 1.20);
    glb.move(camera, from);
    glb.turn(camera, look(from, v(-0.01, 0.140, 0)));
    glb.camera(camera, "main", Math.toRadians(27));
    glb.lens(0.024, 2.2, 1.22);
    int air = glb.node("air", -1);
    var haze = glb.medium("haze", air, v(-0.1, 0.42, 0.3), v(3.1, 2.3, 2.0), 0.06);
    glb.color(haze, "color", 0.92, 0.95, 0.98);
    haze.put("anisotropy", 0.4f);
  }
}
