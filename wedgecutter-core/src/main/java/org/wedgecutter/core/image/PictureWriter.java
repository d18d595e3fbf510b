package org.wedgecutter.core.image;

import java.awt.Point;
import java.awt.Transparency;
import java.awt.color.ColorSpace;
import java.awt.image.BandedSampleModel;
import java.awt.image.BufferedImage;
import java.awt.image.ComponentColorModel;
import java.awt.image.DataBuffer;
import java.awt.image.DataBufferFloat;
import java.awt.image.PixelInterleavedSampleModel;
import java.awt.image.Raster;
import java.awt.image.WritableRaster;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.OutputStream;
import java.nio.file.Path;
import java.util.Iterator;
import java.util.List;
import java.util.Locale;
import javax.imageio.IIOImage;
import javax.imageio.ImageIO;
import javax.imageio.ImageTypeSpecifier;
import javax.imageio.ImageWriter;
import javax.imageio.metadata.IIOMetadata;
import javax.imageio.metadata.IIOMetadataNode;
import javax.imageio.stream.ImageOutputStream;
import javax.imageio.stream.MemoryCacheImageOutputStream;

/**
 * Writes pictures in formats other than OpenEXR.
 *
 * <p>TIFF holds scene-linear light as 32-bit floats, premultiplied, and HDR its colours; PNG, and
 * TIFF of 16 bits, are what a screen shows, as {@link ScreenPicture} says. A PNG says so in its
 * sRGB chunk.
 */
public final class PictureWriter {
  /** The endings that can be written. */
  public static final List<String> ENDINGS = List.of(".png", ".tif", ".tiff", ".hdr");

  private static final int SIXTEEN = 65535;
  private static final int EIGHT = 255;

  private PictureWriter() {}

  /** Whether a file's name ends in one of {@link #ENDINGS}. */
  public static boolean isFor(Path file) {
    return ENDINGS.stream().anyMatch(name(file)::endsWith);
  }

  private static String name(Path file) {
    return String.valueOf(file.getFileName()).toLowerCase(Locale.ROOT);
  }

  /**
   * Writes a picture in the format that a file's name tells.
   *
   * @param file only its name counts
   * @throws IllegalArgumentException if the name has another ending
   */
  public static void write(Picture picture, Path file, OutputStream out) throws IOException {
    if (!isFor(file)) {
      throw new IllegalArgumentException(file + ": expected one of " + ENDINGS);
    }
    String name = name(file);
    write(
        picture,
        name.endsWith(".hdr") ? Format.HDR : name.endsWith(".png") ? Format.PNG16 : Format.TIFF32,
        out);
  }

  /** A format in which a picture can be written. */
  public enum Format {
    HDR,
    TIFF32,
    TIFF16,
    PNG16,
    PNG8
  }

  /** Writes a picture in a format. */
  public static void write(Picture picture, Format format, OutputStream out) throws IOException {
    switch (format) {
      case HDR -> RadianceHdr.write(picture, out);
      case TIFF32 -> tiff(picture, out);
      case TIFF16 -> screen(ScreenPicture.of(picture), "tiff", SIXTEEN, out);
      case PNG16 -> screen(ScreenPicture.of(picture), "png", SIXTEEN, out);
      case PNG8 -> screen(ScreenPicture.of(picture), "png", EIGHT, out);
    }
  }

  /** Writes a PNG of 16 bits. */
  public static void png(ScreenPicture p, OutputStream out) throws IOException {
    screen(p, "png", SIXTEEN, out);
  }

  /** Writes what a screen shows, with numbers up to a largest. */
  private static void screen(ScreenPicture p, String format, int most, OutputStream out)
      throws IOException {
    int type = most == EIGHT ? DataBuffer.TYPE_BYTE : DataBuffer.TYPE_USHORT;
    ComponentColorModel model =
        new ComponentColorModel(
            ColorSpace.getInstance(ColorSpace.CS_sRGB),
            true,
            false,
            Transparency.TRANSLUCENT,
            type);
    PixelInterleavedSampleModel samples =
        new PixelInterleavedSampleModel(
            type, p.width(), p.height(), 4, 4 * p.width(), new int[] {0, 1, 2, 3});
    WritableRaster raster = Raster.createWritableRaster(samples, new Point());
    int[] line = new int[4 * p.width()];
    for (int y = 0; y < p.height(); y++) {
      for (int x = 0; x < p.width(); x++) {
        int at = 4 * (y * p.width() + x);
        for (int c = 0; c < 4; c++) {
          line[4 * x + c] = Math.round(p.rgba()[at + c] * most);
        }
      }
      raster.setPixels(0, y, p.width(), 1, line);
    }
    BufferedImage image = new BufferedImage(model, raster, false, null);
    ImageWriter writer = writer(format);
    // the writer of TIFF goes back in what it has written
    ByteArrayOutputStream whole = new ByteArrayOutputStream();
    try (ImageOutputStream stream = new MemoryCacheImageOutputStream(whole)) {
      writer.setOutput(stream);
      IIOMetadata about =
          writer.getDefaultImageMetadata(
              new ImageTypeSpecifier(image), writer.getDefaultWriteParam());
      if (format.equals("png")) {
        IIOMetadataNode root = new IIOMetadataNode("javax_imageio_png_1.0");
        IIOMetadataNode srgb = new IIOMetadataNode("sRGB");
        srgb.setAttribute("renderingIntent", "Perceptual");
        root.appendChild(srgb);
        about.mergeTree("javax_imageio_png_1.0", root);
      }
      writer.write(null, new IIOImage(image, null, about), null);
    } finally {
      writer.dispose();
    }
    whole.writeTo(out);
  }

  private static void tiff(Picture p, OutputStream out) throws IOException {
    int pixels = p.width() * p.height();
    float[][] planes = new float[4][pixels];
    for (int i = 0; i < p.rgba().length; i++) {
      planes[i & 3][i >> 2] = p.rgba()[i];
    }
    BandedSampleModel samples =
        new BandedSampleModel(DataBuffer.TYPE_FLOAT, p.width(), p.height(), 4);
    WritableRaster raster =
        Raster.createWritableRaster(samples, new DataBufferFloat(planes, pixels), new Point());
    ComponentColorModel model =
        new ComponentColorModel(
            ColorSpace.getInstance(ColorSpace.CS_LINEAR_RGB),
            true,
            true,
            Transparency.TRANSLUCENT,
            DataBuffer.TYPE_FLOAT);
    ImageWriter writer = writer("tiff");
    // the writer goes back in what it has written
    ByteArrayOutputStream whole = new ByteArrayOutputStream();
    try (ImageOutputStream stream = new MemoryCacheImageOutputStream(whole)) {
      writer.setOutput(stream);
      writer.write(new BufferedImage(model, raster, true, null));
    } finally {
      writer.dispose();
    }
    whole.writeTo(out);
  }

  private static ImageWriter writer(String format) {
    Iterator<ImageWriter> all = ImageIO.getImageWritersByFormatName(format);
    if (!all.hasNext()) {
      throw new IllegalStateException("this Java writes no " + format);
    }
    return all.next();
  }
}
