package org.wedgecutter.core.io;

import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;

/**
 * Files of users and of strangers, opened for reading: regular ones of a bounded size. A pipe or a
 * device is refused at once, as it may never answer, or never end.
 */
public final class InputFile {
  private InputFile() {}

  /**
   * Refuses what cannot be read as a file.
   *
   * @param mebibytes largest size
   * @param by the file that names it, for errors; the file itself if a user does
   * @param place where in that file, or empty
   * @throws InputException if it is missing, a folder, a pipe, a device, or too large
   */
  public static void check(Path file, long mebibytes, Path by, String place) throws InputException {
    String name = file.equals(by) ? "" : "'%s' ".formatted(file);
    try {
      if (Files.isDirectory(file)) {
        throw new InputException(by, place, name + "is a folder; expected a file");
      }
      if (Files.exists(file) && !Files.isRegularFile(file)) {
        throw new InputException(by, place, name + "is a pipe or a device; expected a file");
      }
      if (Files.size(file) > mebibytes << 20) {
        throw new InputException(by, place, name + "is larger than %d MiB".formatted(mebibytes));
      }
    } catch (IOException e) {
      throw unreadable(file, by, place, e);
    }
  }

  /** Opens a file; as {@link #check} otherwise. */
  public static InputStream open(Path file, long mebibytes, Path by, String place)
      throws InputException {
    check(file, mebibytes, by, place);
    try {
      return Files.newInputStream(file);
    } catch (IOException e) {
      throw unreadable(file, by, place, e);
    }
  }

  /** Opens a file that a user names; as {@link #check} otherwise. */
  public static InputStream open(Path file, long mebibytes) throws InputException {
    return open(file, mebibytes, file, "");
  }

  /** Reads a whole file; as {@link #check} otherwise. */
  public static byte[] bytes(Path file, long mebibytes, Path by, String place)
      throws InputException {
    try (InputStream in = open(file, mebibytes, by, place)) {
      return in.readAllBytes();
    } catch (IOException e) {
      throw unreadable(file, by, place, e);
    }
  }

  private static InputException unreadable(Path file, Path by, String place, IOException e) {
    if (e instanceof InputException own) {
      return own;
    }
    String name = file.equals(by) ? "" : "'%s' ".formatted(file);
    return e instanceof NoSuchFileException
        ? new InputException(by, place, file.equals(by) ? "no such file" : name + "not found", e)
        : new InputException(by, place, name + "cannot be read: " + e.getMessage(), e);
  }
}
