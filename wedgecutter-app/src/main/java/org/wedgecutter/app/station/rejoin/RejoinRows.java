package org.wedgecutter.app.station.rejoin;

import java.util.ArrayList;
import java.util.EnumSet;
import java.util.List;
import java.util.Locale;
import java.util.Set;
import java.util.function.Supplier;
import javafx.scene.canvas.GraphicsContext;
import javafx.scene.paint.Color;
import javafx.scene.text.TextAlignment;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.app.sheet.Row;
import org.wedgecutter.app.sheet.SheetRows;
import org.wedgecutter.app.sheet.TextFit;
import org.wedgecutter.app.theme.Glyphs;
import org.wedgecutter.app.theme.Theme;
import org.wedgecutter.core.cut.LightLevels;
import org.wedgecutter.core.cut.RightJoins;
import org.wedgecutter.core.plan.Correction;
import org.wedgecutter.core.plan.LayerDef;
import org.wedgecutter.core.plan.MatteDef;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.Recipe;

/** The rows of the Rejoin station: what can be done where layers rejoin. */
final class RejoinRows implements SheetRows {
  /** What a row stands for. */
  sealed interface Item {}

  /** How layers are joined. */
  record JoinItem() implements Item {}

  /** How much of each join is taken. */
  record OpacityItem() implements Item {}

  /** What stands behind all layers. */
  record BackgroundItem() implements Item {}

  /** The files of a delivery that the viewer shows. */
  record FilesItem() implements Item {}

  /** A headline over rows. */
  record SectionItem(Section section) implements Item {}

  /** A type of correction or effect. */
  record TypeItem(Correction.Type type) implements Item {}

  /**
   * A pass of light, whose level and tint are mixed.
   *
   * @param pass its title
   */
  record PassItem(String pass) implements Item {
    /** Whether it is of a light, not of a component of the beauty. */
    boolean isOfLight() {
      return pass.startsWith("light.");
    }

    String title() {
      return isOfLight() ? pass.substring("light.".length()) : pass;
    }
  }

  /** A matte. */
  record MatteItem(String name) implements Item {}

  /** The groups of rows. */
  enum Section {
    COLOUR("colour"),
    LIGHTS("light groups"),
    COMPONENTS("beauty components"),
    EFFECTS("effects"),
    MATTES("mattes");

    final String title;

    Section(String title) {
      this.title = title;
    }
  }

  private final Supplier<Theme> theme;
  private final Supplier<String> delivery;
  private final TextFit texts = new TextFit();
  private final List<Row> rows = new ArrayList<>();
  private final List<Item> items = new ArrayList<>();
  private final Set<Section> open = EnumSet.complementOf(EnumSet.of(Section.COMPONENTS));
  private @Nullable Plan plan;
  private List<String> lights = List.of();
  private List<String> components = List.of();
  private List<RightJoins.Choice> right = List.of();

  /**
   * @param delivery tells the name of the delivery whose files are shown; empty if none is
   */
  RejoinRows(Supplier<Theme> theme, Supplier<String> delivery) {
    this.theme = theme;
    this.delivery = delivery;
    build();
  }

  /**
   * Shows a plan.
   *
   * @param lightPasses titles of the passes by light
   * @param componentPasses titles of the passes that make up the beauty
   * @param choices the joins that fit
   */
  void update(
      Plan next,
      List<String> lightPasses,
      List<String> componentPasses,
      List<RightJoins.Choice> choices) {
    plan = next;
    lights = lightPasses;
    components = componentPasses;
    right = choices;
    build();
  }

  /** Makes the rows again. */
  void build() {
    rows.clear();
    items.clear();
    add(new JoinItem(), "join", "", 0, false, false);
    add(new OpacityItem(), "opacity", "", 0, false, false);
    BackgroundItem background = new BackgroundItem();
    add(background, "background", detail(background), 0, false, false);
    FilesItem files = new FilesItem();
    add(files, "files", detail(files), 0, false, false);
    for (Section section : Section.values()) {
      List<Item> within = within(section);
      add(
          new SectionItem(section),
          section.title,
          section == Section.MATTES ? String.valueOf(within.size()) : "",
          0,
          open.contains(section),
          !within.isEmpty());
      if (open.contains(section)) {
        within.forEach(i -> add(i, title(i), detail(i), 1, false, false));
      }
    }
  }

  private List<Item> within(Section section) {
    List<Item> out = new ArrayList<>();
    switch (section) {
      case COLOUR, EFFECTS -> {
        for (Correction.Type t : Correction.Type.values()) {
          boolean effect = t.isSpatial() || t == Correction.Type.FADE;
          if (effect == (section == Section.EFFECTS)) {
            out.add(new TypeItem(t));
          }
        }
      }
      case LIGHTS -> lights.forEach(l -> out.add(new PassItem(l)));
      case COMPONENTS -> components.forEach(c -> out.add(new PassItem(c)));
      case MATTES -> {
        if (plan != null) {
          plan.recipe().mattes().forEach(m -> out.add(new MatteItem(m.name())));
        }
      }
    }
    return out;
  }

