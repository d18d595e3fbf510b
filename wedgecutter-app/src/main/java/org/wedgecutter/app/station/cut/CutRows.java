package org.wedgecutter.app.station.cut;

import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import java.util.function.Supplier;
import java.util.stream.Stream;
import javafx.scene.Node;
import javafx.scene.canvas.GraphicsContext;
import javafx.scene.text.TextAlignment;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.app.panel.DetailPanel;
import org.wedgecutter.app.sheet.Row;
import org.wedgecutter.app.sheet.SheetRows;
import org.wedgecutter.app.sheet.TextFit;
import org.wedgecutter.app.theme.Glyphs;
import org.wedgecutter.app.theme.Theme;
import org.wedgecutter.core.check.SeenTable;
import org.wedgecutter.core.cut.CompFreedom;
import org.wedgecutter.core.plan.CatcherOptions;
import org.wedgecutter.core.plan.Cell;
import org.wedgecutter.core.plan.CellOverride;
import org.wedgecutter.core.plan.CollectionDef;
import org.wedgecutter.core.plan.LayerDef;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.Role;
import org.wedgecutter.core.resolve.Decision;
import org.wedgecutter.core.resolve.EntitySet;
import org.wedgecutter.core.resolve.Members;
import org.wedgecutter.core.resolve.ResolvedShot;
import org.wedgecutter.core.scene.Entity;
import org.wedgecutter.core.scene.Scene;

/**
 * The Cut station: collections in order of precedence, open to their members, the rest, and the
 * check row.
 */
public final class CutRows implements SheetRows {
  /** Key of the row of what no collection matches. */
  public static final String REST = "rest";

  /** Key of the row that counts how often everything is seen. */
  public static final String CHECK = "check";

  /** Key of the row of what compositing may do to each layer without a hole. */
  public static final String COMP = "comp";

  private static final String COLLECTION = "collection:";
  private static final String MEMBER = "member:";

  private final Supplier<Theme> theme;
  private final Set<String> open = new HashSet<>();
  private @Nullable Plan plan;
  private @Nullable Members members;
  private @Nullable ResolvedShot resolved;
  private EntitySet fresh = EntitySet.NONE;
  private List<SeenTable.Span> seen = List.of();
  private List<CompFreedom> comp = List.of();
  private EntitySet twice = EntitySet.NONE;
  private List<EntitySet> taken = List.of();
  private List<Row> rows = List.of();
  private List<Subject> subjects = List.of();

  /**
   * What a row is about.
   *
   * @param collection a collection; null for the rest and the check row
   * @param entity one of its members; null for the row itself
   * @param number place of the row among collections; -1 for the check row
   */
  private record Subject(@Nullable CollectionDef collection, @Nullable Entity entity, int number) {}

  public CutRows(Supplier<Theme> theme) {
    this.theme = theme;
  }

  /**
   * Shows a plan.
   *
   * @param fresh entities that are new in the scene since the plan was saved
   */
  public void update(Plan plan, Members members, ResolvedShot resolved, EntitySet fresh) {
    this.plan = plan;
    this.members = members;
    this.resolved = resolved;
    this.fresh = fresh;
    taken = members.rows(plan);
    seen = SeenTable.of(plan, members, resolved);
    comp = CompFreedom.of(plan, resolved);
    twice = EntitySet.NONE;
    seen.forEach(s -> twice = twice.or(s.twice()));
    build();
  }

  private void build() {
    Plan p = plan;
    Members m = members;
    if (p == null || m == null) {
      return;
    }
    List<Row> nextRows = new ArrayList<>();
    List<Subject> nextSubjects = new ArrayList<>();
    for (int r = 0; r < taken.size(); r++) {
      boolean rest = r == p.collections().size();
      CollectionDef c = rest ? null : p.collections().get(r);
      group(
          c == null ? REST : COLLECTION + c.name(),
          c == null ? "the rest" : c.name(),
          new Subject(c, null, r),
          taken.get(r),
          m.scene(),
          nextRows,
          nextSubjects);
    }
    nextRows.add(Row.of(CHECK, "seen once", verdict(), 0, Row.Sort.CHECK, false, false));
    nextSubjects.add(new Subject(null, null, -1));
    if (p.layers().size() > 1) {
      nextRows.add(Row.of(COMP, "free in comp", "", 0, Row.Sort.CHECK, false, false));
      nextSubjects.add(new Subject(null, null, -1));
    }
    rows = List.copyOf(nextRows);
    subjects = List.copyOf(nextSubjects);
  }

