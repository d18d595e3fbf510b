package org.wedgecutter.app.station.output;

import java.util.Arrays;
import java.util.List;
import javafx.scene.layout.VBox;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.app.panel.DetailPanel;
import org.wedgecutter.app.panel.Editor;
import org.wedgecutter.app.panel.OverrideEditor;
import org.wedgecutter.core.plan.CellOverride;
import org.wedgecutter.core.plan.LayerDef;
import org.wedgecutter.core.plan.LayerEdits;
import org.wedgecutter.core.plan.Property;
import org.wedgecutter.core.plan.Shot;
import org.wedgecutter.core.plan.Value;
import org.wedgecutter.core.resolve.LayerSettings;

/** A layer's own settings. */
public final class SettingPanel extends VBox {
  public SettingPanel(Editor editor, Shot shot, LayerDef layer, int frame, String why) {
    setSpacing(6);
    OverrideEditor.Target target =
        new OverrideEditor.Target() {
          @Override
          public List<CellOverride> overrides() {
            return layer.settings();
          }

          @Override
          public List<Property> possible() {
            return Arrays.stream(Property.values()).filter(Property::isSetting).toList();
          }

          @Override
          public @Nullable Value before(Property property) {
            return LayerSettings.before(shot, property);
          }

          @Override
          public List<String> names(Property property) {
            return List.of();
          }

          @Override
          public void put(CellOverride o) {
            editor.edit(
                o.text() + " in " + layer.name(), p -> LayerEdits.setting(p, layer.name(), o));
          }

          @Override
          public void remove(Property property) {
            editor.edit(
                property.word() + " of " + layer.name() + " reset to the shot",
                p -> LayerEdits.removeSetting(p, layer.name(), property));
          }
        };
    getChildren().addAll(new OverrideEditor(target, frame), DetailPanel.dim(why));
  }
}
