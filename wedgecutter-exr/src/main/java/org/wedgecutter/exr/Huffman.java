package org.wedgecutter.exr;

import java.lang.invoke.MethodHandles;
import java.lang.invoke.VarHandle;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.util.Arrays;

/**
 * Canonical Huffman codes for 16-bit numbers, with a further symbol that repeats the number before
 * it: what PIZ and DWA put their numbers into.
 *
 * <p>Layout: five int32 (first symbol with a code, last one, bytes of the table, bits of the data,
 * 0), the table, the data. The table holds 6 bits for the length of each symbol's code; 59 to 62
 * stand for 2 to 5 symbols without one, 63 and 8 more bits for 6 to 261. The last symbol is the one
 * that repeats: its code is followed by 8 bits that tell how often. Codes of one length follow one
 * another in the order of their symbols; longer codes come first (D. A. Huffman: A method for the
 * construction of minimum-redundancy codes, 1952; the canonical order is that of the OpenEXR
 * project's description).
 */
final class Huffman {
  private static final int SYMBOLS = (1 << 16) + 1;
  private static final int LONGEST = 58;
  private static final int SHORT_RUN = 59;
  private static final int LONG_RUN = 63;
  private static final int LEAST_LONG = 6;
  private static final int MOST_LONG = LEAST_LONG + 255;
  private static final int HEAD = 20;

  /** Readers look so many bytes ahead. */
  private static final int BEHIND = 24;

  private static final int SYMBOL = 0x1ffff;
  private static final VarHandle LONGS =
      MethodHandles.byteArrayViewVarHandle(long[].class, ByteOrder.BIG_ENDIAN);

  /** Codes of at most so many bits are found in one step. */
  private static final int MOST_STEP = 16;

  /** Tables of so many bits stay in the nearest cache; in them two codes are found in one step. */
  private static final int NEAR_STEP = 12;

  /** How often a code may be longer than that. */
  private static final double SELDOM = 0.03;

  private Huffman() {}

  // ---- packing

  /** Packs numbers; at least one. */
  static byte[] pack(char[] numbers, int count) {
    int[] uses = new int[SYMBOLS];
    for (int k = 0; k < count; k++) {
      uses[numbers[k]]++;
    }
    int first = 0;
    while (uses[first] == 0) {
      first++;
    }
    int last = SYMBOLS - 2;
    while (uses[last] == 0) {
      last--;
    }
    int repeat = last + 1;
    uses[repeat] = 1;
    byte[] lengths = lengths(uses, first, repeat);
    long[] codes = codes(lengths, first, repeat);
    BitWriter table = new BitWriter(repeat - first);
    putTable(table, lengths, first, repeat);
    byte[] tableBytes = table.bytes();
    BitWriter data = new BitWriter(count);
    int k = 0;
    while (k < count) {
      int symbol = numbers[k];
      int run = 0;
      while (k + run + 1 < count && numbers[k + run + 1] == symbol && run < 255) {
        run++;
      }
      int length = lengths[symbol];
      if (length + lengths[repeat] + 8 < length * run) {
        data.put(codes[symbol], length);
        data.put(codes[repeat], lengths[repeat]);
        data.put(run, 8);
      } else {
        for (int r = 0; r <= run; r++) {
          data.put(codes[symbol], length);
        }
      }
      k += run + 1;
    }
    long bits = data.length();
    byte[] dataBytes = data.bytes();
    return ByteBuffer.allocate(HEAD + tableBytes.length + dataBytes.length)
        .order(ByteOrder.LITTLE_ENDIAN)
        .putInt(first)
        .putInt(repeat)
        .putInt(tableBytes.length)
        .putInt(Math.toIntExact(bits))
        .putInt(0)
        .put(tableBytes)
        .put(dataBytes)
        .array();
  }

