package org.wedgecutter.core.fragment;

import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.resolve.EntitySet;
import org.wedgecutter.core.scene.Scene;
import org.wedgecutter.core.trace.CameraView;
import org.wedgecutter.core.trace.Plane;

/** What pictures of layers need beside light: names, the plate, places. */
public interface Stage {
  /** Returns the scene. */
  Scene scene();

  /** Returns the plate at a size in pixels, or null if there is none. */
  @Nullable Picture plate(int width, int height);

  /** Returns where pixels of a picture of a size lie in the world. */
  CameraView view(int width, int height);

  /**
   * Returns the plane of some surfaces where things stand on them.
   *
   * @param given a place that the plane's centre lies above or below, or null for where the things
   *     stand
   * @param size of the part of the surfaces that counts, metres
   */
  Plane plane(EntitySet surfaces, EntitySet things, double @Nullable [] given, double size);
}
