package org.wedgecutter.core.trace;

/** Takes the fragments of camera samples as they are found. */
@FunctionalInterface
public interface FragmentSink {
  /**
   * Takes one fragment.
   *
   * @param view number of the view that sees it
   * @param pixel number of the pixel within the tile
   * @param entity what was met
   * @param throughput share of the camera's light that gets here: what is in front takes the rest,
   *     0 to 1
   * @param light outgoing light times opacity, split as {@link org.wedgecutter.core.pass.LightPass}
   *     says; the array is used again after the call
   * @param opacity share that the entity stops, 0 to 1
   */
  void fragment(int view, int pixel, int entity, float throughput, float[] light, float opacity);
}
