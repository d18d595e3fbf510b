package org.wedgecutter.app.shell;

import java.util.List;
import java.util.function.Consumer;
import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.Label;
import javafx.scene.control.ToggleButton;
import javafx.scene.control.Tooltip;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.Region;
import javafx.scene.shape.Polygon;
import org.wedgecutter.app.live.Pictures;
import org.wedgecutter.app.model.Session;
import org.wedgecutter.app.panel.OneOf;
import org.wedgecutter.app.station.Station;
import org.wedgecutter.core.proof.Residual;

/** The application's mark, the shot's name, the menus, the stations, and the proof chip. */
public final class TopBar extends HBox {
  private final Label name = new Label("Wedgecutter");
  private final Label state = new Label();
  private final OneOf<Station> tabs = new OneOf<>();
  private final Button chip = new Button("no shot");

  TopBar(
      List<Station> stations,
      Consumer<Station> onStation,
      Runnable onChip,
      List<? extends Node> menus) {
    getStyleClass().add("top-bar");
    Polygon mark = new Polygon(0, 0, 18, 0, 18, 18);
    mark.setStyle("-fx-fill: -w-accent;");
    name.getStyleClass().add("shot-name");
    name.setId("shot-name");
    state.getStyleClass().add("dim");
    state.setId("save-state");
    state.setMaxWidth(230);
    getChildren().addAll(mark, name);
    getChildren().addAll(menus);
    for (Station station : stations) {
      ToggleButton tab = new ToggleButton(station.title());
      tab.getStyleClass().add("station");
      tab.setId("station-" + station.id());
      tab.setMinWidth(USE_PREF_SIZE);
      tabs.add(station, tab, onStation);
      getChildren().add(tab);
    }
    Region space = new Region();
    HBox.setHgrow(space, Priority.ALWAYS);
    chip.getStyleClass().setAll("proof-chip");
    chip.setId("proof-chip");
    chip.setMinWidth(USE_PREF_SIZE);
    chip.setTooltip(
        new Tooltip(
            "Do the layers rejoin to the uncut frame? Click for the residual and its causes."));
    chip.setOnAction(e -> onChip.run());
    getChildren().addAll(state, space, chip);
  }

  /** Shows the shot's name and whether the plan has unsaved changes. */
  void setName(Session s) {
    name.setText(s.shot().name());
    boolean dirty = s.history().dirty();
    String still = s.kept() ? "saved" : "not saved yet";
    state.setText(dirty ? "modified: " + s.history().undoName() : still);
    state.setTooltip(dirty ? new Tooltip(state.getText()) : null);
  }

  /** Marks the tab of a station. */
  void setStation(Station station) {
    tabs.select(station);
  }

  /**
   * Says on the chip whether the layers rejoin.
   *
   * @param causes how many causes of a residual there are
   */
  void setProof(Pictures pictures, int causes) {
    Residual r = pictures.residual();
    chip.getStyleClass().setAll("proof-chip");
    if (r.exact()) {
      chip.setText("rejoins exactly");
      chip.getStyleClass().add("exact");
    } else {
      String worst =
          r.invalid() > 0
              ? "%d values not finite".formatted(r.invalid())
              : "max residual " + size(r.max());
      chip.setText(
          "%s, %.1f %% of pixels, %d %s"
              .formatted(worst, r.beyond() * 100, causes, causes == 1 ? "cause" : "causes"));
      chip.getStyleClass().add(r.beyond() < 0.02 ? "near" : "off");
    }
  }

  private static String size(double value) {
    return (value >= 10 ? "%.0f" : value >= 0.01 ? "%.2f" : "%.1e").formatted(value);
  }
}