  /**
   * Lengths of the codes. Trees are joined from the rarest: leaves in ascending order of use in one
   * queue, joined trees in another, which is in order by itself.
   */
  private static byte[] lengths(int[] uses, int first, int last) {
    long[] leaves = new long[last - first + 1];
    int count = 0;
    for (int s = first; s <= last; s++) {
      if (uses[s] > 0) {
        leaves[count++] = (long) uses[s] << 17 | s;
      }
    }
    Arrays.sort(leaves, 0, count);
    int[] parent = new int[2 * count];
    long[] weight = new long[2 * count];
    for (int k = 0; k < count; k++) {
      weight[k] = leaves[k] >>> 17;
    }
    int leaf = 0;
    int tree = count;
    for (int made = count; made < 2 * count - 1; made++) {
      for (int side = 0; side < 2; side++) {
        boolean takeLeaf = leaf < count && (tree >= made || weight[leaf] <= weight[tree]);
        int taken = takeLeaf ? leaf++ : tree++;
        parent[taken] = made;
        weight[made] += weight[taken];
      }
    }
    byte[] depth = new byte[2 * count];
    byte[] out = new byte[SYMBOLS];
    for (int k = 2 * count - 3; k >= 0; k--) {
      depth[k] = (byte) (depth[parent[k]] + 1);
    }
    for (int k = 0; k < count; k++) {
      // a lone symbol has a code all the same
      out[(int) (leaves[k] & 0x1ffff)] = (byte) Math.max(1, depth[k]);
    }
    return out;
  }

  /**
   * Returns the first code of each length.
   *
   * @param of how many symbols have a code of each length
   */
  private static long[] firstCodes(int[] of) {
    long[] out = new long[LONGEST + 1];
    long code = 0;
    for (int l = LONGEST; l > 0; l--) {
      out[l] = code;
      code = code + of[l] >>> 1;
    }
    return out;
  }

  private static long[] codes(byte[] lengths, int first, int last) {
    int[] of = new int[LONGEST + 1];
    for (int s = first; s <= last; s++) {
      of[lengths[s]]++;
    }
    long[] next = firstCodes(of);
    long[] out = new long[SYMBOLS];
    for (int s = first; s <= last; s++) {
      if (lengths[s] > 0) {
        out[s] = next[lengths[s]]++;
      }
    }
    return out;
  }

  private static void putTable(BitWriter out, byte[] lengths, int first, int last) {
    int s = first;
    while (s <= last) {
      int none = 0;
      while (s + none <= last && lengths[s + none] == 0 && none < MOST_LONG) {
        none++;
      }
      if (none >= LEAST_LONG) {
        out.put(LONG_RUN, 6);
        out.put(none - LEAST_LONG, 8);
      } else if (none >= 2) {
        out.put(SHORT_RUN + none - 2, 6);
      } else {
        none = 1;
        out.put(lengths[s], 6);
      }
      s += none;
    }
  }

  // ---- unpacking

  /**
   * Unpacks numbers.
   *
   * @param in packed bytes, from its position to its limit
   * @param out is filled to {@code count}
   */
  static void unpack(ByteBuffer in, char[] out, int count) throws ExrException {
    if (in.remaining() < HEAD) {
      throw new ExrException("a Huffman code without its head");
    }
    int first = in.getInt();
    int last = in.getInt();
    int tableBytes = in.getInt();
    int bits = in.getInt();
    in.getInt();
    if (first < 0 || last < first || last >= SYMBOLS) {
      throw new ExrException("a Huffman code of the symbols %d to %d".formatted(first, last));
    }
    if (bits < 0 || (bits + 7L) / 8 > in.remaining()) {
      throw new ExrException("a Huffman code of %d bits goes beyond its chunk".formatted(bits));
    }
    int given = in.remaining();
    byte[] bytes = new byte[given + BEHIND];
    in.get(bytes, 0, given);
    byte[] lengths = new byte[SYMBOLS];
    // readers go by the table's symbols, whatever length it tells
    int at = table(bytes, given, lengths, first, last);
    if (8L * (given - at) < bits || tableBytes < 0) {
      throw new ExrException("a Huffman code of %d bits goes beyond its chunk".formatted(bits));
    }
    new Decoder(lengths, first, last).decode(bytes, at, bits, out, count);
  }

