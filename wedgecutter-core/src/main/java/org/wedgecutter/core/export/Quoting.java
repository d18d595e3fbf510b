package org.wedgecutter.core.export;

import j2html.utils.EscapeUtil;
import org.wedgecutter.core.io.Visible;

/**
 * Text from files as each language that is written for others takes it: whatever a name holds, it
 * stays a name there. Every file of this room is put together with these and nothing else.
 */
public final class Quoting {
  /** Stands for what a language cannot hold at all. */
  private static final int REPLACEMENT = 0xfffd;

  private Quoting() {}

  /** Returns a word of the shell: of POSIX sh and all that read it. */
  public static String shell(String word) {
    return "'" + word.replace("'", "'\\''") + "'";
  }

  /** Returns a text for a comment of the shell, which ends with its line. */
  static String comment(String text) {
    return Visible.of(text);
  }

  /**
   * Returns the name of a file for the image tool, relative to where the tool runs, as a word of
   * the shell: no name begins like an option. The tool must be told {@code --wildcardoff --evaloff}
   * before, or it takes # and { } for more than a name.
   */
  static String imageFile(String path) {
    return shell("./" + path);
  }

  /**
   * Whether the image tool can be told a name: what follows a ? are options of the reader to it.
   */
  static boolean isImageFile(String path) {
    return !path.contains("?");
  }

  /**
   * Whether the scheduler takes a word for an option's value as it stands in a line of a job: it
   * has its own reading of quotes, so words that need any are refused.
   */
  static boolean isSchedulerWord(String word) {
    return word.matches("[\\w.,@+:&|*%/\\[\\]()!-]*");
  }

  /** Returns the value of an attribute of XML 1.0, within double quotes. */
  static String xml(String text) {
    StringBuilder out = new StringBuilder(text.length());
    text.codePoints()
        .forEach(c -> {
          switch (c) {
            case '&' -> out.append("&amp;");
            case '<' -> out.append("&lt;");
            case '>' -> out.append("&gt;");
            case '"' -> out.append("&quot;");
            case '\t', '\n', '\r' -> out.append("&#").append(c).append(';');
            default -> out.appendCodePoint(isXml(c) ? c : REPLACEMENT);
          }
        });
    return out.toString();
  }

  /** Characters that XML 1.0 allows (section 2.2), but for white space. */
  private static boolean isXml(int c) {
    return (c >= ' ' && c <= 0xd7ff) || (c >= 0xe000 && c <= 0xfffd) || c > 0xffff;
  }

  /** Returns text for HTML, in content and in attributes. */
  static String html(String text) {
    return EscapeUtil.escape(text);
  }

  /** Returns a field of CSV (RFC 4180). */
  static String csv(String field) {
    return field.matches("(?s).*[\",\r\n].*") ? '"' + field.replace("\"", "\"\"") + '"' : field;
  }

  /** Returns what stands within double quotes in OpenUSD's text form. */
  static String usd(String text) {
    StringBuilder out = new StringBuilder(text.length());
    text.codePoints()
        .forEach(c -> {
          switch (c) {
            case '\\' -> out.append("\\\\");
            case '"' -> out.append("\\\"");
            case '\n' -> out.append("\\n");
            case '\r' -> out.append("\\r");
            case '\t' -> out.append("\\t");
            default -> {
              boolean isLone = Character.getType(c) == Character.SURROGATE;
              if (c < ' ' || c == 0x7f) {
                out.append("\\x%02x".formatted(c));
              } else {
                out.appendCodePoint(isLone ? REPLACEMENT : c);
              }
            }
          }
        });
    return out.toString();
  }
}
