package org.wedgecutter.core.scene.usd.stage;

import org.jspecify.annotations.Nullable;

/**
 * The path of a file in an attribute.
 *
 * @param written as the layer holds it
 * @param from the layer that holds it, which relative paths start at; null before composition
 */
public record AssetPath(String written, @Nullable AssetId from) {
  /** A path as a layer's reader finds it. */
  static AssetPath of(String written) {
    return new AssetPath(written, null);
  }

  @Override
  public String toString() {
    return written;
  }
}
