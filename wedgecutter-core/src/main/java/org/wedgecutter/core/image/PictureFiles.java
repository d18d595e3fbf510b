package org.wedgecutter.core.image;

import java.io.IOException;
import java.nio.file.Path;
import java.util.Locale;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.core.io.InputFile;
import org.wedgecutter.exr.ExrException;
import org.wedgecutter.exr.ExrReader;

/**
 * Reads pictures in scene-linear light: OpenEXR of any kind (see {@link ExrPictures}), Radiance
 * HDR, and PNG or JPEG, whose sRGB code is undone.
 */
public final class PictureFiles {
  private static final long MAX_MEBIBYTES = 1024;

  private PictureFiles() {}

  /**
   * Reads a picture.
   *
   * @throws InputException with file and expectation if it cannot be used
   */
  public static Picture read(Path file) throws InputException {
    String name = String.valueOf(file.getFileName()).toLowerCase(Locale.ROOT);
    InputFile.check(file, MAX_MEBIBYTES, file, "");
    if (name.endsWith(".hdr")) {
      return RadianceHdr.read(file);
    }
    try {
      if (name.endsWith(".exr")) {
        return exr(file);
      }
      if (name.endsWith(".png") || name.endsWith(".jpg") || name.endsWith(".jpeg")) {
        return coded(
            TextureImage.decode(InputFile.bytes(file, MAX_MEBIBYTES, file, ""), name, file, ""));
      }
    } catch (InputException e) {
      throw e;
    } catch (IOException e) {
      throw new InputException(file, "", "cannot be read: " + e.getMessage(), e);
    }
    throw new InputException(file, "", "expected a picture: .exr, .hdr, .png or .jpg");
  }

  private static Picture exr(Path file) throws IOException {
    Picture out;
    try {
      out = ExrPictures.of(ExrReader.read(file));
    } catch (ExrException e) {
      throw new InputException(file, "", ImageFacts.bare(file, e), e);
    }
    for (int i = 0; i < out.rgba().length; i++) {
      if (!Float.isFinite(out.rgba()[i])) {
        throw new InputException(
            file,
            "pixel %d, channel %s".formatted(i / 4, "RGBA".charAt(i & 3)),
            out.rgba()[i] + ", expected a finite number");
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
