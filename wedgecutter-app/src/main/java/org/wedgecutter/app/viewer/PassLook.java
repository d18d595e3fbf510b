package org.wedgecutter.app.viewer;

import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.pass.PassPicture;
import org.wedgecutter.core.plan.Output;

/** How a pass is displayed: light as it is, data as colours. For the screen only. */
public final class PassLook {
  private PassLook() {}

  /** Returns a picture of a pass. */
  public static Picture of(PassPicture pass, int width, int height, Output output) {
    Picture out = Picture.empty(width, height);
    int n = pass.channels().size();
    float[] v = pass.values();
    float[] rgba = out.rgba();
    for (int p = 0; p < width * height; p++) {
      int at = n * p;
      int to = 4 * p;
      rgba[to + 3] = 1;
      switch (pass.title()) {
        case "Z" -> grey(rgba, to, ramp(v[at], output));
        case "N" ->
            set(rgba, to, 0.5f + 0.5f * v[at], 0.5f + 0.5f * v[at + 1], 0.5f + 0.5f * v[at + 2]);
        // a stripe a metre along each axis
        case "P" -> set(rgba, to, part(v[at]), part(v[at + 1]), part(v[at + 2]));
        case "uv" -> set(rgba, to, part(v[at]), part(v[at + 1]), 0);
        case "forward", "backward" -> set(rgba, to, speed(v[at]), speed(v[at + 1]), 0.25f);
        default -> {
          if (n == 1) {
            grey(rgba, to, v[at]);
          } else if (pass.channels().getFirst().equals("r")) {
            matte(rgba, to, v, at);
          } else {
            set(rgba, to, v[at], v[at + 1], v[at + 2]);
          }
        }
      }
    }
    return out;
  }

  private static float ramp(float z, Output o) {
    double t = (z - o.near()) / Math.max(1e-9, o.far() - o.near());
    return (float) (1 - Math.max(0, Math.min(1, t)));
  }

  private static float part(float x) {
    return (float) (x - Math.floor(x));
  }

  /** Standing still is middle grey; eight pixels to either side are half as far again. */
  private static float speed(float pixels) {
    return 0.25f + 0.25f * pixels / (8 + Math.abs(pixels));
  }

  /** The colours of two ranks of names, as far as they cover. */
  private static void matte(float[] rgba, int to, float[] v, int at) {
    for (int rank = 0; rank < 2; rank++) {
      int bits = Float.floatToRawIntBits(v[at + 2 * rank]);
      float cover = v[at + 2 * rank + 1];
      rgba[to] += cover * (0.08f + 0.8f * (bits >>> 16 & 63) / 63);
      rgba[to + 1] += cover * (0.08f + 0.8f * (bits >>> 8 & 63) / 63);
      rgba[to + 2] += cover * (0.08f + 0.8f * (bits & 63) / 63);
    }
  }

  private static void grey(float[] rgba, int to, float v) {
    set(rgba, to, v, v, v);
  }

  private static void set(float[] rgba, int to, float r, float g, float b) {
    rgba[to] = r;
    rgba[to + 1] = g;
    rgba[to + 2] = b;
  }
}
