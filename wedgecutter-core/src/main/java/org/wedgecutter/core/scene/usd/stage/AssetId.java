package org.wedgecutter.core.scene.usd.stage;

import java.nio.file.Path;

/**
 * A file of a stage, in a folder or in a package.
 *
 * @param file the file, or the package that holds it
 * @param inside its name in the package; empty if it is in none
 */
public record AssetId(Path file, String inside) {
  /** A file in a folder. */
  static AssetId of(Path file) {
    return new AssetId(file, "");
  }

  boolean isPacked() {
    return !inside.isEmpty();
  }

  /** Returns the last part of its name, with that of its package in front. */
  String name() {
    String own = String.valueOf(file.getFileName());
    return isPacked() ? own + "[" + inside + "]" : own;
  }
}
