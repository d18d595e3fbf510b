package org.wedgecutter.core.trace;

import org.joml.Matrix4f;
import org.wedgecutter.core.scene.Projection;
import org.wedgecutter.core.scene.SceneCamera;
import org.wedgecutter.core.trace.accel.Instances;
import org.wedgecutter.core.trace.accel.MotionPath;
import org.wedgecutter.core.trace.accel.RayCaster;

/**
 * Rays of a camera with a thin lens, through a picture that may be shifted and bent. The filter of
 * a pixel is a tent two pixels wide, importance-sampled: a sample belongs to the pixel that it was
 * drawn for and counts fully.
 */
final class CameraRays {
  private static final int NUMBERS = 12;

  private final MotionPath path;
  private final float[] placed = new float[MotionPath.SIZE];

  /** Position, right, up and forward at the moment that was asked for last. */
  private final float[] now = new float[NUMBERS];

  private final float[] middle;
  private final float[] before;
  private final float[] after;
  private final int width;
  private final int height;
  private final float scale;
  private final float aperture;
  private final float focus;
  private final Projection projection;

  /** How far the picture's middle lies from the axis, pixels to the right and up. */
  private final float shiftX;

  private final float shiftY;

  /** Half of the picture's diagonal at distance 1. */
  private final double diagonal;

  CameraRays(SceneCamera camera, PreparedFrame world, int width, int height) {
    middle = frame(camera.in(world.motion().middle()));
    path =
        camera.node() < 0
            ? MotionPath.still(camera.in(world.motion().middle()))
            : world.motion().path(camera.node());
    System.arraycopy(middle, 0, now, 0, NUMBERS);
    before = frame(camera.in(world.before()));
    after = frame(camera.in(world.after()));
    this.width = width;
    this.height = height;
    scale = (float) (2 * Math.tan(camera.verticalView() / 2) / height);
    aperture = camera.apertureRadius();
    focus = camera.lens().focus();
    projection = camera.projection();
    shiftX = (float) (projection.right() * height);
    shiftY = (float) (projection.up() * height);
    diagonal = scale * Math.hypot(width, height) / 2;
  }

  /** What a direction's distances from the axis are multiplied by to leave out the distortion. */
  private double straightening(double a, double b) {
    return projection.straightening((a * a + b * b) / (diagonal * diagonal));
  }

  private static float[] frame(Matrix4f m) {
    float[] rows = new float[MotionPath.SIZE];
    Instances.store(m, rows, 0);
    float[] out = new float[NUMBERS];
    frame(rows, out);
    return out;
  }

  /** Position, right, up and forward of a transform; the camera looks along its node's -z. */
  private static void frame(float[] m, float[] out) {
    for (int axis = 0; axis < 3; axis++) {
      out[axis] = m[4 * axis + 3];
    }
    for (int column = 0; column < 3; column++) {
      float x = m[column];
      float y = m[4 + column];
      float z = m[8 + column];
      float inv = (column == 2 ? -1 : 1) / (float) Math.sqrt(x * x + y * y + z * z);
      out[3 + 3 * column] = x * inv;
      out[4 + 3 * column] = y * inv;
      out[5 + 3 * column] = z * inv;
    }
  }

  /** Width of a pixel's cone at distance 1. */
  float spread() {
    return scale;
  }

  /** Whether a point on the lens must be sampled. */
  boolean hasLens() {
    return aperture > 0;
  }

