package org.wedgecutter.core.image;

import com.twelvemonkeys.imageio.plugins.hdr.HDRImageReadParam;
import com.twelvemonkeys.imageio.plugins.hdr.HDRImageReaderSpi;
import com.twelvemonkeys.imageio.plugins.hdr.tonemap.NullToneMapper;
import java.awt.image.BufferedImage;
import java.awt.image.Raster;
import java.io.IOException;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import javax.imageio.ImageReader;
import javax.imageio.stream.ImageInputStream;
import javax.imageio.stream.MemoryCacheImageInputStream;
import org.wedgecutter.core.io.Budget;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.core.io.InputFile;

/**
 * Radiance pictures (.hdr): three mantissas and one shared exponent a pixel.
 *
 * <p>Source of the format: G. Ward, "Real Pixels", Graphics Gems II, 1991.
 */
public final class RadianceHdr {
  private static final long MAX_PIXELS = 1L << 27;
  private static final int MAX_HEADER = 1 << 16;

  /** Bytes of a pixel as it is decoded, and as the picture holds it. */
  private static final long PIXEL = 28;

  private static final long MAX_MEBIBYTES = 1024;

  private RadianceHdr() {}

  /** Reads a picture; alpha is 1. */
  public static Picture read(Path file) throws InputException {
    checkHeader(file);
    ImageReader reader = null;
    try (var stream = InputFile.open(file, MAX_MEBIBYTES);
        ImageInputStream in = new MemoryCacheImageInputStream(stream)) {
      HDRImageReaderSpi spi = new HDRImageReaderSpi();
      if (!spi.canDecodeInput(in)) {
        throw new InputException(file, "", "not a Radiance picture (.hdr)");
      }
      reader = spi.createReaderInstance();
      reader.setInput(in);
      int width = reader.getWidth(0);
      int height = reader.getHeight(0);
      if (width < 1 || height < 1 || (long) width * height > MAX_PIXELS) {
        throw new InputException(file, "", "%d x %d pixels".formatted(width, height));
      }
      Budget.of(file).take(PIXEL * width * height, file, "");
      HDRImageReadParam param = (HDRImageReadParam) reader.getDefaultReadParam();
      param.setToneMapper(new NullToneMapper());
      BufferedImage image = reader.read(0, param);
      return fromRaster(image.getRaster());
    } catch (InputException e) {
      throw e;
    } catch (IOException | RuntimeException e) {
      throw InputException.unreadable(file, "", "not a readable .hdr picture", e);
    } finally {
      if (reader != null) {
        reader.dispose();
      }
    }
  }

  /** The header ends in an empty line: one without would be read to the end of the file. */
  private static void checkHeader(Path file) throws InputException {
    byte[] head;
    try (var stream = InputFile.open(file, MAX_MEBIBYTES)) {
      head = stream.readNBytes(MAX_HEADER);
    } catch (InputException e) {
      throw e;
    } catch (IOException e) {
      throw new InputException(file, "", "cannot be read: " + e.getMessage(), e);
    }
    for (int i = 1; i < head.length; i++) {
      if (head[i] == '\n' && head[i - 1] == '\n') {
        return;
      }
    }
    if (head.length == MAX_HEADER) {
      throw new InputException(
          file, "", "its header is longer than %d bytes".formatted(MAX_HEADER));
    }
  }

  private static Picture fromRaster(Raster raster) {
    int width = raster.getWidth();
    int height = raster.getHeight();
    Picture picture = Picture.empty(width, height);
    float[] line = new float[raster.getNumBands() * width];
    for (int y = 0; y < height; y++) {
      raster.getPixels(0, y, width, 1, line);
      for (int x = 0; x < width; x++) {
        int at = 4 * (y * width + x);
        System.arraycopy(line, raster.getNumBands() * x, picture.rgba(), at, 3);
        picture.rgba()[at + 3] = 1;
      }
    }
    return picture;
  }

  /**
   * Writes red, green and blue; negative light becomes 0. Lines are in the run-length form, which
   * only exists for widths from 8 to 32767: plain lines may be taken for it by their first bytes.
   *
   * @throws IOException if the stream fails, or the width is out of that range
   */
  public static void write(Picture picture, OutputStream out) throws IOException {
    int width = picture.width();
    if (width < 8 || width > 32767) {
      throw new IOException("a .hdr picture is 8 to 32767 pixels wide, not " + width);
    }
    String head =
        "#?RADIANCE\nFORMAT=32-bit_rle_rgbe\n\n-Y %d +X %d\n".formatted(picture.height(), width);
    out.write(head.getBytes(StandardCharsets.US_ASCII));
    byte[] pixels = new byte[4 * width];
    for (int y = 0; y < picture.height(); y++) {
      for (int x = 0; x < width; x++) {
        encode(picture.rgba(), 4 * (y * width + x), pixels, 4 * x);
      }
      out.write(new byte[] {2, 2, (byte) (width >> 8), (byte) width});
      for (int c = 0; c < 4; c++) {
        for (int x = 0; x < width; x += 128) {
          int count = Math.min(128, width - x);
          out.write(count);
          for (int k = x; k < x + count; k++) {
            out.write(pixels[4 * k + c]);
          }
        }
      }
    }
  }

  private static void encode(float[] rgba, int from, byte[] out, int to) {
    float max = Math.max(rgba[from], Math.max(rgba[from + 1], rgba[from + 2]));
    if (!(max > 1e-32f)) {
      out[to] = out[to + 1] = out[to + 2] = out[to + 3] = 0;
      return;
    }
    int exponent = Math.getExponent(max) + 1;
    float scale = Math.scalb(256f, -exponent);
    for (int c = 0; c < 3; c++) {
      out[to + c] = (byte) Math.max(0, Math.min(255, (int) (rgba[from + c] * scale)));
    }
    out[to + 3] = (byte) (exponent + 128);
  }
}
