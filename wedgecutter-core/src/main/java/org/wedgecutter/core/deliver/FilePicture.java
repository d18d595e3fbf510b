package org.wedgecutter.core.deliver;

import java.io.IOException;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.Collection;
import java.util.List;
import java.util.SortedMap;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.image.Region;
import org.wedgecutter.core.plan.Property;
import org.wedgecutter.core.rejoin.Precision;
import org.wedgecutter.exr.Box;
import org.wedgecutter.exr.Channel;
import org.wedgecutter.exr.Compression;
import org.wedgecutter.exr.ExrInput;
import org.wedgecutter.exr.ExrPart;
import org.wedgecutter.exr.PixelType;
import org.wedgecutter.exr.Samples;

/**
 * Colours and alpha of a file, each pixel where the file's data window says: outside it the picture
 * is black.
 *
 * @param picture of the size of the delivery's region; of a layer with a size of its own, and of a
 *     file whose frame has another size than the delivery's, as large as the file is
 * @param precision of the channels; of halves if any of them is
 * @param window the data window, from the first pixel of the frame on
 * @param fits whether the picture has the size of the delivery's region, or the layer its own
 * @param hasAlpha whether there is an alpha; without one all of it counts as opaque
 * @param compression by which the file is packed
 */
public record FilePicture(
    Picture picture,
    Precision precision,
    Box window,
    boolean fits,
    boolean hasAlpha,
    Compression compression) {
  private static final String ALPHA = "A";

  /** The channels of the beauty's colours. */
  public static final List<String> COLOURS = List.of("R", "G", "B");

  /**
   * Reads a file of a layer.
   *
   * @param layer tells whether it has a size of its own; null for the uncut frame
   * @param colours names of up to three channels
   */
  public static FilePicture read(
      Delivery delivery, @Nullable String layer, Path file, List<String> colours)
      throws IOException {
    ExrPart told = ExrFrames.part(file, n -> n.equals(ALPHA) || colours.contains(n));
    boolean ownSize =
        layer != null
            && delivery.plan().layer(layer).flatMap(l -> l.setting(Property.SIZE)).isPresent();
    ExrPart part = placed(told, frame(delivery, told, ownSize), 0);
    boolean hasAlpha = part.has(ALPHA);
    Picture out = Picture.empty(part.dataWindow().width(), part.dataWindow().height());
    float[] rgba = out.rgba();
    for (int c = 0; c <= colours.size(); c++) {
      boolean isAlpha = c == colours.size();
      float[] plane =
          !isAlpha ? part.real(colours.get(c)) : hasAlpha ? part.real(ALPHA) : new float[0];
      for (int p = 0; p < rgba.length / 4; p++) {
        rgba[4 * p + (isAlpha ? 3 : c)] = isAlpha && !hasAlpha ? 1 : plane[p];
      }
    }
    boolean fits =
        ownSize
            || (out.width() == delivery.region().width()
                && out.height() == delivery.region().height());
    return new FilePicture(
        out,
        precision(part.channels().keySet()),
        inFrame(told),
        fits,
        hasAlpha,
        part.compression());
  }

  /** The data window, from the first pixel of the frame on. */
  private static Box inFrame(ExrPart part) {
    Box own = part.dataWindow();
    Box frame = part.displayWindow();
    return new Box(
        own.minX() - frame.minX(),
        own.minY() - frame.minY(),
        own.maxX() - frame.minX(),
        own.maxY() - frame.minY());
  }

  /**
   * Returns where in the frame of a file a delivery has pixels: its region, or all of the frame for
   * a layer with a size of its own; null for a file with another frame, whose places mean nothing.
   */
  private static @Nullable Box frame(Delivery delivery, ExrPart part, boolean ownSize) {
    Box display = part.displayWindow();
    boolean isFrame = display.width() == delivery.width() && display.height() == delivery.height();
    Region region = delivery.region();
    if (isFrame) {
      return new Box(
          display.minX() + region.x(),
          display.minY() + region.y(),
          display.minX() + region.x() + region.width() - 1,
          display.minY() + region.y() + region.height() - 1);
    }
    boolean isWhole = region.equals(Region.whole(delivery.width(), delivery.height()));
    return ownSize && isWhole ? display : null;
  }

  /**
   * Returns a file's channels where a delivery has pixels.
   *
   * @param outside what stands where the file has none
   */
  static ExrPart placed(Delivery delivery, ExrPart part, float outside) {
    return placed(part, frame(delivery, part, false), outside);
  }

  private static ExrPart placed(ExrPart part, @Nullable Box window, float outside) {
    Box own = part.dataWindow();
    if (window == null || window.equals(own)) {
      return part;
    }
    SortedMap<Channel, Samples> channels = ExrPart.newChannels();
    part.channels()
        .forEach((channel, samples) -> {
          if (samples instanceof Samples.Real real) {
            float[] to = new float[window.width() * window.height()];
            Arrays.fill(to, outside);
            copy(real.values(), own, to, window);
            channels.put(channel, new Samples.Real(to));
          } else if (samples instanceof Samples.Whole whole) {
            int[] to = new int[window.width() * window.height()];
            copy(whole.values(), own, to, window);
            channels.put(channel, new Samples.Whole(to));
          }
        });
    return new ExrPart(
        part.name(), part.compression(), window, part.displayWindow(), part.attributes(), channels);
  }

  /** Copies the lines that two windows have in common. */
  private static void copy(Object from, Box own, Object to, Box window) {
    int left = Math.max(own.minX(), window.minX());
    int count = Math.min(own.maxX(), window.maxX()) - left + 1;
    int top = Math.max(own.minY(), window.minY());
    int bottom = Math.min(own.maxY(), window.maxY());
    for (int y = top; y <= bottom && count > 0; y++) {
      System.arraycopy(
          from,
          (y - own.minY()) * own.width() + left - own.minX(),
          to,
          (y - window.minY()) * window.width() + left - window.minX(),
          count);
    }
  }

  /** Returns how finely some channels of a file are kept, by its headers alone. */
  static Precision precision(Path file, List<String> names) throws IOException {
    try (ExrInput in = ExrInput.open(file)) {
      return precision(
          in.headers().stream()
              .flatMap(h -> h.channels().stream())
              .filter(c -> names.contains(c.name()))
              .toList());
    }
  }

  private static Precision precision(Collection<Channel> channels) {
    return channels.stream()
        .map(c -> c.type() == PixelType.HALF ? Precision.HALF : Precision.FLOAT)
        .reduce(Precision.FLOAT, Precision::or);
  }
}
