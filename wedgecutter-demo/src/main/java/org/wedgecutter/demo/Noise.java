package org.wedgecutter.demo;

/** Smooth random numbers over space, the same for the same seed; all are from about -1 to 1. */
final class Noise {
  private Noise() {}

  /** Gradient noise in three dimensions. */
  static double at(double x, double y, double z, int seed) {
    int xi = (int) Math.floor(x);
    int yi = (int) Math.floor(y);
    int zi = (int) Math.floor(z);
    double fx = x - xi;
    double fy = y - yi;
    double fz = z - zi;
    double sum = 0;
    for (int corner = 0; corner < 8; corner++) {
      int a = corner & 1;
      int b = corner >> 1 & 1;
      int c = corner >> 2;
      int h = hash(xi + a, yi + b, zi + c, seed);
      double gx = ((h & 1023) - 511.5) / 511.5;
      double gy = ((h >> 10 & 1023) - 511.5) / 511.5;
      double gz = ((h >> 20 & 1023) - 511.5) / 511.5;
      double weight =
          fade(a == 0 ? fx : 1 - fx, true)
              * fade(b == 0 ? fy : 1 - fy, true)
              * fade(c == 0 ? fz : 1 - fz, true);
      sum += weight * (gx * (fx - a) + gy * (fy - b) + gz * (fz - c));
    }
    return sum * 1.6;
  }

  private static double fade(double t, boolean falling) {
    double s = t * t * t * (t * (6 * t - 15) + 10);
    return falling ? 1 - s : s;
  }

  /** Several octaves, each twice as fine and half as strong. */
  static double fractal(double x, double y, double z, int octaves, int seed) {
    double sum = 0;
    double strength = 0.5;
    for (int o = 0; o < octaves; o++) {
      sum += strength * at(x, y, z, seed + o);
      x *= 2.03;
      y *= 2.03;
      z *= 2.03;
      strength *= 0.5;
    }
    return sum;
  }

  private static int hash(int x, int y, int z, int seed) {
    int h = x * 0x8da6b343 ^ y * 0xd8163841 ^ z * 0xcb1ab31f ^ seed * 0x9e3779b9;
    h ^= h >>> 16;
    h *= 0x7feb352d;
    h ^= h >>> 15;
    h *= 0x846ca68b;
    return h ^ h >>> 16;
  }
}
