package org.wedgecutter.app.station.output;

import java.util.ArrayList;
import java.util.EnumSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import java.util.function.Supplier;
import javafx.scene.canvas.GraphicsContext;
import javafx.scene.text.TextAlignment;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.app.sheet.Row;
import org.wedgecutter.app.sheet.SheetRows;
import org.wedgecutter.app.sheet.TextFit;
import org.wedgecutter.app.theme.Glyphs;
import org.wedgecutter.app.theme.Theme;
import org.wedgecutter.core.plan.CellOverride;
import org.wedgecutter.core.plan.LayerDef;
import org.wedgecutter.core.plan.Output;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.Property;
import org.wedgecutter.core.plan.Value;
import org.wedgecutter.core.resolve.LayerSettings;

/**
 * The Output station: the passes, which are written with every layer, and the settings of each
 * layer, the shot's where it has none of its own.
 */
public final class OutputRows implements SheetRows {
  private final TextFit texts = new TextFit();

  /** A row that is a pass, or some of a sort; null stands for the parts that make up the beauty. */
  public record PassRow(Output.@Nullable More pass) {
    /** Returns what it is called. */
    public String title() {
      return pass == null ? "beauty components" : pass.word().replace('-', ' ');
    }

    /** Whether it is written. */
    public boolean on(Output output) {
      return pass == null ? output.passes() : output.more().contains(pass);
    }

    /** Returns the word by which plans leave it out of layers. */
    String word() {
      return pass == null ? Output.BEAUTY : pass.word();
    }

    /** Whether it is written with a layer. */
    boolean on(Output output, String layer) {
      return on(output) && !output.leftOut(layer).contains(word());
    }

    /** Returns an output with it in some layers, or without; all others keep what they have. */
    Output with(Output output, List<String> layers, List<String> all, boolean on) {
      Output base = output;
      Map<String, Set<String>> left = new LinkedHashMap<>(output.leftOut());
      if (on && !on(output)) {
        // it comes on where it is asked for, and nowhere else
        base = with(output, true);
        all.forEach(l -> change(left, l, true));
      }
      layers.forEach(l -> change(left, l, !on));
      return base.with(o -> o.leftOut = left);
    }

    private void change(Map<String, Set<String>> left, String layer, boolean out) {
      Set<String> own = new TreeSet<>(left.getOrDefault(layer, Set.of()));
      if (out) {
        own.add(word());
      } else {
        own.remove(word());
      }
      left.put(layer, own);
    }

    /** Returns an output with it, or without. */
    public Output with(Output output, boolean on) {
      if (pass == null) {
        return output.withPasses(on);
      }
      Set<Output.More> more = EnumSet.noneOf(Output.More.class);
      more.addAll(output.more());
      if (on) {
        more.add(pass);
      } else {
        more.remove(pass);
      }
      return output.withMore(more);
    }
  }

  /** A row that is a form in which files are written besides. */
  record CopyRow(Output.Copy copy) {
    /** Returns what it is called. */
    String title() {
      return switch (copy) {
        case PASSES -> "one file per pass";
        case FRAME -> "one multi-part file per frame";
        case TIFF32 -> "TIFF 32 bit";
        case TIFF16 -> "TIFF 16 bit, sRGB";
        case HDR -> "HDR";
        case PNG16 -> "PNG 16 bit, sRGB";
        case PNG8 -> "PNG 8 bit, sRGB";
      };
    }

    /** Returns an output with it, or without. */
    Output with(Output output, boolean on) {
      Set<Output.Copy> next = EnumSet.noneOf(Output.Copy.class);
      next.addAll(output.copies());
      if (on) {
        next.add(copy);
      } else {
        next.remove(copy);
      }
      return output.with(o -> o.copies = next);
    }
  }

  private static final String PASSES = "passes";
  private static final String COPIES = "copies";
  private static final String FILES = "files";
  private static final List<Property> PROPERTIES =
      List.of(
          Property.SIZE,
          Property.FRAMES,
          Property.SAMPLES,
          Property.BOUNCES,
          Property.BOUNCES_GLASS,
          Property.BOUNCES_MEDIA,
          Property.SEE_THROUGH,
          Property.ENVIRONMENT_LEVEL,
          Property.ENVIRONMENT_TURN,
          Property.MOTION_BLUR,
          Property.DENOISE);

  private final Supplier<Theme> theme;
  private final List<Row> rows = new ArrayList<>();
  private final List<@Nullable Object> items = new ArrayList<>();
  private @Nullable Plan plan;
  private int frame = 1;
  private boolean open = true;
  private boolean copiesOpen = true;

  public OutputRows(Supplier<Theme> theme) {
    this.theme = theme;
    build();
  }

  private void build() {
    rows.clear();
    items.clear();
    items.add(FILES);
    rows.add(Row.of(FILES, "files", "", 0, Row.Sort.MAIN, false, false));
    for (Property p : PROPERTIES) {
      items.add(p);
      rows.add(Row.of(p.word(), title(p), p.unit(), 0, Row.Sort.MAIN, false, false));
    }
    items.add(null);
    rows.add(Row.of(PASSES, "passes", "every layer", 0, Row.Sort.MAIN, open, true));
    if (open) {
      pass(null);
      for (Output.More more : Output.More.values()) {
        pass(more);
      }
    }
    items.add(null);
    rows.add(Row.of(COPIES, "copies", "every layer", 0, Row.Sort.MAIN, copiesOpen, true));
    if (copiesOpen) {
      for (Output.Copy copy : Output.Copy.values()) {
        CopyRow row = new CopyRow(copy);
        items.add(row);
        rows.add(
            Row.of(COPIES + "/" + copy.word(), row.title(), "", 1, Row.Sort.MEMBER, false, false));
      }
    }
  }

