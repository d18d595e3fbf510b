package org.wedgecutter.core.rejoin;

import java.util.stream.IntStream;
import org.wedgecutter.core.image.Picture;

/** Mattes that grow or shrink: the largest, or least, value within a disc. */
final class MatteShape {
  private MatteShape() {}

  /**
   * Returns a matte that reaches further.
   *
   * @param radius pixels; negative for one that shrinks
   */
  static Picture grown(Picture matte, double radius) {
    int width = matte.width();
    int height = matte.height();
    float sign = radius < 0 ? -1 : 1;
    double r = Math.abs(radius);
    int most = (int) Math.floor(r);
    float[] m = new float[width * height];
    for (int p = 0; p < m.length; p++) {
      m[p] = sign * matte.rgba()[4 * p];
    }
    Picture out = Picture.empty(width, height);
    IntStream.range(0, height)
        .parallel()
        .forEach(y -> {
          float[] line = new float[width];
          java.util.Arrays.fill(line, Float.NEGATIVE_INFINITY);
          int[] queue = new int[width];
          for (int dy = -most; dy <= most; dy++) {
            if (y + dy >= 0 && y + dy < height) {
              int half = (int) Math.floor(Math.sqrt(r * r - (double) dy * dy));
              window(m, (y + dy) * width, width, half, line, queue);
            }
          }
          for (int x = 0; x < width; x++) {
            float v = sign * line[x];
            int at = 4 * (y * width + x);
            out.rgba()[at] = v;
            out.rgba()[at + 1] = v;
            out.rgba()[at + 2] = v;
            out.rgba()[at + 3] = v;
          }
        });
    return out;
  }

  /** Raises each number to the largest within a window: a queue of those that can still win. */
  private static void window(float[] m, int at, int width, int half, float[] line, int[] queue) {
    int head = 0;
    int tail = 0;
    for (int x = 0; x < width + half; x++) {
      if (x < width) {
        while (tail > head && m[at + queue[tail - 1]] <= m[at + x]) {
          tail--;
        }
        queue[tail++] = x;
      }
      int centre = x - half;
      if (centre >= 0) {
        while (queue[head] < centre - half) {
          head++;
        }
        line[centre] = Math.max(line[centre], m[at + queue[head]]);
      }
    }
  }
}
