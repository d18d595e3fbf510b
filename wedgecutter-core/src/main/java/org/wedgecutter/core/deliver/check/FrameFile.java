package org.wedgecutter.core.deliver.check;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.deliver.Delivery;
import org.wedgecutter.core.deliver.file.FilePicture;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.image.Region;
import org.wedgecutter.core.mistake.Message;
import org.wedgecutter.core.mistake.Sentence;
import org.wedgecutter.core.plan.FileNames;
import org.wedgecutter.core.rejoin.Precision;
import org.wedgecutter.exr.Box;
import org.wedgecutter.exr.ExrException;

/**
 * A file of a frame, of a layer or the uncut frame, as it can be read: missing, of another size,
 * without alpha, packed in another way. Immutable.
 *
 * @param layer name of the layer; {@link FileNames#UNCUT} for the uncut frame
 * @param path in the delivery; the layer's name where the delivery lists none
 * @param picture of the size of the part that was read, or the layer's own; black where nothing is
 * @param precision of its channels
 * @param standing what its record says of it
 * @param digest of its bytes; empty if it is missing
 * @param told what its header says was done to it
 * @param isWithoutAlpha whether the file holds no alpha
 * @param window where it has pixels; null if that is not known
 * @param isNamed whether a cause names it
 * @param isMended whether the picture is as it should be by now
 */
