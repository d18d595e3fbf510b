package org.wedgecutter.app.files;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.zip.CRC32;
import org.jspecify.annotations.Nullable;

/**
 * Notices when a file is changed by somebody else. It compares what the file holds: at once where
 * its size or time is another one, else now and then, since times of files say little on shared
 * disks. For one thread.
 */
public final class DiskWatch {
  /** So many looks at size and time come between two at the content. */
  private static final int LOOKS = 10;

  private @Nullable Path file;
  private @Nullable FileStamp stamp;
  private int looks;
  private long[] known = new long[0];

  /** Remembers the file as it is now. */
  public void know(Path next) {
    file = next;
    stamp = FileStamp.of(next);
    known = mark(next);
  }

  /**
   * Remembers a file as it was just written, if it is the one that is watched.
   *
   * @return whether it is
   */
  public boolean written(Path path) {
    if (isOf(path)) {
      know(path);
    }
    return isOf(path);
  }

  /** Whether a file is the one that is watched. */
  public boolean isOf(Path path) {
    return path.equals(file);
  }

  /**
   * Whether the file has other content than what is remembered; a missing file has not, and one
   * that was missing has.
   */
  public boolean changed() {
    Path path = file;
    if (path == null) {
      return false;
    }
    long[] now = mark(path);
    return now.length > 0 && !Arrays.equals(now, known);
  }

  /** The same, for looks at an interval: mostly by size and time alone. */
  boolean changedAtAGlance() {
    Path path = file;
    FileStamp is = path == null ? null : FileStamp.of(path);
    if (is != null && is.equals(stamp) && ++looks % LOOKS != 0) {
      return false;
    }
    boolean changed = changed();
    if (!changed) {
      stamp = is;
    }
    return changed;
  }

  private static long[] mark(Path path) {
    try {
      byte[] bytes = Files.readAllBytes(path);
      CRC32 crc = new CRC32();
      crc.update(bytes);
      return new long[] {bytes.length, crc.getValue()};
    } catch (IOException e) {
      // not there, or just being replaced: ask again later
      return new long[0];
    }
  }
}
