package org.wedgecutter.app.panel;

import java.util.List;
import javafx.scene.control.Button;
import javafx.scene.control.Label;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.VBox;

/** A message above the sheet that stays until one of its choices is taken. */
public final class Banner extends HBox {
  private final String text;
  private final boolean offer;

  /** Something to do. */
  public record Choice(String id, String text, Runnable action) {}

  /**
   * @param offer whether it offers something; else it tells an error
   */
  public Banner(VBox place, String text, boolean offer, List<Choice> choices) {
    this.text = text;
    this.offer = offer;
    Label label = new Label(text);
    label.setId("banner-text");
    label.setWrapText(true);
    HBox.setHgrow(label, Priority.ALWAYS);
    label.setMaxWidth(Double.MAX_VALUE);
    getChildren().add(label);
    getStyleClass().add("banner");
    if (offer) {
      getStyleClass().add("offer");
    }
    setId("banner");
    for (Choice choice : choices) {
      Button button = new Button(choice.text);
      button.setId(choice.id);
      button.setMinWidth(USE_PREF_SIZE);
      button.setOnAction(e -> {
        place.getChildren().remove(this);
        choice.action.run();
      });
      getChildren().add(button);
    }
  }

  /** Returns what it says. */
  public String text() {
    return text;
  }

  /** Whether it offers something; else it tells an error. */
  public boolean isOffer() {
    return offer;
  }
}
