package org.wedgecutter.core.trace.sample;

/**
 * Random numbers as a function of (seed, pixel, sample, dimension), never of order.
 *
 * <p>Each pair of dimensions is a Sobol (0,2)-sequence, its points shuffled and Owen-scrambled by
 * hashes of the pixel and the pair: any run of samples is well spread over the unit square, and
 * pairs are unrelated.
 *
 * <p>Errors of neighbouring pixels should differ, so that they average out for a viewer or in a
 * filter. Therefore all of a pixel's points are moved (by exclusive or, which keeps every box of
 * the sequence full) so that the first comes to lie where the picture wants it: at the point of
 * another Sobol sequence whose number is the pixel's place on a curve that fills the picture
 * quarter by quarter, its quarters shuffled. Any square of that curve then has its first points
 * well spread. With more samples each pixel's own sequence dominates.
 *
 * <p>Sources: B. Burley, "Practical Hash-based Owen Scrambling", JCGT 9(4), 2020; T. Kollig and A.
 * Keller, "Efficient Multidimensional Sampling", 2002 (the second Sobol dimension); A. Ahmed and P.
 * Wonka, "Screen-Space Blue-Noise Diffusion of Monte Carlo Sampling Error via Hierarchical Ordering
 * of Pixels", 2020 (the curve); the hash is the 32-bit mixer "lowbias32" by C. Wellons.
 *
 * <p>One object serves one thread.
 */
public final class Sampler {
  private static final int[] SOBOL = secondDimension();

  private final SamplePattern pattern;
  private int seedHash;
  private int pixelHash;
  private int place;
  private int sample;

  /** The two numbers of the last {@link #pair}, each at least 0 and below 1. */
  public float u;

  public float v;

  public Sampler(SamplePattern pattern) {
    this.pattern = pattern;
    rows = new int[pattern == SamplePattern.BLUE_NOISE ? ROW * ROWS : 0];
    if (rows.length > 0) {
      // no pair is kept yet
      java.util.Arrays.fill(rows, -1);
    }
  }

  /**
   * Begins a sample of a pixel.
   *
   * @param x column, 0 to 65535; so is the line
   */
  public void start(long seed, int x, int y, int sample) {
    seedHash = hash((int) seed ^ hash((int) (seed >>> 32)));
    pixelHash = hash(hash(seedHash ^ x) + y);
    place = spaced(x) | spaced(y) << 1;
    this.sample = sample;
  }

  /** Sets {@link #u} and {@link #v} to the numbers of a pair of dimensions. */
  public void pair(int pair) {
    switch (pattern) {
      case RANDOM -> random(pair);
      case OWEN_SOBOL -> owenSobol(pair);
      case BLUE_NOISE -> blueNoise(pair);
    }
  }

  private void random(int pair) {
    int one = hash(hash(pixelHash ^ (pair * 0x9e3779b9)) + sample * 0x85ebca6b);
    u = unit(one);
    v = unit(hash(one ^ 0x68bc21eb));
  }

  private void owenSobol(int pair) {
    int key = hash(pixelHash ^ (pair * 0x9e3779b9));
    int index = scramble(sample, key);
    u = unit(scramble(Integer.reverse(index), hash(key ^ 0x51633e2d)));
    v = unit(scramble(sobol(index), hash(key ^ 0x68bc21eb)));
  }

  private void blueNoise(int pair) {
    int at = ROW * (pair & ROWS - 1);
    int[] r = rows;
    if (r[at] != pair || r[at + 1] != sample || r[at + 2] != seedHash) {
      fill(at, pair);
    }
    int where = scramble(place, r[at + 3]);
    u = unit(scramble(Integer.reverse(where), r[at + 4]) ^ r[at + 6]);
    v = unit(scramble(sobol(where), r[at + 5]) ^ r[at + 7]);
  }

  private static final int ROWS = 512;
  private static final int ROW = 8;

  /**
   * What pixels share, of some pairs: pair, sample, hash of the seed; three keys of the picture's
   * sequence; by how much the sample's point is moved from the first.
   */
  private final int[] rows;

  private void fill(int at, int pair) {
    int key = hash(seedHash + pair * 0x9e3779b9);
    rows[at] = pair;
    rows[at + 1] = sample;
    rows[at + 2] = seedHash;
    rows[at + 3] = key;
    rows[at + 4] = hash(key ^ 0x51633e2d);
    rows[at + 5] = hash(key ^ 0x68bc21eb);
    int own = hash(key ^ 0x2545f491);
    int ownU = hash(own ^ 0x51633e2d);
    int ownV = hash(own ^ 0x68bc21eb);
    int index = scramble(sample, own);
    int first = scramble(0, own);
    rows[at + 6] = scramble(Integer.reverse(index), ownU) ^ scramble(Integer.reverse(first), ownU);
    rows[at + 7] = scramble(sobol(index), ownV) ^ scramble(sobol(first), ownV);
  }

  /** Puts a zero before each of the low 16 bits. */
  private static int spaced(int bits) {
    int x = bits & 0xffff;
    x = (x | x << 8) & 0x00ff00ff;
    x = (x | x << 4) & 0x0f0f0f0f;
    x = (x | x << 2) & 0x33333333;
    return (x | x << 1) & 0x55555555;
  }

  private int stream;

  /**
   * Returns the key of a row of numbers.
   *
   * @param purpose what it is for
   * @param vertex of the path
   * @param number which one at that vertex
   */
  public static int key(int purpose, int vertex, int number) {
    return hash(hash(hash(purpose) + vertex) + number);
  }

  /** Begins a row of numbers that do not belong to pairs; how many are asked for is open. */
  public void stream(int key) {
    stream = hash(hash(pixelHash ^ (key * 0x85ebca6b)) + sample);
  }

  /** Returns the next number of the row, at least 0 and below 1. */
  public float next() {
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

  public static int hash(int x) {
    x ^= x >>> 16;
    x *= 0x7feb352d;
    x ^= x >>> 15;
    x *= 0x846ca68b;
    x ^= x >>> 16;
    return x;
  }
}
