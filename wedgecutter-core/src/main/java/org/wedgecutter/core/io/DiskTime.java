package org.wedgecutter.core.io;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;

/** How long the disk takes for a file, whatever is in it. */
public final class DiskTime {
  private static final int BYTES = 1 << 12;

  private DiskTime() {}

  /**
   * Puts small files on the disk, one after another, and removes them.
   *
   * @param files how many
   * @return the median time of one, seconds
   */
  public static double ofFile(int files) throws IOException {
    Path folder = Files.createTempDirectory("wedgecutter-file");
    Path file = folder.resolve("file");
    double[] taken = new double[files];
    try {
      for (int k = 0; k < files; k++) {
        long start = System.nanoTime();
        AtomicFile.write(file, out -> out.write(new byte[BYTES]));
        taken[k] = (System.nanoTime() - start) / 1e9;
      }
    } finally {
      Files.deleteIfExists(file);
      Files.deleteIfExists(folder);
    }
    Arrays.sort(taken);
    return taken[files / 2];
  }
}
