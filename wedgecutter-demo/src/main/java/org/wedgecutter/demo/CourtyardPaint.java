package org.wedgecutter.demo;

/** Images of the courtyard's stone, plaster, wood and copper. */
final class CourtyardPaint {
  private CourtyardPaint() {}

  /** Distance to the nearest joint between slabs, and which slab. */
  private static double[] slab(double u, double v) {
    double row = Math.floor(v * 9);
    double shift = 0.5 * (row % 2) + 0.21 * Noise.at(row * 3.7, 1, 1, 601);
    double along = u * 6 + shift;
    double column = Math.floor(along);
    double bend = 0.0012 * Noise.fractal(u * 60, v * 60, 2, 3, 603);
    double du = Math.min(along - column, 1 - (along - column)) / 6;
    double dv = Math.min(v * 9 - row, 1 - (v * 9 - row)) / 9;
    return new double[] {
      Math.min(du, dv) + bend, Noise.at(column * 5.3 + 0.4, row * 7.1 + 0.6, 9, 605)
    };
  }

  /** How wet the paving is, 0 to 1: puddles in its hollows. */
  private static double wet(double u, double v) {
    return wet(u, v, slab(u, v));
  }

  private static double wet(double u, double v, double[] slab) {
    double hollow = Noise.fractal(u * 3.1, v * 3.1, 4, 4, 611) + 0.10;
    double near = 1.5 * Math.exp(-(sq((u - 0.545) / 0.085) + sq((v - 0.50) / 0.095)));
    double joint = Math.max(0, 0.002 - slab[0]) * 80;
    double w = (hollow + 0.55 * near - 0.30) * 5 + joint;
    return Math.max(0, Math.min(1, w));
  }

  private static double sq(double x) {
    return x * x;
  }

  static byte[] paving() {
    return Paint.jpeg(
        2048,
        2048,
        0.86,
        (u, v, rgb) -> {
          double[] s = slab(u, v);
          double grain = Noise.fractal(u * 90, v * 90, 1, 4, 621);
          double stain = Noise.fractal(u * 9, v * 9, 3, 5, 623);
          double tone = 0.60 + 0.13 * s[1] + 0.10 * grain + 0.14 * stain;
          double joint = Math.max(0, Math.min(1, (s[0] - 0.0006) / 0.0012));
          double dark = 1 - 0.40 * wet(u, v, s);
          double moss = Math.max(0, Math.min(1, (stain - 0.05) * 3)) * (1 - joint);
          double[] stone = {0.98, 0.93, 0.84};
          double[] gap = {0.30 - 0.08 * moss, 0.29 + 0.05 * moss, 0.24 - 0.10 * moss};
          for (int c = 0; c < 3; c++) {
            double dry = tone * stone[c];
            rgb[c] = (gap[c] + joint * (dry - gap[c])) * dark;
          }
        });
  }

  /** Green is roughness: dry stone is rough, water is smooth. */
  static byte[] pavingRoughness() {
    return Paint.jpeg(
        1024,
        1024,
        0.90,
        (u, v, rgb) -> {
          double dry = 0.86 + 0.10 * Noise.fractal(u * 30, v * 30, 2, 3, 631);
          rgb[0] = 1;
          rgb[1] = dry + wet(u, v) * (0.10 - dry);
          rgb[2] = 0;
        });
  }

