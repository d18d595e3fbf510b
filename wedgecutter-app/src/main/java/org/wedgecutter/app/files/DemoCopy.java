package org.wedgecutter.app.files;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.util.List;
import java.util.stream.Stream;

/** A demo as the user's own: it is edited and rendered in a copy, not in the program's folder. */
public final class DemoCopy {
  private static final String PLAN = ".wedge";

  private DemoCopy() {}

  /**
   * Makes the copy, or brings it up to date: scenes and pictures are those that ship now, and plans
   * stay as they were edited.
   *
   * @param shipped the demo's folder in the program
   * @param stateFolder holds the copies
   * @param fresh whether plans are those that ship, too; edited ones stay beside them under another
   *     name
   * @return the copy's folder
   */
  public static Path of(Path shipped, Path stateFolder, boolean fresh) throws IOException {
    Path copy = stateFolder.resolve("demos").resolve(shipped.getFileName().toString());
    Files.createDirectories(copy);
    List<Path> files;
    try (Stream<Path> all = Files.list(shipped)) {
      files = all.filter(Files::isRegularFile).sorted().toList();
    }
    for (Path from : files) {
      Path to = copy.resolve(from.getFileName().toString());
      boolean same = Files.isRegularFile(to) && Files.mismatch(from, to) == -1;
      boolean plan = from.toString().endsWith(PLAN);
      if (same || (plan && !fresh && Files.exists(to))) {
        continue;
      }
      if (plan && Files.exists(to)) {
        Files.move(to, free(to));
      }
      Files.copy(from, to, StandardCopyOption.REPLACE_EXISTING);
    }
    return copy;
  }

  private static Path free(Path plan) {
    String name = String.valueOf(plan.getFileName());
    String stem = name.substring(0, name.length() - PLAN.length());
    Path out = plan;
    for (int k = 1; Files.exists(out); k++) {
      out = plan.resolveSibling("%s-edited-%d%s".formatted(stem, k, PLAN));
    }
    return out;
  }
}
