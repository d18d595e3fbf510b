package org.wedgecutter.app.files;

import java.nio.file.Path;
import javafx.application.Platform;
import org.wedgecutter.app.model.Session;
import org.wedgecutter.app.panel.Banner;
import org.wedgecutter.app.panel.Bench;
import org.wedgecutter.core.carry.Carry;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.PlanParts;
import org.wedgecutter.core.plan.PlanWriter;

/** Parts of plans as files: a layer, its cells, the collections, or a plan as a template. */
public final class PartFiles {
  private final Bench bench;
  private final FileWork work;
  private final FileAsker asker;

  public PartFiles(Bench bench, FileWork work, FileAsker asker) {
    this.bench = bench;
    this.work = work;
    this.asker = asker;
  }

  private void export(Session s, String title, String name, String text) {
    Path file = asker.toSave(title, s.shot().file().resolveSibling(name), "*.json");
    if (file != null) {
      work.run("export", () -> PlanParts.save(text, file));
    }
  }

  /** Exports all collections. */
  public void exportCollections() {
    Session s = bench.session();
    if (s != null) {
      export(s, "Export collections", "collections.json", PlanParts.collections(s.plan()));
    }
  }

  /** Exports a layer. */
  public void exportLayer(String layer) {
    Session s = bench.session();
    if (s != null) {
      export(s, "Export layer " + layer, layer + ".json", PlanParts.layer(s.plan(), layer));
    }
  }

  /** Exports the cells of a layer. */
  public void exportCells(String layer) {
    Session s = bench.session();
    if (s != null) {
      String name = layer + " cells.json";
      export(s, "Export cells of " + layer, name, PlanParts.cells(s.plan(), layer));
    }
  }

  /** Imports a part; cells go into the given layer. */
  public void importPart(String layer) {
    Session s = bench.session();
    Path file =
        s == null ? null : asker.toOpen("Import a layer, cells, collections or a recipe", "*.json");
    if (s == null || file == null) {
      return;
    }
    Plan before = s.plan();
    work.run(
        "import " + file.getFileName(),
        () -> {
          PlanParts.Imported got = PlanParts.read(before, layer, file);
          Platform.runLater(() -> {
            if (!s.equals(bench.session())) {
              bench.banner(
                  "%s was not imported: another plan has been opened."
                      .formatted(file.getFileName()));
              return;
            }
            bench.edit("import " + file.getFileName(), p -> got.plan());
            bench.offer(
                got.notes().isEmpty()
                    ? "Nothing to import: the plan already contains all of it."
                    : String.join("; ", got.notes()),
                new Banner.Choice("banner-close", "Dismiss", () -> {}));
          });
        });
  }

  /** Saves the plan without its shot, for use with other scenes. */
  public void saveTemplate() {
    Session s = bench.session();
    Path file =
        s == null
            ? null
            : asker.toSave(
                "Save as template", s.shot().file().resolveSibling("template.wedge"), "*.wedge");
    if (s != null && file != null) {
      Plan template = Carry.template(s.plan());
      work.run("save the template", () -> PlanWriter.save(template, file));
    }
  }
}
