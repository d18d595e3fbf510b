package org.wedgecutter.app.shell;

import java.lang.management.ManagementFactory;
import java.util.HashSet;
import java.util.Set;
import javafx.application.Platform;
import org.wedgecutter.app.live.Pictures;

/**
 * Prints how long after the command was given the window was first drawn, and its first picture
 * shown: {@code -Dwedgecutter.times=tell} prints both, {@code leave} also ends the program then, so
 * that starts can be timed one after another.
 */
public final class StartTimes implements WindowListener {
  private final String wish = System.getProperty("wedgecutter.times", "");
  private final Set<String> told = new HashSet<>();

  /** The window was drawn. */
  public void drawn() {
    tell("window");
  }

  @Override
  public void shown(Pictures pictures, double editMillis) {
    tell("picture");
    if (wish.equals("leave")) {
      Platform.exit();
    }
  }

  private void tell(String what) {
    if (!wish.isEmpty() && told.add(what)) {
      System.err.printf("%s after %d ms%n", what, System.currentTimeMillis() - begun());
    }
  }

  /** When the command was given, or, if the launcher cannot tell, when the Java process began. */
  private static long begun() {
    String given = System.getProperty("wedgecutter.begun", "").replace(',', '.');
    return given.isEmpty()
        ? ManagementFactory.getRuntimeMXBean().getStartTime()
        : (long) (Double.parseDouble(given) * 1000);
  }
}
