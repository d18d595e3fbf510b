package org.wedgecutter.core.image;

import java.awt.image.BufferedImage;
import java.awt.image.DataBufferByte;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.nio.file.Path;
import java.util.Iterator;
import javax.imageio.ImageIO;
import javax.imageio.ImageReader;
import javax.imageio.stream.ImageInputStream;
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

  /** Reads a PNG or JPEG image. The file and place are for the message of the exception. */
  public static TextureImage decode(byte[] bytes, String name, Path file, String place)
      throws InputException {
    try (ImageInputStream in = ImageIO.createImageInputStream(new ByteArrayInputStream(bytes))) {
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
        return of(name, reader.read(0));
      } finally {
        reader.dispose();
      }
    } catch (InputException e) {
      throw e;
    } catch (IOException | RuntimeException e) {
      throw new InputException(file, place, "not a readable image: " + e.getMessage(), e);
    }
  }

  private static TextureImage of(String name, BufferedImage image) {
    int width = image.getWidth();
    int height = image.getHeight();
    byte[] rgba = new byte[4 * width * height];
    if (image.getRaster().getNumBands() == 1 && image.getColorModel().getNumComponents() == 1) {
      return new TextureImage(name, width, height, grey(image));
    }
    if (image.getType() == BufferedImage.TYPE_3BYTE_BGR
        || image.getType() == BufferedImage.TYPE_4BYTE_ABGR) {
      turned(((DataBufferByte) image.getRaster().getDataBuffer()).getData(), rgba);
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

  /** Bytes as most files come: sRGB, from alpha or blue to red. */
  private static void turned(byte[] from, byte[] rgba) {
    int bands = from.length == rgba.length ? 4 : 3;
    for (int p = 0; p < rgba.length / 4; p++) {
      int last = bands * p + bands - 1;
      rgba[4 * p] = from[last];
      rgba[4 * p + 1] = from[last - 1];
      rgba[4 * p + 2] = from[last - 2];
      rgba[4 * p + 3] = bands == 4 ? from[bands * p] : (byte) 255;
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
