package org.wedgecutter.app.files;

import java.nio.file.Path;
import java.util.function.BiFunction;
import java.util.function.UnaryOperator;
import javafx.application.Platform;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.app.model.Session;
import org.wedgecutter.app.panel.Bench;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.load.NumberedPictures;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.Shot;

/** The images that a plan names: its environment, its plate, and what its recipe shows. */
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

  /** Asks for an image; returns its path beside the plan, or null if none can be used. */
  private @Nullable String path(Session s, String title) {
    Path file = asker.toOpen(title, "*.exr", "*.hdr", "*.png", "*.jpg");
    if (file == null) {
      return null;
    }
    Path folder = s.shot().file().toAbsolutePath().normalize().getParent();
    Path chosen = file.toAbsolutePath().normalize();
    if (folder == null || !chosen.startsWith(folder)) {
      bench.banner(
          "%s is outside the folder of the plan, %s. Copy it there first.".formatted(file, folder));
      return null;
    }
    return folder.relativize(chosen).toString().replace('\\', '/');
  }

  /**
   * Asks for a picture that the recipe shows, reads it, and puts it into the recipe. Of numbered
   * frames the one of the frame that is shown is chosen, and all are taken.
   *
   * @param what what it is for, such as {@code background}
   * @param edit puts a path into the plan
   */
  public void askForRecipe(String what, BiFunction<Plan, String, Plan> edit) {
    Session s = bench.session();
    String path = s == null ? null : path(s, "Choose the " + what);
    if (s == null || path == null) {
      return;
    }
    String all = NumberedPictures.sequence(path, s.frame());
    NumberedPictures pictures = s.shot().numberedPictures();
    int frame = s.frame();
    work.run(
        "read the " + what,
        () -> {
          pictures.picture(all, frame);
          Platform.runLater(() -> {
            if (s.equals(bench.session())) {
              bench.edit(what + " " + all, p -> edit.apply(p, all));
            }
          });
        });
  }

  /** Renders the shot at the size of a picture that the recipe shows. */
  public void renderAtItsSize(String name) {
    Session s = bench.session();
    if (s == null) {
      return;
    }
    NumberedPictures pictures = s.shot().numberedPictures();
    int frame = s.frame();
    work.run(
        "read " + name,
        () -> {
          Picture read = pictures.picture(name, frame);
          Platform.runLater(() -> {
            if (s.equals(bench.session())) {
              renderAtSizeOf(read, name);
            }
          });
        });
  }

  /** Renders the shot at the size of its plate, if it has one. */
  public void renderAtPlateSize() {
    Session s = bench.session();
    if (s == null) {
      return;
    }
    LoadedShot shot = s.shot();
    int frame = s.frame();
    work.run(
        "read the plate",
        () -> {
          Picture plate = shot.plate(frame);
          Platform.runLater(() -> {
            if (plate != null && s.equals(bench.session())) {
              renderAtSizeOf(plate, "the plate");
            }
          });
        });
  }

  private void renderAtSizeOf(Picture picture, String name) {
    bench.edit(
        "size of " + name,
        p ->
            p.withShot(
                p.requireShot()
                    .with(d -> {
                      d.width = picture.width();
                      d.height = picture.height();
                    })));
  }

  /**
   * Asks for an image, reads it, and puts it into the plan. Of a numbered plate the file of the
   * frame that is shown is chosen, and all are taken.
   */
  public void ask(Use use) {
    Session s = bench.session();
    boolean plate = use == Use.PLATE;
    String what = plate ? "plate" : "environment";
    String path =
        s == null ? null : path(s, plate ? "Choose the plate" : "Choose the environment image");
    if (s == null || path == null) {
      return;
    }
    String all = plate ? NumberedPictures.sequence(path, s.frame()) : path;
    UnaryOperator<Plan> edit = named(all, plate);
    LoadedShot shot = s.shot();
    work.run(
        "read the " + what,
        () -> {
          LoadedShot with = shot.withPicturesOf(edit.apply(shot.plan()));
          Platform.runLater(() -> {
            if (s.equals(bench.session())) {
              s.know(with);
              bench.edit(what + " " + all, edit);
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
