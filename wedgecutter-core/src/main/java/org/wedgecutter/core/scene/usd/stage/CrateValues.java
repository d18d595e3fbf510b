package org.wedgecutter.core.scene.usd.stage;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.io.InputException;

/**
 * Values of a crate file. A value is 64 bits: whether it is a list (bit 63), is in these bits
 * itself (62), is packed (61); its type (48 to 55); and itself or its place in the file (0 to 47).
 */
final class CrateValues {
  private static final long LIST = 1L << 63;
  private static final long INLINE = 1L << 62;
  private static final long PACKED = 1L << 61;
  private static final long PAYLOAD = (1L << 48) - 1;

  /** Lists of fewer items are not packed, whatever their bits say. */
  private static final int LEAST_PACKED = 16;

  private static final int MAX_DEPTH = 64;

  /** The type of two halves. */
  private static final int HALF2 = 21;

  // what numbers are made of
  private static final char BYTE = 'b';
  private static final char INT = 'i';
  private static final char UINT = 'u';
  private static final char LONG = 'l';
  private static final char HALF = 'h';
  private static final char FLOAT = 'f';
  private static final char DOUBLE = 'd';

  private final CrateBytes in;
  private final int version;
  private final String[] tokens;
  private final int[] strings;
  private final String[] paths;
  private int depth;

  CrateValues(CrateBytes in, int version, String[] tokens, int[] strings, String[] paths) {
    this.in = in;
    this.version = version;
    this.tokens = tokens;
    this.strings = strings;
    this.paths = paths;
  }

  /**
   * Numbers of a type, by its number in the form: what they are made of, and how many there are.
   */
  private static @Nullable String numbers(int type) {
    return switch (type) {
      case 1, 2 -> "b1";
      case 3 -> "i1";
      case 4 -> "u1";
      case 5, 6 -> "l1";
      case 7 -> "h1";
      case 8 -> "f1";
      case 9, 56 -> "d1";
      case 13 -> "d4";
      case 14 -> "d9";
      case 15 -> "d16";
      case 16, 27 -> "d4";
      case 17, 28 -> "f4";
      case 18, 29 -> "h4";
      case 19 -> "d2";
      case 20 -> "f2";
      case 21 -> "h2";
      case 22 -> "i2";
      case 23 -> "d3";
      case 24 -> "f3";
      case 25 -> "h3";
      case 26 -> "i3";
      case 30 -> "i4";
      default -> null;
    };
  }

  private static boolean isQuaternion(int type) {
    return type >= 16 && type <= 18;
  }

  private static boolean isMatrix(int type) {
    return type >= 13 && type <= 15;
  }

  /** Reads a value; null where this reader has no use for its type. */
  @Nullable Object read(long bits) throws InputException {
    if (++depth > MAX_DEPTH) {
      throw in.wrong("has values nested too deep");
    }
    try {
      int type = (int) (bits >> 48) & 0xff;
      long payload = bits & PAYLOAD;
      if ((bits & LIST) != 0) {
        return list(type, payload, (bits & PACKED) != 0);
      }
      return (bits & INLINE) != 0 ? inline(type, (int) payload) : placed(type, payload);
    } finally {
      depth--;
    }
  }

  private @Nullable Object inline(int type, int v) throws InputException {
    String numbers = numbers(type);
    if (numbers != null && !numbers.endsWith("1") || isMatrix(type)) {
      return inlineTuple(type, v);
    }
    return switch (type) {
      case 1 -> v != 0;
      case 2, 3, 5 -> (double) v;
      case 4, 6 -> (double) (v & 0xffffffffL);
      case 7 -> (double) Float.float16ToFloat((short) v);
      case 8, 9, 56 -> (double) Float.intBitsToFloat(v);
      case 10 -> string(v);
      case 11 -> token(v);
      case 12 -> AssetPath.of(token(v));
      case 31, 45 -> Map.of();
      case 42, 43, 44 -> (double) v;
      case 51, 60 -> PropertySpec.BLOCKED;
      default -> null;
    };
  }

