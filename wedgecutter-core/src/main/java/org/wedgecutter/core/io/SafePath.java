package org.wedgecutter.core.io;

import java.nio.file.Files;
import java.nio.file.InvalidPathException;
import java.nio.file.Path;

/** Resolves names read from files inside the folder that they belong to. */
public final class SafePath {
  private SafePath() {}

  /**
   * Resolves a relative name inside a folder.
   *
   * @throws InputException if the name is absolute, is no path, or leads out of the folder, or
   *     passes a symbolic link below it, or is a pipe or a device
   */
  public static Path inside(Path folder, String name, Path file, String place)
      throws InputException {
    try {
      Path path = folder.resolve(name).normalize();
      Path root = folder.normalize();
      if (!Path.of(name).isAbsolute()
          && path.startsWith(root)
          && !name.isEmpty()
          && !path.equals(root)) {
        return withoutLinks(root, path, file, place);
      }
    } catch (InvalidPathException e) {
      throw new InputException(file, place, "'%s' is not a file name".formatted(name), e);
    }
    throw new InputException(
        file, place, "'%s' leads out of the folder; expected a name inside it".formatted(name));
  }

  private static Path withoutLinks(Path root, Path path, Path file, String place)
      throws InputException {
    Path at = root;
    for (Path each : root.relativize(path)) {
      at = at.resolve(each);
      if (Files.isSymbolicLink(at)) {
        throw new InputException(
            file,
            place,
            "'%s' is a symbolic link, which may lead out of the folder; put the file itself there"
                .formatted(root.relativize(at)));
      }
    }
    if (Files.exists(path) && !Files.isRegularFile(path) && !Files.isDirectory(path)) {
      throw new InputException(
          file, place, "'%s' is a pipe or a device; expected a file".formatted(path));
    }
    return path;
  }
}
