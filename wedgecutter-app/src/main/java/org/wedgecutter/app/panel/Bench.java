package org.wedgecutter.app.panel;

import javafx.scene.Node;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.app.model.Session;

/**
 * What the parts of the window know of the whole: the open shot, how to edit it, and how to show
 * messages. All of it is called on the interface thread.
 */
public interface Bench extends Editor {
  /** Returns what is open, or null. */
  @Nullable Session session();

  /** Shows an error until it is dismissed. */
  void banner(@Nullable String text);

  /**
   * Shows a message with choices until one is taken.
   *
   * @return takes the message away, where the question does not arise any more
   */
  Runnable offer(String text, Banner.Choice... choices);

  /** Opens a drawer over the viewer. */
  void openDrawer(String title, Node content);

  /** Closes the drawer, if one is open. */
  void closeDrawer();

  /** Says that a plan or scene is being opened. */
  void opening(java.nio.file.Path file);

  /** Shows a shot that was opened. */
  void opened(Session.Opened opened);

  /** Shows another scene of the open shot, or the same as it is on disk now. */
  void sceneChanged();

  /** Says that opening failed; what was open stays. */
  void notOpened();

  /** Says that the plan has been saved. */
  void saved();
}
