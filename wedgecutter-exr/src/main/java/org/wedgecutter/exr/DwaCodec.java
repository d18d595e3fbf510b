package org.wedgecutter.exr;

import java.lang.invoke.MethodHandles;
import java.lang.invoke.VarHandle;
import java.nio.BufferUnderflowException;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;

/**
 * DWAA and DWAB: colours by a cosine transform of squares of eight by eight, with loss; alpha by
 * run lengths and all else deflated, without.
 *
 * <p>Layout: eleven int64 (version; bytes of the rest before and after packing; packed bytes of the
 * AC numbers, the DC numbers and the runs; bytes of the runs before they are deflated, and before
 * they are runs; count of AC and of DC numbers; how the AC numbers are packed), from version 2 on
 * the rules by which channels are told apart (uint16 bytes of all of them with these two; for each
 * the end of the name, 0, and two bytes), and then the four packed blocks: the rest, AC, DC, runs.
 *
 * <p>Channels named R, G and B of one layer are turned into one of brightness and two of colour (as
 * in ITU-R BT.709). Before, values are made even to the eye: {@code v^(1/2.2)} up to 1, {@code 1 +
 * ln(v) / 2.2} above. The coefficients of a square are halves: the first (DC) is kept apart, the
 * others (AC) follow in zigzag order, runs of zeros as {@code 0xff00} plus their length, {@code
 * 0xff00} alone to the end. Source: the OpenEXR project's public description; tables of weights and
 * the zigzag are those of ITU-T T.81, annex K.
 */
final class DwaCodec implements Codec {
  /** How much is lost by default. */
  static final float LEVEL = 45;

  private static final int SIDE = 8;
  private static final int SQUARE = 64;
  private static final int HEAD = 11 * 8;
  private static final int HUFFMAN = 0;
  private static final int DEFLATED = 1;
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

  private enum Scheme {
    REST,
    COSINE,
    RUNS
  }

  /** By which end of a name, and which type, a channel is packed how. */
  private record Rule(String end, PixelType type, Scheme scheme, int colour, boolean anyCase) {
    boolean fits(String name, PixelType of) {
      return type == of && (anyCase ? end.equalsIgnoreCase(name) : end.equals(name));
    }
  }

  private static final List<Rule> RULES = new ArrayList<>();
  private static final List<Rule> OLD_RULES = new ArrayList<>();

  static {
    for (PixelType type : new PixelType[] {PixelType.HALF, PixelType.FLOAT}) {
      int k = 0;
      for (String end : List.of("R", "G", "B", "Y", "BY", "RY")) {
        RULES.add(new Rule(end, type, Scheme.COSINE, k < 3 ? k : -1, false));
        OLD_RULES.add(new Rule(end, type, Scheme.COSINE, k < 3 ? k : -1, true));
        k++;
      }
      for (int c = 0; c < 3; c++) {
        for (String end :
            List.of(List.of("red"), List.of("grn", "green"), List.of("blu", "blue")).get(c)) {
          OLD_RULES.add(new Rule(end, type, Scheme.COSINE, c, true));
        }
      }
    }
    for (PixelType type : PixelType.values()) {
      RULES.add(new Rule("A", type, Scheme.RUNS, -1, false));
      OLD_RULES.add(new Rule("A", type, Scheme.RUNS, -1, true));
    }
  }

  private final float level;

