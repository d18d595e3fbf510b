package org.wedgecutter.demo;

import static org.wedgecutter.demo.Turns.axis;
import static org.wedgecutter.demo.Turns.look;
import static org.wedgecutter.demo.Turns.product;
import static org.wedgecutter.demo.Turns.v;

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
  private final OrreryPaints paints = new OrreryPaints(glb);

  static void write(OutputStream out) throws IOException {
    OrreryScene scene = new OrreryScene();
    new OrreryRoom(scene.glb, scene.paints).build();
    scene.orrery();
    scene.foreground();
    scene.light();
    scene.air();
    scene.glb.write(out);
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
    glb.object("base", orrery, base, 38, paints.brass);
    MeshMaker pillar =
        new MeshMaker()
            .lathe(
                96, 0.030, 0.072, 0.022, 0.082, 0.018, 0.092, 0.024, 0.100, 0.024, 0.106, 0.017,
                0.112, 0.013, 0.130, 0.0115, 0.165, 0.0135, 0.195, 0.018, 0.202, 0.018, 0.208,
                0.013, 0.214, 0.010, 0.240, 0.010, 0.330, 0, 0.330);
    glb.object("pillar", orrery, pillar, 38, paints.brassPolished);
    int ring =
        glb.object(
            "great_ring",
            orrery,
            new MeshMaker().ring(0.262, 0.010, 0.026, 160),
            38,
            paints.graduated);
    glb.move(ring, 0, 0.262, 0);
    // stands on edge, turned a little from the camera
    double tilt = Math.toRadians(82);
    double turn = Math.toRadians(34);
    double[] q = product(axis(0, 1, 0, turn), axis(1, 0, 0, tilt));
    glb.turn(ring, q[0], q[1], q[2], q[3]);
    int horizon =
        glb.object(
            "horizon_ring",
            orrery,
            new MeshMaker().ring(0.215, 0.022, 0.006, 160),
            38,
            paints.graduated);
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
    glb.object("ring_props", orrery, props, 60, paints.brass);
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
              k % 2 == 0 ? paints.brass : paints.brassDark);
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
            paints.steel);
    glb.move(pinion, 0.0755, 0.252, 0);
    spin(pinion, 0, -4);
    MeshMaker sun = new MeshMaker().sphere(0, 0.352, 0, 0.034, 48);
    glb.object("sun", orrery, sun, 60, paints.gold);
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
        paints.textured(
            "ember",
            paints.jpeg(
                "ember",
                () ->
                    Paint.stony(
                        v(0.30, 0.10, 0.06), v(0.75, 0.32, 0.14), v(0.95, 0.62, 0.28), 501)),
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
        paints.textured(
            "dune",
            paints.jpeg(
                "dune",
                () ->
                    Paint.stony(
                        v(0.62, 0.43, 0.24), v(0.87, 0.72, 0.47), v(0.96, 0.88, 0.70), 511)),
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
        paints.textured("verdant", paints.jpeg("verdant", Paint::verdant), -1, 1, 1, 1, 0, 0.28));
    arm(
        arms,
        "amber",
        0.305,
        0.277,
        0.0460,
        172,
        44,
        paints.textured("amber", paints.jpeg("amber", Paint::amber), -1, 1, 1, 1, 0, 0.30));
    arm(
        arms,
        "frost",
        0.385,
        0.270,
        0.0260,
        18,
        40,
        paints.textured(
            "frost",
            paints.jpeg(
                "frost",
                () ->
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
    glb.object("rod", arm, rod, 45, paints.brassPolished);
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
    glb.object("pin", arm, pin, 45, paints.steel);
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
              paints.brassPolished);
      glb.move(moon, 0.057, 0.006, 0.010);
    }
    if (planet.equals("amber")) {
      int ring =
          glb.object(
              "amber_ring",
              arm,
              new MeshMaker().ring(0.066, 0.020, 0.0012, 128),
              30,
              paints.graduated);
      glb.move(ring, orbit, centre, 0);
      double[] q = product(axis(0, 0, 1, 0.34), axis(1, 0, 0, 0.20));
      glb.turn(ring, q[0], q[1], q[2], q[3]);
    }
  }

  /** Turns a node about the vertical over all frames; the angle grows towards -z from +x. */
  private void spin(int node, double from, double by) {
    spin(glb, node, from, by);
  }

  /** The same in any scene of as many frames. */
  static void spin(GlbWriter glb, int node, double from, double by) {
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
          side < 0 ? "leg_left" : "leg_right",
          dividers,
          leg,
          50,
          side < 0 ? paints.brass : paints.brassPolished);
    }
    MeshMaker hinge = new MeshMaker().sphere(0, 0.206, 0, 0.0155, 32);
    hinge.rod(v(0, 0.206, -0.012), v(0, 0.206, 0.0185), 0.0085, 0.0080, 32);
    hinge.rod(v(0, 0.216, 0), v(0, 0.244, 0), 0.0050, 0.0042, 24);
    hinge.sphere(0, 0.247, 0, 0.0066, 16);
    glb.object("hinge", dividers, hinge, 45, paints.steel);
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
    glb.object("arc", dividers, arc, 60, paints.brassDark);
    MeshMaker lens = new MeshMaker().ring(0.052, 0.009, 0.011, 96);
    lens.rod(v(0.055, 0, 0), v(0.082, 0, 0), 0.0042, 0.0050, 20);
    int magnifier = glb.node("magnifier", front);
    MeshMaker glass =
        new MeshMaker()
            .lathe(
                96, 0, -0.0052, 0.016, -0.0046, 0.030, -0.0030, 0.042, -0.0010, 0.0455, 0.0, 0.042,
                0.0010, 0.030, 0.0030, 0.016, 0.0046, 0, 0.0052);
    glb.glass(glb.material("lens glass", 1, 1, 1, 0, 0.02), 1.5, 0.05, 0.80, 0.93, 0.88);
    glb.object("lens", magnifier, glass, 60, glb.lastMaterial());
    glb.object("rim", magnifier, lens, 40, paints.brassPolished);
    MeshMaker handle = new MeshMaker().rod(v(0.080, 0, 0), v(0.100, 0, 0), 0.0062, 0.0086, 24);
    handle.rod(v(0.100, 0, 0), v(0.158, 0, 0), 0.0086, 0.0070, 24);
    handle.sphere(0.158, 0, 0, 0.0080, 18);
    glb.object(
        "handle",
        magnifier,
        handle,
        40,
        paints.textured("ebony", -1, -1, 0.018, 0.014, 0.012, 0, 0.28));
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
    glb.lens(0.024, 1.6, 1.34);
  }

  /** Dust in the light of the window, and a thread of smoke from the lamp. */
  private void air() {
    int air = glb.node("air", -1);
    ObjectNode haze = glb.medium("haze", air, v(-0.2, 0.5, 0.3), v(3.55, 2.45, 2.55), 0.075);
    glb.color(haze, "color", 0.96, 0.95, 0.93);
    haze.put("anisotropy", 0.55f);
    ObjectNode smoke = glb.medium("smoke", air, v(-0.50, 0.51, -0.16), v(0.15, 0.56, 0.15), 26);
    glb.color(smoke, "color", 0.86, 0.86, 0.88);
    smoke
        .putObject("puff")
        .put("cells", 9)
        .put("octaves", 4)
        .put("threshold", 0.34f)
        .put("foot", 0.10f)
        .put("head", 0.62f)
        .put("sway", 0.75f)
        .put("rise", 1.4f)
        .put("seed", 5);
  }
}
