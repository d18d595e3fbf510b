package org.wedgecutter.app.shell;

import java.util.List;
import org.wedgecutter.app.live.Pictures;
import org.wedgecutter.app.model.Session;
import org.wedgecutter.core.check.Finding;

/** Listener to the events of a window; called on the interface thread. */
public interface WindowListener {
  /** A listener that does nothing. */
  WindowListener NONE = new WindowListener() {};

  /** A shot was opened. */
  default void opened(Session session) {}

  /**
   * Pictures are on the screen.
   *
   * @param editMillis time from the last edit to its first picture, milliseconds; NaN if there was
   *     no edit
   */
  default void shown(Pictures pictures, double editMillis) {}

  /** The plan was checked. */
  default void found(List<Finding> findings) {}

  /** Pictures are complete, with residual and causes. */
  default void complete(Pictures pictures) {}
}
