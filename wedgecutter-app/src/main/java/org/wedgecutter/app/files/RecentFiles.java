package org.wedgecutter.app.files;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.InvalidPathException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import org.wedgecutter.core.io.AtomicFile;

/** The files that were open last, the latest first; one path a line. */
public final class RecentFiles {
  private static final int MOST = 10;
  private final Path file;

  /** Reads and writes the list in a folder. */
  public RecentFiles(Path folder) {
    file = folder.resolve("recent.txt");
  }

  /** Returns those that still exist. */
  public List<Path> list() {
    List<Path> out = new ArrayList<>();
    try {
      for (String line : Files.readAllLines(file)) {
        Path path = Path.of(line);
        if (!line.isBlank() && Files.isRegularFile(path)) {
          out.add(path);
        }
      }
    } catch (IOException | InvalidPathException e) {
      // a list that cannot be read counts as empty: no work of the user is in it
      return out;
    }
    return out;
  }

  /** Puts a file in front. */
  public void add(Path opened) throws IOException {
    Path path = opened.toAbsolutePath().normalize();
    List<Path> all = new ArrayList<>(list());
    all.remove(path);
    all.addFirst(path);
    StringBuilder text = new StringBuilder();
    all.stream().limit(MOST).forEach(p -> text.append(p).append('\n'));
    byte[] bytes = text.toString().getBytes(StandardCharsets.UTF_8);
    AtomicFile.write(file, out -> out.write(bytes));
  }
}
