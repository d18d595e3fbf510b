package org.wedgecutter.core.image;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.util.Locale;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.exr.ExrPart;
import org.wedgecutter.exr.ExrReader;

/**
 * Reads pictures in scene-linear light: OpenEXR (R, G, B and A of the first part, or a layer's Y),
 * Radiance HDR, and PNG or JPEG, whose sRGB code is undone.
 */
public final class PictureFiles {
  private static final long MAX_BYTES = 1L << 30;

  private PictureFiles() {}

  /**
   * Reads a picture.
   *
   * @throws InputException with file and expectation if it cannot be used
   */
  public static Picture read(Path file) throws InputException {
    String name = String.valueOf(file.getFileName()).toLowerCase(Locale.ROOT);
    if (name.endsWith(".hdr")) {
      return RadianceHdr.read(file);
    }
    try {
      if (Files.size(file) > MAX_BYTES) {
        throw new InputException(file, "", "larger than 1 GiB");
      }
      if (name.endsWith(".exr")) {
        return exr(file);
      }
      if (name.endsWith(".png") || name.endsWith(".jpg") || name.endsWith(".jpeg")) {
        return coded(TextureImage.decode(Files.readAllBytes(file), name, file, ""));
      }
    } catch (NoSuchFileException e) {
      throw new InputException(file, "", "no such file", e);
    } catch (InputException e) {
      throw e;
    } catch (IOException e) {
      throw new InputException(file, "", "cannot be read: " + e.getMessage(), e);
    }
    throw new InputException(file, "", "expected a picture: .exr, .hdr, .png or .jpg");
  }

  private static Picture exr(Path file) throws IOException {
    ExrPart part = ExrReader.read(file).parts().getFirst();
    Picture out = Picture.empty(part.dataWindow().width(), part.dataWindow().height());
    String[] names = {"R", "G", "B", "A"};
    for (int c = 0; c < 4; c++) {
      String wanted = names[c];
      boolean has = part.channels().keySet().stream().anyMatch(k -> k.name().equals(wanted));
      if (!has && c < 3) {
        throw new InputException(file, "channels", "there is no channel " + wanted);
      }
      float[] plane = has ? part.real(wanted) : new float[0];
      for (int p = 0; p < out.width() * out.height(); p++) {
        float value = has ? plane[p] : 1;
        if (!Float.isFinite(value)) {
          throw new InputException(
              file, "pixel " + p + ", channel " + wanted, value + ", expected a finite number");
        }
        out.rgba()[4 * p + c] = value;
      }
    }
    return out;
  }

  private static Picture coded(TextureImage image) {
    Picture out = Picture.empty(image.width(), image.height());
    for (int i = 0; i < out.rgba().length; i++) {
      double v = (image.rgba()[i] & 255) / 255.0;
      double linear = v <= 0.04045 ? v / 12.92 : Math.pow((v + 0.055) / 1.055, 2.4);
      out.rgba()[i] = (float) ((i & 3) == 3 ? v : linear);
    }
    return out;
  }
}
