package org.wedgecutter.core.scene.obj;

import java.io.BufferedReader;
import java.io.IOException;
import java.io.Reader;

/**
 * The text of an OBJ for a reader that knows groups and no objects: a line {@code o} becomes a
 * group, and the groups of an object have its name before theirs. A name is all of its line.
 */
final class ObjectLines extends Reader {
  /** Between an object and a group of it. */
  static final char WITHIN = '\u0001';

  /** A space of a name: for the reader, spaces part names. */
  static final char SPACE = '\u0002';

  private final BufferedReader lines;
  private String line = "";
  private int at;
  private String object = "";

  ObjectLines(Reader of) {
    lines = new BufferedReader(of);
  }

  @Override
  public int read(char[] into, int from, int most) throws IOException {
    while (at == line.length()) {
      String next = lines.readLine();
      if (next == null) {
        return -1;
      }
      line = rewritten(next) + "\n";
      at = 0;
    }
    int count = Math.min(most, line.length() - at);
    line.getChars(at, at + count, into, from);
    at += count;
    return count;
  }

  private String rewritten(String text) {
    String own = text.strip();
    if (own.matches("o\\s.*")) {
      object = name(own);
      return "g " + (object.isEmpty() ? "default" : object);
    }
    if (object.isEmpty() || !own.matches("g(\\s.*)?")) {
      return text;
    }
    String group = name(own);
    boolean none =
        group.isEmpty() || group.equals("default") || group.equals("off") || group.equals(object);
    return "g " + (none ? object : object + WITHIN + group);
  }

  private static String name(String own) {
    return own.substring(1)
        .strip()
        .replace(' ', SPACE)
        .replace('\t', SPACE)
        .replace(WITHIN, '_')
        .replace('#', '_');
  }

  @Override
  public void close() throws IOException {
    lines.close();
  }
}
