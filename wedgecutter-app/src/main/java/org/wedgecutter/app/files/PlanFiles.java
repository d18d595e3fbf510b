package org.wedgecutter.app.files;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import java.util.concurrent.ScheduledFuture;
import javafx.application.Platform;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.app.model.Session;
import org.wedgecutter.app.panel.Banner;
import org.wedgecutter.app.panel.Bench;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.PlanReader;

/**
 * Opening and saving plans, and noticing when somebody else changes the open one on the disk.
 * Unsaved changes are kept in copies.
 */
public final class PlanFiles implements AutoCloseable {
  private static final long LOOK_EVERY = 1000;

  private final Bench bench;
  private final FileWork work;
  private final FileAsker asker;
  private final @Nullable ReadAhead ahead;
  private final RecentFiles recent;
  private final RecoveryCopies copies;
  private final DiskWatch watch = new DiskWatch();
  private final ScheduledFuture<?> looking;
  private volatile boolean asked;

  /**
   * @param ahead reads the first shot while the window is made, or null
   * @param stateFolder where copies and the list of recent files are kept
   */
  public PlanFiles(
      Bench bench, FileWork work, FileAsker asker, @Nullable ReadAhead ahead, Path stateFolder) {
    this.bench = bench;
    this.work = work;
    this.asker = asker;
    this.ahead = ahead;
    recent = new RecentFiles(stateFolder);
    copies = new RecoveryCopies(bench, work, stateFolder);
    looking = work.every(LOOK_EVERY, this::look);
  }

  // ---- opening

  /** Asks for a plan or a scene, and opens it. */
  public void openAsk() {
    Path file =
        asker.toOpen("Open a plan or a scene", "*.wedge", "*.glb", "*.gltf", "*.usda", "*.obj");
    if (file != null) {
      open(file);
    }
  }

  /** Opens a plan or scene; if that fails, a banner says why and what was open stays. */
  public void open(Path file) {
    work.run(
        "opening",
        () -> {
          LoadedShot shot = ahead == null ? LoadedShot.load(file) : ahead.take(file);
          Session.Opened opened = Session.Opened.of(shot);
          recent.add(file);
          know(shot.file());
          var kept = copies.find(shot);
          Platform.runLater(() -> {
            bench.opened(opened);
            kept.ifPresent(plan -> copies.offer(shot.file(), plan));
          });
        },
        bench::notOpened);
  }

  /** Remembers a plan's file as it is now on the disk; on the file thread. */
  void know(Path file) {
    watch.know(file);
    asked = false;
  }

  /** Puts a file first in the list of recent files; on the file thread. */
  void addRecent(Path file) throws java.io.IOException {
    recent.add(file);
  }

  /** Returns the recent files, without the one that is open now. */
  public List<Path> recent() {
    Session s = bench.session();
    List<Path> out = new ArrayList<>(recent.list());
    out.remove(s == null ? null : s.shot().file().toAbsolutePath().normalize());
    return out;
  }

  // ---- saving

  /** Saves the plan. */
  public void save() {
    Session s = bench.session();
    if (s == null) {
      return;
    }
    LoadedShot shot = s.shot();
    work.run(
        "saving the plan",
        () -> {
          if (watch.changed()) {
            Platform.runLater(() -> askBeforeSaving(shot));
          } else {
            write(shot);
          }
        });
  }

  private void askBeforeSaving(LoadedShot shot) {
    bench.offer(
        "%s was changed by someone else after you opened it.".formatted(shot.file()),
        new Banner.Choice(
            "save-over", "Overwrite", () -> work.run("saving the plan", () -> write(shot))),
        new Banner.Choice("save-as", "Save as…", this::saveAs),
        new Banner.Choice("banner-close", "Not now", () -> {}));
  }

  private void write(LoadedShot shot) throws java.io.IOException {
    shot.save();
    know(shot.file());
    copies.forget(shot.file());
    Platform.runLater(() -> written(shot));
  }

  private void written(LoadedShot shot) {
    Session s = bench.session();
    if (s != null) {
      s.saved(shot.plan(), shot.noted());
      bench.saved();
    }
  }

  /** Asks for a file name, and saves the plan there. */
  public void saveAs() {
    Session s = bench.session();
    Path file = s == null ? null : asker.toSave("Save the plan", s.shot().file(), "*.wedge");
    if (s == null || file == null) {
      return;
    }
    Path folder = s.shot().file().toAbsolutePath().getParent();
    if (!Objects.equals(file.toAbsolutePath().getParent(), folder)) {
      bench.banner(
          "A plan is saved in the folder of its scene, %s. To use it elsewhere, carry it to another scene."
              .formatted(folder));
      return;
    }
    s.moveTo(file);
    LoadedShot shot = s.shot();
    work.run(
        "saving the plan",
        () -> {
          write(shot);
          recent.add(file);
        });
  }

  /** Keeps a copy of unsaved changes a moment after an edit. */
  public void edited() {
    copies.edited();
  }

  // ---- changes on the disk

  private void look() {
    if (!asked && watch.changed()) {
      asked = true;
      Platform.runLater(this::askToLoad);
    }
  }

  private void askToLoad() {
    Session s = bench.session();
    if (s == null) {
      return;
    }
    Path file = s.shot().file();
    bench.offer(
        "%s changed on disk.".formatted(file.getFileName()),
        new Banner.Choice("load-changed", "Reload from disk", () -> reload(s, file)),
        new Banner.Choice("keep-mine", "Keep my version", () -> {}));
  }

  /** Reloading is an edit, so that nothing in the window is lost. */
  private void reload(Session s, Path file) {
    work.run(
        "reading the changed plan",
        () -> {
          Plan plan = PlanReader.read(file);
          LoadedShot with = s.shot().withPicturesOf(plan);
          know(file);
          Platform.runLater(() -> {
            s.know(with.pictures());
            bench.edit("reload from disk", p -> plan);
          });
        });
  }

  @Override
  public void close() {
    looking.cancel(false);
  }
}
