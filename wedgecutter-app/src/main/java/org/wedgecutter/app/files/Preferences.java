package org.wedgecutter.app.files;

import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Properties;
import org.wedgecutter.core.io.AtomicFile;

/** What the window remembers from one start to the next, beside files: the theme. */
public final class Preferences {
  private static final String THEME = "theme";
  private final Path file;

  /** Reads and writes them in a folder. */
  public Preferences(Path folder) {
    file = folder.resolve("preferences.properties");
  }

  private Properties read() {
    Properties out = new Properties();
    try (InputStream in = Files.newInputStream(file)) {
      out.load(in);
    } catch (IOException | IllegalArgumentException e) {
      // nothing was kept yet, or the file is broken: the window starts as it ships
      return new Properties();
    }
    return out;
  }

  /** Returns the name of the theme that was chosen last, or an empty text. */
  public String theme() {
    return read().getProperty(THEME, "");
  }

  /** Remembers the name of the theme. */
  public void setTheme(String name) throws IOException {
    Properties all = read();
    all.setProperty(THEME, name);
    AtomicFile.write(file, out -> all.store(out, null));
  }
}
