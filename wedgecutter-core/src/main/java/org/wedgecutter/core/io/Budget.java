package org.wedgecutter.core.io;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.concurrent.atomic.AtomicLong;

/**
 * How much memory an opening may take: small files that ask for gigabytes are refused before these
 * are taken. What is opened may take 1 GiB, and a hundred times the size of its files where that is
 * more; never more than three quarters of the program's memory.
 *
 * <p>{@code -Dwedgecutter.opening.mebibytes=N} sets another limit.
 */
public final class Budget {
  /** Deepest hierarchy that is read. */
  public static final int MOST_DEPTH = 1000;

  private static final String WISH = "wedgecutter.opening.mebibytes";
  private static final long LEAST = 1L << 30;
  private static final long TIMES = 100;

  private final AtomicLong files = new AtomicLong();
  private final AtomicLong taken = new AtomicLong();

  private Budget() {}

  /** Returns the budget of a file, by its size. */
  public static Budget of(Path file) {
    Budget out = new Budget();
    out.and(file);
    return out;
  }

  /** Counts another file, which the first one names. */
  public void and(Path file) {
    try {
      files.addAndGet(Files.isRegularFile(file) ? Files.size(file) : 0);
    } catch (IOException e) {
      // whoever reads it reports that; without its size less is allowed
    }
  }

  private long limit() {
    Long asked = Long.getLong(WISH);
    long heap = Runtime.getRuntime().maxMemory() / 4 * 3;
    return asked != null ? asked << 20 : Math.min(heap, Math.max(LEAST, TIMES * files.get()));
  }

  /**
   * Takes memory.
   *
   * @param place in the file, for the message
   * @throws InputException if that is more than is left
   */
  public void take(long bytes, Path file, String place) throws InputException {
    long limit = limit();
    if (bytes < 0 || taken.addAndGet(bytes) > limit) {
      throw new InputException(
          file,
          place,
          "asks for more than %d MiB of memory, far more than files of this size hold; if it is meant so, allow more by WEDGECUTTER_JAVA_OPTIONS=-D%s=N"
              .formatted(limit >> 20, WISH));
    }
  }
}
