package org.wedgecutter.core.fragment;

import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.resolve.EntitySet;
import org.wedgecutter.core.scene.Scene;
import org.wedgecutter.core.trace.CameraView;

/** What pictures of layers need beside light: names, the plate, places. */
public interface Stage {
  /** Returns the scene. */
  Scene scene();

  /** Returns the plate at a size in pixels, or null if there is none. */
  @Nullable Picture plate(int width, int height);

  /** Returns where pixels of a picture of a size lie in the world. */
  CameraView view(int width, int height);

  /** Returns the middle of the foot of some meshes, x, y, z. */
  double[] foot(EntitySet entities);
}
