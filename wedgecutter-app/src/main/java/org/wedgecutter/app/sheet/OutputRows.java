package org.wedgecutter.app.sheet;

import java.util.ArrayList;
import java.util.List;
import java.util.function.Supplier;
import javafx.scene.canvas.GraphicsContext;
import javafx.scene.text.TextAlignment;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.app.theme.Theme;
import org.wedgecutter.core.plan.CellOverride;
import org.wedgecutter.core.plan.LayerDef;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.Property;
import org.wedgecutter.core.plan.Value;
import org.wedgecutter.core.resolve.LayerSettings;

/** The Output station: the settings of each layer, the shot's where it has none of its own. */
public final class OutputRows implements SheetRows {
  private static final List<Property> PROPERTIES =
      List.of(
          Property.SIZE,
          Property.FRAMES,
          Property.SAMPLES,
          Property.BOUNCES,
          Property.ENVIRONMENT_LEVEL,
          Property.ENVIRONMENT_TURN,
          Property.MOTION_BLUR,
          Property.DENOISE);

  private final Supplier<Theme> theme;
  private final List<Row> rows = new ArrayList<>();
  private @Nullable Plan plan;
  private int frame = 1;

  public OutputRows(Supplier<Theme> theme) {
    this.theme = theme;
    for (Property p : PROPERTIES) {
      rows.add(Row.of(p.word(), title(p), p.unit(), 0, Row.Sort.MAIN, false, false));
    }
  }

  private static String title(Property p) {
    return switch (p) {
      case ENVIRONMENT_LEVEL -> "environment";
      case ENVIRONMENT_TURN -> "turned by";
      case MOTION_BLUR -> "motion blur";
      default -> p.word();
    };
  }

  /** Takes up a plan at a frame. */
  public void update(Plan next, int atFrame) {
    plan = next;
    frame = atFrame;
  }

  /** Returns the setting of a row. */
  public Property property(int row) {
    return PROPERTIES.get(Math.max(0, Math.min(row, PROPERTIES.size() - 1)));
  }

  @Override
  public List<Row> rows() {
    return List.copyOf(rows);
  }

  @Override
  public void toggle(String key) {}

  private @Nullable LayerDef layer(int column) {
    Plan p = plan;
    return p == null || column < 0 || column >= p.layers().size() ? null : p.layers().get(column);
  }

  @Override
  public void paint(
      GraphicsContext g, int row, int column, double x, double y, double w, double h) {
    LayerDef layer = layer(column);
    Plan p = plan;
    if (layer == null || p == null) {
      return;
    }
    Theme t = theme.get();
    Property property = property(row);
    boolean own = layer.setting(property).isPresent();
    Value value = LayerSettings.at(layer, p.requireShot(), property, frame);
    g.setFont(Theme.mono(11));
    g.setTextAlign(TextAlignment.RIGHT);
    g.setFill(own ? t.text : t.dim.interpolate(t.panel, 0.25));
    g.fillText(TextFit.fit(value.text(), Theme.mono(11), w - 18), x + w - 12, y + h / 2);
    if (own) {
      SheetView.wedge(g, t, x, y, w);
    }
  }

  @Override
  public String describe(int row, int column) {
    LayerDef layer = layer(column);
    Plan p = plan;
    if (layer == null || p == null) {
      return row < rows.size() ? rows.get(row).label() : "";
    }
    Property property = property(row);
    Value before = LayerSettings.before(p.requireShot(), property);
    return layer
        .setting(property)
        .map(CellOverride::text)
        .map(text ->
            "%s in layer %s: %s; the shot has %s"
                .formatted(property.word(), layer.name(), text, before.text()))
        .orElseGet(() ->
            "%s in layer %s: %s, as the shot"
                .formatted(property.word(), layer.name(), before.text()));
  }
}
