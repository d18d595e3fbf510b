package org.wedgecutter.app.files;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import java.util.concurrent.ScheduledFuture;
import java.util.function.Consumer;
import javafx.application.Platform;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.wedgecutter.app.model.Session;
import org.wedgecutter.app.panel.Banner;
import org.wedgecutter.app.panel.Bench;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.PlanReader;
import org.wedgecutter.core.scene.files.SceneFiles;

/**
 * Opening and saving plans, and noticing when somebody else changes the open one on the disk.
 * Unsaved changes are kept in copies.
 */
public final class PlanFiles implements AutoCloseable {
  private static final Logger LOG = LoggerFactory.getLogger(PlanFiles.class);
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

  /** Takes the question away that is asked about files. */
  private Runnable question = () -> {};

  private volatile List<Path> recentNow = List.of();

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
    looking = work.every(LOOK_EVERY, "look at the plan on disk", this::look);
    work.run("read the recent files", this::readRecent);
  }

  // ---- opening

  /** Asks for a plan or a scene, and opens it. */
  public void openAsk() {
    Path file = asker.toOpen("Open a plan or a scene", SceneFiles.patterns("*.wedge"));
    if (file != null) {
      open(file);
    }
  }

  /**
   * Opens a plan or scene; if that fails, a banner says why and what was open stays. With unsaved
   * changes the user is asked first.
   */
  public void open(Path file) {
    Session s = bench.session();
    if (s == null || !s.history().dirty()) {
      load(file, () -> {});
      return;
    }
    ask(
        "%s has unsaved changes. Open %s?".formatted(s.shot().name(), file.getFileName()),
        new Banner.Choice("open-save", "Save and open", () -> save(() -> load(file, () -> {}))),
        new Banner.Choice("open-discard", "Open without saving", () -> load(file, () -> forget(s))),
        new Banner.Choice("banner-close", "Keep working", () -> {}));
  }

  /** Lets go of the unsaved changes of what was open before. */
  private void forget(Session before) {
    copies.drop();
    Path file = before.shot().file();
    work.run("discard unsaved changes", () -> copies.forget(file));
  }

  /**
   * @param then is run on the interface thread once it is open: until then nothing is let go
   */
  private void load(Path file, Runnable then) {
    bench.opening(file);
    String what = "open " + file.getFileName();
    work.read(
        what,
        () -> {
          LoadedShot shot = ahead == null ? LoadedShot.load(file) : ahead.take(file);
          Session.Opened opened = Session.Opened.of(shot);
          work.run(what, () -> show(file, opened, then), bench::notOpened);
        },
        bench::notOpened);
  }

  /** Shows what was read; on the file thread. */
  private void show(Path file, Session.Opened opened, Runnable then) {
    LoadedShot shot = opened.shot();
    List<String> troubles = new ArrayList<>();
    optional("The list of recent files", () -> addRecent(file), troubles::add);
    know(shot.file());
    List<Recovery.Found> kept = copies.find(shot, troubles::add);
    var beside = LoadedShot.planBeside(file);
    Platform.runLater(() -> {
      then.run();
      bench.opened(opened);
      beside.ifPresent(plan -> offerPlan(plan, shot.file()));
      kept.forEach(found -> copies.offer(shot.file(), found));
      // a banner shown earlier would go when the shot is shown
      troubles.forEach(bench::banner);
    });
  }

  /** Does what opening and saving go on without; on the file thread. */
  private static void optional(String what, FileWork.Task task, Consumer<String> trouble) {
    try {
      task.run();
    } catch (java.io.IOException e) {
      LOG.info("{}", what, e);
      trouble.accept("%s cannot be written: %s".formatted(what, e.getMessage()));
    }
  }

  private void optional(String what, FileWork.Task task) {
    optional(what, task, text -> Platform.runLater(() -> bench.banner(text)));
  }

  /** Offers the plan that stands beside a scene which was opened without it. */
  private void offerPlan(Path plan, Path fresh) {
    bench.offer(
        "This scene already has a plan, %s. A new plan, %s, is open instead."
            .formatted(plan.getFileName(), fresh.getFileName()),
        new Banner.Choice("open-plan", "Open " + plan.getFileName(), () -> open(plan)),
        new Banner.Choice("banner-close", "Keep the new plan", () -> {}));
  }

  /** Remembers a plan's file as it is now on the disk; on the file thread. */
  void know(Path file) {
    watch.know(file);
    asked = false;
  }

  /** Puts a file first in the list of recent files; on the file thread. */
  void addRecent(Path file) throws java.io.IOException {
    recent.add(file);
    readRecent();
  }

  private void readRecent() {
    recentNow = List.copyOf(recent.list());
  }

  /** Returns the recent files, without the one that is open now. */
  public List<Path> recent() {
    Session s = bench.session();
    List<Path> out = new ArrayList<>(recentNow);
    out.remove(s == null ? null : s.shot().file().toAbsolutePath().normalize());
    return out;
  }

  // ---- saving

  /** Saves the plan. */
  public void save() {
    save(() -> {});
  }

  /**
   * Saves the plan.
   *
   * @param then is run on the interface thread when it is saved; not if that fails or must be asked
   */
  public void save(Runnable then) {
    Session s = bench.session();
    if (s == null) {
      return;
    }
    LoadedShot shot = s.shot();
    work.run(
        "save the plan",
        () -> {
          // another plan may have been opened since
          if (watch.isOf(shot.file()) && watch.changed()) {
            // one question about the change is enough: this one stays
            asked = true;
            Platform.runLater(() -> askBeforeSaving(s, shot));
          } else {
            write(s, shot, then);
          }
        });
  }

  private void askBeforeSaving(Session s, LoadedShot shot) {
    ask(
        "%s has changed on disk since you opened it.".formatted(shot.file()),
        new Banner.Choice(
            "save-over",
            "Overwrite",
            () -> work.run("save the plan", () -> write(s, shot, () -> {}))),
        new Banner.Choice("save-as", "Save as…", this::saveAs),
        new Banner.Choice("banner-close", "Not now", () -> {}));
  }

  private void write(Session s, LoadedShot shot, Runnable then) throws java.io.IOException {
    shot.save();
    if (watch.written(shot.file())) {
      asked = false;
    }
    optional("The copy of unsaved changes", () -> copies.forget(shot.file()));
    Platform.runLater(() -> {
      written(s, shot);
      then.run();
    });
  }

  /** Asks one question about files at a time: a newer one takes the place of the one before. */
  private void ask(String text, Banner.Choice... choices) {
    question.run();
    question = bench.offer(text, choices);
  }

  private void written(Session s, LoadedShot shot) {
    s.saved(shot.plan(), shot.noted());
    question.run();
    if (s.equals(bench.session())) {
      bench.saved();
    }
  }

  /** Asks for a file name, and saves the plan there. */
  public void saveAs() {
    Session s = bench.session();
    Path asked = s == null ? null : asker.toSave("Save the plan", s.shot().file(), "*.wedge");
    if (s == null || asked == null) {
      return;
    }
    boolean named = String.valueOf(asked.getFileName()).endsWith(".wedge");
    Path file = named ? asked : asked.resolveSibling(asked.getFileName() + ".wedge");
    Path folder = s.shot().file().toAbsolutePath().getParent();
    if (!Objects.equals(file.toAbsolutePath().getParent(), folder)) {
      bench.banner(
          "Save the plan in the folder of its scene, %s. To use it with another scene, carry it there."
              .formatted(folder));
      return;
    }
    LoadedShot shot = s.shot().withFile(file);
    Path before = s.shot().file();
    work.run(
        "save the plan",
        () -> {
          // the dialog has asked about the name that was typed, not about this one
          if (!named && java.nio.file.Files.exists(file)) {
            Platform.runLater(() -> askToReplace(s, shot, before));
          } else {
            writeAs(s, shot, before);
          }
        });
  }

  private void askToReplace(Session s, LoadedShot shot, Path before) {
    ask(
        "%s already exists.".formatted(shot.file().getFileName()),
        new Banner.Choice(
            "save-over",
            "Overwrite",
            () -> work.run("save the plan", () -> writeAs(s, shot, before))),
        new Banner.Choice("save-as", "Save as…", this::saveAs),
        new Banner.Choice("banner-close", "Not now", () -> {}));
  }

  /** Saves under another name, which the session and its copy of unsaved changes go on with. */
  private void writeAs(Session s, LoadedShot shot, Path before) throws java.io.IOException {
    shot.save();
    if (watch.isOf(before)) {
      know(shot.file());
    }
    optional("The copy of unsaved changes", () -> copies.forget(shot.file()));
    optional("The list of recent files", () -> addRecent(shot.file()));
    Platform.runLater(() -> {
      s.moveTo(shot.file());
      written(s, shot);
      work.run("discard the copy under the old name", () -> copies.forget(before));
    });
  }

  /** Forgets unsaved changes: the user closes without them. */
  public void discard(Runnable then) {
    Session s = bench.session();
    if (s != null) {
      forget(s);
    }
    then.run();
  }

  /** Keeps a copy of unsaved changes at once, on this thread: the program is being ended. */
  public void keepNow() {
    try {
      copies.keepNow();
    } catch (java.io.IOException e) {
      LOG.error("keep a copy of unsaved changes", e);
    }
  }

  /** Keeps a copy of unsaved changes a moment after an edit. */
  public void edited() {
    copies.edited();
  }

  // ---- changes on the disk

  private void look() {
    if (!asked && watch.changedAtAGlance()) {
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
    ask(
        "%s changed on disk.".formatted(file.getFileName()),
        new Banner.Choice("load-changed", "Reload from disk", () -> reload(s, file)),
        new Banner.Choice("keep-mine", "Keep my version", () -> {}));
  }

  /** Reloading is an edit, so that nothing in the window is lost. */
  private void reload(Session s, Path file) {
    work.run(
        "read the changed plan",
        () -> {
          Plan plan = PlanReader.read(file);
          // its scene may be another one
          LoadedShot with =
              s.knows(plan) ? s.shot().withPicturesOf(plan) : LoadedShot.of(file, plan);
          know(file);
          Platform.runLater(() -> {
            if (s.equals(bench.session())) {
              s.know(with);
              bench.edit("reload from disk", p -> plan);
              bench.sceneChanged();
            }
          });
        });
  }

  @Override
  public void close() {
    copies.flush();
    looking.cancel(false);
  }
}
