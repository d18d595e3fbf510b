package org.wedgecutter.app.station.rejoin;

import java.util.Locale;
import javafx.scene.control.ToggleButton;
import javafx.scene.image.Image;
import javafx.scene.image.ImageView;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Pane;
import javafx.scene.layout.VBox;
import javafx.scene.paint.Color;
import javafx.scene.shape.Line;
import javafx.scene.shape.Rectangle;
import javafx.scene.shape.StrokeLineCap;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.app.panel.OneOf;

/**
 * Two pictures in one place, so that the eye sees what changes: either of them, both with a line
 * between that is dragged, or their difference.
 */
final class PairView extends VBox {
  /** What is shown. */
  enum Look {
    FIRST("First"),
    SECOND("Second"),
    WIPE("Wipe"),
    DIFFERENCE("Difference");

    final String title;

    Look(String title) {
      this.title = title;
    }
  }

  private final double width;
  private final ImageView left = new ImageView();
  private final ImageView right = new ImageView();
  private final Rectangle clip = new Rectangle();
  private final Line line = new Line();
  private final OneOf<Look> looks = new OneOf<>();
  private @Nullable Image first;
  private @Nullable Image second;
  private @Nullable Image difference;
  private Look look = Look.WIPE;

  /** Where the line is, as a share of the width. */
  private double parted = 0.5;

  /**
   * @param width of the pictures on the screen
   */
  PairView(double width) {
    super(6);
    this.width = width;
    HBox bar = new HBox(6);
    for (Look each : Look.values()) {
      ToggleButton button = new ToggleButton(each.title);
      button.setId("pair-" + each.name().toLowerCase(Locale.ROOT));
      button.getStyleClass().add("foot-tab");
      looks.add(each, button, this::look);
      bar.getChildren().add(button);
    }
    Pane pictures = new Pane(left, right, line);
    pictures.setId("pair-pictures");
    for (ImageView view : new ImageView[] {left, right}) {
      view.setFitWidth(width);
      view.setPreserveRatio(true);
    }
    left.setId("pair-left");
    right.setId("pair-right");
    right.setClip(clip);
    line.setStroke(Color.WHITE);
    line.setStrokeLineCap(StrokeLineCap.BUTT);
    pictures.setOnMousePressed(e -> part(e.getX()));
    pictures.setOnMouseDragged(e -> part(e.getX()));
    getChildren().addAll(bar, pictures);
    looks.select(look);
    show(null, null, null);
  }

  /**
   * Shows pictures of one shape.
   *
   * @param next the first
   * @param other the second
   * @param apart their difference
   */
  void show(@Nullable Image next, @Nullable Image other, @Nullable Image apart) {
    first = next;
    second = other;
    difference = apart;
    setVisible(first != null || second != null);
    look(look);
  }

  private void look(Look next) {
    look = next;
    left.setImage(
        switch (look) {
          case FIRST, WIPE -> first;
          case SECOND -> second;
          case DIFFERENCE -> difference;
        });
    right.setImage(look == Look.WIPE ? second : null);
    line.setVisible(look == Look.WIPE);
    setAccessibleText(look.title);
    part(parted * width);
  }

  private void part(double x) {
    parted = Math.max(0, Math.min(1, x / width));
    double height = right.getBoundsInLocal().getHeight();
    clip.setX(parted * width);
    clip.setWidth(width);
    clip.setHeight(Math.max(height, width));
    double at = Math.max(1, Math.min(width - 1, parted * width));
    line.setStartX(at);
    line.setEndX(at);
    line.setEndY(left.getBoundsInLocal().getHeight());
  }
}
