package org.wedgecutter.app.panel;

import java.util.function.UnaryOperator;
import org.wedgecutter.core.plan.Plan;

/** Edits the plan. */
public interface Editor {
  /**
   * Makes an edit.
   *
   * @param name its name in the edit history
   */
  void edit(String name, UnaryOperator<Plan> edit);

  /**
   * Makes an edit that goes on while something is dragged: all of one gesture are one step of the
   * history.
   *
   * @param gesture the same object for all of them
   */
  void adjust(String name, Object gesture, UnaryOperator<Plan> edit);
}
