package org.wedgecutter.app.files;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.ScheduledFuture;
import java.util.function.Consumer;
import java.util.function.UnaryOperator;
import javafx.application.Platform;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.app.model.Session;
import org.wedgecutter.app.panel.Banner;
import org.wedgecutter.app.panel.Bench;
import org.wedgecutter.core.cut.Preset;
import org.wedgecutter.core.load.AddedPlacing;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.plan.AddedEdits;
import org.wedgecutter.core.plan.AddedObject;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.Shot;
import org.wedgecutter.core.resolve.EntitySet;

/**
 * The scene of the open shot, with its environment and plate: other sets of its materials, and what
 * changes on disk while it is open.
 */
public final class ShotScenes implements AutoCloseable {
  private static final long LOOK_EVERY = 2000;

  private final Bench bench;
  private final FileWork work;
  private final ScheduledFuture<?> looking;

  /** The files of the shot that is open, as they were read; null for one that is not there. */
  private final Map<Path, @Nullable FileStamp> known = new HashMap<>();

  /** The same, as the interface thread knows them. */
  private List<Path> shown = List.of();

  /** The plan whose scene was asked for last; an unreadable scene is reported once. */
  private @Nullable Plan asking;

  /** Whether a change was told and not answered yet. */
  private boolean asked;

  public ShotScenes(Bench bench, FileWork work) {
    this.bench = bench;
    this.work = work;
    looking = work.every(LOOK_EVERY, "look at the scene on disk", this::look);
  }

  /** Forgets what is known of files: another shot was opened. */
  public void opened(Session s) {
    work.run(
        "look at the scene on disk",
        () -> {
          known.clear();
          asked = false;
        });
    shown = List.of();
    shows(s);
  }

  /** Takes note of the files that the plan names now, and reads its scene if that is not known. */
  public void shows(Session s) {
    if (!s.knows(s.plan()) && !s.plan().equals(asking)) {
      // something else is added, or a step of the history is from before a reload
      asking = s.plan();
      read(s, s.plan(), false, "read the scene", r -> s.know(r));
    }
    List<Path> files = files(s.shot());
    if (files.equals(shown)) {
      return;
    }
    shown = files;
    work.run(
        "look at the scene on disk",
        () -> {
          known.keySet().retainAll(files);
          for (Path file : files) {
            if (!known.containsKey(file)) {
              known.put(file, FileStamp.of(file));
            }
          }
        });
  }

  private static List<Path> files(LoadedShot shot) {
    Path folder = shot.file().toAbsolutePath().normalize().getParent();
    Shot s = shot.plan().requireShot();
    List<Path> out = new ArrayList<>();
    if (folder != null) {
      out.add(folder.resolve(s.scene()));
      if (s.environment().isFile()) {
        out.add(folder.resolve(s.environment().image()));
      }
      if (s.plate().exists()) {
        out.add(folder.resolve(s.plate().image()));
      }
    }
    return out;
  }

  private void look() {
    List<String> changed = new ArrayList<>();
    known.replaceAll((file, before) -> {
      FileStamp now = FileStamp.of(file);
      if (now == null || now.equals(before)) {
        return before;
      }
      changed.add(String.valueOf(file.getFileName()));
      return now;
    });
    if (!changed.isEmpty() && !asked) {
      asked = true;
      String names = String.join(", ", changed);
      Platform.runLater(() -> ask(names));
    }
  }

  private void ask(String names) {
    Session s = bench.session();
    if (s != null) {
      bench.offer(
          names + " changed on disk. The window still shows what was read.",
          new Banner.Choice("reload-scene", "Reload", () -> reload(s)),
          new Banner.Choice("keep-scene", "Not now", this::answered));
    }
  }

  private void answered() {
    work.run("look at the scene on disk", () -> asked = false);
  }

  /** Reads scene, environment and plate again; the plan and its history stay. */
  private void reload(Session s) {
    answered();
    asking = null;
    read(s, s.plan(), true, "reload the scene", s::reload);
  }

