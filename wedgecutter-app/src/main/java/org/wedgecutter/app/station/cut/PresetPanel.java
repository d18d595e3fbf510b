package org.wedgecutter.app.station.cut;

import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Set;
import java.util.function.BiConsumer;
import javafx.geometry.Pos;
import javafx.scene.control.Button;
import javafx.scene.control.CheckBox;
import javafx.scene.control.Label;
import javafx.scene.control.ScrollPane;
import javafx.scene.layout.FlowPane;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.VBox;
import org.wedgecutter.core.cut.Preset;
import org.wedgecutter.core.plan.CollectionDef;
import org.wedgecutter.core.plan.Plan;

/** Starting points: which collections play the part, then which preset. */
public final class PresetPanel extends VBox {
  /**
   * @param selected names of the collections that are chosen at first
   * @param apply is given the preset and the chosen collections
   */
  public PresetPanel(Plan plan, Set<String> selected, BiConsumer<Preset, Set<String>> apply) {
    setSpacing(10);
    getStyleClass().add("drawer-body");
    Label what =
        new Label(
            "A preset rebuilds all layers from the collections. It is one edit and can be undone."
                + " Choose the collections the preset applies to: the foreground, the hero, what casts the shadow.");
    what.setWrapText(true);
    getChildren().add(what);
    FlowPane boxes = new FlowPane(12, 6);
    List<CheckBox> all = new ArrayList<>();
    for (CollectionDef c : plan.collections()) {
      CheckBox box = new CheckBox(c.name());
      box.setId("preset-of-" + c.name());
      box.setSelected(selected.contains(c.name()));
      box.setUserData(c.name());
      all.add(box);
    }
    boxes.getChildren().addAll(all);
    getChildren().add(boxes);
    VBox list = new VBox(10);
    for (Preset preset : Preset.values()) {
      Button button = new Button(preset.title());
      button.setId("preset-" + preset.ordinal());
      button.setMinWidth(150);
      button.setOnAction(e -> {
        Set<String> chosen = new LinkedHashSet<>();
        all.stream()
            .filter(CheckBox::isSelected)
            .forEach(b -> chosen.add(String.valueOf(b.getUserData())));
        apply.accept(preset, chosen);
      });
      Label why =
          new Label(preset.why() + (preset.asks() == null ? "" : "  (" + preset.asks() + ")"));
      why.setWrapText(true);
      why.getStyleClass().add("dim");
      HBox line = new HBox(12, button, why);
      line.setAlignment(Pos.CENTER_LEFT);
      HBox.setHgrow(why, Priority.ALWAYS);
      list.getChildren().add(line);
    }
    ScrollPane scroll = new ScrollPane(list);
    scroll.setFitToWidth(true);
    scroll.getStyleClass().add("detail-scroll");
    VBox.setVgrow(scroll, javafx.scene.layout.Priority.ALWAYS);
    getChildren().add(scroll);
  }
}
