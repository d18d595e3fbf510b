package org.wedgecutter.app.stations;

import java.lang.management.ManagementFactory;
import java.util.concurrent.atomic.AtomicBoolean;
import javafx.application.Platform;

/**
 * Tells how long after the command was given the window was first drawn, and the first picture
 * shown: {@code -Dwedgecutter.times=tell} prints both, {@code leave} also ends the program then, so
 * that starts can be timed one after another.
 */
public final class StartTimes {
  private static final String WISH = System.getProperty("wedgecutter.times", "");
  private static final AtomicBoolean DRAWN = new AtomicBoolean();
  private static final AtomicBoolean PICTURED = new AtomicBoolean();

  private StartTimes() {}

  /** The window was drawn. */
  public static void drawn() {
    tell("window", DRAWN);
  }

  /** A picture was shown. */
  static void pictured() {
    tell("picture", PICTURED);
    if (WISH.equals("leave")) {
      Platform.exit();
    }
  }

  private static void tell(String what, AtomicBoolean once) {
    if (!WISH.isEmpty() && once.compareAndSet(false, true)) {
      System.err.printf("%s after %d ms%n", what, System.currentTimeMillis() - begun());
    }
  }

  /** When the command was begun, or, if the launcher cannot tell, the Java process. */
  private static long begun() {
    String told = System.getProperty("wedgecutter.begun", "").replace(',', '.');
    return told.isEmpty()
        ? ManagementFactory.getRuntimeMXBean().getStartTime()
        : (long) (Double.parseDouble(told) * 1000);
  }
}
