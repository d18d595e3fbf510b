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
      // the next dialog opens where the last one ended
      private @Nullable File folder;

      private @Nullable Path taken(@Nullable File file) {
        if (file == null) {
          return null;
        }
        folder = file.getParentFile();
        return file.toPath();
      }

      @Override
      public @Nullable Path toOpen(String title, String... patterns) {
        FileChooser chooser = new FileChooser();
        chooser.setTitle(title);
        chooser
            .getExtensionFilters()
            .add(new FileChooser.ExtensionFilter(String.join(" ", patterns), patterns));
        if (folder != null && folder.isDirectory()) {
          chooser.setInitialDirectory(folder);
        }
        return taken(chooser.showOpenDialog(owner));
      }

      @Override
      public @Nullable Path toSave(String title, Path suggested, String pattern) {
        FileChooser chooser = new FileChooser();
        chooser.setTitle(title);
        chooser.getExtensionFilters().add(new FileChooser.ExtensionFilter(pattern, pattern));
        Path parent = suggested.toAbsolutePath().getParent();
        if (parent != null && parent.toFile().isDirectory()) {
          chooser.setInitialDirectory(parent.toFile());
        }
        chooser.setInitialFileName(String.valueOf(suggested.getFileName()));
        return taken(chooser.showSaveDialog(owner));
      }
    };
  }
}
