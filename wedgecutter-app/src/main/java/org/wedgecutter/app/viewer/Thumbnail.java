package org.wedgecutter.app.viewer;

import org.wedgecutter.core.image.Picture;

/** Makes pictures small by averaging. */
final class Thumbnail {
  private Thumbnail() {}

  /** Returns the picture at most {@code width} pixels wide. */
  static Picture of(Picture from, int width) {
    int w = Math.min(width, from.width());
    int h = Math.max(1, Math.round((float) from.height() * w / from.width()));
    Picture out = Picture.empty(w, h);
    for (int y = 0; y < h; y++) {
      int y0 = y * from.height() / h;
      int y1 = Math.max(y0 + 1, (y + 1) * from.height() / h);
      for (int x = 0; x < w; x++) {
        int x0 = x * from.width() / w;
        int x1 = Math.max(x0 + 1, (x + 1) * from.width() / w);
        float weight = 1f / ((x1 - x0) * (y1 - y0));
        for (int sy = y0; sy < y1; sy++) {
          for (int sx = x0; sx < x1; sx++) {
            for (int c = 0; c < 4; c++) {
              out.rgba()[4 * (y * w + x) + c] +=
                  weight * from.rgba()[4 * (sy * from.width() + sx) + c];
            }
          }
        }
      }
    }
    return out;
  }
}
