package org.wedgecutter.exr;

import java.lang.invoke.MethodHandles;
import java.lang.invoke.VarHandle;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.util.Arrays;
import java.util.List;

/**
 * The 8 x 8 blocks of DWA: perceptual curve, colour transform, cosine transform, quantization, and
 * the run lengths of the AC coefficients. Groups follow one another, in each the blocks line by
 * line, in each block the channels. Tables of weights and the zigzag are those of ITU-T T.81, annex
 * K.
 */
final class DwaSquares {
  private static final int SIDE = 8;
  static final int SQUARE = 64;
  private static final int RUN = 0xff00;
  private static final double GAMMA = 2.2;

  private static final VarHandle SHORTS =
      MethodHandles.byteArrayViewVarHandle(short[].class, ByteOrder.LITTLE_ENDIAN);
  private static final VarHandle FLOATS =
      MethodHandles.byteArrayViewVarHandle(float[].class, ByteOrder.LITTLE_ENDIAN);

  private static final int[] ZIGZAG = zigzag();

  private static final int[] BRIGHTNESS = {
    16, 11, 10, 16, 24, 40, 51, 61, 12, 12, 14, 19, 26, 58, 60, 55, 14, 13, 16, 24, 40, 57, 69, 56,
    14, 17, 22, 29, 51, 87, 80, 62, 18, 22, 37, 56, 68, 109, 103, 77, 24, 35, 55, 64, 81, 104, 113,
    92, 49, 64, 78, 87, 103, 121, 120, 101, 72, 92, 95, 98, 112, 100, 103, 99
  };
  private static final int[] COLOUR = {
    17, 18, 24, 47, 99, 99, 99, 99, 18, 21, 26, 66, 99, 99, 99, 99, 24, 26, 56, 99, 99, 99, 99, 99,
    47, 66, 99, 99, 99, 99, 99, 99, 99, 99, 99, 99, 99, 99, 99, 99, 99, 99, 99, 99, 99, 99, 99, 99,
    99, 99, 99, 99, 99, 99, 99, 99, 99, 99, 99, 99, 99, 99, 99, 99
  };

  /** Made when first needed: 65,536 powers each. */
  private static final class Curves {
    static final short[] EVEN = new short[1 << 16];
    static final short[] LINEAR = new short[1 << 16];

    static {
      for (int k = 0; k < 1 << 16; k++) {
        float v = Float.float16ToFloat((short) k);
        if (Float.isFinite(v)) {
          double x = Math.abs(v);
          double even = x <= 1 ? Math.pow(x, 1 / GAMMA) : 1 + Math.log(x) / GAMMA;
          double linear = x <= 1 ? Math.pow(x, GAMMA) : Math.exp(GAMMA * (x - 1));
          EVEN[k] = Float.floatToFloat16((float) Math.copySign(even, v));
          LINEAR[k] = Float.floatToFloat16((float) Math.copySign(linear, v));
        }
      }
    }
  }

  private final Block block;
  private final DwaCodec.Plan plan;
  final char[] ac;
  final char[] dc;
  private final short[] halves = new short[SQUARE];
  int acUsed;
  private int dcUsed;

  DwaSquares(Block block, DwaCodec.Plan plan, char[] ac, char[] dc) {
    this.block = block;
    this.plan = plan;
    this.ac = ac;
    this.dc = dc;
  }

  void read(byte[][] planes) throws ExrException {
    for (List<Integer> group : plan.cosine) {
      Channel first = block.channels().get(group.getFirst());
      int columns = block.columns(first);
      int rows = block.rows(first);
      for (int c : group) {
        planes[c] = new byte[(int) block.bytes(block.channels().get(c))];
      }
      float[][] f = new float[group.size()][SQUARE];
      int squares = across(columns) * across(rows);
      for (int s = 0; s < squares; s++) {
        boolean even = true;
        for (int k = 0; k < f.length; k++) {
          even &= square(f[k], dc[dcUsed + k * squares + s]);
        }
        if (f.length == 3) {
          colours(f, even ? 1 : SQUARE);
        }
        for (int k = 0; k < f.length; k++) {
          if (even) {
            Arrays.fill(f[k], f[k][0]);
          }
          put(planes[group.get(k)], group.get(k), f[k], s, columns, rows, f.length == 3);
        }
      }
      dcUsed += f.length * squares;
    }
  }

  /** Reads and transforms a square; returns whether all of it is one number, then its first. */
  private boolean square(float[] f, char first) throws ExrException {
    Arrays.fill(f, 0);
    f[0] = Float.float16ToFloat((short) first);
    boolean even = true;
    int lines = 1;
    int k = 1;
    while (k < SQUARE) {
      if (acUsed >= ac.length) {
        throw new ExrException("DWA data with too few AC numbers");
      }
      int v = ac[acUsed++];
      if (v == RUN) {
        k = SQUARE;
      } else if ((v & RUN) == RUN) {
        k += v & 0xff;
      } else {
        int place = ZIGZAG[k++];
        f[place] = Float.float16ToFloat((short) v);
        lines = Math.max(lines, place / SIDE + 1);
        even = false;
      }
    }
    if (even) {
      f[0] /= SIDE;
    } else {
      Dct.back(f, lines);
    }
    return even;
  }

  /** Brightness and two colours to red, green and blue (ITU-R BT.709). */
  private static void colours(float[][] f, int count) {
    for (int k = 0; k < count; k++) {
      float y = f[0][k];
      float u = f[1][k];
      float v = f[2][k];
      f[0][k] = y + 1.5747f * v;
      f[1][k] = y - 0.1873f * u - 0.4682f * v;
      f[2][k] = y + 1.8556f * u;
    }
  }

