package org.wedgecutter.app.files;

import java.nio.file.Path;
import java.util.function.BiConsumer;
import javafx.application.Platform;
import org.wedgecutter.app.model.Session;
import org.wedgecutter.app.panel.Bench;
import org.wedgecutter.core.carry.Carry;
import org.wedgecutter.core.carry.PlanCarrier;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.scene.files.SceneFiles;

/** Carries the open plan to another scene, and opens the result. */
public final class CarryFiles {
  private final Bench bench;
  private final FileWork work;
  private final FileAsker asker;
  private final PlanFiles plans;
  private final BiConsumer<Path, Carry.Report> report;

  /**
   * @param report shows what carrying did
   */
  public CarryFiles(
      Bench bench,
      FileWork work,
      FileAsker asker,
      PlanFiles plans,
      BiConsumer<Path, Carry.Report> report) {
    this.bench = bench;
    this.work = work;
    this.asker = asker;
    this.plans = plans;
    this.report = report;
  }

  /** Asks for a scene and for the file of the new plan, and carries the plan there. */
  public void carryAsk() {
    Session s = bench.session();
    if (s == null) {
      return;
    }
    Path scene = asker.toOpen("Choose the scene to carry the plan to", SceneFiles.patterns());
    if (scene == null) {
      return;
    }
    String stem = String.valueOf(scene.getFileName()).replaceAll("\\.[^.]*$", "");
    Path out =
        asker.toSave("Save the carried plan", scene.resolveSibling(stem + ".wedge"), "*.wedge");
    if (out == null) {
      return;
    }
    LoadedShot shot = s.shot();
    work.run(
        "carry the plan",
        () -> {
          Carry.Carried carried =
              PlanCarrier.carry(shot.plan(), shot.members(), shot.file(), scene, out);
          PlanCarrier.save(carried.plan(), shot.file(), out);
          Session.Opened opened = Session.Opened.of(LoadedShot.load(out));
          plans.addRecent(out);
          plans.know(out);
          Platform.runLater(() -> {
            bench.opened(opened);
            report.accept(out, carried.report());
          });
        });
  }
}
