package org.wedgecutter.app.files;

import java.nio.file.Path;

/**
 * The folder of what belongs to no shot: recent files, preferences and unsaved changes. By the XDG
 * base directory convention, unless the property {@code wedgecutter.state} says otherwise.
 */
public final class StateFolder {
  private StateFolder() {}

  /** Returns the folder; it may not exist yet. */
  public static Path path() {
    String own = System.getProperty("wedgecutter.state", "");
    if (!own.isEmpty()) {
      return Path.of(own);
    }
    String xdg = System.getenv("XDG_STATE_HOME");
    Path base =
        xdg == null || xdg.isEmpty()
            ? Path.of(System.getProperty("user.home"), ".local", "state")
            : Path.of(xdg);
    return base.resolve("wedgecutter");
  }
}
