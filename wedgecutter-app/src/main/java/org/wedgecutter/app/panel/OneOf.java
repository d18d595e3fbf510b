package org.wedgecutter.app.panel;

import java.util.HashMap;
import java.util.Map;
import java.util.function.Consumer;
import javafx.scene.control.ToggleButton;
import org.jspecify.annotations.Nullable;

/**
 * Buttons of which exactly one is selected. Unlike in the toolkit's toggle groups, Tab reaches each
 * button, and arrow keys never select one without doing what a click does.
 */
public final class OneOf<T> {
  private final Map<T, ToggleButton> buttons = new HashMap<>();
  private @Nullable T value;

  /**
   * Adds a button.
   *
   * @param of the value that it stands for
   * @param chosen is run when the user chooses it, after it was selected
   */
  public void add(T of, ToggleButton button, Consumer<T> chosen) {
    buttons.put(of, button);
    button.setOnAction(e -> {
      select(of);
      chosen.accept(of);
    });
  }

  /** Selects a value; unknown values select no button. */
  public void select(T next) {
    value = next;
    buttons.forEach((of, button) -> button.setSelected(of.equals(next)));
  }

  /**
   * Returns the selected value.
   *
   * @throws IllegalStateException if none was selected yet
   */
  public T value() {
    if (value == null) {
      throw new IllegalStateException("nothing is selected yet");
    }
    return value;
  }

  /** Whether the button of a value is shown. */
  public boolean isShown(T of) {
    ToggleButton button = buttons.get(of);
    return button != null && button.isVisible();
  }

  /** Shows or hides the button of a value; a hidden one takes no room. */
  public void show(T of, boolean shown) {
    ToggleButton button = buttons.get(of);
    if (button != null) {
      button.setVisible(shown);
      button.setManaged(shown);
    }
  }
}
