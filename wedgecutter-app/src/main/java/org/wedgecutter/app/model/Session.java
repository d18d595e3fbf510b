package org.wedgecutter.app.model;

import java.nio.file.Files;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;
import java.util.function.UnaryOperator;
import org.wedgecutter.core.check.PlanCheck;
import org.wedgecutter.core.load.AddedObjects;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.motion.MotionTable;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.Shot;
import org.wedgecutter.core.resolve.EntitySet;
import org.wedgecutter.core.resolve.ResolvedShot;

/**
 * An open shot: its plan under edit, the resolved layers, and the current frame. For one thread.
 */
public final class Session {
  private final History history;

  /** How many scenes are kept: of steps of the history farther back they are made again. */
  private static final int SCENES = 6;

  /** Scenes that plans of this shot name, the one that was used last at the end. */
  private final Map<SceneName, LoadedShot> scenes =
      new LinkedHashMap<>(16, 0.75f, true) {
        @Override
        protected boolean removeEldestEntry(Map.Entry<SceneName, LoadedShot> eldest) {
          return size() > SCENES;
        }
      };

  private MotionTable motion;
  private LoadedShot moved;
  private LoadedShot shot;
  private ResolvedShot resolved;
  private int frame;
  private boolean kept;

  /**
   * What a session needs and takes long to prepare.
   *
   * @param kept whether the plan is in a file; a scene's new plan is not
   */
  public record Opened(LoadedShot shot, MotionTable motion, boolean kept) {
    /** Prepares it; for a background thread. */
    public static Opened of(LoadedShot shot) {
      return new Opened(
          shot,
          MotionTable.of(shot.plan().requireShot(), shot.scene()),
          Files.isRegularFile(shot.file()));
    }
  }

  /** What names a scene in a plan. */
  private record SceneName(String scene, String variant, AddedObjects.Made added) {
    static SceneName of(Plan plan) {
      Shot shot = plan.requireShot();
      return new SceneName(shot.scene(), shot.variant(), AddedObjects.Made.of(shot));
    }

    boolean isOfSameFile(SceneName other) {
      return scene.equals(other.scene) && variant.equals(other.variant);
    }
  }

  public Session(Opened opened) {
    shot = opened.shot();
    scenes.put(SceneName.of(shot.plan()), shot);
    motion = opened.motion();
    moved = shot;
    kept = opened.kept();
    history = new History(shot.plan());
    history.saved();
    frame = shot.plan().requireShot().frames().first();
    resolved = shot.resolve(frame);
  }

  /** Returns the plan as it is now. */
  public Plan plan() {
    return history.plan();
  }

  /** Returns the shot with the plan as it is now. */
  public LoadedShot shot() {
    return shot;
  }

  /** Returns the resolved layers. */
  public ResolvedShot resolved() {
    return resolved;
  }

  /** Returns the motion of each entity over the frames. */
  public MotionTable motion() {
    return motion;
  }

  /** Whether the motion is that of the scene as it is, over the frames of the shot as they are. */
  public boolean motionFits() {
    return isSameMotion(moved, shot);
  }

  private static boolean isSameMotion(LoadedShot a, LoadedShot b) {
    var one = a.plan().requireShot();
    var two = b.plan().requireShot();
    return a.tracer().equals(b.tracer())
        && one.fps() == two.fps()
        && one.frames().frames().equals(two.frames().frames());
  }

  /** Takes the motion of a shot, unless that is no longer what is open; returns whether it is. */
  public boolean setMotion(MotionTable next, LoadedShot of) {
    if (!isSameMotion(of, shot)) {
      return false;
    }
    motion = next;
    moved = of;
    return true;
  }

  /** Returns the current frame. */
  public int frame() {
    return frame;
  }

  /** Sets the current frame; returns whether it changed. */
  public boolean setFrame(int next) {
    if (next == frame) {
      return false;
    }
    frame = next;
    resolved = shot.resolve(frame);
    return true;
  }

  /** Makes an edit; returns whether it changed anything. */
  public boolean edit(String name, UnaryOperator<Plan> edit) {
    return history.edit(name, edit.apply(plan())) && take();
  }

  /** Makes an edit that is one step with those of the same gesture; returns whether it changed. */
  public boolean adjust(String name, Object gesture, UnaryOperator<Plan> edit) {
    return history.adjust(name, gesture, edit.apply(plan())) && take();
  }

  /** Undoes the last edit; returns whether there was one. */
  public boolean undo() {
    return history.undo() && take();
  }

  /** Redoes the last undone edit; returns whether there was one. */
  public boolean redo() {
    return history.redo() && take();
  }

  /** Goes to a step of the history; returns whether it differs from the current one. */
  public boolean goTo(int step) {
    return history.goTo(step) && take();
  }

  /** Continues under another file. */
  public void moveTo(java.nio.file.Path file) {
    shot = shot.withFile(file);
  }

  /** Adds what was read for a plan of this shot: its scene and its images. */
  public void know(LoadedShot read) {
    scenes.putIfAbsent(SceneName.of(read.plan()), read);
    shot = shot.withPictures(read.pictures());
    take();
  }

  /** Returns the scene that a plan names, if it was read; what the plan adds to it may differ. */
  public Optional<LoadedShot> scene(Plan plan) {
    SceneName wanted = SceneName.of(plan);
    return scenes.entrySet().stream()
        .filter(e -> e.getKey().isOfSameFile(wanted))
        .map(Map.Entry::getValue)
        .findFirst();
  }

  /** Whether the scene that a plan names was read, with what the plan adds to it. */
  public boolean knows(Plan plan) {
    return scenes.containsKey(SceneName.of(plan));
  }

  /** Takes the scene and the images as they are on disk now; the plan and its history stay. */
  public void reload(LoadedShot read) {
    // of other sets of materials, what was read is of the old file
    scenes.clear();
    scenes.put(SceneName.of(read.plan()), read);
    shot = shot.withPictures(read.pictures());
    take();
  }

  private boolean take() {
    Plan plan = plan();
    LoadedShot scene = scenes.get(SceneName.of(plan));
    shot = scene == null ? shot.withPlan(plan) : shot.withSceneOf(scene).withPlan(plan);
    var frames = plan.requireShot().frames().frames();
    if (!frames.contains(frame)) {
      frame = frames.stream().min(Comparator.comparingInt(f -> Math.abs(f - frame))).orElseThrow();
    }
    resolved = shot.resolve(frame);
    return true;
  }

  /** Whether the plan is in a file at all, as it is now or as it was. */
  public boolean kept() {
    return kept;
  }

  /** Returns the history, for the names of its steps. */
  public History history() {
    return history;
  }

  /** Returns the entities that are new in the scene since the plan was saved. */
  public EntitySet fresh() {
    return PlanCheck.fresh(plan(), shot.scene());
  }

  /**
   * Marks a plan as saved; it may have been edited since.
   *
   * @param plan the plan that was saved
   * @param noted the same as written, with the scene's entities listed as known
   */
  public void saved(Plan plan, Plan noted) {
    kept = true;
    history.saved(plan, noted);
    take();
  }
}
