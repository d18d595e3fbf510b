package org.wedgecutter.app.stations;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.function.Consumer;
import javafx.application.Platform;
import javafx.scene.control.Button;
import javafx.scene.control.Label;
import javafx.scene.control.MenuButton;
import javafx.scene.control.MenuItem;
import javafx.scene.control.SeparatorMenuItem;
import javafx.scene.control.ToggleButton;
import javafx.scene.control.ToggleGroup;
import javafx.scene.control.Tooltip;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.Region;
import javafx.scene.shape.Polygon;
import org.wedgecutter.app.live.Pictures;
import org.wedgecutter.core.proof.Residual;

/** The application's mark, the shot's name, the stations, and the proof chip. */
final class TopBar extends HBox {
  /** Where in the order of the work one is. */
  enum Station {
    SHOT("Shot"),
    CUT("Cut"),
    OUTPUT("Output"),
    RENDER("Render");

    final String word;

    Station(String word) {
      this.word = word;
    }
  }

  /** What the menu of the plan does. */
  enum Action {
    OPEN("Open …", "Ctrl+O"),
    SAVE("Save", "Ctrl+S"),
    SAVE_AS("Save as …", "Ctrl+Shift+S"),
    HISTORY("Steps …", ""),
    CARRY("Carry to another scene …", ""),
    TEMPLATE("Save as a template …", ""),
    EXPORT_COLLECTIONS("Export the collections …", ""),
    IMPORT("Import a part …", "");

    final String word;
    final String keys;

    Action(String word, String keys) {
      this.word = word;
      this.keys = keys;
    }
  }

  /** Does what the menu asks for. */
  interface Actions {
    void run(Action action);

    /** Returns files that were open last. */
    List<Path> recent();

    void open(Path file);
  }

  private final Polygon mark = new Polygon(0, 0, 18, 0, 18, 18);
  private final Label name = new Label("Wedgecutter");
  private final Label state = new Label();
  private final ToggleGroup stations = new ToggleGroup();
  private final Button chip = new Button("no shot");
  private final MenuButton plan = new MenuButton("Plan");

  TopBar(Consumer<Station> onStation, Runnable onChip, Actions actions) {
    getStyleClass().add("top-bar");
    name.getStyleClass().add("shot-name");
    name.setId("shot-name");
    state.getStyleClass().add("dim");
    state.setId("save-state");
    mark.setStyle("-fx-fill: -w-accent;");
    plan.setId("plan-menu");
    plan.setFocusTraversable(false);
    plan.setOnShowing(e -> fill(actions));
    plan.getItems().add(new MenuItem());
    getChildren().addAll(mark, name, plan, state, gap(10));
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

  private void fill(Actions actions) {
    List<MenuItem> items = new ArrayList<>();
    for (Action action : Action.values()) {
      MenuItem item =
          new MenuItem(action.word + (action.keys.isEmpty() ? "" : "    " + action.keys));
      // dialogs block: the menu goes first
      item.setOnAction(e -> Platform.runLater(() -> actions.run(action)));
      if (action == Action.HISTORY || action == Action.CARRY) {
        items.add(new SeparatorMenuItem());
      }
      items.add(item);
    }
    List<Path> recent = actions.recent();
    if (!recent.isEmpty()) {
      items.add(new SeparatorMenuItem());
    }
    for (Path file : recent) {
      MenuItem item = new MenuItem(shortened(file));
      item.setOnAction(e -> actions.open(file));
      items.add(item);
    }
    plan.getItems().setAll(items);
  }

  private static String shortened(Path file) {
    Path parent = file.getParent();
    return parent == null || parent.getFileName() == null
        ? file.toString()
        : parent.getFileName() + "/" + file.getFileName();
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

  /** Says on the chip whether the layers rejoin. */
  void setProof(Pictures pictures) {
    Residual r = pictures.residual();
    int causes = pictures.causes().size();
    if (r.exact()) {
      setChip("rejoins exactly", "exact");
    } else {
      setChip(
          "residual %s on %.1f %% of the frame · %d %s"
              .formatted(size(r.max()), r.beyond() * 100, causes, causes == 1 ? "cause" : "causes"),
          r.beyond() < 0.02 ? "near" : "off");
    }
  }

  private static String size(double value) {
    return (value >= 1 ? "%.0f" : value >= 0.01 ? "%.2f" : "%.1e").formatted(value);
  }
}