  private void group(
      String key,
      String label,
      Subject subject,
      EntitySet own,
      Scene scene,
      List<Row> outRows,
      List<Subject> outSubjects) {
    boolean isOpen = open.contains(key);
    int isNew = own.and(fresh).size();
    outRows.add(
        Row.of(
            key,
            label,
            isNew > 0 ? "%d new  %d".formatted(isNew, own.size()) : String.valueOf(own.size()),
            0,
            key.equals(REST) ? Row.Sort.REST : Row.Sort.MAIN,
            isOpen,
            !own.isEmpty()));
    outSubjects.add(subject);
    if (isOpen) {
      for (int e : own.indices()) {
        Entity entity = scene.entities().get(e);
        String mark = fresh.contains(e) ? "new" : "";
        outRows.add(
            Row.of(MEMBER + entity.path(), entity.path(), mark, 1, Row.Sort.MEMBER, false, false));
        outSubjects.add(new Subject(subject.collection, entity, subject.number));
      }
    }
  }

  private String verdict() {
    int never = 0;
    int more = 0;
    for (SeenTable.Span span : seen) {
      never = Math.max(never, span.never().size());
      more = Math.max(more, span.twice().size());
    }
    return never + more == 0
        ? "all"
        : (never > 0 ? never + " missing" : "")
            + (never > 0 && more > 0 ? ", " : "")
            + (more > 0 ? more + " twice" : "");
  }

  @Override
  public List<Row> rows() {
    return rows;
  }

  @Override
  public List<String> advice() {
    Plan p = plan;
    return p == null || !p.collections().isEmpty()
        ? List.of()
        : List.of(
            "First choose camera, frames and size: Shot, Settings.",
            "Then name what belongs together: + Collection, then its rule,",
            "for example name:hero* or path:/set/**.",
            "Set its role in each layer with one key: S H C U A.",
            "Or start from a proposal: Plan, Propose a cut…");
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
    for (int r = 0; p != null && r < taken.size(); r++) {
      if (taken.get(r).contains(entity.index())) {
        open.add(r == p.collections().size() ? REST : COLLECTION + p.collections().get(r).name());
        build();
      }
    }
    return find(MEMBER + entity.path());
  }

  /** Returns the key of the row of a collection. */
  static String keyOf(String collection) {
    return COLLECTION + collection;
  }

  /** Returns the row of a collection, or -1. */
  public int rowOf(String collection) {
    return find(keyOf(collection));
  }

  private int find(String key) {
    for (int r = 0; r < rows.size(); r++) {
      if (rows.get(r).key().equals(key)) {
        return r;
      }
    }
    return -1;
  }

  /** Returns the collection of a row or of its member; null for the rest and the check row. */
  public @Nullable CollectionDef collection(int row) {
    return row >= 0 && row < subjects.size() ? subjects.get(row).collection : null;
  }

  /** Returns the entity of a member row, or null. */
  public @Nullable Entity entity(int row) {
    return row >= 0 && row < subjects.size() ? subjects.get(row).entity : null;
  }

  /** Returns the entities of a row: a member's, or all that a collection or the rest holds. */
  public EntitySet entities(int row) {
    if (row < 0 || row >= subjects.size() || subjects.get(row).number < 0) {
      return EntitySet.NONE;
    }
    Entity one = subjects.get(row).entity;
    return one != null ? EntitySet.of(List.of(one.index())) : taken.get(subjects.get(row).number);
  }

  /** Returns how often everything is seen, by frames. */
  public List<SeenTable.Span> seen() {
    return seen;
  }

  /** Whether roles can be set in a row: collections and the rest. */
  public boolean takesRoles(int row) {
    return row >= 0
        && row < rows.size()
        && (rows.get(row).key().startsWith(COLLECTION) || rows.get(row).key().equals(REST));
  }

  /** Whether a row is the check row. */
  public boolean isCheck(int row) {
    return row >= 0 && row < rows.size() && rows.get(row).key().equals(CHECK);
  }

  /** Whether a row is that of what compositing may do. */
  public boolean isComp(int row) {
    return row >= 0 && row < rows.size() && rows.get(row).key().equals(COMP);
  }

  /** Returns what compositing may do to each layer without a hole, and why. */
  Node[] compLines() {
    return Stream.concat(
            comp.stream()
                .map(c ->
                    "%s: %s%s"
                        .formatted(
                            c.layer(), c.text(), c.holes().isEmpty() ? "" : ". " + c.holes())),
            Stream.of("Shadows and reflections in other layers stay as they were rendered."))
        .map(DetailPanel::note)
        .toArray(Node[]::new);
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
    ResolvedShot r = resolved;
    if (r == null || column < 0 || column >= r.layers().size()) {
      return null;
    }
    int e = entities(row).first();
    return e < 0 ? null : r.layers().get(column).decisions().get(e);
  }

