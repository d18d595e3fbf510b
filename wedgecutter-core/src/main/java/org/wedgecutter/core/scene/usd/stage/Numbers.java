package org.wedgecutter.core.scene.usd.stage;

import java.util.Arrays;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.IntStream;

/**
 * Numbers of an attribute: a tuple, or a list of numbers or of tuples, as an array of {@code
 * float}, {@code double}, {@code int} or {@code long}, as the attribute's type says.
 *
 * <p>Quaternions have their real part first. Matrices are row by row, for row vectors.
 */
public final class Numbers {
  private static final Pattern LAST_DIGIT = Pattern.compile("([2-4])[a-z]?$");
  private final Object data;
  private final int size;
  private final int each;

  private Numbers(Object data, int size, int each) {
    this.data = data;
    this.size = size;
    this.each = each;
  }

  /**
   * Wraps an array, which is not copied.
   *
   * @param each numbers of a tuple; 1 if there are no tuples
   */
  public static Numbers of(float[] values, int each) {
    return new Numbers(values, values.length, each);
  }

  /** Wraps an array; as {@link #of(float[], int)}. */
  public static Numbers of(double[] values, int each) {
    return new Numbers(values, values.length, each);
  }

  /** Wraps an array; as {@link #of(float[], int)}. */
  public static Numbers of(int[] values, int each) {
    return new Numbers(values, values.length, each);
  }

  /** Wraps an array; as {@link #of(float[], int)}. */
  public static Numbers of(long[] values, int each) {
    return new Numbers(values, values.length, each);
  }

  /** Returns how many numbers there are, over all tuples. */
  public int size() {
    return size;
  }

  /** Returns how many numbers a tuple has; 1 if there are no tuples. */
  public int each() {
    return each;
  }

  /** Returns the array that holds them. */
  Object stored() {
    return data;
  }

  /** Returns a number. */
  public double get(int index) {
    return switch (data) {
      case float[] f -> f[index];
      case int[] i -> i[index];
      case long[] l -> l[index];
      default -> ((double[]) data)[index];
    };
  }

  /** Returns all as new or shared {@code double}s, which must not be changed. */
  public double[] doubles() {
    return data instanceof double[] d
        ? d
        : IntStream.range(0, size).mapToDouble(this::get).toArray();
  }

  /** Returns all as new or shared {@code float}s, which must not be changed. */
  public float[] floats() {
    if (data instanceof float[] f) {
      return f;
    }
    float[] out = new float[size];
    for (int i = 0; i < size; i++) {
      out[i] = (float) get(i);
    }
    return out;
  }

  /** Returns all as new or shared {@code int}s, cut off at their range. */
  public int[] ints() {
    return data instanceof int[] i ? i : IntStream.range(0, size).map(k -> (int) get(k)).toArray();
  }

  /**
   * Returns them as an attribute's type stores them.
   *
   * @param type as {@code float3[]}
   */
  Numbers as(String type) {
    String base = type.replace("[]", "");
    if (size == 0 && each != tuple(base)) {
      return new Numbers(data, 0, tuple(base)).as(type);
    }
    if (base.startsWith("int64") || base.startsWith("uint64")) {
      long[] out = new long[size];
      for (int i = 0; i < size; i++) {
        out[i] = (long) get(i);
      }
      return of(out, each);
    }
    if (base.startsWith("int") || base.equals("bool") || base.equals("uchar")) {
      return of(ints(), each);
    }
    boolean wide =
        base.startsWith("double")
            || base.startsWith("matrix")
            || base.startsWith("uint")
            || base.startsWith("frame")
            || base.endsWith("d")
            || base.equals("timecode")
            || base.isEmpty();
    return wide ? of(doubles(), each) : of(floats(), each);
  }

  /** Returns how many numbers a value of a type has. */
  private static int tuple(String base) {
    Matcher digits = LAST_DIGIT.matcher(base);
    if (base.startsWith("quat")) {
      return 4;
    }
    if (base.endsWith("int64") || !digits.find()) {
      return 1;
    }
    int side = digits.group(1).charAt(0) - '0';
    return base.startsWith("matrix") || base.startsWith("frame") ? side * side : side;
  }

  @Override
  public boolean equals(Object other) {
    return other instanceof Numbers n
        && n.each == each
        && n.size == size
        && Arrays.equals(n.doubles(), doubles());
  }

  @Override
  public int hashCode() {
    return 31 * Arrays.hashCode(doubles()) + each;
  }

  @Override
  public String toString() {
    return each + ": " + Arrays.toString(Arrays.copyOf(doubles(), Math.min(size, 64)));
  }
}
