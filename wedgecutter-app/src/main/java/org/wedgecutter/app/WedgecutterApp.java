package org.wedgecutter.app;

import java.nio.file.Path;
import java.util.List;
import javafx.application.Application;
import javafx.stage.Stage;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.app.model.ReadAhead;
import org.wedgecutter.app.stations.MainWindow;
import org.wedgecutter.app.stations.StartTimes;
import org.wedgecutter.app.theme.Theme;

/** Starts the window. Parameters: the file to open or an empty text, and the theme. */
public final class WedgecutterApp extends Application {
  private @Nullable MainWindow window;

  @Override
  public void start(Stage stage) {
    Theme.loadFonts();
    MainWindow main = new MainWindow(stage);
    window = main;
    List<String> parameters = getParameters().getRaw();
    if (parameters.size() > 1 && parameters.get(1).equals("light")) {
      main.setTheme(Theme.LIGHT);
    }
    stage.show();
    // the second pulse finds the first one on the screen
    stage
        .getScene()
        .addPostLayoutPulseListener(() -> {
          StartTimes.drawn();
          ReadAhead.hurry();
        });
    if (!parameters.isEmpty() && !parameters.getFirst().isEmpty()) {
      main.open(Path.of(parameters.getFirst()));
    }
  }

  @Override
  public void stop() {
    if (window != null) {
      window.close();
    }
  }
}
