package org.wedgecutter.demo;

import java.awt.BasicStroke;
import java.awt.Color;
import java.awt.Graphics2D;
import java.awt.RenderingHints;
import java.awt.geom.Arc2D;
import java.awt.geom.Ellipse2D;
import java.awt.geom.Line2D;
import java.awt.image.BufferedImage;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.UncheckedIOException;
import javax.imageio.IIOImage;
import javax.imageio.ImageIO;
import javax.imageio.ImageWriteParam;
import javax.imageio.ImageWriter;
import javax.imageio.stream.ImageOutputStream;

/** The demo's textures, made of noise and lines. */
final class Paint {
  private Paint() {}

  /**
   * Colour of a place on an image, both coordinates from 0 to 1; components from 0 to 1,
   * sRGB-coded.
   */
  interface Shader {
    void at(double u, double v, double[] rgb);
  }

  static byte[] jpeg(int width, int height, double quality, Shader shader) {
    return encode(image(width, height, shader), quality);
  }

  private static BufferedImage image(int width, int height, Shader shader) {
    BufferedImage image = new BufferedImage(width, height, BufferedImage.TYPE_INT_RGB);
    double[] rgb = new double[3];
    for (int y = 0; y < height; y++) {
      for (int x = 0; x < width; x++) {
        shader.at((x + 0.5) / width, (y + 0.5) / height, rgb);
        image.setRGB(x, y, code(rgb[0]) << 16 | code(rgb[1]) << 8 | code(rgb[2]));
      }
    }
    return image;
  }

  private static int code(double value) {
    return (int) Math.max(0, Math.min(255, Math.round(value * 255)));
  }

  private static byte[] encode(BufferedImage image, double quality) {
    ByteArrayOutputStream out = new ByteArrayOutputStream();
    ImageWriter writer = ImageIO.getImageWritersByFormatName("jpeg").next();
    try (ImageOutputStream stream = ImageIO.createImageOutputStream(out)) {
      writer.setOutput(stream);
      ImageWriteParam param = writer.getDefaultWriteParam();
      param.setCompressionMode(ImageWriteParam.MODE_EXPLICIT);
      param.setCompressionQuality((float) quality);
      writer.write(null, new IIOImage(image, null, null), param);
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    } finally {
      writer.dispose();
    }
    return out.toByteArray();
  }

  static void mix(double[] out, double t, double[] a, double[] b) {
    double k = Math.max(0, Math.min(1, t));
    for (int c = 0; c < 3; c++) {
      out[c] = a[c] + k * (b[c] - a[c]);
    }
  }

  /** How far into the grain a place is: 0 light early wood to 1 dark late wood. */
  private static double grain(double u, double v) {
    double x = u * 2.2;
    double y = v * 1.3;
    double warp = Noise.fractal(x * 0.8, y * 2.5, 3, 4, 11) * 0.55;
    double rings = (y + warp) * 11;
    double saw = rings - Math.floor(rings);
    double band = Math.pow(saw, 2.2) * (1 - Math.exp(-(1 - saw) * 14));
    double fibre = Noise.fractal(x * 7, y * 160, 5, 3, 23) * 0.55;
    return band * 0.75 + 0.25 + fibre * 0.4;
  }

  static byte[] walnut() {
    double[] light = {0.53, 0.345, 0.205};
    double[] dark = {0.215, 0.118, 0.066};
    return jpeg(
        2048,
        1024,
        0.86,
        (u, v, rgb) -> {
          mix(rgb, grain(u, v), light, dark);
          double figure = 1 + 0.16 * Noise.fractal(u * 5, v * 3, 9, 4, 51);
          double pore = Noise.at(u * 40, v * 420, 2, 31) > 0.62 ? 0.72 : 1;
          for (int c = 0; c < 3; c++) {
            rgb[c] *= figure * pore;
          }
        });
  }

  /** Green is roughness, blue is metal: worn and rubbed varnish. */
  static byte[] varnish() {
    return jpeg(
        1024,
        512,
        0.85,
        (u, v, rgb) -> {
          double worn = Noise.fractal(u * 6, v * 4, 1, 5, 71);
          double streak = Noise.fractal(u * 3, v * 90, 1, 3, 75);
          rgb[0] = 1;
          rgb[1] = 0.62 + 0.22 * worn + 0.10 * streak + 0.08 * grain(u, v);
          rgb[2] = 0;
        });
  }

