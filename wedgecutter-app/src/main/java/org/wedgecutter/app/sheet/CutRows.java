package org.wedgecutter.app.sheet;

import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import java.util.function.Supplier;
import javafx.scene.canvas.GraphicsContext;
import javafx.scene.paint.Color;
import javafx.scene.text.TextAlignment;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.app.theme.Glyphs;
import org.wedgecutter.app.theme.Theme;
import org.wedgecutter.core.plan.CatcherOptions;
import org.wedgecutter.core.plan.Cell;
import org.wedgecutter.core.plan.CollectionDef;
import org.wedgecutter.core.plan.LayerDef;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.Role;
import org.wedgecutter.core.resolve.Decision;
import org.wedgecutter.core.resolve.ResolvedShot;
import org.wedgecutter.core.scene.Entity;
import org.wedgecutter.core.scene.EntityKind;
import org.wedgecutter.core.scene.Scene;

/**
 * The Cut station: collections in order of precedence, open to their members, the rest, and the
 * check row.
 */
public final class CutRows implements SheetRows {
  /** Key of the row of what no collection takes. */
  public static final String REST = "rest";

  /** Key of the row that counts how often everything is seen. */
  public static final String CHECK = "check";

  private static final String COLLECTION = "collection:";
  private static final String MEMBER = "member:";

  private final Supplier<Theme> theme;
  private final Set<String> open = new HashSet<>();
  private @Nullable Plan plan;
  private @Nullable Scene scene;
  private @Nullable ResolvedShot resolved;
  private List<Row> rows = List.of();
  private List<Subject> subjects = List.of();

  /** What a row is about: a collection, an entity of it, or neither. */
  private record Subject(@Nullable CollectionDef collection, @Nullable Entity entity) {}

  public CutRows(Supplier<Theme> theme) {
    this.theme = theme;
  }

  /** Takes up a plan. */
  public void update(Plan plan, Scene scene, ResolvedShot resolved) {
    this.plan = plan;
    this.scene = scene;
    this.resolved = resolved;
    build();
  }

  private void build() {
    Plan p = plan;
    Scene s = scene;
    ResolvedShot r = resolved;
    if (p == null || s == null || r == null) {
      return;
    }
    List<Row> nextRows = new ArrayList<>();
    List<Subject> nextSubjects = new ArrayList<>();
    Set<Integer> taken = new HashSet<>();
    for (CollectionDef c : p.collections()) {
      List<Entity> members = new ArrayList<>();
      for (Entity e : s.entities()) {
        if (c.takes(e) && taken.add(e.index())) {
          members.add(e);
        }
      }
      addGroup(
          COLLECTION + c.name(),
          c.name(),
          Row.Sort.MAIN,
          new Subject(c, null),
          members,
          nextRows,
          nextSubjects);
    }
    List<Entity> rest = s.entities().stream().filter(e -> !taken.contains(e.index())).toList();
    addGroup(
        REST, "the rest", Row.Sort.REST, new Subject(null, null), rest, nextRows, nextSubjects);
    nextRows.add(Row.of(CHECK, "seen once?", verdict(s, r), 0, Row.Sort.CHECK, false, false));
    nextSubjects.add(new Subject(null, null));
    rows = List.copyOf(nextRows);
    subjects = List.copyOf(nextSubjects);
  }

  private void addGroup(
      String key,
      String label,
      Row.Sort sort,
      Subject subject,
      List<Entity> members,
      List<Row> outRows,
      List<Subject> outSubjects) {
    boolean isOpen = open.contains(key);
    outRows.add(
        Row.of(key, label, String.valueOf(members.size()), 0, sort, isOpen, !members.isEmpty()));
    outSubjects.add(subject);
    if (isOpen) {
      for (Entity e : members) {
        outRows.add(Row.of(MEMBER + e.path(), e.path(), "", 1, Row.Sort.MEMBER, false, false));
        outSubjects.add(new Subject(subject.collection, e));
      }
    }
  }

  private static int timesSeen(ResolvedShot r, int entity) {
    return (int) r.layers().stream().filter(l -> l.seen().contains(entity)).count();
  }

