package org.wedgecutter.app.model;

import java.util.Map;
import java.util.function.UnaryOperator;
import org.wedgecutter.core.check.PlanCheck;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.motion.MotionTable;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.resolve.EntitySet;
import org.wedgecutter.core.resolve.ResolvedShot;

/**
 * A shot that is open: its plan under edit, what every layer is by it, and the frame that is looked
 * at. For one thread.
 */
public final class Session {
  private final History history;
  private final MotionTable motion;
  private LoadedShot shot;
  private ResolvedShot resolved;
  private int frame;

  /** What is needed to open a session and takes long to make. */
  public record Opened(LoadedShot shot, MotionTable motion) {
    /** Makes it; for a background thread. */
    public static Opened of(LoadedShot shot) {
      return new Opened(shot, MotionTable.of(shot.plan().requireShot(), shot.scene()));
    }
  }

  public Session(Opened opened) {
    shot = opened.shot();
    motion = opened.motion();
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

  /** Returns what every layer is. */
  public ResolvedShot resolved() {
    return resolved;
  }

  /** Returns what moves when. */
  public MotionTable motion() {
    return motion;
  }

  /** Returns the frame that is looked at. */
  public int frame() {
    return frame;
  }

  /** Looks at another frame; returns whether it is another. */
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

  /** Takes the last edit back; returns whether there was one. */
  public boolean undo() {
    return history.undo() && take();
  }

  /** Makes the last edit that was taken back again; returns whether there was one. */
  public boolean redo() {
    return history.redo() && take();
  }

  /** Goes to a step of the history; returns whether that is another. */
  public boolean goTo(int step) {
    return history.goTo(step) && take();
  }

  /** Goes on under another file. */
  public void moveTo(java.nio.file.Path file) {
    shot = shot.withFile(file);
  }

  /** Knows more images that plans of this shot may name. */
  public void know(Map<String, Picture> pictures) {
    shot = shot.withPictures(pictures);
  }

  private boolean take() {
    shot = shot.withPlan(plan());
    resolved = shot.resolve(frame);
    return true;
  }

  /** Returns the history, for the names of its steps. */
  public History history() {
    return history;
  }

  /** Returns what came into the scene since the plan was saved. */
  public EntitySet fresh() {
    return PlanCheck.fresh(plan(), shot.scene());
  }

  /**
   * Remembers that a plan is on the disk; it may have been edited since.
   *
   * @param plan the plan that was saved
   * @param noted the same as it is on the disk, with the scene's entities noted
   */
  public void saved(Plan plan, Plan noted) {
    if (plan.equals(plan())) {
      history.saved(noted);
      take();
    }
  }
}