  /** Roughness and metal of handled brass: smudges, fine lines of polishing. */
  static byte[] brassWear() {
    return jpeg(
        1024,
        512,
        0.88,
        (u, v, rgb) -> {
          double smudge = Noise.fractal(u * 5, v * 5, 2, 5, 91);
          double line = Noise.at(u * 6, v * 300, 7, 95);
          rgb[0] = 1;
          rgb[1] = 0.56 + 0.30 * smudge + 0.10 * line;
          rgb[2] = 1;
        });
  }

  static byte[] brassColor() {
    double[] bright = {0.945, 0.795, 0.50};
    double[] tarnish = {0.72, 0.53, 0.30};
    return jpeg(
        512,
        512,
        0.88,
        (u, v, rgb) -> {
          double t = 0.42 + 0.9 * Noise.fractal(u * 6, v * 6, 4, 5, 101);
          mix(rgb, t * t, bright, tarnish);
        });
  }

  /** Engraved graduation: lines across a band, long at every tenth. */
  static byte[] graduation() {
    double[] brass = {0.93, 0.78, 0.49};
    double[] ink = {0.16, 0.11, 0.06};
    return jpeg(
        1024,
        128,
        0.9,
        (u, v, rgb) -> {
          double at = u * 60;
          double near = Math.abs(at - Math.rint(at));
          boolean tenth = ((long) Math.rint(at)) % 10 == 0;
          boolean fifth = ((long) Math.rint(at)) % 5 == 0;
          double reach = tenth ? 0.30 : fifth ? 0.22 : 0.14;
          boolean top = v > 0.5 && v < 0.5 + reach;
          boolean edge = Math.abs(v - 0.51) < 0.012 || Math.abs(v - 0.79) < 0.012;
          double line = top && near < (tenth ? 0.13 : 0.08) || edge ? 0.9 : 0;
          double t = 0.25 + 0.5 * Noise.fractal(u * 20, v * 4, 4, 4, 111);
          mix(rgb, line + (1 - line) * t * 0.4, brass, ink);
        });
  }

  private interface Globe {
    void at(double x, double y, double z, double latitude, double[] rgb);
  }

  private static byte[] globe(int width, Globe globe) {
    return jpeg(
        width,
        width / 2,
        0.9,
        (u, v, rgb) -> {
          double polar = v * Math.PI;
          double a = u * 2 * Math.PI;
          double x = Math.sin(polar) * Math.cos(a);
          double z = Math.sin(polar) * Math.sin(a);
          globe.at(x, Math.cos(polar), z, Math.PI / 2 - polar, rgb);
        });
  }

  /** The hero: green land, teal shallows, deep sea, cream clouds, painted by hand. */
  static byte[] verdant() {
    double[] deep = {0.05, 0.27, 0.34};
    double[] shallow = {0.16, 0.53, 0.52};
    double[] shore = {0.80, 0.74, 0.46};
    double[] green = {0.27, 0.55, 0.17};
    double[] forest = {0.10, 0.33, 0.12};
    double[] cloud = {0.95, 0.93, 0.85};
    return globe(
        1024,
        (x, y, z, latitude, rgb) -> {
          double wx = x + 0.35 * Noise.at(x * 2, y * 2, z * 2, 5);
          double land = Noise.fractal(wx * 1.7, y * 1.7, z * 1.7, 6, 121) + 0.02;
          if (land < 0) {
            mix(rgb, 1 + land * 5, deep, shallow);
          } else if (land < 0.035) {
            mix(rgb, land / 0.035, shore, shore);
          } else {
            mix(rgb, 0.5 + 2.4 * Noise.fractal(x * 5, y * 5, z * 5, 4, 131), green, forest);
          }
          double swirl =
              Noise.fractal(
                  x * 2.2 + 0.4 * Noise.at(x * 3, y * 5, z * 3, 7), y * 6, z * 2.2, 5, 141);
          double cover = Math.max(0, Math.min(1, (swirl - 0.10) * 5));
          double[] base = rgb.clone();
          mix(rgb, cover * 0.85, base, cloud);
          double cap = Math.max(0, Math.min(1, (Math.abs(latitude) - 1.18 + 0.2 * land) * 8));
          base = rgb.clone();
          mix(rgb, cap, base, cloud);
        });
  }

