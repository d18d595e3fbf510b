package org.wedgecutter.demo;

import org.wedgecutter.core.image.Picture;

/**
 * What surrounds the orrery's room on the side of the camera: a dim attic with one far skylight.
 */
final class AtticSky {
  private AtticSky() {}

  static Picture picture() {
    int w = 512;
    int h = 256;
    Picture out = Picture.empty(w, h);
    for (int y = 0; y < h; y++) {
      double latitude = Math.PI / 2 - Math.PI * (y + 0.5) / h;
      for (int x = 0; x < w; x++) {
        // the middle of the image is -z, the edges are +z, behind the camera
        double longitude = 2 * Math.PI * (x + 0.5) / w - Math.PI;
        double back = Math.abs(longitude) / Math.PI;
        double beams = 0.85 + 0.15 * Math.signum(Math.sin(longitude * 14));
        double up = Math.max(0, Math.sin(latitude));
        double grain = 1 + 0.25 * Noise.fractal(longitude * 3, latitude * 6, 0, 4, 301);
        double wood = (0.05 + 0.10 * up) * beams * grain;
        double[] c = {wood * 1.15, wood * 0.95, wood * 0.75};
        // a skylight high behind the camera to the left, with soft edges
        double dx = Math.abs(angle(longitude - 2.45)) / 0.34;
        double dy = Math.abs(latitude - 0.62) / 0.22;
        double pane = smooth(1.25 - Math.max(dx, dy), 0.25);
        double bars = Math.min(Math.abs(dx - 0.02), Math.abs(dy - 0.02)) < 0.06 ? 0.2 : 1;
        c[0] += 3.4 * pane * bars;
        c[1] += 3.9 * pane * bars;
        c[2] += 4.6 * pane * bars;
        // the glow of a lit stairwell, low to the right
        double ex = angle(longitude + 2.2) / 0.5;
        double ey = (latitude + 0.15) / 0.35;
        double glow = Math.exp(-(ex * ex + ey * ey)) * back;
        c[0] += 0.9 * glow;
        c[1] += 0.5 * glow;
        c[2] += 0.22 * glow;
        int at = 4 * (y * w + x);
        for (int k = 0; k < 3; k++) {
          out.rgba()[at + k] = (float) c[k];
        }
        out.rgba()[at + 3] = 1;
      }
    }
    return out;
  }

  private static double angle(double a) {
    return Math.atan2(Math.sin(a), Math.cos(a));
  }

  private static double smooth(double t, double width) {
    double k = Math.max(0, Math.min(1, t / width));
    return k * k * (3 - 2 * k);
  }
}
