package org.wedgecutter.app.panel;

import java.util.function.Function;
import javafx.util.StringConverter;

/** Writes choices in words. */
public final class Words {
  private Words() {}

  /** Returns what a list of choices needs to write them; choices are never made from text. */
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