  /** A banded giant. */
  static byte[] amber() {
    double[][] bands = {
      {0.86, 0.72, 0.50}, {0.72, 0.45, 0.24}, {0.93, 0.84, 0.66}, {0.60, 0.33, 0.18},
      {0.88, 0.70, 0.45}, {0.78, 0.52, 0.30}, {0.95, 0.88, 0.73}, {0.66, 0.42, 0.26}
    };
    return globe(
        1024,
        (x, y, z, latitude, rgb) -> {
          double turbulent = 0.10 * Noise.fractal(x * 4, y * 9, z * 4, 5, 151);
          double at = (latitude / Math.PI + 0.5 + turbulent) * 13;
          int band = (int) Math.floor(at);
          double t = at - band;
          mix(
              rgb,
              t * t * (3 - 2 * t),
              bands[Math.floorMod(band, 8)],
              bands[Math.floorMod(band + 1, 8)]);
        });
  }

  static byte[] stony(double[] low, double[] high, double[] crest, int seed) {
    return globe(
        512,
        (x, y, z, latitude, rgb) -> {
          double h = Noise.fractal(x * 2.6, y * 2.6, z * 2.6, 6, seed);
          mix(rgb, 0.5 + 1.6 * h, low, high);
          double ridge = 1 - Math.abs(Noise.fractal(x * 5, y * 5, z * 5, 4, seed + 9)) * 5;
          double[] base = rgb.clone();
          mix(rgb, Math.max(0, ridge) * 0.5, base, crest);
        });
  }

  static byte[] plaster() {
    double[] a = {0.62, 0.60, 0.54};
    double[] b = {0.43, 0.43, 0.40};
    return jpeg(
        1024,
        1024,
        0.82,
        (u, v, rgb) -> {
          double blotch = 0.45 + 0.9 * Noise.fractal(u * 4, v * 4, 1, 6, 171);
          double trowel = 0.5 * Noise.fractal(u * 9, v * 22, 1, 4, 175);
          mix(rgb, blotch + 0.35 * trowel, a, b);
        });
  }

  /** Tangent-space normals of trowelled plaster. */
  static byte[] plasterNormals() {
    double step = 1.0 / 512;
    return jpeg(
        512,
        512,
        0.9,
        (u, v, rgb) -> {
          double h = height(u, v);
          double dx = (height(u + step, v) - h) / step * 0.02;
          double dy = (height(u, v + step) - h) / step * 0.02;
          double inverse = 1 / Math.sqrt(dx * dx + dy * dy + 1);
          rgb[0] = 0.5 - 0.5 * dx * inverse;
          rgb[1] = 0.5 + 0.5 * dy * inverse;
          rgb[2] = 0.5 + 0.5 * inverse;
        });
  }

  private static double height(double u, double v) {
    return Noise.fractal(u * 10, v * 18, 1, 5, 175);
  }

  static byte[] boards() {
    double[] light = {0.40, 0.31, 0.235};
    double[] dark = {0.21, 0.155, 0.115};
    return jpeg(
        1024,
        1024,
        0.82,
        (u, v, rgb) -> {
          double row = v * 7;
          int board = (int) Math.floor(row);
          double own = Noise.at(board * 3.7, 0.5, 0.5, 181);
          double fibre = Noise.fractal(u * 4 + own * 9, v * 90, board, 4, 183);
          mix(rgb, 0.5 + 0.4 * own + 0.8 * fibre, light, dark);
          double gap = Math.abs(row - Math.rint(row));
          if (gap < 0.018) {
            mix(rgb, 0.85, rgb.clone(), new double[] {0.05, 0.04, 0.03});
          }
        });
  }

