package org.wedgecutter.exr;

import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.charset.StandardCharsets;

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

  /** A value of a type that this package does not interpret. */
  record Raw(String type, byte[] encode) implements Attribute {}

  /** Reads a value; unknown types, and known ones of unexpected size, become {@link Raw}. */
  static Attribute decode(String type, byte[] bytes) {
    ByteBuffer in = ByteBuffer.wrap(bytes).order(ByteOrder.LITTLE_ENDIAN);
    return switch (type) {
      case "string" -> new Text(new String(bytes, StandardCharsets.UTF_8));
      case "int" -> bytes.length == 4 ? new Int(in.getInt()) : new Raw(type, bytes);
      case "float" -> bytes.length == 4 ? new Real(in.getFloat()) : new Raw(type, bytes);
      case "rational" ->
          bytes.length == 8 ? new Rational(in.getInt(), in.getInt()) : new Raw(type, bytes);
      case "chromaticities" ->
          bytes.length == 32 ? new Chromaticities(floats(in, 8)) : new Raw(type, bytes);
      case "m44f" -> bytes.length == 64 ? new Matrix(floats(in, 16)) : new Raw(type, bytes);
      default -> new Raw(type, bytes);
    };
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
