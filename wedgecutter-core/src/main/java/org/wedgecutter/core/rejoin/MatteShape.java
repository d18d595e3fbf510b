package org.wedgecutter.core.rejoin;

import java.util.stream.IntStream;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.plan.MatteDef;

/**
 * Mattes that are drawn; and mattes that grow or shrink: the largest, or least, value within a
 * disc.
 */
final class MatteShape {
  private MatteShape() {}

  /** Returns a shape as a picture, the same number in all channels. */
  static Picture of(MatteDef.Outline o, int width, int height) {
    double turn = Math.toRadians(o.turn());
    double cos = Math.cos(turn);
    double sin = Math.sin(turn);
    Picture out = Picture.empty(width, height);
    IntStream.range(0, height)
        .parallel()
        .forEach(y -> {
          for (int x = 0; x < width; x++) {
            double dx = (x + 0.5 - o.right() * width) / height;
            double dy = (y + 0.5) / height - o.down();
            double across = (cos * dx + sin * dy) / o.across();
            double along = (cos * dy - sin * dx) / o.along();
            float v = (float) within(o, across, along, height);
            int at = 4 * (y * width + x);
            for (int c = 0; c < 4; c++) {
              out.rgba()[at + c] = v;
            }
          }
        });
    return out;
  }

  /**
   * How much of a place is in a shape.
   *
   * @param across place in halves of the width
   * @param along place in halves of the height
   */
  private static double within(MatteDef.Outline o, double across, double along, int height) {
    double t =
        switch (o.form()) {
          case GRADIENT -> (across + 1) / 2;
          case ELLIPSE -> fade(1 - Math.hypot(across, along), o, height);
          case RECTANGLE -> fade(1 - Math.max(Math.abs(across), Math.abs(along)), o, height);
        };
    double bounded = Math.clamp(t, 0, 1);
    // without a corner where it begins and ends
    return bounded * bounded * (3 - 2 * bounded);
  }

  /** An edge fades over a pixel at least, so that it is not jagged. */
  private static double fade(double inside, MatteDef.Outline o, int height) {
    double pixel = 1 / (Math.min(o.across(), o.along()) * height);
    return o.soft() > pixel ? inside / o.soft() : inside / pixel + 0.5;
  }

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
