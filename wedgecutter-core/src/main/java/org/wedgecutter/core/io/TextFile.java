package org.wedgecutter.core.io;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;

/** Reads text files that are not trusted. */
public final class TextFile {
  private TextFile() {}

  /**
   * Reads a file of a folder that is not trusted, as UTF-8.
   *
   * @param mebibytes largest size
   * @throws InputException if it is missing, no regular file, behind a link, too large, or not
   *     UTF-8
   */
  public static String read(RootFolder folder, String name, long mebibytes) throws InputException {
    try {
      return checked(folder.file(name), mebibytes);
    } catch (NoSuchFileException e) {
      throw new InputException(folder.path().resolve(name), "", "no such file", e);
    } catch (InputException e) {
      throw e;
    } catch (IOException e) {
      throw new InputException(
          folder.path().resolve(name), "", "cannot be read as UTF-8 text: " + e.getMessage(), e);
    }
  }

  /**
   * Reads a file as UTF-8.
   *
   * @param mebibytes largest size
   * @throws InputException if it is missing, no regular file, too large, or not UTF-8
   */
  public static String read(Path file, long mebibytes) throws InputException {
    InputFile.check(file, mebibytes, file, "");
    try {
      return checked(file, mebibytes);
    } catch (InputException e) {
      throw e;
    } catch (IOException e) {
      throw new InputException(file, "", "cannot be read as UTF-8 text: " + e.getMessage(), e);
    }
  }

  private static String checked(Path file, long mebibytes) throws IOException {
    if (Files.size(file) > mebibytes << 20) {
      throw new InputException(file, "", "larger than %d MiB".formatted(mebibytes));
    }
    return Files.readString(file);
  }
}
