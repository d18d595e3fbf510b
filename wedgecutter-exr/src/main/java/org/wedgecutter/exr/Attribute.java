package org.wedgecutter.exr;

import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;

/**
 * The value of a header attribute beside the required ones. Types of the open format that are not
 * listed are kept as {@link Raw} bytes, so that nothing is lost when a file is read and written
 * again.
 */
public sealed interface Attribute {
  /** Returns the type's name in the file. */
  String type();

  /** Returns the value's bytes, little-endian. */
  byte[] encode();

  /** A text, UTF-8. */
  record Text(String value) implements Attribute {
    @Override
    public String type() {
      return "string";
    }

    @Override
    public byte[] encode() {
      return value.getBytes(StandardCharsets.UTF_8);
    }
  }

  /** A whole number. */
  record Int(int value) implements Attribute {
    @Override
    public String type() {
      return "int";
    }

    @Override
    public byte[] encode() {
      return buffer(4).putInt(value).array();
    }
  }

  /** A number. */
  record Real(float value) implements Attribute {
    @Override
    public String type() {
      return "float";
    }

    @Override
    public byte[] encode() {
      return buffer(4).putFloat(value).array();
    }
  }

  /** A fraction, such as frames per second. */
  record Rational(int numerator, int denominator) implements Attribute {
    @Override
    public String type() {
      return "rational";
    }

    @Override
    public byte[] encode() {
      return buffer(8).putInt(numerator).putInt(denominator).array();
    }
  }

  /** CIE x and y of red, green, blue and white, in this order: eight numbers. */
  record Chromaticities(float... xy) implements Attribute {
    /** Primaries of ITU-R BT.709 with white D65. */
    public static final Chromaticities BT709 =
        new Chromaticities(0.64f, 0.33f, 0.30f, 0.60f, 0.15f, 0.06f, 0.3127f, 0.3290f);

    @Override
    public String type() {
      return "chromaticities";
    }

    @Override
    public byte[] encode() {
      return floats(xy);
    }
  }

  /** A 4 by 4 matrix, row by row, for row vectors. */
  record Matrix(float... rows) implements Attribute {
    @Override
    public String type() {
      return "m44f";
    }

    @Override
    public byte[] encode() {
      return floats(rows);
    }
  }

  /** A double. */
  record Double(double value) implements Attribute {
    @Override
    public String type() {
      return "double";
    }

    @Override
    public byte[] encode() {
      return buffer(8).putDouble(value).array();
    }
  }

  /**
   * Several whole numbers: {@code v2i}, {@code v3i}, {@code box2i} (least x and y, greatest x and
   * y), {@code keycode} (film's maker, kind, prefix, count, offset in perforations, perforations a
   * frame and a count) or {@code timecode} (time and flags as binary-coded decimals, user data).
   */
  record Ints(String type, int... values) implements Attribute {
    @Override
    public byte[] encode() {
      ByteBuffer out = buffer(4 * values.length);
      for (int value : values) {
        out.putInt(value);
      }
      return out.array();
    }
  }

  /** Several numbers: {@code v2f}, {@code v3f}, {@code box2f}, or {@code m33f} row by row. */
  record Reals(String type, float... values) implements Attribute {
    @Override
    public byte[] encode() {
      return floats(values);
    }
  }

  /** Several doubles: {@code v2d}, {@code v3d}, {@code m33d} or {@code m44d} row by row. */
  record Doubles(String type, double... values) implements Attribute {
    @Override
    public byte[] encode() {
      ByteBuffer out = buffer(8 * values.length);
      for (double value : values) {
        out.putDouble(value);
      }
      return out.array();
    }
  }

  /** Several texts. */
  record Texts(List<String> values) implements Attribute {
    public Texts {
      values = List.copyOf(values);
    }

    @Override
    public String type() {
      return "stringvector";
    }

    @Override
    public byte[] encode() {
      List<byte[]> all = values.stream().map(v -> v.getBytes(StandardCharsets.UTF_8)).toList();
      ByteBuffer out = buffer(all.stream().mapToInt(b -> 4 + b.length).sum());
      all.forEach(b -> out.putInt(b.length).put(b));
      return out.array();
    }
  }

  /**
   * A small picture to look at.
   *
   * @param width pixels in a line
   * @param height lines
   * @param rgba four bytes a pixel, from the top
   */
  record Preview(int width, int height, byte[] rgba) implements Attribute {
    public Preview {
      if (width < 0 || height < 0 || rgba.length != 4L * width * height) {
        throw new IllegalArgumentException(
            "a preview of %d x %d pixels with %d bytes".formatted(width, height, rgba.length));
      }
    }

    @Override
    public String type() {
      return "preview";
    }

