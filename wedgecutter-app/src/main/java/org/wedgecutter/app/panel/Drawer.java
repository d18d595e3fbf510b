package org.wedgecutter.app.panel;

import javafx.geometry.Pos;
import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.Label;
import javafx.scene.layout.BorderPane;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.Region;
import javafx.scene.layout.StackPane;
import org.jspecify.annotations.Nullable;

/** A panel over the viewer: presets, overrides, reports. Escape closes it. */
public final class Drawer extends BorderPane {
  private final StackPane place;
  private final Label title = new Label();

  public Drawer(StackPane place) {
    this.place = place;
    getStyleClass().add("drawer");
    setId("drawer");
    title.getStyleClass().add("drawer-title");
    title.setId("drawer-title");
    Region space = new Region();
    HBox.setHgrow(space, Priority.ALWAYS);
    Button close = new Button("Close");
    close.setId("drawer-close");
    close.setOnAction(e -> hide());
    HBox head = new HBox(8, title, space, close);
    head.setAlignment(Pos.CENTER_LEFT);
    head.getStyleClass().add("drawer-head");
    setTop(head);
  }

  /** Returns the pane that the drawer lies over. */
  public StackPane place() {
    return place;
  }

  /** Shows something under a title. */
  public void show(String text, Node content) {
    title.setText(text);
    setCenter(content);
    if (!place.getChildren().contains(this)) {
      place.getChildren().add(this);
    }
  }

  /** Closes it. */
  public void hide() {
    place.getChildren().remove(this);
    setCenter(null);
  }

  /** Returns what is shown, or null. */
  public @Nullable Node content() {
    return getCenter();
  }

  /** Whether it is open. */
  public boolean open() {
    return place.getChildren().contains(this);
  }
}
