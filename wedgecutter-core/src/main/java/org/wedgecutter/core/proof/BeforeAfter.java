package org.wedgecutter.core.proof;

import org.wedgecutter.core.image.Picture;

/**
 * Small pictures of a frame, for eyes.
 *
 * @param uncut the uncut frame
 * @param before what is rejoined
 * @param after what would be rejoined with one cause undone
 */
public record BeforeAfter(Picture uncut, Picture before, Picture after) {
  /** Returns a rejoined picture minus the uncut frame, per channel. */
  public Picture residual(Picture rejoined) {
    Picture out = rejoined.copy();
    for (int i = 0; i < out.rgba().length; i++) {
      out.rgba()[i] -= uncut.rgba()[i];
    }
    return out;
  }
}
