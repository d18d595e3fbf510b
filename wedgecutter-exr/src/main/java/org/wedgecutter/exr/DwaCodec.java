package org.wedgecutter.exr;

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
 * the rules that classify channels (uint16 size of the rules, including this field; for each the
 * end of the name, 0, and two bytes), and then the four packed blocks: the rest, AC, DC, runs.
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

  private static final int HEAD = 11 * 8;
  private static final int HUFFMAN = 0;
  private static final int DEFLATED = 1;

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

  // ---- which channel is packed how

  /** Groups of channels that are transformed together, in the order of the file, and the others. */
  static final class Plan {
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
      return (long) DwaSquares.across(block.columns(c)) * DwaSquares.across(block.rows(c));
    }
  }

  // ---- unpacking

  @Override
  public void unpack(ByteBuffer packed, Block block, byte[] out, int size) throws ExrException {
    try {
      unpack(packed.slice().order(ByteOrder.LITTLE_ENDIAN), block, out);
    } catch (BufferUnderflowException | IndexOutOfBoundsException e) {
      throw new ExrException("DWA data end too early");
    }
  }

  private static void unpack(ByteBuffer in, Block block, byte[] out) throws ExrException {
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
    long acMost = squares * (DwaSquares.SQUARE - 1);
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
        chars(Deflate.unpack(acIn, 2 * ac.length), ac);
      } else {
        throw new ExrException("DWA data with AC numbers packed by %d".formatted(head[10]));
      }
    }
    char[] dc = new char[(int) head[9]];
    if (head[4] > 0) {
      byte[] steps = Deflate.unpack(slice(in, head[4]), 2 * dc.length);
      byte[] raw = new byte[steps.length];
      Deflate.restore(steps, raw, raw.length);
      chars(raw, dc);
    }
    byte[] runs = new byte[(int) head[7]];
    if (head[5] != 0) {
      RunLengthCodec.unpackRuns(
          Deflate.unpack(slice(in, head[5]), (int) head[6]), runs, runs.length);
    }
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
    new DwaSquares(block, plan, ac, dc).read(planes);
    block.join(planes, out);
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

  private static byte[] part(ByteBuffer in, long size, long unpacked) throws ExrException {
    return size == 0 ? new byte[0] : Deflate.unpack(slice(in, size), (int) unpacked);
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
    DwaSquares all =
        new DwaSquares(block, plan, new char[squares * (DwaSquares.SQUARE - 1)], new char[squares]);
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
}
