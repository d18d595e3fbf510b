package org.wedgecutter.core.scene.obj;

import java.io.FilterInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Path;
import org.wedgecutter.core.io.InputException;

/** The bytes of a text whose lines are not too long for the reader, whose time grows faster. */
final class ShortLines extends FilterInputStream {
  private static final int MOST = 1 << 16;

  private final Path file;
  private int length;
  private long line = 1;

  ShortLines(InputStream of, Path file) {
    super(of);
    this.file = file;
  }

  @Override
  public int read() throws IOException {
    int c = in.read();
    count(c);
    return c;
  }

  @Override
  public int read(byte[] into, int from, int most) throws IOException {
    int count = in.read(into, from, most);
    for (int i = 0; i < count; i++) {
      count(into[from + i]);
    }
    return count;
  }

  private void count(int c) throws InputException {
    if (c == '\n') {
      length = 0;
      line++;
    } else if (++length > MOST) {
      throw new InputException(
          file,
          "line " + line,
          "is longer than %d characters, as a face of some ten thousand corners is; divide it"
              .formatted(MOST));
    }
  }
}
