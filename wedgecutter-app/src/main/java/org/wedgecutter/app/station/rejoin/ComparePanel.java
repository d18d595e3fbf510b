package org.wedgecutter.app.station.rejoin;

import java.util.EnumMap;
import java.util.Locale;
import java.util.Map;
import java.util.Objects;
import java.util.function.Supplier;
import javafx.scene.Node;
import javafx.scene.control.ScrollPane;
import javafx.scene.control.ToggleButton;
import javafx.scene.layout.BorderPane;
import javafx.scene.layout.HBox;
import org.wedgecutter.app.panel.OneOf;

/** Ways to compare: side by side, over the frames, and one delivery with another. */
final class ComparePanel extends BorderPane {
  /** What is compared. */
  enum What {
    SHEET("Contact sheet"),
    FRAMES("Residual by frame"),
    DELIVERIES("Two deliveries");

    final String title;

    What(String title) {
      this.title = title;
    }
  }

  private final Map<What, Node> made = new EnumMap<>(What.class);
  private final Map<What, Supplier<Node>> makers;

  /**
   * @param makers of the panels; each is made when it is first chosen
   */
  ComparePanel(Map<What, Supplier<Node>> makers) {
    this.makers = new EnumMap<>(makers);
    OneOf<What> tabs = new OneOf<>();
    HBox bar = new HBox(6);
    bar.setStyle("-fx-padding: 8 14 0 14;");
    for (What what : What.values()) {
      ToggleButton button = new ToggleButton(what.title);
      button.setId("compare-" + what.name().toLowerCase(Locale.ROOT));
      button.getStyleClass().add("foot-tab");
      tabs.add(what, button, this::show);
      bar.getChildren().add(button);
    }
    setTop(bar);
    tabs.select(What.SHEET);
    show(What.SHEET);
  }

  private void show(What what) {
    ScrollPane scroll = new ScrollPane();
    scroll.setFitToWidth(true);
    scroll.setFitToHeight(what == What.SHEET);
    scroll.getStyleClass().add("detail-scroll");
    scroll.setContent(made.computeIfAbsent(what, w -> Objects.requireNonNull(makers.get(w)).get()));
    setCenter(scroll);
  }
}
