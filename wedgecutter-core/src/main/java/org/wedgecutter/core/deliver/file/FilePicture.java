package org.wedgecutter.core.deliver.file;

import java.io.IOException;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.Collection;
import java.util.List;
import java.util.SortedMap;
import java.util.function.Predicate;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.deliver.Delivery;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.image.Region;
import org.wedgecutter.core.plan.Property;
import org.wedgecutter.core.rejoin.Precision;
import org.wedgecutter.exr.Box;
import org.wedgecutter.exr.Channel;
import org.wedgecutter.exr.Compression;
import org.wedgecutter.exr.ExrHeader;
import org.wedgecutter.exr.ExrInput;
import org.wedgecutter.exr.ExrPart;
import org.wedgecutter.exr.PixelType;
import org.wedgecutter.exr.Samples;

/**
 * Colours and alpha of a file, each pixel where the file's data window says: outside it the picture
 * is black.
 *
 * @param picture of the size of the part of the delivery's region; of a layer with a size of its
 *     own, and of a file whose frame has another size than the delivery's, as large as the file is
 * @param precision of the channels; of halves if any of them is
 * @param window the data window, from the first pixel of the frame on
 * @param fits whether the file has the pixels of the delivery's region, or the layer a size of its
 *     own
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
    return read(delivery, delivery.region(), layer, file, colours);
  }

  /**
   * Reads a part of a file of a layer.
   *
   * @param part of the delivery's region: its lines alone are read where that can be
   * @param layer tells whether it has a size of its own, which is read whole; null for the uncut
   *     frame
   * @param colours names of up to three channels
   */
  public static FilePicture read(
      Delivery delivery, Region part, @Nullable String layer, Path file, List<String> colours)
      throws IOException {
    boolean ownSize =
        layer != null
            && delivery.plan().layer(layer).flatMap(l -> l.setting(Property.SIZE)).isPresent();
    Predicate<String> wanted = n -> n.equals(ALPHA) || colours.contains(n);
    Placed placed = placed(delivery, part, file, wanted, ownSize, 0);
    ExrPart read = placed.part;
    boolean hasAlpha = read.has(ALPHA);
    Picture out = Picture.empty(read.dataWindow().width(), read.dataWindow().height());
    float[] rgba = out.rgba();
    for (int c = 0; c <= colours.size(); c++) {
      boolean isAlpha = c == colours.size();
      float[] plane =
          !isAlpha ? read.real(colours.get(c)) : hasAlpha ? read.real(ALPHA) : new float[0];
      for (int p = 0; p < rgba.length / 4; p++) {
        rgba[4 * p + (isAlpha ? 3 : c)] = isAlpha && !hasAlpha ? 1 : plane[p];
      }
    }
    return new FilePicture(
        out,
        precision(read.channels().keySet()),
        placed.window,
        ownSize || placed.fits,
        hasAlpha,
        read.compression());
  }

  /**
   * Reads some channels of a file where a delivery has pixels; of the lines of the file no more
   * than that takes.
   *
   * @param part of the delivery's region
   * @param outside what stands where the file has none
   */
  static ExrPart part(
      Delivery delivery, Region part, Path file, Predicate<String> wanted, float outside)
      throws IOException {
    return placed(delivery, part, file, wanted, false, outside).part;
  }

  /**
   * Channels where a delivery has pixels.
   *
   * @param window the file's data window, from the first pixel of the frame on
   * @param fits whether the file's pixels are those of the delivery's
   */
  private record Placed(ExrPart part, Box window, boolean fits) {}

  private static Placed placed(
      Delivery delivery,
      Region part,
      Path file,
      Predicate<String> wanted,
      boolean ownSize,
      float outside)
      throws IOException {
    return ExrFrames.read(
        file,
        in -> {
          ExrHeader header = in.headers().getFirst();
          Box own = header.dataWindow();
          Box to = frame(delivery, part, header.displayWindow(), ownSize);
          Region all = delivery.region();
          boolean fits = to != null || (own.width() == all.width() && own.height() == all.height());
          if (to == null && fits) {
            // of another frame, but of the region's size: its first pixel is the region's
            to = at(part, own.minX() - all.x(), own.minY() - all.y());
          }
          ExrPart read = to == null ? in.flat(wanted) : in.flat(wanted, to.minY(), to.maxY());
          return new Placed(placed(read, to, outside), inFrame(header), fits);
        });
  }

  private static Box at(Region part, int left, int top) {
    return new Box(
        left + part.x(),
        top + part.y(),
        left + part.x() + part.width() - 1,
        top + part.y() + part.height() - 1);
  }

  /** The data window, from the first pixel of the frame on. */
  private static Box inFrame(ExrHeader header) {
    Box own = header.dataWindow();
    Box frame = header.displayWindow();
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
  private static @Nullable Box frame(Delivery delivery, Region part, Box display, boolean ownSize) {
    boolean isFrame = display.width() == delivery.width() && display.height() == delivery.height();
    if (isFrame) {
      return at(part, display.minX(), display.minY());
    }
    boolean isWhole = part.equals(Region.whole(delivery.width(), delivery.height()));
    return ownSize && isWhole ? display : null;
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
