package org.wedgecutter.core.image;

import java.awt.image.BufferedImage;
import java.awt.image.ComponentColorModel;
import java.awt.image.DataBuffer;
import java.awt.image.DataBufferByte;
import java.awt.image.PixelInterleavedSampleModel;
import java.awt.image.WritableRaster;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.nio.file.Path;
import java.util.Iterator;
import javax.imageio.ImageIO;
import javax.imageio.ImageReadParam;
import javax.imageio.ImageReader;
import javax.imageio.ImageTypeSpecifier;
import javax.imageio.stream.ImageInputStream;
import javax.imageio.stream.MemoryCacheImageInputStream;
import org.wedgecutter.core.io.Budget;
import org.wedgecutter.core.io.InputException;

/**
 * An 8-bit image that surfaces are painted with.
 *
 * @param name for messages
 * @param width pixels in a line
 * @param height lines
 * @param rgba red, green, blue, alpha of each pixel, line by line from the top, as stored (not
 *     linear, not premultiplied); not copied
 */
public record TextureImage(String name, int width, int height, byte[] rgba) {
  private static final long MAX_PIXELS = 1L << 26;

  /** Returns it under another name. */
  public TextureImage named(String other) {
    return new TextureImage(other, width, height, rgba);
  }

  /** Reads a PNG or JPEG image. The file and place are for the message of the exception. */
  public static TextureImage decode(byte[] bytes, String name, Path file, String place)
      throws InputException {
    return decode(bytes, name, file, place, Budget.of(file));
  }

  /**
   * Reads a PNG or JPEG image.
   *
   * @param file and place are for the message of the exception
   * @param budget of what holds it
   */
  public static TextureImage decode(
      byte[] bytes, String name, Path file, String place, Budget budget) throws InputException {
    // held in memory: by itself the library would put the bytes into a temporary file
    try (ImageInputStream in = new MemoryCacheImageInputStream(new ByteArrayInputStream(bytes))) {
      Iterator<ImageReader> readers = ImageIO.getImageReaders(in);
      if (!readers.hasNext()) {
        throw new InputException(file, place, "not a PNG or JPEG image");
      }
      ImageReader reader = readers.next();
      try {
        reader.setInput(in, true, true);
        long pixels = (long) reader.getWidth(0) * reader.getHeight(0);
        if (pixels > MAX_PIXELS) {
          throw new InputException(
              file, place, "%d pixels, at most %d are read".formatted(pixels, MAX_PIXELS));
        }
        budget.take(4 * pixels, file, place);
        return of(name, read(reader));
      } finally {
        reader.dispose();
      }
    } catch (InputException e) {
      throw e;
    } catch (IOException | RuntimeException e) {
      throw InputException.unreadable(file, place, "not a readable image", e);
    }
  }

  private static BufferedImage read(ImageReader reader) throws IOException {
    ImageTypeSpecifier own = reader.getImageTypes(0).next();
    if (own.getBufferedImageType() != BufferedImage.TYPE_3BYTE_BGR) {
      return reader.read(0);
    }
    // lines come red first: a picture that keeps them so takes them without turning each pixel
    ImageReadParam into = reader.getDefaultReadParam();
    into.setDestination(
        ImageTypeSpecifier.createInterleaved(
                own.getColorModel().getColorSpace(),
                new int[] {0, 1, 2},
                DataBuffer.TYPE_BYTE,
                false,
                false)
            .createBufferedImage(reader.getWidth(0), reader.getHeight(0)));
    return reader.read(0, into);
  }

  private static TextureImage of(String name, BufferedImage image) {
    int width = image.getWidth();
    int height = image.getHeight();
    byte[] rgba = new byte[4 * width * height];
    if (image.getRaster().getNumBands() == 1 && image.getColorModel().getNumComponents() == 1) {
      return new TextureImage(name, width, height, grey(image));
    }
    if (plainBytes(image)) {
      ordered(image.getRaster(), rgba);
      return new TextureImage(name, width, height, rgba);
    }
    int[] line = new int[width];
    for (int y = 0; y < height; y++) {
      image.getRGB(0, y, width, 1, line, 0, width);
      for (int x = 0; x < width; x++) {
        int at = 4 * (y * width + x);
        rgba[at] = (byte) (line[x] >> 16);
        rgba[at + 1] = (byte) (line[x] >> 8);
        rgba[at + 2] = (byte) line[x];
        rgba[at + 3] = (byte) (line[x] >> 24);
      }
    }
    return new TextureImage(name, width, height, rgba);
  }

  /** Whether an image is sRGB in whole bytes, pixel by pixel in any order of colours. */
  private static boolean plainBytes(BufferedImage image) {
    return image.getRaster().getSampleModel() instanceof PixelInterleavedSampleModel model
        && image.getRaster().getDataBuffer() instanceof DataBufferByte
        && image.getColorModel() instanceof ComponentColorModel colors
        && colors.getColorSpace().isCS_sRGB()
        && !colors.isAlphaPremultiplied()
        && model.getNumBands() >= 3
        && model.getScanlineStride() == model.getPixelStride() * image.getWidth();
  }

  private static void ordered(WritableRaster raster, byte[] rgba) {
    PixelInterleavedSampleModel model = (PixelInterleavedSampleModel) raster.getSampleModel();
    byte[] from = ((DataBufferByte) raster.getDataBuffer()).getData();
    int step = model.getPixelStride();
    int[] places = model.getBandOffsets();
    int red = places[0];
    int green = places[1];
    int blue = places[2];
    int alpha = places.length > 3 ? places[3] : -1;
    for (int to = 0, at = 0; to < rgba.length; to += 4, at += step) {
      rgba[to] = from[at + red];
      rgba[to + 1] = from[at + green];
      rgba[to + 2] = from[at + blue];
      rgba[to + 3] = alpha >= 0 ? from[at + alpha] : (byte) 255;
    }
  }

  /** Grey images bypass getRGB, which would treat their numbers as linear. */
  private static byte[] grey(BufferedImage image) {
    int bits = image.getColorModel().getComponentSize(0);
    int[] line = new int[image.getWidth()];
    byte[] rgba = new byte[4 * image.getWidth() * image.getHeight()];
    int at = 0;
    for (int y = 0; y < image.getHeight(); y++) {
      image.getRaster().getSamples(0, y, image.getWidth(), 1, 0, line);
      for (int value : line) {
        byte grey = (byte) (bits > 8 ? value >> (bits - 8) : value * 255 / ((1 << bits) - 1));
        rgba[at++] = grey;
        rgba[at++] = grey;
        rgba[at++] = grey;
        rgba[at++] = (byte) 255;
      }
    }
    return rgba;
  }
}
