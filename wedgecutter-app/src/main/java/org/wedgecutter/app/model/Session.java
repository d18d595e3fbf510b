package org.wedgecutter.app.model;

import java.util.List;
import java.util.function.UnaryOperator;
import org.wedgecutter.core.check.Finding;
import org.wedgecutter.core.check.PlanCheck;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.resolve.ResolvedShot;
import org.wedgecutter.core.shot.LoadedShot;
import org.wedgecutter.core.shot.MotionTable;

/**
 * A shot that is open: its plan under edit, what every layer is by it, and the frame that is looked
 * at. For one thread.
 */
public final class Session {
  private final History history;
  private final MotionTable motion;
  private LoadedShot shot;
  private ResolvedShot resolved;
  private List<Finding> findings;
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
    resolved = shot.resolve();
    findings = PlanCheck.check(plan(), shot.scene(), resolved);
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

  /** Returns what is known to be wrong with the plan. */
  public List<Finding> findings() {
    return findings;
  }

  /** Returns what moves when. */
  public MotionTable motion() {
    return motion;
  }

  /** Returns the frame that is looked at. */
  public int frame() {
    return frame;
  }

  /** Looks at another frame; says whether it is another. */
  public boolean setFrame(int next) {
    boolean other = next != frame;
    frame = next;
    return other;
  }

  /** Makes an edit; says whether it changed anything. */
  public boolean edit(String name, UnaryOperator<Plan> edit) {
    return history.edit(name, edit.apply(plan())) && take();
  }

  /** Takes the last edit back; says whether there was one. */
  public boolean undo() {
    return history.undo() && take();
  }

  /** Makes the last edit that was taken back again; says whether there was one. */
  public boolean redo() {
    return history.redo() && take();
  }

  private boolean take() {
    shot = shot.withPlan(plan());
    resolved = shot.resolve();
    findings = PlanCheck.check(plan(), shot.scene(), resolved);
    return true;
  }

  /** Returns the history, for the names of its steps. */
  public History history() {
    return history;
  }

  /** Remembers that a plan is on the disk; it may have been edited since. */
  public void saved(Plan plan) {
    if (plan.equals(plan())) {
      history.saved();
    }
  }
}
