package org.wedgecutter.core.trace;

/** Takes the fragments of camera samples as they are found. */
@FunctionalInterface
public interface FragmentSink {
  /**
   * Takes one fragment.
   *
   * @param view number of the view that sees it
   * @param pixel number of the pixel within the tile
   * @param fragment the fragment, which is used again after the call
   */
  void fragment(int view, int pixel, Fragment fragment);
}
