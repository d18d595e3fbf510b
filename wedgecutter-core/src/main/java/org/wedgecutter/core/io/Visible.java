package org.wedgecutter.core.io;

/**
 * Text from files as it goes to a terminal or a log: control characters are made visible, so that
 * no name moves the cursor, rings, colours, or begins a line of its own.
 *
 * <p>What becomes visible is what Unicode calls control (Cc), format (Cf: marks of direction, the
 * byte order mark; but not the joiners, which scripts need), line and paragraph separators (Zl,
 * Zp), surrogates without a partner, and private use: as a backslash with n, r or t, or with u and
 * the hexadecimal number in braces.
 */
public final class Visible {
  private static final int ZERO_WIDTH_NON_JOINER = 0x200c;
  private static final int ZERO_WIDTH_JOINER = 0x200d;

  private Visible() {}

  /** Returns a text of one line. */
  public static String of(String text) {
    return text.codePoints().allMatch(Visible::isPlain) ? text : made(text, false);
  }

  /** Returns a text whose lines, ended by newlines, are ours. */
  public static String lines(String text) {
    return text.codePoints().allMatch(c -> c == '\n' || isPlain(c)) ? text : made(text, true);
  }

  /** Returns a JSON document in which such characters stand as JSON escapes them. */
  public static String json(String document) {
    StringBuilder out = new StringBuilder(document.length());
    document
        .codePoints()
        .forEach(c -> {
          if (c == '\n' || isPlain(c)) {
            out.appendCodePoint(c);
          } else {
            for (char unit : Character.toChars(c)) {
              out.append("\\u%04x".formatted((int) unit));
            }
          }
        });
    return out.toString();
  }

  private static String made(String text, boolean keepsLines) {
    StringBuilder out = new StringBuilder(text.length() + 16);
    text.codePoints()
        .forEach(c -> {
          if (isPlain(c) || (keepsLines && c == '\n')) {
            out.appendCodePoint(c);
          } else {
            out.append(
                switch (c) {
                  case '\n' -> "\\n";
                  case '\r' -> "\\r";
                  case '\t' -> "\\t";
                  default -> "\\u{" + Integer.toHexString(c) + "}";
                });
          }
        });
    return out.toString();
  }

  private static boolean isPlain(int c) {
    if (c == ZERO_WIDTH_NON_JOINER || c == ZERO_WIDTH_JOINER) {
      return true;
    }
    return switch (Character.getType(c)) {
      case Character.CONTROL,
          Character.FORMAT,
          Character.LINE_SEPARATOR,
          Character.PARAGRAPH_SEPARATOR,
          Character.SURROGATE,
          Character.PRIVATE_USE ->
          false;
      default -> true;
    };
  }
}