  /**
   * Aims the caster through a pixel.
   *
   * @param u position in the pixel's filter, with v
   * @param lensU point on the lens, with lensV; unused for a pinhole
   */
  void aim(int x, int y, float u, float v, float lensU, float lensV, RayCaster out) {
    if (path.moves()) {
      path.at(out.moment.time(), placed, 0);
      frame(placed, now);
    }
    float[] f = now;
    float a = (x + 0.5f + tent(u) - 0.5f * width + shiftX) * scale;
    float b = (0.5f * height - (y + 0.5f + tent(v)) + shiftY) * scale;
    if (projection.isBent()) {
      float straight = (float) straightening(a, b);
      a *= straight;
      b *= straight;
    }
    float p = 0;
    float q = 0;
    if (aperture > 0) {
      float r = aperture * (float) Math.sqrt(lensU);
      p = r * (float) Math.cos(2 * Math.PI * lensV);
      q = r * (float) Math.sin(2 * Math.PI * lensV);
      // the ray goes to where the one through the lens centre meets the focus plane
      a -= p / focus;
      b -= q / focus;
    }
    float dx = f[9] + a * f[3] + b * f[6];
    float dy = f[10] + a * f[4] + b * f[7];
    float dz = f[11] + a * f[5] + b * f[8];
    float inv = 1 / (float) Math.sqrt(dx * dx + dy * dy + dz * dz);
    out.ray(
        f[0] + p * f[3] + q * f[6],
        f[1] + p * f[4] + q * f[7],
        f[2] + p * f[5] + q * f[8],
        dx * inv,
        dy * inv,
        dz * inv);
  }

  /** Returns how fast the ray that was aimed last goes along the axis: the cosine between them. */
  float along(RayCaster ray) {
    return ray.dx * now[9] + ray.dy * now[10] + ray.dz * now[11];
  }

  private static float tent(float u) {
    return u < 0.5f ? (float) Math.sqrt(2 * u) - 1 : 1 - (float) Math.sqrt(Math.max(0, 2 - 2 * u));
  }

  /** Distance along the axis of a place, in the shutter's middle. */
  float depth(float x, float y, float z) {
    float[] f = middle;
    return (x - f[0]) * f[9] + (y - f[1]) * f[10] + (z - f[2]) * f[11];
  }

  /**
   * Sets by how many pixels something moves to the next frame (right, down) and from the one before
   * to this.
   *
   * @param now where it is in the shutter's middle; then, a frame before and after
   */
  void motion(float[] now, float[] earlier, float[] later, float[] out) {
    project(middle, now);
    float x = px;
    float y = py;
    project(after, later);
    out[0] = px - x;
    out[1] = py - y;
    project(before, earlier);
    out[2] = x - px;
    out[3] = y - py;
  }

  private float px;
  private float py;

  private void project(float[] f, float[] p) {
    float x = p[0] - f[0];
    float y = p[1] - f[1];
    float z = p[2] - f[2];
    float ahead = Math.max(1e-6f, x * f[9] + y * f[10] + z * f[11]);
    float a = (x * f[3] + y * f[4] + z * f[5]) / ahead;
    float b = (x * f[6] + y * f[7] + z * f[8]) / ahead;
    if (projection.isBent()) {
      double straight = Math.hypot(a, b) / diagonal;
      float bent = straight > 0 ? (float) (projection.bent(straight) / straight) : 1;
      a *= bent;
      b *= bent;
    }
    px = a / scale - shiftX;
    py = shiftY - b / scale;
  }

  /** Where the ray through a pixel's middle meets a plane: distances along its axes. */
  boolean onPlane(int x, int y, Plane plane, double[] out) {
    float[] f = middle;
    double a = (x + 0.5 - 0.5 * width + shiftX) * scale;
    double b = (0.5 * height - (y + 0.5) + shiftY) * scale;
    double straight = straightening(a, b);
    a *= straight;
    b *= straight;
    double[] d = new double[3];
    double[] from = new double[3];
    for (int k = 0; k < 3; k++) {
      d[k] = f[9 + k] + a * f[3 + k] + b * f[6 + k];
      from[k] = f[k] - plane.centre()[k];
    }
    double[] n = plane.normal();
    double t = -Plane.dot(from, n) / Plane.dot(d, n);
    out[0] = Plane.dot(from, plane.first()) + t * Plane.dot(d, plane.first());
    out[1] = Plane.dot(from, plane.second()) + t * Plane.dot(d, plane.second());
    return t > 0 && Double.isFinite(t);
  }

  /** Where in the picture a place is seen; returns whether it is in front. */
  boolean pixel(double[] place, double[] out) {
    float[] p = {(float) place[0], (float) place[1], (float) place[2]};
    project(middle, p);
    out[0] = px + 0.5 * width;
    out[1] = py + 0.5 * height;
    return depth(p[0], p[1], p[2]) > 0;
  }
}
