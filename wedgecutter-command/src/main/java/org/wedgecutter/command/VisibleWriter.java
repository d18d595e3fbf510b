package org.wedgecutter.command;

import java.io.PrintWriter;
import java.io.Writer;
import java.util.Locale;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.io.Visible;

/**
 * Prints text for people: what stands in a line makes no other line and steers no terminal. The
 * newlines of formats and of whole texts are the program's own; those of their arguments, and of
 * single lines, come from files and are made visible.
 *
 * <p>{@link #write} is exact, for documents that other programs read.
 */
final class VisibleWriter extends PrintWriter {
  VisibleWriter(Writer to, boolean flushes) {
    super(to, flushes);
  }

  @Override
  public void print(@Nullable String text) {
    super.print(Visible.lines(String.valueOf(text)));
  }

  @Override
  public void println(@Nullable String line) {
    super.println(Visible.of(String.valueOf(line)));
  }

  @Override
  public PrintWriter printf(String format, @Nullable Object... arguments) {
    return format(format, arguments);
  }

  @Override
  public PrintWriter printf(@Nullable Locale locale, String format, @Nullable Object... arguments) {
    return format(locale, format, arguments);
  }

  @Override
  public PrintWriter format(String format, @Nullable Object... arguments) {
    // the writer's own choice would be the machine's language, for numbers too
    return super.format(Locale.ROOT, format, visible(arguments));
  }

  @Override
  public PrintWriter format(@Nullable Locale locale, String format, @Nullable Object... arguments) {
    return super.format(locale, format, visible(arguments));
  }

  private static @Nullable Object[] visible(@Nullable Object[] arguments) {
    @Nullable Object[] out = new Object[arguments.length];
    for (int i = 0; i < out.length; i++) {
      Object a = arguments[i];
      boolean isNumber = a == null || a instanceof Number || a instanceof Boolean;
      out[i] = isNumber ? a : Visible.of(String.valueOf(a));
    }
    return out;
  }
}