  // ---- drawing

  @Override
  public void paint(
      GraphicsContext g, int row, int column, double x, double y, double w, double h) {
    Theme t = theme.get();
    if (isCheck(row)) {
      paintCheck(g, column, x, y, h);
      return;
    }
    if (isComp(row)) {
      paintComp(g, column, x, y, w, h);
      return;
    }
    Cell cell = cell(row, column);
    boolean own = cell != null && cell.role() != null;
    Decision decision = own ? null : decision(row, column);
    Role role =
        cell != null && cell.role() != null
            ? cell.role()
            : decision == null ? null : decision.role();
    Plan p = plan;
    if (role != null && p != null) {
      boolean member = rows.get(row).sort() == Row.Sort.MEMBER;
      // cells that inherit look the same in every layer
      boolean hued = own && (role == Role.SEEN || role == Role.CATCHER);
      int hue = hued ? p.layers().get(column).hue() : 0;
      boolean sharp =
          g.getCanvas().getScene() != null
              && g.getCanvas().getScene().getWindow() != null
              && g.getCanvas().getScene().getWindow().getOutputScaleX() > 1;
      stamps.draw(
          g,
          new RoleStamps.Key(t, role, own, member, hue, (int) w, (int) h, sharp),
          Math.floor(x),
          Math.floor(y));
    }
    if (cell != null && cell.overrides().stream().anyMatch(CellOverride::on)) {
      Glyphs.wedge(g, x + w - 1, y + 1, 9, t.accent);
    }
  }

  private final RoleStamps stamps = new RoleStamps();
  private final TextFit fit = new TextFit();

  private void paintComp(GraphicsContext g, int column, double x, double y, double w, double h) {
    if (column >= comp.size()) {
      return;
    }
    g.setFont(Theme.mono(12));
    g.setTextAlign(TextAlignment.LEFT);
    g.setFill(theme.get().dim);
    String text = fit.fit(comp.get(column).text(), g.getFont(), w - 16);
    g.fillText(text, x + 12, y + h / 2);
  }

  private void paintCheck(GraphicsContext g, int column, double x, double y, double h) {
    ResolvedShot r = resolved;
    if (r == null || column >= r.layers().size()) {
      return;
    }
    Theme t = theme.get();
    int doubled = r.layers().get(column).seen().and(twice).size();
    g.setFont(Theme.mono(12));
    g.setTextAlign(TextAlignment.LEFT);
    g.setFill(doubled > 0 ? t.error : t.dim);
    String shown = String.valueOf(r.layers().get(column).seen().size());
    g.fillText(doubled > 0 ? shown + ", " + doubled + " twice" : shown, x + 12, y + h / 2);
  }

  @Override
  public String describe(int row, int column) {
    if (row < 0 || row >= rows.size()) {
      return "";
    }
    Row line = rows.get(row);
    Plan p = plan;
    if (column < 0 || p == null || column >= p.layers().size()) {
      CollectionDef c = collection(row);
      return line.label()
          + (c == null || c.rule().text().isEmpty() ? "" : ": matches " + c.rule().text());
    }
    String layer = p.layers().get(column).name();
    if (isCheck(row)) {
      return "objects seen in layer %s; over all layers: %s".formatted(layer, line.detail());
    }
    if (isComp(row) && column < comp.size()) {
      CompFreedom free = comp.get(column);
      return "compositing may change layer %s without a hole: %s%s"
          .formatted(layer, free.text(), free.holes().isEmpty() ? "" : "; " + free.holes());
    }
    Cell cell = cell(row, column);
    Decision decision = decision(row, column);
    StringBuilder out = new StringBuilder();
    out.append(line.label()).append(" in layer ").append(layer).append(": ");
    if (cell != null && cell.role() != null) {
      out.append(cell.role().word());
    } else if (decision != null) {
      out.append(decision.role().word()).append(", decided by ").append(decision.by());
    }
    if (cell != null) {
      cell.overrides().stream()
          .filter(CellOverride::on)
          .forEach(o -> out.append(", ").append(o.text()));
      CatcherOptions options = cell.catcher();
      if (options != null && options.caster() != null) {
        out.append(
            options.caster() ? ", casts onto the catcher" : ", does not cast onto the catcher");
      }
      if (options != null && options.output() != null) {
        out.append(", delivered as ").append(options.output().word());
      }
    }
    return out.toString();
  }
}
