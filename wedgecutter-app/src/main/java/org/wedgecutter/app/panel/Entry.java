package org.wedgecutter.app.panel;

import java.util.function.Consumer;
import java.util.function.DoubleConsumer;
import javafx.geometry.Pos;
import javafx.scene.Node;
import javafx.scene.control.Label;
import javafx.scene.control.TextField;
import javafx.scene.control.Tooltip;
import javafx.scene.layout.HBox;
import org.wedgecutter.app.typing.HalfTyped;

/**
 * A field whose text is applied by Enter, or when it loses the focus. If the text is invalid, the
 * reason is shown below and the text stays to be corrected.
 */
public final class Entry extends TextField {
  /** Applies a text; throws an exception that says what is wrong with it. */
  public interface Taker {
    void take(String text) throws IllegalArgumentException;
  }

  /** The text that is applied. */
  private String applied;

  /**
   * @param hint what is expected, for the tool tip and for screen readers
   * @param trouble shows what is wrong
   */
  public Entry(String id, String text, int columns, String hint, Label trouble, Taker taker) {
    super(text);
    applied = text;
    setId(id);
    setPrefColumnCount(columns);
    setAccessibleText(hint);
    setTooltip(new Tooltip(hint));
    Runnable take =
        () -> {
          if (!getText().equals(applied)) {
            try {
              trouble.setText("");
              taker.take(getText().strip());
            } catch (IllegalArgumentException e) {
              trouble.setText(e.getMessage());
            }
          }
        };
    HalfTyped.by(this, take);
    focusedProperty()
        .addListener((o, was, is) -> {
          if (!is && getScene() != null) {
            take.run();
          }
        });
  }

  /** Shows what was changed elsewhere, as by a slider beside it. */
  public void follow(String text) {
    applied = text;
    setText(text);
  }

  /** A field for a number within bounds. */
  public static Entry number(
      String id,
      double value,
      double least,
      double most,
      String hint,
      Label trouble,
      DoubleConsumer taker) {
    return new Entry(
        id,
        Typed.text(value),
        4,
        hint + ", " + Typed.text(least) + " to " + Typed.text(most),
        trouble,
        t -> taker.accept(Typed.number(t, least, most)));
  }

  /** A field for a whole number within bounds. */
  public static Entry whole(
      String id,
      long value,
      long least,
      long most,
      String hint,
      Label trouble,
      Consumer<Long> taker) {
    return new Entry(
        id,
        Long.toString(value),
        4,
        "%s, %d to %d".formatted(hint, least, most),
        trouble,
        t -> {
          double x = Typed.number(t, least, most);
          if (x != Math.rint(x)) {
            throw new IllegalArgumentException("'%s': expected a whole number".formatted(t));
          }
          taker.accept(Math.round(x));
        });
  }

  /** Returns a label for what is wrong. */
  public static Label trouble(String id) {
    Label label = new Label();
    label.setId(id);
    label.getStyleClass().add("trouble");
    label.setWrapText(true);
    label.managedProperty().bind(label.textProperty().isEmpty().not());
    return label;
  }

  /** Returns a field with its caption. */
  public static HBox named(String caption, Node field) {
    HBox out = new HBox(6, DetailPanel.dim(caption), field);
    out.setAlignment(Pos.CENTER_LEFT);
    return out;
  }
}