  /**
   * Small whole numbers, a byte each; of a matrix those of its diagonal; two halves as they are.
   */
  private static Numbers inlineTuple(int type, int v) {
    int count = Integer.parseInt(String.valueOf(numbers(type)).substring(1));
    double[] out = new double[count];
    if (type == HALF2) {
      out[0] = Float.float16ToFloat((short) v);
      out[1] = Float.float16ToFloat((short) (v >> 16));
    } else if (isMatrix(type)) {
      int side = (int) Math.round(Math.sqrt(count));
      for (int k = 0; k < side; k++) {
        out[k * side + k] = (byte) (v >> (8 * k));
      }
    } else {
      for (int k = 0; k < count; k++) {
        out[k] = (byte) (v >> (8 * k));
      }
    }
    return stored(out, String.valueOf(numbers(type)).charAt(0), count);
  }

  /** Returns numbers as a list of their type is stored. */
  private static Numbers stored(double[] values, char of, int each) {
    Numbers wide = Numbers.of(values, each);
    return switch (of) {
      case FLOAT, HALF -> Numbers.of(wide.floats(), each);
      case INT, BYTE -> Numbers.of(wide.ints(), each);
      default -> wide;
    };
  }

  private String token(int index) throws InputException {
    if (index < 0 || index >= tokens.length) {
      throw in.wrong("has a token of number %d of %d".formatted(index, tokens.length));
    }
    return tokens[index];
  }

  private String string(int index) throws InputException {
    if (index < 0 || index >= strings.length) {
      throw in.wrong("has a string of number %d of %d".formatted(index, strings.length));
    }
    return token(strings[index]);
  }

  private String path(int index) throws InputException {
    if (index < 0 || index >= paths.length || paths[index] == null) {
      throw in.wrong("has a path of number %d of %d".formatted(index, paths.length));
    }
    return paths[index];
  }

  private @Nullable Object placed(int type, long place) throws InputException {
    in.seek(place);
    String numbers = numbers(type);
    if (numbers != null) {
      int each = Integer.parseInt(numbers.substring(1));
      Numbers out = numbers(type, numbers.charAt(0), each, 1);
      return each > 1 ? out : type == 1 ? (Object) (out.get(0) != 0) : (Object) out.get(0);
    }
    return switch (type) {
      case 10 -> string(in.i32());
      case 11 -> token(in.i32());
      case 12 -> AssetPath.of(string(in.i32()));
      case 31 -> dictionary();
      case 32, 33, 34, 35, 36, 37, 38, 39, 55 -> listOp(type);
      case 40 -> items(4, () -> path(in.i32()));
      case 41 -> items(4, () -> token(in.i32()));
      case 45 -> selections();
      case 46 -> samples();
      case 47 -> payload();
      case 48 -> Numbers.of(in.doubles(in.count(8)), 1);
      case 49 -> items(16, this::offset);
      case 50 -> items(4, () -> string(in.i32()));
      case 51, 60 -> PropertySpec.BLOCKED;
      case 52 -> nested();
      case 57 -> string(in.i32());
      case 58 -> true;
      case 59 -> true;
      default -> null;
    };
  }

  /** Reads one item. */
  private interface Item<T> {
    T read() throws InputException;
  }

  private <T> List<T> items(int least, Item<T> item) throws InputException {
    int count = in.count(least);
    List<T> out = new ArrayList<>(Math.min(count, 1 << 16));
    for (int k = 0; k < count; k++) {
      out.add(item.read());
    }
    return out;
  }

  private LayerOffset offset() throws InputException {
    double offset = in.f64();
    double scale = in.f64();
    return new LayerOffset(offset, scale == 0 ? 1 : scale);
  }

  private Reference reference() throws InputException {
    String asset = string(in.i32());
    String path = path(in.i32());
    LayerOffset offset = offset();
    dictionary();
    return new Reference(asset, path, offset);
  }

