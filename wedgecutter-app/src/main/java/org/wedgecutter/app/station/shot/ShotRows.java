package org.wedgecutter.app.station.shot;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.Supplier;
import javafx.scene.canvas.GraphicsContext;
import javafx.scene.paint.Color;
import javafx.scene.text.TextAlignment;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.app.sheet.Row;
import org.wedgecutter.app.sheet.SheetRows;
import org.wedgecutter.app.theme.Glyphs;
import org.wedgecutter.app.theme.Theme;
import org.wedgecutter.core.measure.InterplayTable;
import org.wedgecutter.core.plan.Role;
import org.wedgecutter.core.resolve.Decision;
import org.wedgecutter.core.resolve.ResolvedShot;
import org.wedgecutter.core.scene.Entity;
import org.wedgecutter.core.scene.EntityKind;
import org.wedgecutter.core.scene.Scene;

/**
 * The Shot station: the hierarchy, when each thing moves, and how much of the frame it covers in
 * the layers that show it.
 */
public final class ShotRows implements SheetRows {
  private final Supplier<Theme> theme;
  private final Set<String> open = new HashSet<>();
  private @Nullable Scene scene;
  private @Nullable ResolvedShot resolved;
  private List<Integer> hues = List.of();
  private List<String> layers = List.of();
  private double[] coverage = new double[0];

  /** Of each layer, the share of its light that each entity has a part in. */
  private final List<Map<Integer, Double>> plays = new ArrayList<>();

  private double[][] motion = new double[0][];
  private List<Row> rows = List.of();
  private Map<String, List<Entity>> below = new HashMap<>();

  public ShotRows(Supplier<Theme> theme) {
    this.theme = theme;
  }

  /** Shows the motion over other frames, and the scene if that is another one. */
  public void setMotion(Scene of, double[][] next) {
    if (!of.equals(scene)) {
      setScene(of, next);
      return;
    }
    motion = next;
    build();
  }

  /**
   * Shows a scene.
   *
   * @param motion how much each entity moves in each frame, 0 to 1; empty for those that do not
   */
  public void setScene(Scene next, double[][] motion) {
    scene = next;
    // what was resolved is of the entities before
    resolved = null;
    plays.clear();
    this.motion = motion;
    below = new LinkedHashMap<>();
    open.clear();
    for (Entity e : next.entities()) {
      for (int end = e.path().indexOf('/', 1); end > 0; end = e.path().indexOf('/', end + 1)) {
        below.computeIfAbsent(e.path().substring(0, end), k -> new ArrayList<>()).add(e);
      }
    }
    below.keySet().stream()
        .filter(k ->
            k.indexOf('/', 1) < 0
                && below.get(k) != null
                && below.getOrDefault(k, List.of()).size() < 12)
        .forEach(open::add);
    build();
  }

  /**
   * Shows the resolved layers and what was measured: each entity's share of the frame, and its
   * effect on the light of others.
   */
  public void update(
      ResolvedShot resolved, List<Integer> hues, double[] coverage, InterplayTable interplay) {
    Scene s = scene;
    if (s != null
        && resolved.layers().stream().anyMatch(l -> l.decisions().size() != s.entities().size())) {
      // of the scene before: that of this one is on its way
      return;
    }
    plays.clear();
    for (var layer : resolved.layers()) {
      var catcher = layer.catcher();
      plays.add(
          interplay.shares(catcher == null ? layer.seen() : layer.seen().or(catcher.surfaces())));
    }
    this.resolved = resolved;
    this.hues = List.copyOf(hues);
    this.layers = resolved.layers().stream().map(l -> l.name()).toList();
    if (coverage.length > 0) {
      this.coverage = coverage;
    }
  }

  private void build() {
    List<Row> next = new ArrayList<>();
    Set<String> shown = new HashSet<>();
    Scene s = scene;
    if (s == null) {
      return;
    }
    for (Entity e : s.entities()) {
      boolean visible = true;
      int depth = 0;
      for (int end = e.path().indexOf('/', 1);
          end > 0 && visible;
          end = e.path().indexOf('/', end + 1)) {
        String group = e.path().substring(0, end);
        if (shown.add(group)) {
          next.add(groupRow(group, depth));
        }
        visible = open.contains(group);
        depth++;
      }
      if (visible && shown.add(e.path())) {
        boolean members = below.containsKey(e.path());
        next.add(row(e.path(), e.name(), depth, members, motionOf(List.of(e))));
      }
    }
    rows = List.copyOf(next);
  }

  private Row groupRow(String group, int depth) {
    String name = group.substring(group.lastIndexOf('/') + 1);
    return row(group, name, depth, true, motionOf(below.getOrDefault(group, List.of())));
  }

  private Row row(String key, String name, int depth, boolean members, double[] moves) {
    Row.Sort sort = depth == 0 ? Row.Sort.MAIN : Row.Sort.MEMBER;
    return new Row(key, name, "", depth, sort, open.contains(key), members, moves);
  }

