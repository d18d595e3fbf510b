package org.wedgecutter.demo;

import org.wedgecutter.core.image.Picture;

/** The sky over the courtyard: broken clouds in the late afternoon, roofs along the horizon. */
final class CourtyardSky {
  private CourtyardSky() {}

  static Picture picture() {
    int w = 512;
    int h = 256;
    Picture out = Picture.empty(w, h);
    for (int y = 0; y < h; y++) {
      double latitude = Math.PI / 2 - Math.PI * (y + 0.5) / h;
      for (int x = 0; x < w; x++) {
        double longitude = 2 * Math.PI * (x + 0.5) / w - Math.PI;
        double[] c = sky(longitude, latitude);
        int at = 4 * (y * w + x);
        for (int k = 0; k < 3; k++) {
          out.rgba()[at + k] = (float) c[k];
        }
        out.rgba()[at + 3] = 1;
      }
    }
    return out;
  }

  private static double[] sky(double longitude, double latitude) {
    double roofs = 0.16 + 0.05 * Noise.at(longitude * 2.2, 3, 5, 501);
    if (latitude < roofs) {
      double wall = 0.10 + 0.05 * Noise.fractal(longitude * 6, latitude * 9, 1, 4, 503);
      double ground = latitude < 0 ? 0.7 : 1;
      return new double[] {wall * 1.15 * ground, wall * ground, wall * 0.86 * ground};
    }
    double x = Math.cos(latitude) * Math.sin(longitude);
    double y = Math.sin(latitude);
    double z = -Math.cos(latitude) * Math.cos(longitude);
    double high = y + 0.15;
    double cloud = Noise.fractal(2.4 * x / high, 2.4 * z / high, 7, 6, 507) + 0.12;
    double cover = Math.max(0, Math.min(1, cloud * 2.6));
    // the sun stands to the left, behind the camera
    double sun = Math.max(0, x * SUN[0] + y * SUN[1] + z * SUN[2]);
    double glow = Math.pow(sun, 24) * 3.2 + Math.pow(sun, 4) * 0.5;
    double[] blue = {0.20, 0.37, 0.70};
    double[] out = new double[3];
    double[] warm = {1.0, 0.82, 0.60};
    for (int k = 0; k < 3; k++) {
      double clear = blue[k] * (1.15 - 0.4 * y) + 0.16 * (1 - y);
      double white = 0.78 + 0.35 * cloud;
      out[k] = clear + cover * (white * (k == 2 ? 1.03 : 0.98) - clear) + glow * warm[k];
    }
    return out;
  }

  /** Direction to the sun. */
  static final double[] SUN = {-0.652, 0.540, 0.532};
}
