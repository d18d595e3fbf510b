package org.wedgecutter.exr;

/** The numbers of one channel, line by line from the top, {@code width * height} of them. */
public sealed interface Samples {
  /** Returns how many numbers there are. */
  int size();

  /**
   * Numbers of a {@link PixelType#HALF} or {@link PixelType#FLOAT} channel; the array is not
   * copied.
   */
  record Real(float[] values) implements Samples {
    @Override
    public int size() {
      return values.length;
    }
  }

  /** Bits of a {@link PixelType#UINT} channel; the array is not copied. */
  record Whole(int[] values) implements Samples {
    @Override
    public int size() {
      return values.length;
    }
  }
}