  private void put(
      byte[] plane, int c, float[] f, int square, int columns, int rows, boolean colour) {
    Channel channel = block.channels().get(c);
    boolean linear = channel.perceptuallyLinear() && !colour;
    int x0 = square % across(columns) * SIDE;
    int y0 = square / across(columns) * SIDE;
    for (int k = 0; k < SQUARE; k++) {
      halves[k] = Float.floatToFloat16(f[k]);
    }
    int width = Math.min(SIDE, columns - x0);
    short[] curve = Curves.LINEAR;
    boolean half = channel.type() == PixelType.HALF;
    for (int y = 0; y < SIDE && y0 + y < rows; y++) {
      int at = (y0 + y) * columns + x0;
      for (int x = 0; x < width; x++) {
        short h = halves[SIDE * y + x];
        if (!linear) {
          h = curve[h & 0xffff];
        }
        if (half) {
          SHORTS.set(plane, 2 * (at + x), h);
        } else {
          FLOATS.set(plane, 4 * (at + x), Float.float16ToFloat(h));
        }
      }
    }
  }

  void write(byte[][] planes, float level) {
    float base = Math.max(0, level) / 100_000;
    for (List<Integer> group : plan.cosine) {
      Channel first = block.channels().get(group.getFirst());
      int columns = block.columns(first);
      int rows = block.rows(first);
      float[][] f = new float[group.size()][SQUARE];
      int squares = across(columns) * across(rows);
      for (int s = 0; s < squares; s++) {
        for (int k = 0; k < f.length; k++) {
          get(planes[group.get(k)], group.get(k), f[k], s, columns, rows, f.length == 3);
        }
        if (f.length == 3) {
          brightness(f);
        }
        for (int k = 0; k < f.length; k++) {
          Dct.forward(f[k]);
          int[] weights = k == 0 ? BRIGHTNESS : COLOUR;
          float least = k == 0 ? 10 : 17;
          for (int i = 0; i < SQUARE; i++) {
            f[k][i] = simple(f[k][i], base * weights[i] / least);
          }
          dc[dcUsed + k * squares + s] = (char) Float.floatToFloat16(f[k][0]);
          putAc(f[k]);
        }
      }
      dcUsed += f.length * squares;
    }
  }

  private void get(
      byte[] plane, int c, float[] f, int square, int columns, int rows, boolean colour) {
    Channel channel = block.channels().get(c);
    boolean linear = channel.perceptuallyLinear() && !colour;
    int x0 = square % across(columns) * SIDE;
    int y0 = square / across(columns) * SIDE;
    ByteBuffer in = ByteBuffer.wrap(plane).order(ByteOrder.LITTLE_ENDIAN);
    for (int y = 0; y < SIDE; y++) {
      for (int x = 0; x < SIDE; x++) {
        // beyond the border the last number goes on
        int at = Math.min(rows - 1, y0 + y) * columns + Math.min(columns - 1, x0 + x);
        short half =
            channel.type() == PixelType.HALF
                ? in.getShort(2 * at)
                : Float.floatToFloat16(Math.clamp(in.getFloat(4 * at), -65504f, 65504f));
        float v = Float.float16ToFloat(linear ? half : Curves.EVEN[half & 0xffff]);
        f[SIDE * y + x] = Float.isFinite(v) ? v : 0;
      }
    }
  }

  private static void brightness(float[][] f) {
    for (int k = 0; k < SQUARE; k++) {
      float r = f[0][k];
      float g = f[1][k];
      float b = f[2][k];
      f[0][k] = 0.2126f * r + 0.7152f * g + 0.0722f * b;
      f[1][k] = -0.1146f * r - 0.3854f * g + 0.5f * b;
      f[2][k] = 0.5f * r - 0.4542f * g - 0.0458f * b;
    }
  }

  private void putAc(float[] f) {
    int last = SQUARE - 1;
    while (last > 0 && Float.floatToFloat16(f[ZIGZAG[last]]) << 17 == 0) {
      last--;
    }
    int k = 1;
    while (k <= last) {
      int zeros = 0;
      while (Float.floatToFloat16(f[ZIGZAG[k + zeros]]) << 17 == 0) {
        zeros++;
      }
      if (zeros > 1) {
        ac[acUsed++] = (char) (RUN | zeros);
        k += zeros;
      } else {
        ac[acUsed++] = (char) Float.floatToFloat16(f[ZIGZAG[k++]]);
      }
    }
    if (k < SQUARE) {
      ac[acUsed++] = RUN;
    }
  }

  /** Returns the number nearby whose half has the most zero bits at its end. */
  private static float simple(float v, float error) {
    if (Math.abs(v) <= error) {
      return 0;
    }
    int bits = Float.floatToFloat16(v) & 0xffff;
    for (int cut = 10; cut > 0; cut--) {
      int near = (bits + (1 << cut - 1) >> cut) << cut;
      float other = Float.float16ToFloat((short) near);
      if (Math.abs(other - v) <= error) {
        return other;
      }
    }
    return Float.float16ToFloat((short) bits);
  }

  private static int[] zigzag() {
    int[] out = new int[SQUARE];
    int k = 0;
    for (int d = 0; d < 2 * SIDE - 1; d++) {
      for (int s = Math.max(0, d - SIDE + 1); s <= Math.min(d, SIDE - 1); s++) {
        int y = d % 2 == 0 ? d - s : s;
        out[k++] = SIDE * y + d - y;
      }
    }
    return out;
  }

  static int across(int numbers) {
    return (numbers + SIDE - 1) / SIDE;
  }
}
