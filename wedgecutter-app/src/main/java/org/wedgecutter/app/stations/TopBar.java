package org.wedgecutter.app.stations;

import java.util.Locale;
import java.util.function.Consumer;
import javafx.scene.control.Button;
import javafx.scene.control.Label;
import javafx.scene.control.ToggleButton;
import javafx.scene.control.ToggleGroup;
import javafx.scene.control.Tooltip;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.Region;
import javafx.scene.shape.Polygon;

/** The application's mark, the shot's name, the stations, and the proof chip. */
final class TopBar extends HBox {
  /** Where in the order of the work one is. */
  enum Station {
    SHOT("Shot"),
    CUT("Cut"),
    RENDER("Render");

    final String word;

    Station(String word) {
      this.word = word;
    }
  }

  private final Polygon mark = new Polygon(0, 0, 18, 0, 18, 18);
  private final Label name = new Label("Wedgecutter");
  private final Label state = new Label();
  private final ToggleGroup stations = new ToggleGroup();
  private final Button chip = new Button("no shot");

  TopBar(Consumer<Station> onStation, Runnable onChip) {
    getStyleClass().add("top-bar");
    name.getStyleClass().add("shot-name");
    name.setId("shot-name");
    state.getStyleClass().add("dim");
    state.setId("save-state");
    mark.setStyle("-fx-fill: -w-accent;");
    getChildren().addAll(mark, name, state, gap(22));
    for (Station station : Station.values()) {
      ToggleButton tab = new ToggleButton(station.word);
      tab.getStyleClass().add("station");
      tab.setId("station-" + station.name().toLowerCase(Locale.ROOT));
      tab.setUserData(station);
      tab.setToggleGroup(stations);
      tab.setOnAction(e -> {
        tab.setSelected(true);
        onStation.accept(station);
      });
      getChildren().add(tab);
    }
    Region space = new Region();
    HBox.setHgrow(space, Priority.ALWAYS);
    chip.getStyleClass().setAll("proof-chip");
    chip.setId("proof-chip");
    chip.setTooltip(
        new Tooltip("whether the layers rejoin to the uncut frame; click to see where not"));
    chip.setOnAction(e -> onChip.run());
    getChildren().addAll(space, chip);
  }

  private static Region gap(double width) {
    Region gap = new Region();
    gap.setMinWidth(width);
    return gap;
  }

  void setName(String shot, boolean dirty, String lastStep) {
    name.setText(shot);
    state.setText(dirty ? "not saved · " + lastStep : "saved");
  }

  void setStation(Station station) {
    stations.selectToggle(stations.getToggles().get(station.ordinal()));
  }

  Station station() {
    return stations.getSelectedToggle() == null
        ? Station.CUT
        : (Station) stations.getSelectedToggle().getUserData();
  }

  /** Shows the proof: a style of {@code exact}, {@code near}, {@code off} or none. */
  void setChip(String text, String style) {
    chip.setText(text);
    chip.getStyleClass().setAll("proof-chip");
    if (!style.isEmpty()) {
      chip.getStyleClass().add(style);
    }
  }
}
