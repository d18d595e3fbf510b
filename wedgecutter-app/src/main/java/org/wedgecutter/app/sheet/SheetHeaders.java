package org.wedgecutter.app.sheet;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import javafx.scene.image.Image;
import org.wedgecutter.core.plan.Join;
import org.wedgecutter.core.plan.LayerDef;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.render.RenderedFrame;

/** The headers of the sheet's columns: each layer's name, small picture, join and cost. */
public final class SheetHeaders {
  private final SheetView sheet;
  private final Map<String, Image> pictures = new HashMap<>();
  private final Map<String, Double> seconds = new HashMap<>();

  public SheetHeaders(SheetView sheet) {
    this.sheet = sheet;
  }

  /** Forgets what was known of another shot. */
  public void forget() {
    pictures.clear();
    seconds.clear();
  }

  /** Takes up small pictures by layer. */
  public void pictures(Map<String, Image> byLayer) {
    pictures.putAll(byLayer);
  }

  /** Takes up what frames took: what layers share costs each of them its part. */
  public void times(List<RenderedFrame.ClassTime> classes, int frames) {
    seconds.clear();
    for (RenderedFrame.ClassTime c : classes) {
      for (String layer : c.layers()) {
        seconds.merge(layer, c.seconds() / c.layers().size() / Math.max(1, frames), Double::sum);
      }
    }
  }

  /** Shows the layers of a plan. */
  public void show(Plan plan) {
    List<Column> out = new ArrayList<>();
    for (LayerDef l : plan.layers()) {
      out.add(
          new Column(
              l.name(),
              l.hue(),
              pictures.get(l.name()),
              l.render(),
              plan.join(l.name()).map(Join::word).orElse(""),
              seconds.getOrDefault(l.name(), Double.NaN)));
    }
    sheet.setColumns(out);
  }
}
