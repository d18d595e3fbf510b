package org.wedgecutter.core.plan;

import org.wedgecutter.exr.Compression;

/**
 * What is written.
 *
 * @param name template of file names, without extension
 * @param half whether colours are half floats; else 32-bit floats
 * @param compression how the files are packed
 * @param passes whether the passes are written beside the beauty
 * @param extra unknown keys
 */
public record Output(
    String name, boolean half, Compression compression, boolean passes, Extra extra) {
  /** The default template. */
  public static final String DEFAULT_NAME = "{shot}/{layer}/{shot}_{layer}.{frame:4}";

  /** Returns it with another template. */
  public Output withName(String next) {
    return new Output(next, half, compression, passes, extra);
  }
}
