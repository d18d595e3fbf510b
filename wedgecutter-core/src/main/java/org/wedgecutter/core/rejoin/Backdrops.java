package org.wedgecutter.core.rejoin;

import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.image.Region;
import org.wedgecutter.core.plan.Background;

/** Makes the pictures of backgrounds. */
final class Backdrops {
  private static final int SQUARE = 16;

  private Backdrops() {}

  /**
   * Makes a background of a size.
   *
   * @param picture what it shows, if it is a picture
   * @param pixelScale pixels of the result in a pixel of the shot's size
   */
  static Picture of(
      Background of, @Nullable Picture picture, int width, int height, double pixelScale) {
    return switch (of.kind()) {
      case NONE -> Picture.empty(width, height);
      case COLOUR -> squares(of, width, height, Double.POSITIVE_INFINITY);
      case CHECKER -> squares(of, width, height, SQUARE * pixelScale);
      case PICTURE ->
          picture == null
              ? Picture.empty(width, height)
              : switch (of.fit()) {
                case STRETCH -> picture.resized(width, height);
                case FILL -> filled(picture, width, height);
                case FIT -> fitted(picture, width, height);
              };
    };
  }

  private static Picture squares(Background of, int width, int height, double square) {
    Picture out = Picture.empty(width, height);
    for (int y = 0; y < height; y++) {
      for (int x = 0; x < width; x++) {
        boolean dark = ((int) ((x + 0.5) / square) + (int) ((y + 0.5) / square)) % 2 == 1;
        int at = 4 * (y * width + x);
        for (int c = 0; c < 3; c++) {
          out.rgba()[at + c] = (float) (of.colour().get(c) * (dark ? 0.5 : 1));
        }
        out.rgba()[at + 3] = 1;
      }
    }
    return out;
  }

  /** The middle of a picture in the proportions of the result. */
  private static Picture filled(Picture p, int width, int height) {
    double scale = Math.min((double) p.width() / width, (double) p.height() / height);
    int w = Math.max(1, Math.min(p.width(), (int) Math.round(width * scale)));
    int h = Math.max(1, Math.min(p.height(), (int) Math.round(height * scale)));
    return p.cropped(new Region((p.width() - w) / 2, (p.height() - h) / 2, w, h))
        .resized(width, height);
  }

  private static Picture fitted(Picture p, int width, int height) {
    double scale = Math.max((double) p.width() / width, (double) p.height() / height);
    int w = Math.max(1, Math.min(width, (int) Math.round(p.width() / scale)));
    int h = Math.max(1, Math.min(height, (int) Math.round(p.height() / scale)));
    Picture small = p.resized(w, h);
    Picture out = Picture.empty(width, height);
    int left = (width - w) / 2;
    int top = (height - h) / 2;
    for (int y = 0; y < h; y++) {
      System.arraycopy(small.rgba(), 4 * y * w, out.rgba(), 4 * ((top + y) * width + left), 4 * w);
    }
    return out;
  }
}
