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
}
