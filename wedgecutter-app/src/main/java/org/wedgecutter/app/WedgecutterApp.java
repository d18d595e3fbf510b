package org.wedgecutter.app;

import java.nio.file.Path;
import java.util.List;
import java.util.Locale;
import javafx.stage.Stage;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.app.files.FileAsker;
import org.wedgecutter.app.files.Preferences;
import org.wedgecutter.app.files.ReadAhead;
import org.wedgecutter.app.files.StateFolder;
import org.wedgecutter.app.shell.MainWindow;
import org.wedgecutter.app.shell.StartTimes;
import org.wedgecutter.app.shell.WindowListener;
import org.wedgecutter.app.shell.WindowSetup;
import org.wedgecutter.app.station.Workbench;
import org.wedgecutter.app.station.cut.CutStation;
import org.wedgecutter.app.station.output.OutputStation;
import org.wedgecutter.app.station.rejoin.RejoinStation;
import org.wedgecutter.app.station.render.RenderStation;
import org.wedgecutter.app.station.shot.ShotStation;
import org.wedgecutter.app.theme.Theme;

/** Puts the application together: one window with all stations. */
public final class WedgecutterApp {
  /** All stations, in the order of the work. */
  public static final List<Workbench.Maker> STATIONS =
      List.of(
          ShotStation::new,
          CutStation::new,
          OutputStation::new,
          RenderStation::new,
          RejoinStation::new);

  /** The station that is shown first. */
  public static final String HOME = "cut";

  private WedgecutterApp() {}

  /**
   * Opens the window; on the interface thread.
   *
   * @param file what to open, or null
   * @param ahead reads the file already, or null
   * @param wanted the theme, or null for the one that was chosen last
   */
  static void start(
      Stage stage, @Nullable Path file, @Nullable ReadAhead ahead, @Nullable Theme wanted) {
    Theme.loadFonts();
    StartTimes times = new StartTimes();
    Path state = StateFolder.path();
    MainWindow window =
        new MainWindow(
            stage,
            new WindowSetup(STATIONS, HOME, FileAsker::of, ahead, state, (WindowListener) times));
    Theme theme = wanted == null ? remembered(state) : wanted;
    if (theme != Theme.DARK) {
      window.setTheme(theme);
    }
    Thread.setDefaultUncaughtExceptionHandler(window::uncaught);
    Thread.currentThread().setUncaughtExceptionHandler(window::uncaught);
    Runtime.getRuntime().addShutdownHook(Thread.ofPlatform().unstarted(window::keepNow));
    stage.setOnCloseRequest(e -> {
      if (!window.mayClose(stage::hide)) {
        e.consume();
      }
    });
    stage.setOnHidden(e -> window.close());
    stage.show();
    // the second pulse finds the first one on the screen
    stage
        .getScene()
        .addPostLayoutPulseListener(() -> {
          times.drawn();
          if (ahead != null) {
            ahead.hurry();
          }
        });
    if (file != null) {
      window.open(file);
    }
  }

  private static Theme remembered(Path state) {
    String name = new Preferences(state).theme().toUpperCase(Locale.ROOT);
    return name.equals(Theme.LIGHT.name()) ? Theme.LIGHT : Theme.DARK;
  }
}