  /** Reads the table; returns where the data begins. */
  private static int table(byte[] in, int given, byte[] lengths, int first, int last)
      throws ExrException {
    int at = 0;
    long pending = 0;
    int held = 0;
    int s = first;
    while (s <= last) {
      while (held < 14) {
        pending = pending << 8 | (at < given ? in[at] & 0xff : 0);
        at++;
        held += 8;
        if (at > given + 8) {
          throw new ExrException("the table of a Huffman code goes beyond its chunk");
        }
      }
      int length = (int) (pending >>> held - 6) & 63;
      held -= 6;
      int none = 0;
      if (length == LONG_RUN) {
        none = LEAST_LONG + ((int) (pending >>> held - 8) & 255);
        held -= 8;
      } else if (length >= SHORT_RUN) {
        none = length - SHORT_RUN + 2;
      } else {
        lengths[s++] = (byte) length;
      }
      s += none;
      if (s > last + 1) {
        throw new ExrException("the table of a Huffman code has too many symbols");
      }
    }
    at -= held / 8;
    if (at > given) {
      throw new ExrException("the table of a Huffman code goes beyond its chunk");
    }
    return at;
  }

  /** Finds symbols by their codes. */
  private static final class Decoder {
    private final int repeat;

    /** How many bits are looked at in one step. */
    private final int step;

    /** By the next bits: the symbol and, from bit 24 on, the length; 0 where it is longer. */
    private final int[] steps;

    /**
     * By the next bits: two symbols whose codes both lie in them, or one, 16 bits each; from bit 32
     * on the length of their codes, from bit 40 on how many there are. 0 where there is none, or
     * where the number before is repeated. Empty where codes are too long for it.
     */
    private final long[] pairs;

    /** First code of each length, from the highest bit of a long on; unsigned. */
    private final long[] from = new long[LONGEST + 1];

    /** Which of the sorted symbols has that code, and how many have that length. */
    private final int[] start = new int[LONGEST + 1];

    private final int[] of = new int[LONGEST + 1];
    private final int[] sorted;

    Decoder(byte[] lengths, int lowest, int repeat) throws ExrException {
      this.repeat = repeat;
      // most symbols have no code: what follows goes over those that do
      int total = 0;
      int[] used = Scratch.used(repeat - lowest + 1);
      for (int s = lowest; s <= repeat; s++) {
        used[total] = s;
        total += lengths[s] > 0 ? 1 : 0;
      }
      for (int k = 0; k < total; k++) {
        of[lengths[used[k]]]++;
      }
      long[] codes = firstCodes(of);
      double full = 0;
      double near = 0;
      int before = 0;
      for (int l = 1; l <= LONGEST; l++) {
        start[l] = before;
        before += of[l];
        from[l] = codes[l] << 64 - l;
        full += of[l] * Math.pow(2, -l);
        near = l == NEAR_STEP ? full : near;
      }
      if (full > 1) {
        throw new ExrException("the codes of a Huffman table are not distinct");
      }
      sorted = new int[total];
      int[] next = start.clone();
      for (int k = 0; k < total; k++) {
        sorted[next[lengths[used[k]]]++] = used[k];
      }
      // a code of l bits is met once in 2^l times
      boolean isNear = full - near < SELDOM;
      step = isNear ? NEAR_STEP : MOST_STEP;
      steps = Scratch.steps(1 << step);
      for (int l = 1; l <= step; l++) {
        for (int k = 0; k < of[l]; k++) {
          int code = (int) (codes[l] + k);
          int at = code << step - l;
          Arrays.fill(steps, at, at + (1 << step - l), sorted[start[l] + k] | l << 24);
        }
      }
      pairs = isNear ? Scratch.pairs(1 << step) : new long[0];
      for (int k = 0; isNear && k < 1 << step; k++) {
        pairs[k] = pair(k);
      }
    }