  /** A sheet of paper with the plan of the orbits in ink, as an observer would draw it. */
  static byte[] chart() {
    int w = 1024;
    int h = 768;
    BufferedImage image =
        image(
            w,
            h,
            (u, v, rgb) -> {
              double age = Noise.fractal(u * 3, v * 3, 1, 5, 191);
              double edge = Math.max(Math.abs(u - 0.5), Math.abs(v - 0.5)) * 2;
              double burn = Math.pow(edge, 9) * 0.8;
              mix(
                  rgb,
                  0.3 + age + burn,
                  new double[] {0.90, 0.84, 0.70},
                  new double[] {0.66, 0.53, 0.35});
            });
    Graphics2D g = image.createGraphics();
    g.setRenderingHint(RenderingHints.KEY_ANTIALIASING, RenderingHints.VALUE_ANTIALIAS_ON);
    g.setRenderingHint(RenderingHints.KEY_STROKE_CONTROL, RenderingHints.VALUE_STROKE_PURE);
    double cx = 560;
    double cy = 390;
    g.setColor(new Color(60, 38, 24, 225));
    double[] orbits = {62, 108, 164, 226, 300};
    for (int i = 0; i < orbits.length; i++) {
      double r = orbits[i];
      g.setStroke(new BasicStroke(i == 2 ? 5 : 3.4f));
      g.draw(new Ellipse2D.Double(cx - r, cy - r * 0.97, 2 * r, 2 * r * 0.97));
      double a = 0.7 + i * 1.31;
      double size = 7 + 2.5 * i;
      double px = cx + r * Math.cos(a);
      double py = cy + r * 0.97 * Math.sin(a);
      g.fill(new Ellipse2D.Double(px - size, py - size, 2 * size, 2 * size));
    }
    g.setStroke(new BasicStroke(2.4f));
    for (int tick = 0; tick < 180; tick++) {
      double a = tick * Math.PI / 90;
      double out = tick % 15 == 0 ? 340 : tick % 5 == 0 ? 330 : 323;
      g.draw(
          new Line2D.Double(
              cx + 315 * Math.cos(a),
              cy + 308 * Math.sin(a),
              cx + out * Math.cos(a),
              cy + out * 0.97 * Math.sin(a)));
    }
    g.setColor(new Color(140, 40, 24, 210));
    g.setStroke(new BasicStroke(2));
    g.draw(new Arc2D.Double(cx - 164, cy - 159, 328, 318, 20, 120, Arc2D.PIE));
    g.setColor(new Color(60, 38, 24, 190));
    g.setStroke(new BasicStroke(2.6f, BasicStroke.CAP_ROUND, BasicStroke.JOIN_ROUND));
    for (int line = 0; line < 21; line++) {
      scribble(g, 62, 96 + line * 30, 110 + 60 * (0.5 + Noise.at(line * 1.7, 3, 3, 201)), line);
    }
    g.dispose();
    return encode(image, 0.88);
  }

  /** A line of writing that nobody can read. */
  private static void scribble(Graphics2D g, double x, double y, double length, int seed) {
    double lastX = x;
    double lastY = y;
    for (double at = 0; at < length; at += 3) {
      boolean gap = Noise.at(at * 0.05, seed * 3.1, 9, 211) > 0.45;
      double nextX = x + at;
      double nextY = y + 7 * Noise.at(at * 0.21, seed * 7.3, 2, 221);
      if (!gap) {
        g.draw(new Line2D.Double(lastX, lastY, nextX, nextY));
      }
      lastX = nextX;
      lastY = nextY;
    }
  }

  /** Bound leather with gilt bands; u runs round the book, v down its back. */
  static byte[] leather() {
    return jpeg(
        256,
        512,
        0.85,
        (u, v, rgb) -> {
          double crackle = 0.82 + 0.3 * Noise.fractal(u * 14, v * 28, 1, 5, 231);
          rgb[0] = rgb[1] = rgb[2] = crackle;
          double[] lines = {0.10, 0.12, 0.30, 0.50, 0.70, 0.88, 0.90};
          for (double line : lines) {
            if (Math.abs(v - line) < 0.007) {
              rgb[0] = 1;
              rgb[1] = 0.86;
              rgb[2] = 0.5;
            }
          }
        });
  }
}
