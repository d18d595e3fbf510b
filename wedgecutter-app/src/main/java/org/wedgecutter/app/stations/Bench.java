package org.wedgecutter.app.stations;

import java.util.function.UnaryOperator;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.app.model.Session;
import org.wedgecutter.core.plan.Plan;

/** What parts of the window know of the whole: what is open, how to edit it, how to tell people. */
interface Bench extends DetailPanel.Editor {
  /** Returns what is open, or null. */
  @Nullable Session session();

  @Override
  void edit(String name, UnaryOperator<Plan> edit);

  /** Shows a message that stays until it is dismissed. */
  void banner(@Nullable String text);
}
