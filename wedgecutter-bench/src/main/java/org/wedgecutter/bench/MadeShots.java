package org.wedgecutter.bench;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Locale;
import java.util.Random;

/**
 * Shots that are made up from a seed, unlike any demo: balls and boxes on a floor, of several
 * materials, cut into three layers. Each is an OBJ file with its material library and a plan.
 */
final class MadeShots {
  private static final int RINGS = 24;

  /** A kind of shot. */
  enum Kind {
    /** A hundred boxes that light one another. */
    CROWD(100, 0, false, 5),
    /** Balls of glass. */
    GLASS(0, 9, false, 3),
    /** Polished balls that show one another. */
    POLISHED(12, 12, true, 8),
    /** A single box: mostly sky. */
    SPARSE(1, 0, false, 2);

    private final int boxes;
    private final int balls;
    private final boolean polished;
    private final int bounces;

    Kind(int boxes, int balls, boolean polished, int bounces) {
      this.boxes = boxes;
      this.balls = balls;
      this.polished = polished;
      this.bounces = bounces;
    }

    String title() {
      return "made, " + name().toLowerCase(Locale.ROOT);
    }
  }

  private final StringBuilder obj = new StringBuilder("mtllib made.mtl\n");
  private int vertices;

  private MadeShots() {}

  /** Writes a shot into a folder and returns its plan's file. */
  static Path write(Kind kind, Path folder) throws IOException {
    MadeShots made = new MadeShots();
    Random random = new Random(kind.ordinal() + 7L);
    made.box("floor", "floor", new double[] {0, -0.1, 0}, new double[] {6, 0.1, 6});
    int all = kind.boxes + kind.balls;
    for (int k = 0; k < all; k++) {
      double size = 0.15 + 0.35 * random.nextDouble();
      double[] at = {8 * random.nextDouble() - 4, size, 8 * random.nextDouble() - 4};
      String name = (at[2] > 0 ? "front_" : "back_") + k;
      if (k < kind.boxes) {
        made.box(name, "matte" + k % 3, at, new double[] {size, size, size});
      } else {
        made.ball(name, kind.polished ? "polished" : "glass", at, size);
      }
    }
    Files.writeString(folder.resolve("made.obj"), made.obj);
    Files.writeString(
        folder.resolve("made.mtl"),
        """
        newmtl floor
        Kd 0.55 0.5 0.45
        newmtl matte0
        Kd 0.8 0.3 0.2
        newmtl matte1
        Kd 0.3 0.6 0.3
        newmtl matte2
        Kd 0.6 0.6 0.75
        newmtl polished
        Kd 0.2 0.25 0.3
        Ks 0.9 0.8 0.6
        Ns 900
        illum 3
        newmtl glass
        Kd 1 1 1
        Ks 0.04 0.04 0.04
        Ns 1000
        Ni 1.5
        d 0.05
        illum 7
        """);
    Path plan = folder.resolve("made.wedge");
    Files.writeString(
        plan,
        """
        {"wedgecutter": 1,
         "shot": {"scene": "made.obj", "frames": "1", "fps": 24, "size": [960, 540], "samples": 32, "bounces": %d},
         "collections": [
           {"name": "Front", "rule": "name:front*"},
           {"name": "Back", "rule": "name:back*"}],
         "layers": [
           {"name": "Ground", "hue": 0, "cells": {"Front": {"role": "Holdout"}, "Back": {"role": "Holdout"}},
            "rest": {"role": "Seen"}},
           {"name": "Back", "hue": 1, "cells": {"Back": {"role": "Seen"}}},
           {"name": "Front", "hue": 2, "cells": {"Front": {"role": "Seen"}}}],
         "recipe": {"joins": [
           {"layer": "Ground", "join": "plus"}, {"layer": "Back", "join": "plus"},
           {"layer": "Front", "join": "plus"}]},
         "output": {"colour": "half", "compression": "zip", "passes": true}}
        """
            .formatted(kind.bounces));
    return plan;
  }

  private void vertex(double x, double y, double z) {
    obj.append(String.format(Locale.ROOT, "v %.5f %.5f %.5f%n", x, y, z));
    vertices++;
  }

  private void box(String name, String material, double[] at, double[] half) {
    obj.append("g ").append(name).append("\nusemtl ").append(material).append('\n');
    int first = vertices + 1;
    for (int k = 0; k < 8; k++) {
      vertex(
          at[0] + ((k & 1) == 0 ? -1 : 1) * half[0],
          at[1] + ((k & 2) == 0 ? -1 : 1) * half[1],
          at[2] + ((k & 4) == 0 ? -1 : 1) * half[2]);
    }
    for (int[] f :
        List.of(
            new int[] {0, 2, 3, 1},
            new int[] {4, 5, 7, 6},
            new int[] {0, 1, 5, 4},
            new int[] {2, 6, 7, 3},
            new int[] {0, 4, 6, 2},
            new int[] {1, 3, 7, 5})) {
      obj.append("f");
      for (int v : f) {
        obj.append(' ').append(first + v);
      }
      obj.append('\n');
    }
  }

  private void ball(String name, String material, double[] at, double radius) {
    obj.append("g ").append(name).append("\nusemtl ").append(material).append('\n');
    int first = vertices + 1;
    for (int v = 0; v <= RINGS; v++) {
      for (int u = 0; u < RINGS; u++) {
        double a = Math.PI * v / RINGS;
        double b = 2 * Math.PI * u / RINGS;
        vertex(
            at[0] + radius * Math.sin(a) * Math.cos(b),
            at[1] + radius * Math.cos(a),
            at[2] + radius * Math.sin(a) * Math.sin(b));
      }
    }
    for (int v = 0; v < RINGS; v++) {
      for (int u = 0; u < RINGS; u++) {
        int next = (u + 1) % RINGS;
        int a = first + v * RINGS + u;
        int b = first + v * RINGS + next;
        int c = first + (v + 1) * RINGS + next;
        int d = first + (v + 1) * RINGS + u;
        // the poles are triangles: a quad there has two corners in one place
        obj.append(
            v == 0
                ? "f %d %d %d%n".formatted(a, c, d)
                : v == RINGS - 1
                    ? "f %d %d %d%n".formatted(a, b, d)
                    : "f %d %d %d %d%n".formatted(a, b, c, d));
      }
    }
  }
}