    private long pair(int bits) {
      int one = steps[bits];
      if (one == 0 || (one & SYMBOL) == repeat) {
        return 0;
      }
      int length = one >>> 24;
      int two = steps[bits << length & (1 << step) - 1];
      int both = length + (two >>> 24);
      return two == 0 || (two & SYMBOL) == repeat || both > step
          ? one & SYMBOL | (long) length << 32 | 1L << 40
          : one & SYMBOL | (two & SYMBOL) << 16 & 0xffffffffL | (long) both << 32 | 2L << 40;
    }

    /** Returns symbol and length of the code that a number begins with, or 0. */
    private int find(long bits) {
      for (int l = step + 1; l <= LONGEST; l++) {
        if (of[l] > 0 && Long.compareUnsigned(bits, from[l]) >= 0) {
          long k = bits - from[l] >>> 64 - l;
          if (k < of[l]) {
            return sorted[start[l] + (int) k] | l << 24;
          }
        }
      }
      return 0;
    }

    /**
     * Decodes numbers.
     *
     * @param in with {@link #BEHIND} bytes behind the code's
     */
    void decode(byte[] in, int start, int bits, char[] out, int count) throws ExrException {
      long at = 8L * start;
      long end = at + bits;
      int made = 0;
      while (at < end) {
        // at least 57 bits are there: several short codes
        long next = (long) LONGS.get(in, (int) (at >>> 3)) << (at & 7);
        int left = 57 - step;
        long pair = pairs.length == 0 ? 0 : pairs[(int) (next >>> 64 - step)];
        // a second number that is none is written over
        while (pair != 0 && made < count - 1) {
          out[made] = (char) pair;
          out[made + 1] = (char) (pair >>> 16);
          int length = (int) (pair >>> 32) & 0xff;
          made += (int) (pair >>> 40);
          next <<= length;
          at += length;
          left -= length;
          if (left < 0) {
            break;
          }
          pair = pairs[(int) (next >>> 64 - step)];
        }
        if (left < 0 || at >= end) {
          continue;
        }
        int found = steps[(int) (next >>> 64 - step)];
        while (found != 0 && (found & SYMBOL) != repeat && made < count) {
          int length = found >>> 24;
          out[made++] = (char) found;
          next <<= length;
          at += length;
          left -= length;
          if (left < 0) {
            break;
          }
          found = steps[(int) (next >>> 64 - step)];
        }
        if (left < 0 || at >= end) {
          continue;
        }
        if (found == 0) {
          int byteAt = (int) (at >>> 3);
          int turn = (int) (at & 7);
          long all = (long) LONGS.get(in, byteAt) << turn | (in[byteAt + 8] & 0xff) >>> 8 - turn;
          found = find(all);
          if (found == 0) {
            throw new ExrException("a code that is not in its Huffman table");
          }
        }
        at += found >>> 24;
        if ((found & SYMBOL) == repeat) {
          long then = (long) LONGS.get(in, (int) (at >>> 3)) << (at & 7);
          int run = (int) (then >>> 56);
          at += 8;
          if (made == 0 || run > count - made) {
            throw new ExrException("a Huffman code repeats beyond its chunk");
          }
          Arrays.fill(out, made, made + run, out[made - 1]);
          made += run;
        } else {
          if (made >= count) {
            throw new ExrException("a Huffman code holds more numbers than its chunk");
          }
          out[made++] = (char) found;
        }
        if (at > end + 64) {
          break;
        }
      }
      if (at != end || made != count) {
        throw new ExrException(
            "a Huffman code holds %d numbers, expected %d".formatted(made, count));
      }
    }
  }
}
