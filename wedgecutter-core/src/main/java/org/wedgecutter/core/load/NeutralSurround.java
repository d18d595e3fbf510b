package org.wedgecutter.core.load;

import org.wedgecutter.core.image.Picture;

/**
 * The light for a scene that has none: a grey room with a wide, soft window above, a little to the
 * right of the camera's side, and a darker floor. Mean radiance about 0.5, without colour, so that
 * a grey surface in it is exposed as in the middle of a picture.
 */
final class NeutralSurround {
  private static final int WIDTH = 128;
  private static final int HEIGHT = 64;

  private NeutralSurround() {}

  /** Returns it in latitude and longitude, top line first. */
  static Picture picture() {
    Picture out = Picture.empty(WIDTH, HEIGHT);
    double[] window = {0.45, 0.75, 0.5};
    double length =
        Math.sqrt(window[0] * window[0] + window[1] * window[1] + window[2] * window[2]);
    for (int y = 0; y < HEIGHT; y++) {
      double up = Math.PI * (0.5 - (y + 0.5) / HEIGHT);
      for (int x = 0; x < WIDTH; x++) {
        double around = 2 * Math.PI * ((x + 0.5) / WIDTH - 0.5);
        double cos =
            (Math.cos(up) * (Math.sin(around) * window[0] - Math.cos(around) * window[2])
                    + Math.sin(up) * window[1])
                / length;
        double room = 0.32 + 0.14 * Math.sin(up);
        float light = (float) (room + 2.2 * Math.exp(-Math.pow(Math.acos(cos) / 0.6, 2)));
        int at = 4 * (y * WIDTH + x);
        out.rgba()[at] = out.rgba()[at + 1] = out.rgba()[at + 2] = light;
        out.rgba()[at + 3] = 1;
      }
    }
    return out;
  }
}
