package org.wedgecutter.core.trace.bsdf;

/**
 * A frame about a direction: two tangents that make it an orthonormal basis. Everything that turns
 * a direction from a frame into the world does it by this. One object serves one thread.
 *
 * <p>Source: T. Duff et al., "Building an Orthonormal Basis, Revisited", JCGT 6(1), 2017.
 */
public final class ShadingFrame {
  /** The direction, unit. */
  public float nx;

  public float ny;
  public float nz;

  /** The first tangent. */
  public float sx;

  public float sy;
  public float sz;

  /** The second tangent. */
  public float tx;

  public float ty;
  public float tz;

  /** Makes the frame about a unit direction. */
  public void about(float x, float y, float z) {
    nx = x;
    ny = y;
    nz = z;
    float sign = Math.copySign(1f, z);
    float a = -1 / (sign + z);
    float b = x * y * a;
    sx = 1 + sign * x * x * a;
    sy = sign * b;
    sz = -sign * x;
    tx = b;
    ty = sign + y * y * a;
    tz = -y;
  }

  /** Returns x in the world of a vector in the frame. */
  public float x(float s, float t, float n) {
    return s * sx + t * tx + n * nx;
  }

  /** Returns y in the world of a vector in the frame. */
  public float y(float s, float t, float n) {
    return s * sy + t * ty + n * ny;
  }

  /** Returns z in the world of a vector in the frame. */
  public float z(float s, float t, float n) {
    return s * sz + t * tz + n * nz;
  }

  /** Returns how far a vector of the world goes along the first tangent. */
  public float s(float x, float y, float z) {
    return x * sx + y * sy + z * sz;
  }

  /** Returns how far a vector of the world goes along the second tangent. */
  public float t(float x, float y, float z) {
    return x * tx + y * ty + z * tz;
  }
}