  private Reference payload() throws InputException {
    String asset = string(in.i32());
    String path = path(in.i32());
    return new Reference(asset, path, version >= 800 ? offset() : LayerOffset.NONE);
  }

  private Map<String, String> selections() throws InputException {
    Map<String, String> out = new LinkedHashMap<>();
    for (int k = in.count(8); k > 0; k--) {
      String set = string(in.i32());
      out.put(set, string(in.i32()));
    }
    return out;
  }

  private Map<String, Object> dictionary() throws InputException {
    Map<String, Object> out = new LinkedHashMap<>();
    for (int k = in.count(12); k > 0; k--) {
      String key = string(in.i32());
      Object value = nested();
      if (value != null) {
        out.put(key, value);
      }
    }
    return out;
  }

  /** Reads a value that stands elsewhere, to which a jump leads; then what follows it is next. */
  private @Nullable Object nested() throws InputException {
    jump();
    long bits = in.i64();
    long back = in.at();
    Object out = read(bits);
    in.seek(back);
    return out;
  }

  private void jump() throws InputException {
    long start = in.at();
    in.seek(start + in.i64());
  }

  private Map<Double, Object> samples() throws InputException {
    jump();
    long bits = in.i64();
    long back = in.at();
    Object times = read(bits);
    in.seek(back);
    jump();
    int count = in.count(8);
    long[] values = in.longs(count);
    if (!(times instanceof Numbers n) || n.size() != count) {
      throw in.wrong("has %d time samples for other times".formatted(count));
    }
    Map<Double, Object> out = new TreeMap<>();
    for (int k = 0; k < count; k++) {
      Object value = read(values[k]);
      if (value != null) {
        out.put(n.get(k), value);
      }
    }
    return out;
  }

  private ListOp<?> listOp(int type) throws InputException {
    int bits = in.u8();
    Item<Object> item =
        switch (type) {
          case 32 -> () -> token(in.i32());
          case 33 -> () -> string(in.i32());
          case 34 -> () -> path(in.i32());
          case 35 -> this::reference;
          case 55 -> this::payload;
          case 36, 38 -> () -> (double) in.i32();
          default -> () -> (double) in.i64();
        };
    int least = type == 35 || type == 55 ? 8 : type == 37 || type == 39 ? 8 : 4;
    List<Object> explicit = (bits & 2) != 0 ? items(least, item) : List.of();
    List<Object> added = (bits & 4) != 0 ? items(least, item) : List.of();
    List<Object> prepended = (bits & 32) != 0 ? items(least, item) : List.of();
    List<Object> appended = (bits & 64) != 0 ? items(least, item) : List.of();
    List<Object> deleted = (bits & 8) != 0 ? items(least, item) : List.of();
    List<Object> ordered = (bits & 16) != 0 ? items(least, item) : List.of();
    return new ListOp<>((bits & 1) != 0, explicit, prepended, appended, deleted, added, ordered);
  }

  // ---- lists

  private @Nullable Object list(int type, long place, boolean packed) throws InputException {
    String numbers = numbers(type);
    if (place == 0) {
      return numbers == null
          ? List.of()
          : stored(new double[0], numbers.charAt(0), Integer.parseInt(numbers.substring(1)));
    }
    in.seek(place);
    if (version < 500) {
      in.i32(); // the number of dimensions, which is 1
    }
    long count = version < 700 ? in.i32() & 0xffffffffL : in.i64();
    if (numbers != null) {
      char of = numbers.charAt(0);
      int each = Integer.parseInt(numbers.substring(1));
      if (packed && count >= LEAST_PACKED && each == 1) {
        return packed(of, in.packed(count, 8));
      }
      return numbers(type, of, each, in.checked(count, 1));
    }
    int n = in.checked(count, 4);
    return switch (type) {
      case 10 -> many(n, () -> string(in.i32()));
      case 11 -> many(n, () -> token(in.i32()));
      case 12 -> many(n, () -> AssetPath.of(string(in.i32())));
      case 57 -> many(n, () -> string(in.i32()));
      default -> null;
    };
  }

