package org.wedgecutter.app.panel;

import java.util.function.Function;
import javafx.util.StringConverter;

/** Words for choices. */
public final class Words {
  private Words() {}

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
