package org.wedgecutter.app.stations;

import java.util.function.BooleanSupplier;
import javafx.scene.control.Button;
import javafx.scene.control.Tooltip;
import javafx.scene.layout.HBox;
import org.wedgecutter.app.sheet.SheetView;

/** What can be added to the sheet, above it. */
final class CutBar extends HBox {

  /**
   * @param open whether a plan is open
   */
  CutBar(SheetMenus menus, SheetView sheet, SideDrawers drawers, BooleanSupplier open) {
    getStyleClass().add("cut-bar");
    Button layer = button("bar-layer", "+ layer", "a layer in front of the one that is looked at");
    layer.setOnAction(e -> {
      if (open.getAsBoolean()) {
        menus.addLayer(Math.max(0, sheet.column() + 1));
      }
    });
    Button collection =
        button("bar-collection", "+ collection", "a collection above the cursor's row");
    collection.setOnAction(e -> menus.addCollection(sheet.row()));
    Button selection =
        button("bar-selection", "From selection", "layers of the selected rows or entities");
    selection.setOnAction(e -> menus.selection(selection));
    Button presets = button("bar-presets", "Presets", "starting points for the layers");
    presets.setOnAction(e -> drawers.presets());
    Button overrides = button("bar-overrides", "Overrides", "every override of the plan");
    overrides.setOnAction(e -> drawers.overrides());
    getChildren().addAll(layer, collection, selection, presets, overrides);
  }

  private static Button button(String id, String text, String hint) {
    Button out = new Button(text);
    out.setId(id);
    out.setMinWidth(USE_PREF_SIZE);
    out.setTooltip(new Tooltip(hint));
    return out;
  }
}