  private static <T> List<T> many(int count, Item<T> item) throws InputException {
    List<T> out = new ArrayList<>(Math.min(count, 1 << 16));
    for (int k = 0; k < count; k++) {
      out.add(item.read());
    }
    return out;
  }

  private Numbers numbers(int type, char of, int each, int tuples) throws InputException {
    long wide = (long) each * tuples;
    int count = in.checked(wide, 1);
    Numbers out =
        switch (of) {
          case INT -> Numbers.of(in.ints(count), each);
          case UINT -> {
            double[] v = new double[in.packed(count, 8)];
            int[] raw = in.ints(count);
            for (int k = 0; k < count; k++) {
              v[k] = raw[k] & 0xffffffffL;
            }
            yield Numbers.of(v, each);
          }
          case LONG -> Numbers.of(in.longs(count), each);
          case HALF -> Numbers.of(in.halves(count), each);
          case FLOAT -> Numbers.of(in.floats(count), each);
          case DOUBLE -> Numbers.of(in.doubles(count), each);
          default -> {
            int[] v = new int[in.packed(count, 4)];
            byte[] raw = in.raw(count);
            for (int k = 0; k < count; k++) {
              v[k] = raw[k] & 0xff;
            }
            yield Numbers.of(v, each);
          }
        };
    if (isQuaternion(type)) {
      realFirst(out);
    }
    return out;
  }

  /** The form has the real part of a quaternion last. */
  private static void realFirst(Numbers quaternions) {
    if (quaternions.stored() instanceof float[] f) {
      for (int k = 0; k + 3 < f.length; k += 4) {
        float real = f[k + 3];
        System.arraycopy(f, k, f, k + 1, 3);
        f[k] = real;
      }
    } else if (quaternions.stored() instanceof double[] d) {
      for (int k = 0; k + 3 < d.length; k += 4) {
        double real = d[k + 3];
        System.arraycopy(d, k, d, k + 1, 3);
        d[k] = real;
      }
    }
  }

  private Numbers packed(char of, int count) throws InputException {
    return switch (of) {
      case INT -> Numbers.of(in.packedInts(count), 1);
      case UINT -> {
        int[] raw = in.packedInts(count);
        double[] v = new double[count];
        for (int k = 0; k < count; k++) {
          v[k] = raw[k] & 0xffffffffL;
        }
        yield Numbers.of(v, 1);
      }
      case LONG -> Numbers.of(in.packedLongs(count), 1);
      case FLOAT, HALF, DOUBLE -> packedFractions(of, count);
      default -> throw in.wrong("has packed values of a type that is never packed");
    };
  }

  /** Fractions that are whole numbers, or few different ones in a table. */
  private Numbers packedFractions(char of, int count) throws InputException {
    int how = in.u8();
    double[] out = new double[count];
    if (how == 'i') {
      int[] whole = in.packedInts(count);
      for (int k = 0; k < count; k++) {
        out[k] = whole[k];
      }
    } else if (how == 't') {
      int size = in.checked(in.i32() & 0xffffffffL, 1);
      Numbers table =
          switch (of) {
            case HALF -> Numbers.of(in.halves(size), 1);
            case FLOAT -> Numbers.of(in.floats(size), 1);
            default -> Numbers.of(in.doubles(size), 1);
          };
      int[] index = in.packedInts(count);
      for (int k = 0; k < count; k++) {
        if (index[k] < 0 || index[k] >= size) {
          throw in.wrong("has a value of number %d of %d".formatted(index[k], size));
        }
        out[k] = table.get(index[k]);
      }
    } else {
      throw in.wrong("has values packed in an unknown way");
    }
    return stored(out, of, 1);
  }
}
