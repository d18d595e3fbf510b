package org.wedgecutter.core.deliver.check;

import java.io.IOException;
import java.nio.file.Path;
import java.util.HashMap;
import java.util.Map;
import org.wedgecutter.core.io.FileDigest;

/** The digests of files, each of which is read for that once: a frame is read in bands. */
final class Digests {
  private final Map<Path, String> known = new HashMap<>();

  /** Returns the SHA-256 of a file's bytes, hexadecimal. */
  String of(Path file) throws IOException {
    String made = known.get(file);
    if (made == null) {
      made = FileDigest.sha256(file);
      known.put(file, made);
    }
    return made;
  }
}
