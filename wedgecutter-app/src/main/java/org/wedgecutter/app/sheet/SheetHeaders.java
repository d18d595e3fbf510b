package org.wedgecutter.app.sheet;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import javafx.scene.image.Image;
import org.wedgecutter.core.plan.LayerDef;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.render.RenderedFrame;
import org.wedgecutter.core.resolve.HeldFrames;

/** The headers of the sheet's columns: each layer's name, small picture, join and cost. */
public final class SheetHeaders {
  private final SheetView sheet;
  private final Map<String, Image> pictures = new HashMap<>();
  private final Map<String, Double> seconds = new HashMap<>();
  private final Map<String, String> held = new HashMap<>();

  public SheetHeaders(SheetView sheet) {
    this.sheet = sheet;
  }

  /** Clears pictures and times of another shot. */
  public void forget() {
    pictures.clear();
    seconds.clear();
    held.clear();
  }

  /** Sets which frames of the layers are the same, and so are rendered once. */
  public void held(Plan plan, HeldFrames frames) {
    held.clear();
    int all = frames.frames().size();
    for (int l = 0; l < plan.layers().size(); l++) {
      int different = frames.pictures(l);
      if (different < all) {
        held.put(
            plan.layers().get(l).name(),
            different == 1 ? "held" : "%d of %d".formatted(different, all));
      }
    }
  }

  /** Sets the small pictures of layers. */
  public void pictures(Map<String, Image> byLayer) {
    pictures.putAll(byLayer);
  }

  /** Sets the render times of layers; a trace that layers share counts in parts for each. */
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
              join(plan, l.name()),
              seconds.getOrDefault(l.name(), Double.NaN),
              held.getOrDefault(l.name(), "")));
    }
    sheet.setColumns(out);
  }

  /** A layer's join, and how much of it is taken if that is not all. */
  private static String join(Plan plan, String layer) {
    return plan.recipe().joins().stream()
        .filter(s -> s.layer().equals(layer))
        .map(s ->
            s.opacity() == 1
                ? s.join().word()
                : "%s %.0f %%".formatted(s.join().word(), 100 * s.opacity()))
        .findFirst()
        .orElse("");
  }
}
