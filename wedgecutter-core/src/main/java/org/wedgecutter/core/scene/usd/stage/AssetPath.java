package org.wedgecutter.core.scene.usd.stage;

/**
 * The path of a file in an attribute.
 *
 * @param written as the layer holds it
 * @param from identifier of the layer that holds it, which relative paths start at; empty before
 *     composition
 */
public record AssetPath(String written, String from) {
  @Override
  public String toString() {
    return written;
  }
}