  static byte[] render() {
    return Paint.jpeg(
        2048,
        1024,
        0.86,
        (u, v, rgb) -> {
          double trowel = Noise.fractal(u * 22, v * 12, 1, 5, 641);
          double damp = Math.max(0, v - 0.72 + 0.12 * Noise.fractal(u * 9, 1, 2, 4, 643)) * 2.4;
          double streak = Math.max(0, Noise.fractal(u * 38, v * 1.6, 4, 4, 645)) * (1 - v) * 0.5;
          double tone = 0.90 + 0.08 * trowel - 0.28 * Math.min(1, damp) - 0.22 * streak;
          double fallen = Noise.fractal(u * 5.5, v * 4.2, 8, 5, 647) - 0.30 + 0.14 * v;
          double[] lime = {0.95, 0.84, 0.67};
          double[] brick = {0.62, 0.36, 0.26};
          double open = Math.max(0, Math.min(1, (fallen - 0.06) * 14));
          double course = v * 46;
          double head = u * 34 + 0.5 * (Math.floor(course) % 2);
          double bed =
              Math.min(
                  Math.min(course - Math.floor(course), Math.ceil(course) - course) * 1.6,
                  Math.min(head - Math.floor(head), Math.ceil(head) - head) * 2.4);
          double mortar = Math.max(0, Math.min(1, 1 - bed * 5));
          double own = Noise.at(Math.floor(head) * 3.3, Math.floor(course) * 2.7, 3, 649);
          for (int c = 0; c < 3; c++) {
            brick[c] = brick[c] * (0.9 + 0.25 * own);
            brick[c] += mortar * (0.62 - 0.06 * c - brick[c]);
          }
          for (int c = 0; c < 3; c++) {
            rgb[c] = tone * (lime[c] + open * (brick[c] - lime[c]));
          }
        });
  }

  static byte[] rubble() {
    return Paint.jpeg(
        1024,
        512,
        0.86,
        (u, v, rgb) -> {
          double row = Math.floor(v * 5);
          double along = u * 11 + 0.5 * (row % 2) + 0.3 * Noise.at(row * 2.1, 2, 2, 651);
          double column = Math.floor(along);
          double edge =
              Math.min(
                  Math.min(along - column, 1 - along + column) * 0.09,
                  Math.min(v * 5 - row, 1 - v * 5 + row) * 0.2);
          double joint =
              Math.max(0, Math.min(1, (edge + 0.006 * Noise.at(u * 60, v * 30, 3, 653)) / 0.012));
          double own = Noise.at(column * 3.1 + 0.3, row * 5.7 + 0.3, 4, 655);
          double tone = 0.62 + 0.15 * own + 0.14 * Noise.fractal(u * 60, v * 30, 5, 4, 657);
          double lichen = Math.max(0, Noise.fractal(u * 14, v * 7, 7, 4, 659) - 0.12) * 1.4;
          double[] stone = {0.90, 0.86, 0.78};
          for (int c = 0; c < 3; c++) {
            double face = tone * (stone[c] + lichen * (c == 1 ? 0.05 : c == 2 ? -0.25 : -0.02));
            rgb[c] = 0.42 * (1 - joint) + joint * face;
          }
        });
  }

  static byte[] copper() {
    return Paint.jpeg(
        1024,
        1024,
        0.88,
        (u, v, rgb) -> {
          double age = Noise.fractal(u * 7, v * 9, 3, 5, 661) - 0.10;
          double green = Math.max(0, Math.min(1, age * 4));
          double hammer = 0.94 + 0.10 * Noise.fractal(u * 40, v * 50, 2, 2, 663);
          double[] metal = {0.95, 0.60, 0.44};
          double[] patina = {0.42, 0.66, 0.55};
          for (int c = 0; c < 3; c++) {
            rgb[c] = hammer * (metal[c] + green * (patina[c] - metal[c]));
          }
        });
  }

  /** Green is roughness, blue is metal: patina is neither smooth nor metal. */
  static byte[] copperWear() {
    return Paint.jpeg(
        1024,
        1024,
        0.90,
        (u, v, rgb) -> {
          double age = Noise.fractal(u * 7, v * 9, 3, 5, 661) - 0.10;
          double green = Math.max(0, Math.min(1, age * 4));
          rgb[0] = 1;
          rgb[1] = 0.40 + 0.45 * green + 0.12 * Noise.fractal(u * 20, v * 20, 5, 4, 665);
          rgb[2] = 1 - 0.8 * green;
        });
  }
}
