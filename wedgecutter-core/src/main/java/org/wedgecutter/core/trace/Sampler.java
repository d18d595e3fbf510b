package org.wedgecutter.core.trace;

/**
 * Random numbers as a function of (seed, pixel, sample, dimension), never of order.
 *
 * <p>Each pair of dimensions is a Sobol (0,2)-sequence, its points shuffled and Owen-scrambled by
 * hashes of the pixel and the pair: any run of samples is well spread over the unit square, and
 * neighbouring pixels and pairs are unrelated. One object serves one thread.
 *
 * <p>Sources: B. Burley, "Practical Hash-based Owen Scrambling", JCGT 9(4), 2020; T. Kollig and A.
 * Keller, "Efficient Multidimensional Sampling", 2002 (the second Sobol dimension); the hash is the
 * 32-bit mixer "lowbias32" by C. Wellons.
 */
final class Sampler {
  private static final int[] SOBOL = secondDimension();

  private int pixelHash;
  private int sample;

  /** The two numbers of the last {@link #pair}, each at least 0 and below 1. */
  float u;

  float v;

  /** Begins a sample of a pixel. */
  void start(long seed, int x, int y, int sample) {
    pixelHash = hash(hash(hash((int) seed ^ hash((int) (seed >>> 32))) ^ x) + y);
    this.sample = sample;
  }

  /** Sets {@link #u} and {@link #v} to the numbers of a pair of dimensions. */
  void pair(int pair) {
    int key = hash(pixelHash ^ (pair * 0x9e3779b9));
    int index = scramble(sample, key);
    u = unit(scramble(Integer.reverse(index), hash(key ^ 0x51633e2d)));
    v = unit(scramble(sobol(index), hash(key ^ 0x68bc21eb)));
  }

  private int stream;

  /** Begins a row of numbers that do not belong to pairs; how many are asked for is open. */
  void stream(int key) {
    stream = hash(hash(pixelHash ^ (key * 0x85ebca6b)) + sample);
  }

  /** Returns the next number of the row, at least 0 and below 1. */
  float next() {
    stream += 0x9e3779b9;
    return unit(hash(stream));
  }

  private static int sobol(int n) {
    return SOBOL[n & 255]
        ^ SOBOL[256 + (n >>> 8 & 255)]
        ^ SOBOL[512 + (n >>> 16 & 255)]
        ^ SOBOL[768 + (n >>> 24)];
  }

  /** The generator matrix of the second dimension, tabulated for each byte of the index. */
  private static int[] secondDimension() {
    int[] columns = new int[32];
    int column = 1 << 31;
    for (int bit = 0; bit < 32; bit++) {
      columns[bit] = column;
      column ^= column >>> 1;
    }
    int[] table = new int[1024];
    for (int i = 0; i < 1024; i++) {
      for (int bit = 0; bit < 8; bit++) {
        if ((i >> bit & 1) != 0) {
          table[i] ^= columns[(i >> 8) * 8 + bit];
        }
      }
    }
    return table;
  }

  /** Owen scrambling: each bit is flipped by a hash of the bits above it. */
  private static int scramble(int bits, int key) {
    int x = Integer.reverse(bits);
    x ^= x * 0x3d20adea;
    x += key;
    x *= (key >>> 16) | 1;
    x ^= x * 0x05526c56;
    x ^= x * 0x53a22864;
    return Integer.reverse(x);
  }

  private static float unit(int bits) {
    return (bits >>> 8) * 0x1p-24f;
  }

  static int hash(int x) {
    x ^= x >>> 16;
    x *= 0x7feb352d;
    x ^= x >>> 15;
    x *= 0x846ca68b;
    x ^= x >>> 16;
    return x;
  }
}
