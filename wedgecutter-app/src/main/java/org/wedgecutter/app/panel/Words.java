package org.wedgecutter.app.panel;

import java.util.function.Function;
import javafx.util.StringConverter;

/** Words for choices. */
public final class Words {
  private Words() {}

  /** Returns a number of bytes in words: {@code 1.4 GB}; a kilobyte has 1000. */
  public static String bytes(long bytes) {
    String[] units = {"B", "kB", "MB", "GB", "TB", "PB"};
    double value = bytes;
    int unit = 0;
    while (value >= 999.5 && unit < units.length - 1) {
      value /= 1000;
      unit++;
    }
    return (unit == 0 || value >= 99.5 ? "%.0f %s" : "%.2g %s").formatted(value, units[unit]);
  }

  /** Returns how many there are of something: {@code 1 layer}, {@code 2 layers}. */
  public static String counted(long count, String what) {
    return "%d %s%s".formatted(count, what, count == 1 ? "" : "s");
  }

  /** Returns a converter that writes choices in words; text is never turned into a choice. */
  public static <T> StringConverter<T> of(Function<T, String> word) {
    return new StringConverter<>() {
      @Override
      public String toString(T value) {
        return value == null ? "" : word.apply(value);
      }

      @Override
      @SuppressWarnings("NullAway")
      public T fromString(String text) {
        return null;
      }
    };
  }
}