  private void add(
      Item item, String title, String detail, int depth, boolean opened, boolean members) {
    items.add(item);
    Row.Sort sort = depth == 0 ? Row.Sort.MAIN : Row.Sort.SETTING;
    rows.add(Row.of(key(item), title, detail, depth, sort, opened, members));
  }

  private static String key(Item item) {
    return switch (item) {
      case JoinItem j -> "join";
      case OpacityItem o -> "opacity";
      case BackgroundItem b -> "background";
      case FilesItem f -> "files";
      case SectionItem s -> s.section.title;
      case TypeItem t -> "type/" + t.type.word();
      case PassItem p -> "pass/" + p.pass;
      case MatteItem m -> "matte/" + m.name;
    };
  }

  static String title(Item item) {
    return switch (item) {
      case JoinItem j -> "join";
      case OpacityItem o -> "opacity";
      case BackgroundItem b -> "background";
      case FilesItem f -> "files";
      case SectionItem s -> s.section.title;
      case TypeItem t -> CorrectionForm.title(t.type);
      case PassItem p -> p.title();
      case MatteItem m -> m.name;
    };
  }

  /** What is done to all that is rejoined, at the right of a row's name. */
  private String detail(Item item) {
    if (item instanceof MatteItem m && plan != null) {
      return plan.recipe().matte(m.name).map(d -> d.source().word()).orElse("");
    }
    if (item instanceof BackgroundItem && plan != null) {
      return plan.recipe().background().kind().word();
    }
    if (item instanceof FilesItem) {
      String name = delivery.get();
      return name.isEmpty() ? "none" : name;
    }
    List<Correction> own = corrections(item, "");
    return own.isEmpty() ? "" : "all " + text(own);
  }

  /** Returns the corrections that a cell stands for; of an empty name those of the whole. */
  List<Correction> corrections(Item item, String layer) {
    Plan p = plan;
    if (p == null) {
      return List.of();
    }
    return p.recipe().corrections().stream()
        .filter(c -> c.layer().equals(layer))
        .filter(c ->
            switch (item) {
              case TypeItem t -> c.type() == t.type && c.pass().isEmpty();
              case PassItem pass -> c.pass().equals(pass.pass);
              case MatteItem m -> c.matte().equals(m.name);
              default -> false;
            })
        .toList();
  }

  private static String text(List<Correction> own) {
    String first = CorrectionForm.text(own.getFirst());
    return own.size() == 1 ? first : "%s +%d".formatted(first, own.size() - 1);
  }

  /** Returns what a row stands for, or null. */
  @Nullable Item item(int row) {
    return row < 0 || row >= items.size() ? null : items.get(row);
  }

  /** Returns the row of a matte; -1 if it is not shown. */
  int rowOf(String matte) {
    return items.indexOf(new MatteItem(matte));
  }

  /** Opens a section. */
  void open(Section section) {
    open.add(section);
    build();
  }

  @Override
  public List<Row> rows() {
    return List.copyOf(rows);
  }

  @Override
  public void toggle(String key) {
    for (Section s : Section.values()) {
      if (s.title.equals(key)) {
        if (!open.remove(s)) {
          open.add(s);
        }
        build();
      }
    }
  }

  private @Nullable LayerDef layer(int column) {
    Plan p = plan;
    return p == null || column < 0 || column >= p.layers().size() ? null : p.layers().get(column);
  }

  private Recipe.@Nullable Step step(String layer) {
    Plan p = plan;
    return p == null
        ? null
        : p.recipe().joins().stream().filter(s -> s.layer().equals(layer)).findFirst().orElse(null);
  }

  /** Returns the join that fits a layer, or null where none does. */
  RightJoins.@Nullable Choice right(String layer) {
    return right.stream().filter(c -> c.layer().equals(layer)).findFirst().orElse(null);
  }

  // ---- cells

  private record Shown(String text, boolean set, boolean on) {
    static final Shown NOTHING = new Shown("", false, true);
  }

