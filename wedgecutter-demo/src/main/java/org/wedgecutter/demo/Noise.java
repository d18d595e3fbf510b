package org.wedgecutter.demo;

import java.util.stream.IntStream;

/** Smooth random numbers over space, the same for the same seed; all are from about -1 to 1. */
final class Noise {
  /** From -1 to 1, by ten bits. */
  private static final double[] SLOPES =
      IntStream.range(0, 1024).mapToDouble(k -> (k - 511.5) / 511.5).toArray();

  private Noise() {}

  /** Gradient noise in three dimensions. */
  static double at(double x, double y, double z, int seed) {
    int xi = (int) Math.floor(x);
    int yi = (int) Math.floor(y);
    int zi = (int) Math.floor(z);
    double fx = x - xi;
    double fy = y - yi;
    double fz = z - zi;
    // the weights of the corner below and of that above, in each direction
    double x0 = falling(fx);
    double x1 = falling(1 - fx);
    double y0 = falling(fy);
    double y1 = falling(1 - fy);
    double z0 = falling(fz);
    double z1 = falling(1 - fz);
    double sum = 0;
    for (int corner = 0; corner < 8; corner++) {
      int a = corner & 1;
      int b = corner >> 1 & 1;
      int c = corner >> 2;
      int h = hash(xi + a, yi + b, zi + c, seed);
      double gx = SLOPES[h & 1023];
      double gy = SLOPES[h >> 10 & 1023];
      double gz = SLOPES[h >> 20 & 1023];
      double weight = (a == 0 ? x0 : x1) * (b == 0 ? y0 : y1) * (c == 0 ? z0 : z1);
      sum += weight * (gx * (fx - a) + gy * (fy - b) + gz * (fz - c));
    }
    return sum * 1.6;
  }

  private static double falling(double t) {
    return 1 - t * t * t * (t * (6 * t - 15) + 10);
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
