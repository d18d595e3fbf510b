package org.wedgecutter.app.model;

import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.plan.Plan;

/** The plan under edit, with every state it was in. Steps have names; there is no limit. */
public final class History {
  private final List<Step> steps = new ArrayList<>();
  private int at;
  private int savedAt;

  /** What made the step at {@link #gestureAt}, if it may go on. */
  private @Nullable Object gesture;

  private int gestureAt = -1;

  /** A state and the name of the edit that led to it. */
  private record Step(String name, Plan plan) {}

  public History(Plan plan) {
    steps.add(new Step("", plan));
  }

  /** Returns the plan as it is now. */
  public Plan plan() {
    return steps.get(at).plan;
  }

  /**
   * Makes an edit and returns whether it changed anything; an edit without a change adds no step.
   */
  public boolean edit(String name, Plan next) {
    if (next.equals(plan())) {
      return false;
    }
    if (savedAt > at) {
      savedAt = -1;
    }
    steps.subList(at + 1, steps.size()).clear();
    steps.add(new Step(name, next));
    at++;
    gesture = null;
    return true;
  }

  /**
   * Makes an edit that goes on with the one before it, if that was of the same gesture: of a drag
   * the last state alone is kept.
   */
  public boolean adjust(String name, Object of, Plan next) {
    boolean goesOn = of.equals(gesture) && gestureAt == at && at == steps.size() - 1 && at > 0;
    if (goesOn && savedAt != at) {
      if (next.equals(plan())) {
        return false;
      }
      if (next.equals(steps.get(at - 1).plan)) {
        // back where it began: there is nothing to undo
        steps.remove(at);
        at--;
        gesture = null;
        return true;
      }
      steps.set(at, new Step(name, next));
      return true;
    }
    boolean changed = edit(name, next);
    gesture = of;
    gestureAt = at;
    return changed;
  }

  /** Returns the name of the edit that undo reverts; empty if there is none. */
  public String undoName() {
    return steps.get(at).name;
  }

  /** Returns the name of the edit that redo repeats; empty if there is none. */
  public String redoName() {
    return at + 1 < steps.size() ? steps.get(at + 1).name : "";
  }

  /** Undoes an edit; returns whether there was one. */
  public boolean undo() {
    if (at == 0) {
      return false;
    }
    at--;
    return true;
  }

  /** Redoes an edit; returns whether there was one. */
  public boolean redo() {
    if (at + 1 == steps.size()) {
      return false;
    }
    at++;
    return true;
  }

  /** Returns the names of all steps, the first one empty: the plan as it was opened. */
  public List<String> names() {
    return steps.stream().map(s -> s.name).toList();
  }

  /** Returns the number of the current step. */
  public int at() {
    return at;
  }

  /** Goes to a step; returns whether it differs from the current one. */
  public boolean goTo(int step) {
    if (step < 0 || step >= steps.size() || step == at) {
      return false;
    }
    at = step;
    return true;
  }

  /** Marks the current plan as saved. */
  public void saved() {
    savedAt = at;
  }

  /**
   * Marks a plan as saved, in whichever step it is. If no step holds it any more, the plan counts
   * as modified. The list of known entities is taken over into every step, and is no edit.
   *
   * @param plan as it was when saving began
   * @param onDisk the same as it was written
   */
  public void saved(Plan plan, Plan onDisk) {
    savedAt = -1;
    // the one that was saved is more likely near: the same plan can be in several steps
    for (int step = 0; step < steps.size(); step++) {
      boolean isNearer = savedAt < 0 || Math.abs(step - at) < Math.abs(savedAt - at);
      if (isNearer && steps.get(step).plan.equals(plan)) {
        savedAt = step;
      }
    }
    List<String> known = onDisk.requireShot().known();
    steps.replaceAll(s -> new Step(s.name, s.plan.withShot(s.plan.requireShot().withKnown(known))));
  }

  /** Whether the plan differs from what is on the disk. */
  public boolean dirty() {
    return savedAt < 0 || (savedAt != at && !steps.get(savedAt).plan.equals(steps.get(at).plan));
  }
}
