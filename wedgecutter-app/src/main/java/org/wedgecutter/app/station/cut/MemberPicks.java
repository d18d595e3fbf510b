package org.wedgecutter.app.station.cut;

import java.util.LinkedHashSet;
import java.util.List;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.app.files.ShotScenes.Addition;
import org.wedgecutter.app.model.Session;
import org.wedgecutter.app.sheet.Drops;
import org.wedgecutter.app.sheet.SheetView;
import org.wedgecutter.app.station.Workbench;
import org.wedgecutter.core.cut.Cuts;
import org.wedgecutter.core.plan.CollectionDef;
import org.wedgecutter.core.plan.CollectionEdits;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.resolve.EntitySet;
import org.wedgecutter.core.resolve.Members;
import org.wedgecutter.core.scene.Entity;

/** Picking members by hand: dragging rows, moving collections, and cutting out the selection. */
final class MemberPicks implements Drops {
  private final Workbench bench;
  private final SheetView sheet;
  private final CutRows rows;

  MemberPicks(Workbench bench, CutRows rows) {
    this.bench = bench;
    this.rows = rows;
    sheet = bench.sheet();
  }

  private @Nullable Plan plan() {
    Session s = bench.session();
    return s == null ? null : s.plan();
  }

  /** Returns all entities of the selected rows. */
  EntitySet selection() {
    EntitySet[] out = {EntitySet.NONE};
    sheet.forEachSelected((r, c) -> out[0] = out[0].or(rows.entities(r)));
    return out[0];
  }

  /** Picks entities into a collection. */
  void pick(String collection, EntitySet entities) {
    Session s = bench.session();
    if (s == null || entities.isEmpty()) {
      return;
    }
    List<Entity> all = s.shot().scene().entities();
    String what =
        entities.size() == 1 ? all.get(entities.first()).name() : entities.size() + " entities";
    bench.edit(
        "add " + what + " to " + collection,
        p -> {
          Plan next = p;
          for (int e : entities.indices()) {
            next = CollectionEdits.pick(next, collection, all.get(e));
          }
          return next;
        });
  }

  /** Picks the members under the cursor into the collection above the one that they are in. */
  void pickAbove() {
    Plan p = plan();
    CollectionDef own = rows.collection(sheet.row());
    if (p == null || rows.entity(sheet.row()) == null) {
      return;
    }
    int at = own == null ? p.collections().size() : p.collections().indexOf(own);
    if (at > 0) {
      pick(p.collections().get(at - 1).name(), selection());
    }
  }

  /** Moves a collection up (negative) or down. */
  void moveCollection(String name, int by) {
    int column = sheet.column();
    bench.edit(name + (by < 0 ? " up" : " down"), p -> CollectionEdits.move(p, name, by));
    sheet.select(Math.max(0, rows.rowOf(name)), column, false);
  }

  /** Cuts the selection out into a layer of its own. */
  void apart(boolean shadow) {
    Session s = bench.session();
    EntitySet what = selection();
    if (s == null || what.isEmpty()) {
      bench.banner("Select rows first: the objects of the new layer.");
      return;
    }
    Members members = s.shot().members();
    bench.edit(
        shadow
            ? "new layer from selection, with shadow and reflection"
            : "new layer from selection",
        p -> Cuts.apart(p, members, what, shadow));
  }

  /** Splits the selection into layers. */
  void split(Cuts.By by) {
    Session s = bench.session();
    EntitySet what = selection();
    if (s == null || what.isEmpty()) {
      bench.banner("Select rows first: the objects to split into layers.");
      return;
    }
    Members members = s.shot().members();
    try {
      bench.edit("split into layers", p -> Cuts.split(p, members, what, by));
    } catch (IllegalArgumentException e) {
      bench.banner(e.getMessage());
    }
  }

  /**
   * Adds ground under the selection.
   *
   * @param catching whether to rebuild the layers, with the shadow on it in a layer of its own
   */
  void addGround(boolean catching) {
    EntitySet what = selection();
    Set<String> collections = new LinkedHashSet<>();
    sheet.forEachSelected((r, c) -> {
      CollectionDef own = rows.collection(r);
      if (own != null) {
        collections.add(own.name());
      }
    });
    if (what.isEmpty()) {
      bench.banner("Select rows first: the objects that stand on the ground.");
    } else if (catching && collections.isEmpty()) {
      bench.banner("Select collections: the objects whose shadow the ground is to catch.");
    } else {
      bench.scenes().add(catching ? Addition.CATCHING_GROUND : Addition.GROUND, what, collections);
    }
  }

  // ---- dragging rows

  @Override
  public String dragged(int row) {
    CollectionDef c = rows.collection(row);
    if (rows.entity(row) != null) {
      EntitySet all = selected(row);
      return all.size() == 1 ? rows.rows().get(row).label() : all.size() + " entities";
    }
    return c == null ? "" : c.name();
  }

  private EntitySet selected(int row) {
    EntitySet all = selection();
    EntitySet own = rows.entities(row);
    return all.containsAll(own) && rows.entity(sheet.row()) != null ? all : own;
  }

  @Override
  public boolean between(int row, int target) {
    return rows.entity(row) == null;
  }

  @Override
  public void drop(int row, int target) {
    CollectionDef to = rows.collection(target);
    CollectionDef c = rows.collection(row);
    Plan p = plan();
    if (p == null) {
      return;
    }
    if (rows.entity(row) != null) {
      if (to != null) {
        pick(to.name(), selected(row));
      }
    } else if (c != null && !rows.isCheck(target) && !rows.isComp(target)) {
      int from = p.collections().indexOf(c);
      int at = to == null ? p.collections().size() : p.collections().indexOf(to);
      moveCollection(c.name(), (at > from ? at - 1 : at) - from);
    }
  }
}
