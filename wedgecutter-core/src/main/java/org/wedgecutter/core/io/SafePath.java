package org.wedgecutter.core.io;

import java.nio.file.InvalidPathException;
import java.nio.file.Path;

/** Resolves names read from files inside the folder that they belong to. */
public final class SafePath {
  private SafePath() {}

  /**
   * Resolves a relative name inside a folder.
   *
   * @throws InputException if the name is absolute, is no path, or leads out of the folder
   */
  public static Path inside(Path folder, String name, Path file, String place)
      throws InputException {
    try {
      Path path = folder.resolve(name).normalize();
      if (!Path.of(name).isAbsolute() && path.startsWith(folder.normalize()) && !name.isEmpty()) {
        return path;
      }
    } catch (InvalidPathException e) {
      throw new InputException(file, place, "'%s' is not a file name".formatted(name), e);
    }
    throw new InputException(
        file, place, "'%s' leads out of the folder; expected a name inside it".formatted(name));
  }
}
