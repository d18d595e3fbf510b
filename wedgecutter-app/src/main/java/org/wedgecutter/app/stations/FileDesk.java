package org.wedgecutter.app.stations;

import java.io.IOException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.Executors;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.ScheduledFuture;
import java.util.concurrent.TimeUnit;
import java.util.function.UnaryOperator;
import javafx.application.Platform;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.wedgecutter.app.model.DiskWatch;
import org.wedgecutter.app.model.ReadAhead;
import org.wedgecutter.app.model.RecentFiles;
import org.wedgecutter.app.model.Recovery;
import org.wedgecutter.app.model.Session;
import org.wedgecutter.app.model.StateFolder;
import org.wedgecutter.core.carry.Carry;
import org.wedgecutter.core.carry.PlanCarrier;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.PlanParts;
import org.wedgecutter.core.plan.PlanReader;
import org.wedgecutter.core.plan.PlanWriter;
import org.wedgecutter.core.plan.Shot;

/**
 * All that has to do with files: opening, saving, copies for recovery, files that somebody else
 * changed, parts of plans, carrying. Files are touched on a thread of its own only, one after
 * another, so that two writes never meet.
 */
final class FileDesk implements AutoCloseable {
  private static final Logger LOG = LoggerFactory.getLogger(FileDesk.class);
  private static final long KEEP_AFTER = 700;
  private static final long LOOK_EVERY = 1000;

  /** The window that it works for. All are called on the interface thread. */
  interface Host {
    /** Returns what is open, or null. */
    @Nullable Session session();

    /** Takes up what was opened. */
    void opened(Session.Opened opened);

    /** Makes an edit. */
    void edit(String name, UnaryOperator<Plan> edit);

    /** Says that the plan is on the disk. */
    void saved();

    /** Shows a message. */
    void banner(String text, boolean good, Banner.Choice... choices);

    /** Says that opening failed. */
    void notOpened();

    /** Shows what carrying did. */
    void carried(Path plan, Carry.Report report);
  }

  private final Host host;
  private final ScheduledExecutorService files =
      Executors.newSingleThreadScheduledExecutor(
          Thread.ofPlatform().name("files").daemon().factory());
  private final RecentFiles recent = new RecentFiles(StateFolder.path());
  private final Recovery recovery = new Recovery(StateFolder.path());
  private final DiskWatch watch = new DiskWatch();
  private final ScheduledFuture<?> looking;
  private @Nullable ScheduledFuture<?> keeping;
  private volatile boolean asked;
  private FileAsker asker;

  FileDesk(Host host, FileAsker asker) {
    this.host = host;
    this.asker = asker;
    looking =
        files.scheduleWithFixedDelay(this::look, LOOK_EVERY, LOOK_EVERY, TimeUnit.MILLISECONDS);
  }

  void setAsker(FileAsker next) {
    asker = next;
  }

  /** Returns the files that were open last. */
  List<Path> recent() {
    return recent.list();
  }

  private interface Work {
    void run() throws IOException;
  }

  /** Does something with files; what goes wrong is shown. */
  private void work(String what, Work work) {
    files.execute(() -> {
      try {
        work.run();
      } catch (IOException e) {
        LOG.info("{}", what, e);
        Platform.runLater(() -> fail(what + ": " + e.getMessage()));
      } catch (RuntimeException e) {
        LOG.error("{}", what, e);
        Platform.runLater(() -> fail(what + ": " + e));
      }
    });
  }

  private void fail(String text) {
    host.banner(text, false, new Banner.Choice("banner-close", "Dismiss", () -> {}));
  }

  // ---- opening

  void openAsk() {
    Path file = asker.toOpen("Open a plan or a scene", "*.wedge", "*.glb", "*.gltf", "*.usda");
    if (file != null) {
      open(file);
    }
  }

  /** Opens a plan or scene; on failure a banner says why and what was open stays. */
  void open(Path file) {
    files.execute(() -> {
      try {
        Session.Opened opened = Session.Opened.of(ReadAhead.take(file));
        recent.add(file);
        watch.know(opened.shot().file());
        asked = false;
        var kept = recovery.find(opened.shot().file(), opened.shot().plan());
        Platform.runLater(() -> {
          host.opened(opened);
          kept.ifPresent(plan -> offer(opened.shot().file(), plan));
        });
      } catch (IOException | RuntimeException e) {
        LOG.info("opening {}", file, e);
        Platform.runLater(() -> {
          host.notOpened();
          fail(e instanceof IOException ? String.valueOf(e.getMessage()) : file + ": " + e);
        });
      }
    });
  }

