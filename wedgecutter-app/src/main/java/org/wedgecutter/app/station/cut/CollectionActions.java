package org.wedgecutter.app.station.cut;

import org.wedgecutter.app.model.Session;
import org.wedgecutter.app.sheet.SheetView;
import org.wedgecutter.app.station.Workbench;
import org.wedgecutter.core.plan.CollectionDef;
import org.wedgecutter.core.plan.CollectionEdits;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.Rule;
import org.wedgecutter.core.plan.RuleParser;

/**
 * Adding, naming and deleting collections. A new one is named first, then its rule is typed; if the
 * name was left as proposed, the collection is named by what its rule matches.
 */
final class CollectionActions {
  private static final String NEW = "New collection";

  private final Workbench bench;
  private final SheetView sheet;
  private final CutRows rows;
  private final Runnable toRule;

  /**
   * @param toRule moves the focus to the rule of the selected collection
   */
  CollectionActions(Workbench bench, CutRows rows, Runnable toRule) {
    this.bench = bench;
    this.rows = rows;
    this.toRule = toRule;
    sheet = bench.sheet();
  }

  /** Adds an empty collection above a row, and opens its name for editing. */
  void add(int row) {
    Session s = bench.session();
    if (s == null) {
      return;
    }
    Plan p = s.plan();
    CollectionDef above = rows.collection(row);
    int at = above == null ? p.collections().size() : p.collections().indexOf(above);
    String name = CollectionEdits.freeName(p, NEW);
    bench.edit(
        "new collection",
        x -> CollectionEdits.add(x, at, CollectionDef.of(name, RuleParser.nothing())));
    int own = rows.rowOf(name);
    sheet.select(own, -1, false);
    edit(own, name, toRule);
  }

  /** Opens the name of a collection for editing. */
  void rename(int row) {
    CollectionDef c = rows.collection(row);
    if (c != null && rows.entity(row) == null) {
      edit(row, c.name(), () -> {});
    }
  }

  private void edit(int row, String name, Runnable after) {
    sheet.editName(row, -1, name, next -> renamed(name, next), after);
  }

  private void renamed(String name, String next) {
    Session s = bench.session();
    if (s != null && !next.equals(name) && s.plan().collection(next).isPresent()) {
      bench.banner(
          "There is already a collection named %s; %s keeps its name.".formatted(next, name));
    } else if (!next.equals(name)) {
      bench.edit("rename " + name, p -> CollectionEdits.rename(p, name, next));
    }
  }

  /** Sets the rule of a collection; one that nobody has named is named by what it matches. */
  void setRule(CollectionDef collection, Rule rule) {
    String name = collection.name();
    String suggested = name.startsWith(NEW) ? CollectionEdits.nameFor(rule) : "";
    bench.edit(
        "rule of " + name,
        p -> {
          Plan next = CollectionEdits.rule(p, name, rule);
          return suggested.isEmpty()
              ? next
              : CollectionEdits.rename(next, name, CollectionEdits.freeName(next, suggested));
        });
    if (!suggested.isEmpty()) {
      Session s = bench.session();
      for (int r = 0; s != null && r < rows.rows().size(); r++) {
        CollectionDef at = rows.collection(r);
        if (at != null && at.rule().equals(rule) && rows.entity(r) == null) {
          sheet.select(r, -1, false);
        }
      }
    }
  }

  /** Deletes a collection. */
  void delete(String name) {
    bench.edit("delete " + name, p -> CollectionEdits.remove(p, name));
  }
}
