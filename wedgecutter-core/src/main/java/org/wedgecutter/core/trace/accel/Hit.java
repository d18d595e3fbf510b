package org.wedgecutter.core.trace.accel;

/** Where a ray met a triangle; one object serves one ray at a time. */
public final class Hit {
  /** Distance in units of the ray's direction; infinity if nothing was met. */
  public float t;

  /** Number of the instance, or -1. */
  public int instance;

  /** Number of the triangle in its mesh. */
  public int triangle;

  /** Barycentric weights of the second and third corner. */
  public float u;

  public float v;

  void clear(float far) {
    t = far;
    instance = -1;
    triangle = -1;
  }

  public boolean found() {
    return instance >= 0;
  }
}
