package org.wedgecutter.core.trace;

/** Where pixels of a picture lie in the world, and places of the world in the picture. */
public final class CameraView {
  private final CameraRays rays;

  CameraView(CameraRays rays) {
    this.rays = rays;
  }

  /**
   * Finds where the ray through the middle of a pixel meets a plane.
   *
   * @param out distances along the plane's axes, metres
   * @return whether it meets the plane in front of the camera
   */
  public boolean onPlane(int x, int y, Plane plane, double[] out) {
    return rays.onPlane(x, y, plane, out);
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