    @Override
    public byte[] encode() {
      return buffer(8 + rgba.length).putInt(width).putInt(height).put(rgba).array();
    }
  }

  /** A choice of few: {@code envmap}, {@code lineOrder}, {@code compression}, by its code. */
  record Code(String type, byte code) implements Attribute {
    @Override
    public byte[] encode() {
      return new byte[] {code};
    }
  }

  /** A value of a type that this package does not interpret. */
  record Raw(String type, byte[] encode) implements Attribute {}

  /** Reads a value; unknown types, and known ones of unexpected size, become {@link Raw}. */
  static Attribute decode(String type, byte[] bytes) {
    ByteBuffer in = ByteBuffer.wrap(bytes).order(ByteOrder.LITTLE_ENDIAN);
    Integer size = SIZES.get(type);
    if (size != null && size != bytes.length) {
      return new Raw(type, bytes);
    }
    return switch (type) {
      case "string" -> new Text(new String(bytes, StandardCharsets.UTF_8));
      case "int" -> new Int(in.getInt());
      case "float" -> new Real(in.getFloat());
      case "double" -> new Double(in.getDouble());
      case "rational" -> new Rational(in.getInt(), in.getInt());
      case "chromaticities" -> new Chromaticities(floats(in, 8));
      case "m44f" -> new Matrix(floats(in, 16));
      case "v2i", "v3i", "box2i", "keycode", "timecode" -> new Ints(type, ints(in));
      case "v2f", "v3f", "box2f", "m33f" -> new Reals(type, floats(in, bytes.length / 4));
      case "v2d", "v3d", "m33d", "m44d" -> new Doubles(type, doubles(in));
      case "envmap", "lineOrder", "compression" -> new Code(type, in.get());
      case "stringvector" -> texts(type, bytes, in);
      case "preview" -> preview(type, bytes, in);
      default -> new Raw(type, bytes);
    };
  }

  /** Bytes of the types of one size. */
  Map<String, Integer> SIZES =
      Map.ofEntries(
          Map.entry("int", 4),
          Map.entry("float", 4),
          Map.entry("double", 8),
          Map.entry("rational", 8),
          Map.entry("chromaticities", 32),
          Map.entry("m33f", 36),
          Map.entry("m44f", 64),
          Map.entry("m33d", 72),
          Map.entry("m44d", 128),
          Map.entry("v2i", 8),
          Map.entry("v3i", 12),
          Map.entry("v2f", 8),
          Map.entry("v3f", 12),
          Map.entry("v2d", 16),
          Map.entry("v3d", 24),
          Map.entry("box2i", 16),
          Map.entry("box2f", 16),
          Map.entry("keycode", 28),
          Map.entry("timecode", 8),
          Map.entry("envmap", 1),
          Map.entry("lineOrder", 1),
          Map.entry("compression", 1));

  private static Attribute texts(String type, byte[] bytes, ByteBuffer in) {
    List<String> out = new ArrayList<>();
    while (in.remaining() >= 4) {
      int size = in.getInt();
      if (size < 0 || size > in.remaining()) {
        return new Raw(type, bytes);
      }
      byte[] text = new byte[size];
      in.get(text);
      out.add(new String(text, StandardCharsets.UTF_8));
    }
    return in.hasRemaining() ? new Raw(type, bytes) : new Texts(out);
  }

  private static Attribute preview(String type, byte[] bytes, ByteBuffer in) {
    if (bytes.length < 8) {
      return new Raw(type, bytes);
    }
    int width = in.getInt();
    int height = in.getInt();
    if (width < 0 || height < 0 || 4L * width * height != in.remaining()) {
      return new Raw(type, bytes);
    }
    byte[] rgba = new byte[in.remaining()];
    in.get(rgba);
    return new Preview(width, height, rgba);
  }

  private static int[] ints(ByteBuffer in) {
    int[] values = new int[in.remaining() / 4];
    in.asIntBuffer().get(values);
    return values;
  }

  private static double[] doubles(ByteBuffer in) {
    double[] values = new double[in.remaining() / 8];
    in.asDoubleBuffer().get(values);
    return values;
  }

  private static ByteBuffer buffer(int size) {
    return ByteBuffer.allocate(size).order(ByteOrder.LITTLE_ENDIAN);
  }

  private static byte[] floats(float[] values) {
    ByteBuffer out = buffer(4 * values.length);
    for (float value : values) {
      out.putFloat(value);
    }
    return out.array();
  }

  private static float[] floats(ByteBuffer in, int count) {
    float[] values = new float[count];
    for (int i = 0; i < count; i++) {
      values[i] = in.getFloat();
    }
    return values;
  }
}
