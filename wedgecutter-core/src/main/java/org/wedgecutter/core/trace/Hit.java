package org.wedgecutter.core.trace;

/** Where a ray met a triangle; one object serves one ray at a time. */
final class Hit {
  /** Distance in units of the ray's direction; infinity if nothing was met. */
  float t;

  /** Number of the instance, or -1. */
  int instance;

  /** Number of the triangle in its mesh. */
  int triangle;

  /** Barycentric weights of the second and third corner. */
  float u;

  float v;

  void clear(float far) {
    t = far;
    instance = -1;
    triangle = -1;
  }

  boolean found() {
    return instance >= 0;
  }
}