  private static String verdict(Scene s, ResolvedShot r) {
    int never = 0;
    int twice = 0;
    for (Entity e : s.entities()) {
      if (e.kind() != EntityKind.LIGHT) {
        int times = timesSeen(r, e.index());
        never += times == 0 ? 1 : 0;
        twice += times > 1 ? 1 : 0;
      }
    }
    if (never + twice == 0) {
      return "all";
    }
    return (never > 0 ? never + " never " : "") + (twice > 0 ? twice + " twice" : "");
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

  /** Opens the row that shows an entity and returns its place, or -1. */
  public int reveal(Entity entity) {
    Plan p = plan;
    if (p != null) {
      String key =
          p.collections().stream()
              .filter(c -> c.takes(entity))
              .findFirst()
              .map(c -> COLLECTION + c.name())
              .orElse(REST);
      open.add(key);
      build();
    }
    for (int r = 0; r < rows.size(); r++) {
      if (rows.get(r).key().equals(MEMBER + entity.path())) {
        return r;
      }
    }
    return -1;
  }

  /** Returns the collection of a row or of its member; null for the rest and the check row. */
  public @Nullable CollectionDef collection(int row) {
    return row < subjects.size() ? subjects.get(row).collection : null;
  }

  /** Returns the entity of a member row, or null. */
  public @Nullable Entity entity(int row) {
    return row < subjects.size() ? subjects.get(row).entity : null;
  }

  /** Says whether roles can be set in a row: collections and the rest. */
  public boolean takesRoles(int row) {
    return row < rows.size()
        && (rows.get(row).key().startsWith(COLLECTION) || rows.get(row).key().equals(REST));
  }

  private @Nullable Cell cell(int row, int column) {
    Plan p = plan;
    if (p == null || !takesRoles(row) || column < 0 || column >= p.layers().size()) {
      return null;
    }
    LayerDef layer = p.layers().get(column);
    CollectionDef collection = subjects.get(row).collection;
    return collection == null ? layer.rest() : layer.cells().get(collection.name());
  }

  private @Nullable Decision decision(int row, int column) {
    Scene s = scene;
    ResolvedShot r = resolved;
    if (s == null || r == null || column < 0 || column >= r.layers().size()) {
      return null;
    }
    Entity entity = subjects.get(row).entity;
    CollectionDef collection = subjects.get(row).collection;
    if (entity == null && collection != null) {
      entity = s.entities().stream().filter(collection::takes).findFirst().orElse(null);
    }
    return entity == null ? null : r.layers().get(column).decisions().get(entity.index());
  }

  @Override
  public void paint(
      GraphicsContext g, int row, int column, double x, double y, double w, double h) {
    Theme t = theme.get();
    if (rows.get(row).key().equals(CHECK)) {
      paintCheck(g, column, x, y, h);
      return;
    }
    Cell cell = cell(row, column);
    Decision decision = decision(row, column);
    boolean own = cell != null && cell.role() != null;
    Role role =
        cell != null && cell.role() != null
            ? cell.role()
            : decision == null ? null : decision.role();
    if (role == null) {
      return;
    }
    boolean member = rows.get(row).sort() == Row.Sort.MEMBER;
    boolean strong = role == Role.SEEN || role == Role.CATCHER;
    Color color =
        own ? (strong ? t.text : t.text.interpolate(t.dim, 0.6)) : t.dim.interpolate(t.panel, 0.25);
    Plan p = plan;
    if (own && strong && p != null) {
      Color hue = Theme.hue(p.layers().get(column).hue());
      g.setFill(hue.deriveColor(0, 1, 1, 0.16));
      g.fillRect(x + 1, y + 1, w - 2, h - 2);
    }
    double size = member ? 10 : 13;
    Glyphs.role(g, role, x + 16, y + h / 2, size, color);
    if (!member) {
      g.setFill(color);
      g.setFont(Theme.sans(12));
      g.setTextAlign(TextAlignment.LEFT);
      g.fillText(TextFit.fit(role.word(), Theme.sans(12), w - 34), x + 28, y + h / 2);
    }
    if (cell != null && cell.overrides().stream().anyMatch(o -> o.on())) {
      SheetView.wedge(g, t, x, y, w);
    }
  }

  private void paintCheck(GraphicsContext g, int column, double x, double y, double h) {
    ResolvedShot r = resolved;
    if (r == null || column >= r.layers().size()) {
      return;
    }
    Theme t = theme.get();
    long twice =
        java.util.stream.IntStream.range(0, r.entities())
            .filter(e -> r.layers().get(column).seen().contains(e) && timesSeen(r, e) > 1)
            .count();
    g.setFont(Theme.mono(11));
    g.setTextAlign(TextAlignment.LEFT);
    g.setFill(twice > 0 ? t.error : t.dim);
    String seen = String.valueOf(r.layers().get(column).seen().size());
    g.fillText(twice > 0 ? seen + ", " + twice + " twice" : seen, x + 12, y + h / 2);
  }

  @Override
  public String describe(int row, int column) {
    if (row >= rows.size()) {
      return "";
    }
    Row line = rows.get(row);
    Plan p = plan;
    if (column < 0 || p == null || column >= p.layers().size()) {
      CollectionDef c = collection(row);
      return line.label()
          + (c == null || c.rule().text().isEmpty() ? "" : ": takes " + c.rule().text());
    }
    if (line.key().equals(CHECK)) {
      return "entities seen in layer %s; over all layers: %s"
          .formatted(p.layers().get(column).name(), line.detail());
    }
    Cell cell = cell(row, column);
    Decision decision = decision(row, column);
    StringBuilder out = new StringBuilder();
    out.append(line.label())
        .append(" in layer ")
        .append(p.layers().get(column).name())
        .append(": ");
    if (cell != null && cell.role() != null) {
      out.append(cell.role().word());
    } else if (decision != null) {
      out.append(decision.role().word()).append(", decided by ").append(decision.by());
    }
    if (cell != null) {
      cell.overrides().stream()
          .filter(o -> o.on())
          .forEach(
              o -> out.append(", ").append(o.property().word()).append(o.value() ? " on" : " off"));
      CatcherOptions options = cell.catcher();
      if (options != null && options.caster() != null) {
        out.append(options.caster() ? ", a caster" : ", not a caster");
      }
      if (options != null && options.output() != null) {
        out.append(", delivered as ").append(options.output().word());
      }
    }
    return out.toString();
  }
}