record FrameFile(
    String layer,
    String path,
    Picture picture,
    Precision precision,
    Standing standing,
    String digest,
    List<Message> told,
    boolean isWithoutAlpha,
    @Nullable Window window,
    boolean isNamed,
    boolean isMended) {

  /** What the record of a file says. */
  enum Standing {
    /** It is the file that was rendered. It is never accused. */
    RECORDED,
    /** It is not. */
    CHANGED,
    /** There is no record of what was rendered: somebody else made the delivery. */
    FOREIGN,
    /** It is not there, or no picture. */
    MISSING
  }

  FrameFile {
    told = List.copyOf(told);
  }

  boolean isUncut() {
    return layer.equals(FileNames.UNCUT);
  }

  boolean isMissing() {
    return standing == Standing.MISSING;
  }

  /** Returns it with another picture. */
  FrameFile with(Picture next, boolean mended) {
    return copy(next, isNamed, mended);
  }

  /** Returns it named by a cause. */
  FrameFile named() {
    return copy(picture, true, isMended);
  }

  private FrameFile copy(Picture shown, boolean named, boolean mended) {
    return new FrameFile(
        layer,
        path,
        shown,
        precision,
        standing,
        digest,
        told,
        isWithoutAlpha,
        window,
        named,
        mended);
  }

  /**
   * Reads a file, whatever is there.
   *
   * @param part of the delivery's region
   */
  static FrameFile read(Delivery delivery, Region part, String layer, int frame, Digests digests)
      throws IOException {
    boolean uncut = layer.equals(FileNames.UNCUT);
    Delivery.Entry entry =
        (uncut ? delivery.uncut(frame) : delivery.held(layer, frame)).orElse(null);
    Region region = delivery.region();
    Picture black = Picture.empty(part.width(), part.height());
    Path file = entry == null ? null : delivery.path(entry);
    if (entry == null || file == null || !Files.isRegularFile(file)) {
      String name = entry == null ? layer : entry.path();
      return missing(layer, name, black, Message.of(Sentence.FILE_MISSING, "file", name));
    }
    String digest = digests.of(file);
    FilePicture read;
    try {
      read = FilePicture.read(delivery, part, uncut ? null : layer, file, FilePicture.COLOURS);
    } catch (ExrException e) {
      return missing(
          layer, entry.path(), black, Message.of(Sentence.FILE_UNREADABLE, "file", entry.path()));
    }
    Standing standing =
        !digest.equals(entry.sha256())
            ? Standing.CHANGED
            : delivery.units().isEmpty() ? Standing.FOREIGN : Standing.RECORDED;
    List<Message> told = new ArrayList<>();
    Picture own = read.picture();
    Window window = null;
    if (standing != Standing.RECORDED) {
      told.addAll(told(delivery, entry.path(), read));
      window = read.fits() ? Window.of(read.window(), part, region) : null;
    }
    if (!read.fits()) {
      own = own.resized(region.width(), region.height()).cropped(within(part, region));
    }
    return new FrameFile(
        layer,
        entry.path(),
        own,
        read.precision(),
        standing,
        digest,
        told,
        !read.hasAlpha(),
        window,
        false,
        false);
  }

  private static Region within(Region part, Region all) {
    return new Region(part.x() - all.x(), part.y() - all.y(), part.width(), part.height());
  }

  /**
   * Where a file has pixels.
   *
   * @param box its data window, from the first pixel of the delivery's region
   * @param part what was read of the region, from the same pixel
   * @param isMoved whether it has the region's size, but lies elsewhere
   */
  record Window(Box box, Region part, boolean isMoved) {
    /**
     * @param inFrame the data window, from the first pixel of the frame
     */
    static Window of(Box inFrame, Region part, Region all) {
      Box own =
          new Box(
              inFrame.minX() - all.x(),
              inFrame.minY() - all.y(),
              inFrame.maxX() - all.x(),
              inFrame.maxY() - all.y());
      boolean isMoved =
          own.width() == all.width()
              && own.height() == all.height()
              && (own.minX() != 0 || own.minY() != 0);
      return new Window(own, within(part, all), isMoved);
    }

    /** Whether it leaves out a pixel of the part. */
    boolean leavesOut(int pixel) {
      int x = part.x() + pixel % part.width();
      int y = part.y() + pixel / part.width();
      return x < box.minX() || x > box.maxX() || y < box.minY() || y > box.maxY();
    }
  }

  private static FrameFile missing(String layer, String path, Picture black, Message told) {
    return new FrameFile(
        layer,
        path,
        black,
        Precision.FLOAT,
        Standing.MISSING,
        "",
        List.of(told),
        false,
        null,
        false,
        false);
  }

  /** What the header says was done. */
  private static List<Message> told(Delivery delivery, String path, FilePicture read) {
    List<Message> out = new ArrayList<>();
    if (!read.hasAlpha()) {
      out.add(Message.of(Sentence.FILE_ALPHA, "file", path));
    }
    if (!read.compression().isLossless() && delivery.plan().output().compression().isLossless()) {
      String packed = read.compression().name().toLowerCase(Locale.ROOT);
      out.add(Message.of(Sentence.FILE_RECOMPRESSED, "file", path, "amount", packed));
    }
    if (!read.fits()) {
      String size = "%d x %d".formatted(read.picture().width(), read.picture().height());
      out.add(Message.of(Sentence.FILE_RESIZED, "file", path, "amount", size));
    }
    return out;
  }

  /** Whether the data window has the region's size, but lies elsewhere. */
  boolean isMoved() {
    return window != null && window.isMoved;
  }

  /** Returns the picture with its data window where it belongs. */
  Picture movedBack() {
    Box at = window == null ? Box.ofSize(picture.width(), picture.height()) : window.box;
    Picture out = Picture.empty(picture.width(), picture.height());
    for (int y = 0; y < out.height(); y++) {
      int from = y + at.minY();
      for (int x = 0; x < out.width(); x++) {
        int column = x + at.minX();
        if (from >= 0 && from < out.height() && column >= 0 && column < out.width()) {
          System.arraycopy(
              picture.rgba(),
              4 * (from * out.width() + column),
              out.rgba(),
              4 * (y * out.width() + x),
              4);
        }
      }
    }
    return out;
  }

  /** Returns the pixels that the data window leaves out; null if it leaves out none. */
  boolean @Nullable [] leftOut() {
    if (window == null || isMoved()) {
      return null;
    }
    boolean[] out = new boolean[picture.width() * picture.height()];
    boolean any = false;
    for (int p = 0; p < out.length; p++) {
      out[p] = window.leavesOut(p);
      any |= out[p];
    }
    return any ? out : null;
  }
}
