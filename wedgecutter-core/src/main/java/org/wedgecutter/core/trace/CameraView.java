package org.wedgecutter.core.trace;

/** Where pixels of a picture lie in the world, and places of the world in the picture. */
public final class CameraView {
  private final CameraRays rays;

  CameraView(CameraRays rays) {
    this.rays = rays;
  }

  /**
   * Finds where the ray through the middle of a pixel meets a level plane.
   *
   * @param height of the plane in the world, metres
   * @param out x and z of the place
   * @return whether it meets the plane in front of the camera
   */
  public boolean onLevel(int x, int y, double height, double[] out) {
    return rays.onLevel(x, y, height, out);
  }

  /**
   * Finds where in the picture a place of the world is seen.
   *
   * @param place x, y, z in metres
   * @param out pixels from the left and from the top; the first pixel's middle is at 0.5
   * @return whether it is in front of the camera
   */
  public boolean project(double[] place, double[] out) {
    return rays.pixel(place, out);
  }
}