  private void offer(Path file, Plan kept) {
    host.banner(
        "Edits of %s were never saved.".formatted(file.getFileName()),
        true,
        new Banner.Choice(
            "recover", "Recover them", () -> host.edit("recover unsaved edits", p -> kept)),
        new Banner.Choice(
            "forget",
            "Forget them",
            () -> work("forgetting unsaved edits", () -> recovery.forget(file))));
  }

  // ---- saving

  void save() {
    Session s = host.session();
    if (s == null) {
      return;
    }
    LoadedShot shot = s.shot();
    files.execute(() -> {
      if (watch.changed()) {
        Platform.runLater(() -> askBeforeSaving(shot));
      } else {
        write(shot);
      }
    });
  }

  private void askBeforeSaving(LoadedShot shot) {
    host.banner(
        "%s was changed by somebody else since it was opened.".formatted(shot.file()),
        true,
        new Banner.Choice("save-over", "Save over it", () -> files.execute(() -> write(shot))),
        new Banner.Choice("save-as", "Save under another name", this::saveAs),
        new Banner.Choice("banner-close", "Not now", () -> {}));
  }

  private void write(LoadedShot shot) {
    try {
      shot.save();
      watch.know(shot.file());
      asked = false;
      recovery.forget(shot.file());
      Platform.runLater(() -> written(shot));
    } catch (IOException e) {
      LOG.info("saving", e);
      Platform.runLater(() -> fail("the plan could not be saved: " + e.getMessage()));
    }
  }

  private void written(LoadedShot shot) {
    Session s = host.session();
    if (s != null) {
      s.saved(shot.plan(), shot.noted());
      host.saved();
    }
  }

  void saveAs() {
    Session s = host.session();
    Path file = s == null ? null : asker.toSave("Save the plan", s.shot().file(), "*.wedge");
    if (s == null || file == null) {
      return;
    }
    Path folder = s.shot().file().toAbsolutePath().getParent();
    if (!java.util.Objects.equals(file.toAbsolutePath().getParent(), folder)) {
      fail(
          "a plan stands in the folder of its scene, %s; carry it to take it elsewhere"
              .formatted(folder));
      return;
    }
    s.moveTo(file);
    work(
        "saving",
        () -> {
          watch.know(file);
          write(s.shot());
          recent.add(file);
        });
  }

  /** Keeps a copy a moment after an edit. */
  void edited() {
    Session s = host.session();
    if (s == null) {
      return;
    }
    if (keeping != null) {
      keeping.cancel(false);
    }
    if (s.history().names().size() == 1) {
      // nothing was edited yet: a copy from before is still to be offered
      return;
    }
    LoadedShot shot = s.shot();
    boolean dirty = s.history().dirty();
    keeping =
        files.schedule(
            () -> {
              try {
                if (dirty) {
                  recovery.keep(shot.file(), shot.plan());
                } else {
                  recovery.forget(shot.file());
                }
              } catch (IOException e) {
                LOG.warn("keeping a copy", e);
                Platform.runLater(
                    () -> fail("unsaved edits cannot be kept safe: " + e.getMessage()));
              }
            },
            KEEP_AFTER,
            TimeUnit.MILLISECONDS);
  }

  /** Looks whether somebody changed the plan; asks once. */
  private void look() {
    if (!asked && watch.changed()) {
      asked = true;
      Platform.runLater(this::askToLoad);
    }
  }

  private void askToLoad() {
    Session s = host.session();
    if (s == null) {
      return;
    }
    Path file = s.shot().file();
    host.banner(
        "%s was changed on the disk.".formatted(file.getFileName()),
        true,
        new Banner.Choice("load-changed", "Take over what is there", () -> takeOver(s, file)),
        new Banner.Choice("keep-mine", "Keep what is here", () -> {}));
  }

  /** What is on the disk becomes the next step, so that nothing of what was here is lost. */
  private void takeOver(Session s, Path file) {
    work(
        "reading the changed plan",
        () -> {
          Plan plan = PlanReader.read(file);
          LoadedShot with = s.shot().withPicturesOf(plan);
          watch.know(file);
          asked = false;
          Platform.runLater(() -> {
            s.know(with.pictures());
            host.edit("take over what is on the disk", p -> plan);
          });
        });
  }

  // ---- pictures

