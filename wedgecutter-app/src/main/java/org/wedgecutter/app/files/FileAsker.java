package org.wedgecutter.app.files;

import java.io.File;
import java.nio.file.Path;
import javafx.stage.FileChooser;
import javafx.stage.Window;
import org.jspecify.annotations.Nullable;

/** Asks for files. */
public interface FileAsker {
  /**
   * Asks for a file that exists.
   *
   * @param patterns such as {@code *.wedge}
   */
  @Nullable Path toOpen(String title, String... patterns);

  /**
   * Asks for a file to write.
   *
   * @param suggested folder and name to begin with
   */
  @Nullable Path toSave(String title, Path suggested, String pattern);

  /** Asks by the system's own dialogs. */
  static FileAsker of(Window owner) {
    return new FileAsker() {
      @Override
      public @Nullable Path toOpen(String title, String... patterns) {
        FileChooser chooser = new FileChooser();
        chooser.setTitle(title);
        chooser
            .getExtensionFilters()
            .add(new FileChooser.ExtensionFilter(String.join(" ", patterns), patterns));
        File file = chooser.showOpenDialog(owner);
        return file == null ? null : file.toPath();
      }

      @Override
      public @Nullable Path toSave(String title, Path suggested, String pattern) {
        FileChooser chooser = new FileChooser();
        chooser.setTitle(title);
        chooser.getExtensionFilters().add(new FileChooser.ExtensionFilter(pattern, pattern));
        Path folder = suggested.toAbsolutePath().getParent();
        if (folder != null && folder.toFile().isDirectory()) {
          chooser.setInitialDirectory(folder.toFile());
        }
        chooser.setInitialFileName(String.valueOf(suggested.getFileName()));
        File file = chooser.showSaveDialog(owner);
        return file == null ? null : file.toPath();
      }
    };
  }
}
