package org.wedgecutter.app.stations;

import javafx.geometry.Pos;
import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.Label;
import javafx.scene.layout.BorderPane;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.Region;
import javafx.scene.layout.StackPane;

/** What lies over the viewer for a while: presets, overrides, reports. Escape takes it away. */
final class Drawer extends BorderPane {
  private final StackPane place;
  private final Label title = new Label();

  Drawer(StackPane place) {
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

  /** Shows something under a title. */
  void show(String text, Node content) {
    title.setText(text);
    setCenter(content);
    if (!place.getChildren().contains(this)) {
      place.getChildren().add(this);
    }
  }

  /** Takes it away. */
  void hide() {
    place.getChildren().remove(this);
    setCenter(null);
  }

  /** Says whether something is shown. */
  boolean open() {
    return place.getChildren().contains(this);
  }
}
