package org.wedgecutter.app.files;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.BasicFileAttributes;
import org.jspecify.annotations.Nullable;

/**
 * What tells that a file was written, without reading it.
 *
 * @param time of the last write, milliseconds
 */
record FileStamp(long bytes, long time) {
  /** Returns the stamp of a file; null if it is not there, or just being replaced. */
  static @Nullable FileStamp of(Path file) {
    try {
      BasicFileAttributes a = Files.readAttributes(file, BasicFileAttributes.class);
      return new FileStamp(a.size(), a.lastModifiedTime().toMillis());
    } catch (IOException e) {
      return null;
    }
  }
}