  /**
   * Reads what a plan names.
   *
   * @param reload whether to read the files again, even if they were read before
   * @param take is given it on the interface thread, if the shot is still open
   */
  private void read(Session s, Plan plan, boolean reload, String what, Consumer<LoadedShot> take) {
    Path file = s.shot().file();
    // where only what the plan adds differs, the file need not be read
    LoadedShot known = reload ? null : s.scene(plan).map(s.shot()::withSceneOf).orElse(null);
    work.read(
        what,
        () -> {
          LoadedShot read = known == null ? LoadedShot.of(file, plan) : known.again(plan);
          Platform.runLater(() -> {
            if (s.equals(bench.session())) {
              take.accept(read);
              bench.sceneChanged();
            }
          });
        });
  }

  /** What can be added to the scene. */
  public enum Addition {
    GROUND("ground"),
    CATCHING_GROUND("ground that catches"),
    PLATE_GROUND("ground of the plate"),
    HAZE("haze"),
    GROUND_FOG("ground fog"),
    FOG_BOX("a box of fog");

    private final String title;

    Addition(String title) {
      this.title = title;
    }

    /** Returns what it is, as in "add ground". */
    public String title() {
      return title;
    }

    private AddedObject of(LoadedShot shot, EntitySet things, int frame) {
      return switch (this) {
        case GROUND, CATCHING_GROUND -> AddedPlacing.under(shot, things, frame);
        case PLATE_GROUND -> AddedPlacing.inPhotograph(shot);
        case HAZE, GROUND_FOG, FOG_BOX ->
            AddedPlacing.fog(shot, things, frame, this == GROUND_FOG, this == FOG_BOX);
      };
    }
  }

  /**
   * Adds something to the scene, by where things stand at the current frame.
   *
   * @param things what it is for; empty for all of the scene
   * @param collections for {@link Addition#CATCHING_GROUND}, the rows of what casts the shadow
   */
  public void add(Addition what, EntitySet things, Set<String> collections) {
    Session s = bench.session();
    if (s == null) {
      return;
    }
    LoadedShot shot = s.shot();
    int frame = s.frame();
    String name = "add " + what.title();
    work.read(
        name,
        () -> {
          AddedObject object = what.of(shot, things, frame);
          LoadedShot with = shot.again(AddedEdits.add(shot.plan(), object));
          UnaryOperator<Plan> edit =
              p -> {
                Plan next = AddedPlacing.add(p, object, with.members(), frame);
                return switch (what) {
                  case CATCHING_GROUND ->
                      Preset.ANY_BACKGROUND.apply(next, with.members(), collections);
                  case PLATE_GROUND ->
                      AddedPlacing.standIn(next, with.scene().entity(object.path()).orElseThrow());
                  default -> next;
                };
              };
          Platform.runLater(() -> {
            if (!s.equals(bench.session())) {
              return;
            }
            if (!s.plan().requireShot().added().equals(shot.plan().requireShot().added())) {
              // something else was added meanwhile, which may have its name
              add(what, things, collections);
            } else {
              s.know(with);
              bench.edit(name, edit);
              bench.sceneChanged();
            }
          });
        });
  }

  /** Uses one of the scene's sets of materials; an empty name means as in the file. */
  public void use(String variant) {
    Session s = bench.session();
    if (s == null) {
      return;
    }
    UnaryOperator<Plan> edit = p -> p.withShot(p.requireShot().with(d -> d.variant = variant));
    String what = variant.indexOf('{') < 0 ? "materials" : "variants";
    String name = what + (variant.isEmpty() ? " as in the file" : " " + variant);
    if (s.knows(edit.apply(s.plan()))) {
      bench.edit(name, edit);
      bench.sceneChanged();
      return;
    }
    read(
        s,
        edit.apply(s.plan()),
        false,
        "read the " + name,
        r -> {
          s.know(r);
          bench.edit(name, edit);
        });
  }

  @Override
  public void close() {
    looking.cancel(false);
  }
}
