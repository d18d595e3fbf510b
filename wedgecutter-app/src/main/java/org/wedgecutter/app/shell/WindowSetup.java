package org.wedgecutter.app.shell;

import java.nio.file.Path;
import java.util.List;
import java.util.function.Function;
import javafx.stage.Window;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.app.files.FileAsker;
import org.wedgecutter.app.files.ReadAhead;
import org.wedgecutter.app.station.Workbench;

/**
 * What a window is made of.
 *
 * @param stations makes each station, in the order of the work
 * @param home the station that is shown first, and that findings lead to
 * @param asker asks for files
 * @param ahead reads the first shot while the window is made, or null
 * @param stateFolder where unsaved changes, recent files and preferences are kept
 * @param listener receives events
 */
public record WindowSetup(
    List<Workbench.Maker> stations,
    String home,
    Function<Window, FileAsker> asker,
    @Nullable ReadAhead ahead,
    Path stateFolder,
    WindowListener listener) {
  public WindowSetup {
    stations = List.copyOf(stations);
  }
}