  private void pass(Output.@Nullable More more) {
    PassRow row = new PassRow(more);
    items.add(row);
    String key = PASSES + "/" + (more == null ? "beauty" : more.word());
    rows.add(Row.of(key, row.title(), "", 1, Row.Sort.MEMBER, false, false));
  }

  private static String title(Property p) {
    return switch (p) {
      case BOUNCES_GLASS -> "refraction bounces";
      case BOUNCES_MEDIA -> "volume bounces";
      case SEE_THROUGH -> "see through glass";
      case ENVIRONMENT_LEVEL -> "environment";
      case ENVIRONMENT_TURN -> "environment rotation";
      case MOTION_BLUR -> "motion blur";
      default -> p.word();
    };
  }

  /** Shows a plan at a frame. */
  public void update(Plan next, int atFrame) {
    plan = next;
    frame = atFrame;
  }

  private @Nullable Object item(int row) {
    return row < 0 || row >= items.size() ? null : items.get(row);
  }

  /** Returns the pass of a row, or null if it is none. */
  public @Nullable PassRow pass(int row) {
    return item(row) instanceof PassRow pass ? pass : null;
  }

  /** Returns the copy of a row, or null if it is none. */
  @Nullable CopyRow copy(int row) {
    return item(row) instanceof CopyRow copy ? copy : null;
  }

  /** Whether a row stands for names and formats of files. */
  boolean isFiles(int row) {
    return FILES.equals(item(row));
  }

  /** Returns the setting of a row, or null if it is none. */
  public @Nullable Property property(int row) {
    return item(row) instanceof Property property ? property : null;
  }

  @Override
  public List<Row> rows() {
    return List.copyOf(rows);
  }

  @Override
  public void toggle(String key) {
    if (key.equals(PASSES)) {
      open = !open;
      build();
    } else if (key.equals(COPIES)) {
      copiesOpen = !copiesOpen;
      build();
    }
  }

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
    PassRow pass = pass(row);
    CopyRow copy = copy(row);
    if (pass != null || copy != null) {
      boolean on =
          pass != null
              ? pass.on(p.output(), layer.name())
              : copy != null && p.output().copies().contains(copy.copy());
      double middle = y + h / 2;
      g.setFill(t.dim.interpolate(t.panel, 0.25));
      if (on) {
        g.fillRect(x + w - 21, middle - 4, 8, 8);
      } else {
        g.fillRect(x + w - 21, middle - 0.5, 8, 1);
      }
      if (pass != null && pass.on(p.output()) && !on) {
        Glyphs.wedge(g, x + w - 1, y + 1, 9, t.accent);
      }
      return;
    }
    if (isFiles(row)) {
      String kind = p.output().half() ? "exr half" : "exr float";
      number(g, t, layer.render() ? kind : "off", false, x, y, w, h);
      return;
    }
    if (property == null) {
      boolean passes = rows.get(row).key().equals(PASSES);
      int count = passes ? count(p.output(), layer.name()) : p.output().copies().size();
      number(g, t, String.valueOf(count), false, x, y, w, h);
      return;
    }
    boolean own = layer.setting(property).isPresent();
    Value value = LayerSettings.at(layer, p.requireShot(), property, frame);
    number(g, t, value.text(), own, x, y, w, h);
    if (own) {
      Glyphs.wedge(g, x + w - 1, y + 1, 9, t.accent);
    }
  }

  private static int count(Output output, String layer) {
    int count = new PassRow(null).on(output, layer) ? 1 : 0;
    for (Output.More more : output.more()) {
      count += new PassRow(more).on(output, layer) ? 1 : 0;
    }
    return count;
  }

  private void number(
      GraphicsContext g,
      Theme t,
      String text,
      boolean own,
      double x,
      double y,
      double w,
      double h) {
    g.setFont(Theme.mono(12));
    g.setTextAlign(TextAlignment.RIGHT);
    g.setFill(own ? t.text : t.dim.interpolate(t.panel, 0.25));
    g.fillText(texts.fit(text, Theme.mono(12), w - 18), x + w - 12, y + h / 2);
  }

  @Override
  public String describe(int row, int column) {
    LayerDef layer = layer(column);
    Plan p = plan;
    if (p == null) {
      return row >= 0 && row < rows.size() ? rows.get(row).label() : "";
    }
    PassRow pass = pass(row);
    if (pass != null && layer != null) {
      return "%s: %s with layer %s"
          .formatted(
              pass.title(),
              pass.on(p.output(), layer.name()) ? "written" : "not written",
              layer.name());
    }
    if (pass != null) {
      return "%s: %s".formatted(pass.title(), pass.on(p.output()) ? "written" : "not written");
    }
    CopyRow copy = copy(row);
    if (copy != null) {
      return "%s: %s beside each file"
          .formatted(
              copy.title(), p.output().copies().contains(copy.copy()) ? "written" : "not written");
    }
    if (isFiles(row)) {
      return "names and formats of files: " + p.output().name();
    }
    Property property = property(row);
    if (property == null) {
      return rows.get(row).key().equals(PASSES)
          ? "passes written in addition to the beauty"
          : "extra file formats";
    }
    Value before = LayerSettings.before(p.requireShot(), property);
    if (layer == null) {
      return "%s: %s for the whole shot".formatted(title(property), before.text());
    }
    return layer
        .setting(property)
        .map(CellOverride::text)
        .map(text ->
            "%s in layer %s: %s; the shot has %s"
                .formatted(title(property), layer.name(), text, before.text()))
        .orElseGet(() ->
            "%s in layer %s: %s (shot setting)"
                .formatted(title(property), layer.name(), before.text()));
  }
}
