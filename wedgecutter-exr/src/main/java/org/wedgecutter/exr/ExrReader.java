package org.wedgecutter.exr;

import java.io.IOException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;

/**
 * Reads OpenEXR files whole: of lines or of tiles, flat or deep, of one part or several, by every
 * compression of the format. {@link ExrInput} reads them piece by piece.
 */
public final class ExrReader {
  private ExrReader() {}

  /** Reads a file. The message of an exception begins with the file's name. */
  public static ExrImage read(Path file) throws IOException {
    try (ExrInput in = ExrInput.open(file)) {
      return read(in);
    } catch (ExrException e) {
      String message = String.valueOf(e.getMessage());
      throw message.startsWith(file + ": ")
          ? e
          : new ExrException("%s: %s".formatted(file, message));
    }
  }

  /** Reads the bytes of a file. */
  public static ExrImage read(byte[] file) throws IOException {
    return read(ExrInput.of(file));
  }

  private static ExrImage read(ExrInput in) throws IOException {
    List<ExrPart> parts = new ArrayList<>();
    for (int p = 0; p < in.headers().size(); p++) {
      parts.add(in.part(p));
    }
    return new ExrImage(parts);
  }
}