  /**
   * @param level how much is lost when packing, from 0: the base of the error of coefficients, in
   *     hundred-thousandths
   */
  DwaCodec(float level) {
    this.level = level;
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

  // ---- which channel is packed how

  /** Groups of channels that are transformed together, in the order of the file, and the others. */
  private static final class Plan {
    final List<List<Integer>> cosine = new ArrayList<>();
    final List<Integer> runs = new ArrayList<>();
    final List<Integer> rest = new ArrayList<>();
    final List<Rule> used = new ArrayList<>();

    Plan(Block block, List<Rule> rules) {
      Map<String, int[]> colours = new TreeMap<>();
      List<Integer> alone = new ArrayList<>();
      for (int c = 0; c < block.channels().size(); c++) {
        Channel channel = block.channels().get(c);
        int dot = channel.name().lastIndexOf('.');
        String layer = dot < 0 ? "" : channel.name().substring(0, dot);
        String end = channel.name().substring(dot + 1);
        Rule rule =
            rules.stream().filter(r -> r.fits(end, channel.type())).findFirst().orElse(null);
        if (rule != null && !used.contains(rule)) {
          used.add(rule);
        }
        if (rule == null || rule.scheme == Scheme.REST) {
          rest.add(c);
        } else if (rule.scheme == Scheme.RUNS) {
          runs.add(c);
        } else {
          alone.add(c);
          if (rule.colour >= 0) {
            colours.computeIfAbsent(layer, l -> new int[] {-1, -1, -1})[rule.colour] = c;
          }
        }
      }
      for (int[] set : colours.values()) {
        if (isSet(block, set)) {
          cosine.add(List.of(set[0], set[1], set[2]));
          alone.removeAll(cosine.getLast());
        }
      }
      alone.forEach(c -> cosine.add(List.of(c)));
    }

    private static boolean isSet(Block block, int[] set) {
      for (int c : set) {
        if (c < 0
            || block.channels().get(c).xSampling() != block.channels().get(set[0]).xSampling()
            || block.channels().get(c).ySampling() != block.channels().get(set[0]).ySampling()) {
          return false;
        }
      }
      return true;
    }

    long bytes(Block block, List<Integer> of) {
      return of.stream().mapToLong(c -> block.bytes(block.channels().get(c))).sum();
    }

    long squares(Block block) {
      return cosine.stream().mapToLong(g -> (long) g.size() * squares(block, g.getFirst())).sum();
    }

    static long squares(Block block, int channel) {
      Channel c = block.channels().get(channel);
      return (long) across(block.columns(c)) * across(block.rows(c));
    }
  }

  private static int across(int numbers) {
    return (numbers + SIDE - 1) / SIDE;
  }

  // ---- unpacking

  @Override
  public byte[] unpack(byte[] packed, Block block, int size) throws ExrException {
    try {
      return unpack(ByteBuffer.wrap(packed).order(ByteOrder.LITTLE_ENDIAN), block);
    } catch (BufferUnderflowException | IndexOutOfBoundsException e) {
      throw new ExrException("DWA data end too early");
    }
  }

  private static byte[] unpack(ByteBuffer in, Block block) throws ExrException {
    long[] head = new long[11];
    for (int k = 0; k < head.length; k++) {
      head[k] = in.getLong();
      if (head[k] < 0 || head[k] > Integer.MAX_VALUE) {
        throw new ExrException("DWA data with a size of %d".formatted(head[k]));
      }
    }
    List<Rule> rules = head[0] < 2 ? OLD_RULES : rules(in);
    Plan plan = new Plan(block, rules);
    long squares = plan.squares(block);
    long acMost = squares * (SQUARE - 1);
    if ((head[1] != 0 && head[1] != plan.bytes(block, plan.rest))
        || (head[7] != 0 && head[7] != plan.bytes(block, plan.runs))
        || head[9] != squares
        || head[8] > acMost
        || head[6] > 2 * head[7] + 64) {
      throw new ExrException("DWA data whose sizes do not fit its channels");
    }
    byte[] rest = part(in, head[2], head[1]);
    char[] ac = new char[(int) head[8]];
    if (head[3] > 0) {
      ByteBuffer acIn = slice(in, head[3]);
      if (head[10] == HUFFMAN) {
        Huffman.unpack(acIn, ac, ac.length);
      } else if (head[10] == DEFLATED) {
        chars(Deflate.unpack(bytes(acIn), 2 * ac.length), ac);
      } else {
        throw new ExrException("DWA data with AC numbers packed by %d".formatted(head[10]));
      }
    }
    char[] dc = new char[(int) head[9]];
    if (head[4] > 0) {
      chars(Deflate.restore(Deflate.unpack(bytes(slice(in, head[4])), 2 * dc.length)), dc);
    }
    byte[] runs =
        head[5] == 0
            ? new byte[(int) head[7]]
            : RunLengthCodec.unpackRuns(
                Deflate.unpack(bytes(slice(in, head[5])), (int) head[6]), (int) head[7]);
    byte[][] planes = new byte[block.channels().size()][];
    int at = 0;
    for (int c : plan.rest) {
      int size = (int) block.bytes(block.channels().get(c));
      planes[c] = rest.length == 0 ? new byte[size] : Arrays.copyOfRange(rest, at, at + size);
      at += size;
    }
    at = 0;
    for (int c : plan.runs) {
      planes[c] = woven(block, block.channels().get(c), runs, at);
      at += planes[c].length;
    }
    new Squares(block, plan, ac, dc).read(planes);
    return block.join(planes);
  }

  private static List<Rule> rules(ByteBuffer in) throws ExrException {
    int size = Short.toUnsignedInt(in.getShort()) - 2;
    if (size < 0 || size > in.remaining()) {
      throw new ExrException("DWA data with rules of %d bytes".formatted(size));
    }
    ByteBuffer own = slice(in, size);
    List<Rule> out = new ArrayList<>();
    while (own.hasRemaining()) {
      StringBuilder end = new StringBuilder();
      for (byte b = own.get(); b != 0; b = own.get()) {
        end.append((char) b);
      }
      int value = own.get() & 0xff;
      int type = own.get();
      int scheme = value >> 2 & 3;
      if (type < 0 || type >= PixelType.values().length || scheme >= Scheme.values().length) {
        throw new ExrException("DWA data with an unknown rule");
      }
      int colour = (value >> 4) - 1;
      out.add(
          new Rule(
              end.toString(),
              PixelType.values()[type],
              Scheme.values()[scheme],
              colour > 2 ? -1 : colour,
              (value & 1) != 0));
    }
    return out;
  }

  private static ByteBuffer slice(ByteBuffer in, long size) {
    ByteBuffer out = in.slice(in.position(), (int) size).order(ByteOrder.LITTLE_ENDIAN);
    in.position(in.position() + (int) size);
    return out;
  }

  private static byte[] bytes(ByteBuffer in) {
    byte[] out = new byte[in.remaining()];
    in.get(out);
    return out;
  }

  private static byte[] part(ByteBuffer in, long size, long unpacked) throws ExrException {
    return size == 0 ? new byte[0] : Deflate.unpack(bytes(slice(in, size)), (int) unpacked);
  }

  private static void chars(byte[] in, char[] out) {
    ByteBuffer.wrap(in).order(ByteOrder.LITTLE_ENDIAN).asCharBuffer().get(out);
  }

  /** Puts together a channel whose first bytes stand before its second ones, and so on. */
  private static byte[] woven(Block block, Channel channel, byte[] in, int from) {
    int bytes = channel.type().bytes();
    byte[] out = new byte[(int) block.bytes(channel)];
    int count = out.length / bytes;
    for (int b = 0; b < bytes; b++) {
      for (int k = 0; k < count; k++) {
        out[bytes * k + b] = in[from + b * count + k];
      }
    }
    return out;
  }

  // ---- packing

  @Override
  public byte[] pack(byte[] raw, Block block) {
    Plan plan = new Plan(block, RULES);
    byte[][] planes = block.split(raw);
    byte[] rest = together(planes, plan.rest);
    byte[] packedRest = rest.length == 0 ? rest : Deflate.pack(rest);
    int size = (int) plan.bytes(block, plan.runs);
    byte[] apart = new byte[size];
    int at = 0;
    for (int c : plan.runs) {
      int bytes = block.channels().get(c).type().bytes();
      int count = planes[c].length / bytes;
      for (int b = 0; b < bytes; b++) {
        for (int k = 0; k < count; k++) {
          apart[at + b * count + k] = planes[c][bytes * k + b];
        }
      }
      at += planes[c].length;
    }
    byte[] runs = RunLengthCodec.packRuns(apart);
    byte[] packedRuns = size == 0 ? new byte[0] : Deflate.pack(runs);
    int squares = (int) plan.squares(block);
    Squares all = new Squares(block, plan, new char[squares * (SQUARE - 1)], new char[squares]);
    all.write(planes, level);
    byte[] packedAc = all.acUsed == 0 ? new byte[0] : Huffman.pack(all.ac, all.acUsed);
    byte[] dc = new byte[2 * squares];
    ByteBuffer.wrap(dc).order(ByteOrder.LITTLE_ENDIAN).asCharBuffer().put(all.dc);
    byte[] packedDc = squares == 0 ? new byte[0] : Deflate.pack(Deflate.predict(dc));
    byte[] rules = rules(plan.used);
    ByteBuffer out =
        ByteBuffer.allocate(
                HEAD
                    + rules.length
                    + packedRest.length
                    + packedAc.length
                    + packedDc.length
                    + packedRuns.length)
            .order(ByteOrder.LITTLE_ENDIAN);
    for (long n :
        new long[] {
          2,
          rest.length,
          packedRest.length,
          packedAc.length,
          packedDc.length,
          packedRuns.length,
          size == 0 ? 0 : runs.length,
          size,
          all.acUsed,
          squares,
          HUFFMAN
        }) {
      out.putLong(n);
    }
    return out.put(rules).put(packedRest).put(packedAc).put(packedDc).put(packedRuns).array();
  }

  private static byte[] together(byte[][] planes, List<Integer> of) {
    int size = of.stream().mapToInt(c -> planes[c].length).sum();
    ByteBuffer out = ByteBuffer.allocate(size);
    of.forEach(c -> out.put(planes[c]));
    return out.array();
  }

  private static byte[] rules(List<Rule> used) {
    int size = 2 + used.stream().mapToInt(r -> r.end.length() + 3).sum();
    ByteBuffer out = ByteBuffer.allocate(size).order(ByteOrder.LITTLE_ENDIAN);
    out.putShort((short) size);
    for (Rule r : used) {
      out.put(r.end.getBytes(StandardCharsets.US_ASCII)).put((byte) 0);
      out.put((byte) (r.colour + 1 << 4 | r.scheme.ordinal() << 2 | (r.anyCase ? 1 : 0)));
      out.put((byte) r.type.ordinal());
    }
    return out.array();
  }

  // ---- squares

  /** The transformed channels: group by group, square by square, channel by channel. */
  private static final class Squares {
    private final Block block;
    private final Plan plan;
    private final char[] ac;
    private final char[] dc;
    private final short[] halves = new short[SQUARE];
    private int acUsed;
    private int dcUsed;

    Squares(Block block, Plan plan, char[] ac, char[] dc) {
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
  }
}
