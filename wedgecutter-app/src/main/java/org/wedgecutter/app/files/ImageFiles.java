package org.wedgecutter.app.files;

import java.nio.file.Path;
import java.util.function.UnaryOperator;
import javafx.application.Platform;
import org.wedgecutter.app.model.Session;
import org.wedgecutter.app.panel.Bench;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.Shot;

/** The images that a plan names: its environment and its plate. */
public final class ImageFiles {
  /** An image that a plan can name. */
  public enum Use {
    ENVIRONMENT,
    PLATE
  }

  private final Bench bench;
  private final FileWork work;
  private final FileAsker asker;

  public ImageFiles(Bench bench, FileWork work, FileAsker asker) {
    this.bench = bench;
    this.work = work;
    this.asker = asker;
  }

  /** Asks for an image, reads it, and puts it into the plan. */
  public void ask(Use use) {
    Session s = bench.session();
    boolean plate = use == Use.PLATE;
    String what = plate ? "plate" : "environment";
    Path file =
        s == null
            ? null
            : asker.toOpen(
                plate ? "Choose the plate" : "Choose the environment image",
                "*.exr",
                "*.hdr",
                "*.png",
                "*.jpg");
    if (s == null || file == null) {
      return;
    }
    Path folder = s.shot().file().toAbsolutePath().normalize().getParent();
    Path chosen = file.toAbsolutePath().normalize();
    if (folder == null || !chosen.startsWith(folder)) {
      bench.banner(
          "%s is outside the folder of the plan, %s. Copy it there first.".formatted(file, folder));
      return;
    }
    String path = folder.relativize(chosen).toString().replace('\\', '/');
    UnaryOperator<Plan> edit = named(path, plate);
    LoadedShot shot = s.shot();
    work.run(
        "reading the " + what,
        () -> {
          LoadedShot with = shot.withPicturesOf(edit.apply(shot.plan()));
          Platform.runLater(() -> {
            if (s.equals(bench.session())) {
              s.know(with.pictures());
              bench.edit(what + " " + path, edit);
            }
          });
        });
  }

  private static UnaryOperator<Plan> named(String path, boolean plate) {
    return p ->
        p.withShot(
            p.requireShot()
                .with(d -> {
                  if (plate) {
                    d.plate = new Shot.PlateDef(path, d.plate.standIns(), d.plate.extra());
                  } else {
                    var e = d.environment;
                    d.environment = new Shot.EnvironmentDef(path, e.turn(), e.level(), e.extra());
                  }
                }));
  }
}