  private Shown shown(int row, String layer) {
    Item item = item(row);
    Recipe.Step step = step(layer);
    return switch (item) {
      case null -> Shown.NOTHING;
      case JoinItem j -> {
        RightJoins.Choice fits = right(layer);
        yield step == null
            ? new Shown("left out", fits != null, true)
            : new Shown(joinText(step), fits != null && !fits.is(step), true);
      }
      case OpacityItem o ->
          step == null
              ? Shown.NOTHING
              : new Shown(Math.round(100 * step.opacity()) + " %", step.opacity() != 1, true);
      case BackgroundItem b -> Shown.NOTHING;
      case FilesItem f -> Shown.NOTHING;
      case SectionItem s -> {
        long count = count(s.section, layer);
        yield count == 0 ? Shown.NOTHING : new Shown(String.valueOf(count), false, true);
      }
      case PassItem p -> level(layer, p);
      case TypeItem t -> {
        List<Correction> own = corrections(t, layer);
        yield own.isEmpty()
            ? Shown.NOTHING
            : new Shown(text(own), true, own.stream().anyMatch(Correction::on));
      }
      case MatteItem m -> {
        int used = corrections(m, layer).size();
        boolean joins = step != null && step.matte().equals(m.name);
        yield used == 0 && !joins
            ? Shown.NOTHING
            : new Shown(
                joins ? "joins" : used + " use" + (used == 1 ? "s" : "") + " it", true, true);
      }
    };
  }

  static String joinText(Recipe.Step step) {
    return step.light() == Recipe.Light.ALL ? step.join().word() : "× " + step.light().word();
  }

  private long count(Section section, String layer) {
    return within(section).stream().mapToLong(i -> corrections(i, layer).size()).sum();
  }

  private Shown level(String layer, PassItem pass) {
    Plan p = plan;
    List<Correction> own = corrections(pass, layer);
    if (p == null || own.isEmpty()) {
      return Shown.NOTHING;
    }
    double[] f = LightLevels.factors(p, layer, pass.pass);
    double most = Math.max(f[0], Math.max(f[1], f[2]));
    String text =
        most <= 0 ? "off" : String.format(Locale.ROOT, "%+.2f EV", Math.log(most) / Math.log(2));
    return new Shown(text, true, own.stream().anyMatch(Correction::on));
  }

  @Override
  public void paint(
      GraphicsContext g, int row, int column, double x, double y, double w, double h) {
    LayerDef layer = layer(column);
    if (layer == null) {
      return;
    }
    Theme t = theme.get();
    Shown shown = shown(row, layer.name());
    boolean dim = !shown.set || !shown.on;
    g.setFont(Theme.mono(12));
    g.setTextAlign(TextAlignment.RIGHT);
    g.setFill(dim ? t.dim.interpolate(t.panel, 0.25) : t.text);
    g.fillText(texts.fit(shown.text, Theme.mono(12), w - 18), x + w - 12, y + h / 2);
    if (shown.set) {
      Glyphs.wedge(g, x + w - 1, y + 1, 9, t.accent);
    }
    if (!shown.on) {
      g.setStroke(t.dim);
      g.strokeLine(x + w - 14 - 7.0 * shown.text.length(), y + h / 2, x + w - 10, y + h / 2);
    }
    if (item(row) instanceof PassItem pass && shown.set) {
      tint(g, layer.name(), pass, x, y, h);
    }
  }

  /** A light's tint as a small square. */
  private void tint(GraphicsContext g, String layer, PassItem pass, double x, double y, double h) {
    Plan p = plan;
    if (p == null) {
      return;
    }
    double[] f = LightLevels.factors(p, layer, pass.pass);
    double most = Math.max(f[0], Math.max(f[1], f[2]));
    if (most > 0 && Math.min(f[0], Math.min(f[1], f[2])) < most) {
      double power = 1 / 2.2;
      g.setFill(
          Color.color(
              Math.pow(f[0] / most, power),
              Math.pow(f[1] / most, power),
              Math.pow(f[2] / most, power)));
      g.fillRect(x + 6, y + h / 2 - 4, 8, 8);
    }
  }

  @Override
  public String describe(int row, int column) {
    Item item = item(row);
    LayerDef layer = layer(column);
    if (item == null) {
      return "";
    }
    String title = title(item);
    if (layer == null) {
      List<Correction> own = corrections(item, "");
      return own.isEmpty() ? title : "%s of the rejoined picture: %s".formatted(title, text(own));
    }
    Shown shown = shown(row, layer.name());
    if (item instanceof JoinItem) {
      RightJoins.Choice fits = right(layer.name());
      return fits == null
          ? "join of %s: %s".formatted(layer.name(), shown.text)
          : "join of %s: %s; %s fits: %s"
              .formatted(layer.name(), shown.text, fits.join().word(), fits.reason().text());
    }
    return "%s of layer %s: %s%s"
        .formatted(
            title,
            layer.name(),
            shown.text.isEmpty() ? "unchanged" : shown.text,
            shown.on ? "" : " (off)");
  }

  @Override
  public List<String> advice() {
    return plan == null ? List.of("Open a plan or a scene first.") : List.of();
  }

  /** Returns a matte by its row; null if the row is none. */
  @Nullable MatteDef matte(int row) {
    Plan p = plan;
    return item(row) instanceof MatteItem m && p != null
        ? p.recipe().matte(m.name).orElse(null)
        : null;
  }
}