  private double[] motionOf(List<Entity> entities) {
    double[] out = new double[0];
    for (Entity e : entities) {
      double[] own = e.index() < motion.length ? motion[e.index()] : new double[0];
      if (own.length > 0) {
        if (out.length == 0) {
          out = own.clone();
        } else {
          for (int f = 0; f < own.length; f++) {
            out[f] = Math.max(out[f], own[f]);
          }
        }
      }
    }
    return out;
  }

  @Override
  public List<Row> rows() {
    return rows;
  }

  @Override
  public void toggle(String key) {
    if (!open.remove(key)) {
      open.add(key);
    }
    build();
  }

  /** Opens what holds an entity and returns its row, or -1. */
  public int reveal(Entity entity) {
    for (int end = entity.path().indexOf('/', 1);
        end > 0;
        end = entity.path().indexOf('/', end + 1)) {
      open.add(entity.path().substring(0, end));
    }
    build();
    for (int r = 0; r < rows.size(); r++) {
      if (rows.get(r).key().equals(entity.path())) {
        return r;
      }
    }
    return -1;
  }

  private List<Entity> entities(int row) {
    Scene s = scene;
    String key = rows.get(row).key();
    List<Entity> out = new ArrayList<>(below.getOrDefault(key, List.of()));
    if (s != null) {
      s.entity(key).ifPresent(out::add);
    }
    return out;
  }

  private double share(List<Entity> entities, int column) {
    ResolvedShot r = resolved;
    double sum = 0;
    for (Entity e : entities) {
      if (r != null
          && r.layers().get(column).seen().contains(e.index())
          && e.index() < coverage.length) {
        sum += coverage[e.index()];
      }
    }
    return sum;
  }

  @Override
  public void paint(
      GraphicsContext g, int row, int column, double x, double y, double w, double h) {
    ResolvedShot r = resolved;
    if (r == null || column >= r.layers().size()) {
      return;
    }
    Theme t = theme.get();
    List<Entity> list = entities(row);
    double share = share(list, column);
    double middle = y + h / 2;
    if (share > 0) {
      Color hue = Theme.hue(hues.get(column));
      g.setFill(hue.deriveColor(0, 1, 1, 0.85));
      double room = w - 16;
      g.fillRect(x + 8, y + h - 6, Math.max(1.5, room * Math.sqrt(share)), 3);
      g.setFill(t.text);
      g.setFont(Theme.mono(12));
      g.setTextAlign(TextAlignment.RIGHT);
      String text = share < 0.0005 ? "<0.1 %" : "%.1f %%".formatted(share * 100);
      g.fillText(text, x + w - 10, middle - 2);
      return;
    }
    Role role = only(list, column);
    if (role != null) {
      Glyphs.role(g, role, x + 16, middle, 10, t.dim.interpolate(t.panel, 0.35));
    }
    double part = played(list, column);
    if (part >= 0.0005) {
      // hollow: its own light is in another layer, this is what it does to the light of this one
      g.setStroke(Theme.hue(hues.get(column)).deriveColor(0, 1, 1, 0.85));
      g.setLineWidth(1);
      g.strokeRect(x + 8.5, y + h - 6.5, Math.max(2, (w - 17) * Math.sqrt(Math.min(1, part))), 3);
      g.setFill(t.dim);
      g.setFont(Theme.mono(12));
      g.setTextAlign(TextAlignment.RIGHT);
      g.fillText("%.1f %%".formatted(part * 100), x + w - 10, middle - 2);
    }
  }

  /** The share of a layer's light that some entities have a part in without being seen in it. */
  private double played(List<Entity> entities, int column) {
    double sum = 0;
    for (Entity e : entities) {
      sum += column < plays.size() ? plays.get(column).getOrDefault(e.index(), 0.0) : 0;
    }
    return sum;
  }

  /** The role that all of these have in a layer, or null. */
  private @Nullable Role only(List<Entity> list, int column) {
    ResolvedShot r = resolved;
    Role role = null;
    for (Entity e : list) {
      if (r == null) {
        return null;
      }
      Decision d = r.layers().get(column).decisions().get(e.index());
      if (role != null && role != d.role()) {
        return null;
      }
      role = d.role();
    }
    return role;
  }

  @Override
  public String describe(int row, int column) {
    if (row >= rows.size()) {
      return "";
    }
    List<Entity> list = entities(row);
    String key = rows.get(row).key();
    if (column < 0 || column >= layers.size()) {
      long meshes = list.stream().filter(e -> e.kind() == EntityKind.MESH).count();
      return "%s: %d entities%s"
          .formatted(
              key,
              Math.max(meshes, list.size()),
              rows.get(row).motion().length > 0 ? ", moves" : ", still");
    }
    double share = share(list, column);
    Role role = only(list, column);
    return share > 0
        ? "%s covers %.2f %% of the frame in layer %s"
            .formatted(key, share * 100, layers.get(column))
        : "%s in layer %s: %s%s"
            .formatted(
                key,
                layers.get(column),
                role == null ? "mixed roles" : role.word(),
                play(played(list, column)));
  }

  private static String play(double part) {
    return part < 0.00005
        ? ""
        : "; interplay: %.2f %% of the layer's light comes via it or is blocked by it"
            .formatted(part * 100);
  }
}