  /** Asks for the environment's picture or the plate, reads it, and puts it into the plan. */
  void pictureAsk(ShotPanel.Image image) {
    Session s = host.session();
    boolean plate = image == ShotPanel.Image.PLATE;
    String what = plate ? "plate" : "environment";
    Path file =
        s == null
            ? null
            : asker.toOpen(
                plate ? "Which picture stands behind everything?" : "Which picture surrounds it?",
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
      fail("%s: a plan's pictures stand in its folder, %s, or below".formatted(file, folder));
      return;
    }
    String path = folder.relativize(chosen).toString().replace('\\', '/');
    UnaryOperator<Plan> edit =
        p ->
            p.withShot(
                p.requireShot()
                    .with(d -> {
                      if (plate) {
                        d.plate = new Shot.PlateDef(path, d.plate.standIns(), d.plate.extra());
                      } else {
                        var e = d.environment;
                        d.environment =
                            new Shot.EnvironmentDef(path, e.turn(), e.level(), e.extra());
                      }
                    }));
    LoadedShot shot = s.shot();
    work(
        what,
        () -> {
          LoadedShot with = shot.withPicturesOf(edit.apply(shot.plan()));
          Platform.runLater(() -> {
            if (s.equals(host.session())) {
              s.know(with.pictures());
              host.edit(what + " " + path, edit);
            }
          });
        });
  }

  // ---- parts, templates, carrying

  private Path beside(String name) {
    Session s = host.session();
    return s == null ? Path.of(name) : s.shot().file().resolveSibling(name);
  }

  private void export(String title, String name, String text) {
    Path file = asker.toSave(title, beside(name), "*.json");
    if (file != null) {
      work("exporting", () -> PlanParts.save(text, file));
    }
  }

  void exportCollections() {
    Session s = host.session();
    if (s != null) {
      export("Export the collections", "collections.json", PlanParts.collections(s.plan()));
    }
  }

  void exportLayer(String layer) {
    Session s = host.session();
    if (s != null) {
      export("Export layer " + layer, layer + ".json", PlanParts.layer(s.plan(), layer));
    }
  }

  void exportCells(String layer) {
    Session s = host.session();
    if (s != null) {
      export(
          "Export the cells of " + layer, layer + " cells.json", PlanParts.cells(s.plan(), layer));
    }
  }

  /** Takes a part in; cells go to the layer. */
  void importPart(String layer) {
    Session s = host.session();
    Path file = s == null ? null : asker.toOpen("Import a part of a plan", "*.json");
    if (s == null || file == null) {
      return;
    }
    Plan before = s.plan();
    work(
        "importing " + file.getFileName(),
        () -> {
          PlanParts.Imported got = PlanParts.read(before, layer, file);
          Platform.runLater(() -> {
            host.edit("import " + file.getFileName(), p -> got.plan());
            host.banner(
                got.notes().isEmpty()
                    ? "nothing in it that was not here already"
                    : String.join("; ", got.notes()),
                true,
                new Banner.Choice("banner-close", "Dismiss", () -> {}));
          });
        });
  }

  void saveTemplate() {
    Session s = host.session();
    Path file =
        s == null ? null : asker.toSave("Save as a template", beside("template.wedge"), "*.wedge");
    if (s != null && file != null) {
      Plan template = Carry.template(s.plan());
      work("saving the template", () -> PlanWriter.save(template, file));
    }
  }

  /** Carries what is open to another scene, and opens the new plan. */
  void carryAsk() {
    Session s = host.session();
    if (s == null) {
      return;
    }
    Path scene = asker.toOpen("Carry the plan to which scene?", "*.glb", "*.gltf", "*.usda");
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
    work(
        "carrying",
        () -> {
          Carry.Carried carried =
              PlanCarrier.carry(shot.plan(), shot.members(), shot.file(), scene, out);
          PlanCarrier.save(carried.plan(), shot.file(), out);
          Session.Opened opened = Session.Opened.of(LoadedShot.load(out));
          recent.add(out);
          watch.know(out);
          Platform.runLater(() -> {
            host.opened(opened);
            host.carried(out, carried.report());
          });
        });
  }

  /** Returns what the menu shows of the files that were open last. */
  List<Path> recentBut(@Nullable Path open) {
    List<Path> out = new ArrayList<>(recent());
    out.remove(open == null ? null : open.toAbsolutePath().normalize());
    return out;
  }

  @Override
  public void close() {
    looking.cancel(false);
    files.shutdown();
  }
}
