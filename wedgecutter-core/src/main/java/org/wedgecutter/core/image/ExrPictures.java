package org.wedgecutter.core.image;

import org.jspecify.annotations.Nullable;
import org.wedgecutter.exr.Box;
import org.wedgecutter.exr.Channel;
import org.wedgecutter.exr.ExrException;
import org.wedgecutter.exr.ExrImage;
import org.wedgecutter.exr.ExrPart;

/**
 * Pictures from OpenEXR files of any kind: the first part that has colours. Channels are {@code R G
 * B}, {@code Y RY BY} (brightness and two colours) or {@code Y} alone, with or without {@code A};
 * without it, alpha is 1.
 *
 * <p>A channel that is sub-sampled goes on to the right and down. {@code RY = (R - Y) / Y} and
 * {@code BY = (B - Y) / Y}, with {@code Y} the luminance by the primaries of ITU-R BT.709 (the
 * OpenEXR project's description of luminance and chroma). The samples of a deep pixel are put over
 * one another by their {@code Z}, the nearest in front.
 */
final class ExrPictures {
  private static final double RED = 0.2126;
  private static final double BLUE = 0.0722;

  private ExrPictures() {}

  /** Returns the picture of the data window. */
  static Picture of(ExrImage image) throws ExrException {
    for (ExrPart part : image.parts()) {
      if (part.has("R") && part.has("G") && part.has("B")) {
        return part.counts() == null
            ? flat(part, "R", "G", "B", "A")
            : DeepPicture.of(part).flattened();
      }
      if (part.has("Y") && part.counts() == null) {
        return byLuminance(part);
      }
    }
    throw new ExrException("no part has the channels R, G and B, or Y");
  }

  private static Picture flat(ExrPart part, String... names) throws ExrException {
    Box box = part.dataWindow();
    Picture out = Picture.empty(box.width(), box.height());
    for (int c = 0; c < 4; c++) {
      Channel channel = channel(part, names[c]);
      if (channel != null) {
        check(channel, box);
      }
      float[] plane = channel == null ? null : part.real(names[c]);
      for (int p = 0; p < out.width() * out.height(); p++) {
        out.rgba()[4 * p + c] =
            channel == null || plane == null ? 1 : plane[index(channel, box, p)];
      }
    }
    return out;
  }

  /** The format wants windows to begin where a sampling does. */
  private static void check(Channel c, Box box) throws ExrException {
    if (Math.floorMod(box.minX(), c.xSampling()) != 0
        || Math.floorMod(box.minY(), c.ySampling()) != 0) {
      throw new ExrException(
          "channel '%s' is sampled every %d x %d pixels; the data window begins between, at %d, %d"
              .formatted(c.name(), c.xSampling(), c.ySampling(), box.minX(), box.minY()));
    }
  }

  private static @Nullable Channel channel(ExrPart part, String name) {
    return part.channels().keySet().stream()
        .filter(c -> c.name().equals(name))
        .findFirst()
        .orElse(null);
  }

  /** The place of a pixel's number among those of a channel, which may have fewer. */
  private static int index(Channel c, Box box, int pixel) {
    int x = pixel % box.width();
    int y = pixel / box.width();
    if (c.xSampling() == 1 && c.ySampling() == 1) {
      return pixel;
    }
    int across = (box.width() + c.xSampling() - 1) / c.xSampling();
    return y / c.ySampling() * across + x / c.xSampling();
  }

  private static Picture byLuminance(ExrPart part) throws ExrException {
    boolean coloured = part.has("RY") && part.has("BY");
    Picture out = coloured ? flat(part, "RY", "Y", "BY", "A") : flat(part, "Y", "Y", "Y", "A");
    for (int p = 0; p < out.rgba().length && coloured; p += 4) {
      double y = out.rgba()[p + 1];
      double r = (out.rgba()[p] + 1) * y;
      double b = (out.rgba()[p + 2] + 1) * y;
      out.rgba()[p] = (float) r;
      out.rgba()[p + 1] = (float) ((y - RED * r - BLUE * b) / (1 - RED - BLUE));
      out.rgba()[p + 2] = (float) b;
    }
    return out;
  }
}
