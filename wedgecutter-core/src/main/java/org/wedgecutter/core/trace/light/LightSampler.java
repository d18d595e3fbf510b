package org.wedgecutter.core.trace.light;

import org.wedgecutter.core.scene.Light;
import org.wedgecutter.core.trace.accel.Hit;
import org.wedgecutter.core.trace.accel.Moment;
import org.wedgecutter.core.trace.accel.MotionPath;
import org.wedgecutter.core.trace.accel.RayCaster;
import org.wedgecutter.core.trace.bsdf.ShadingFrame;
import org.wedgecutter.core.trace.bsdf.SurfaceReader;

/**
 * Samples a point or direction on an emitter as seen from a point, and finds the lights that a ray
 * hits. One object serves one thread.
 */
public final class LightSampler {
  private final EnvironmentMap environment;
  private final SurfaceReader reader;
  private final EnvironmentMap.Pick pick = new EnvironmentMap.Pick();
  private final float[] corners = new float[9];

  private final ShadingFrame axis = new ShadingFrame();

  private final Moment moment;
  private final float[] placed = new float[MotionPath.SIZE];

  /** Direction to the light, unit. */
  public float x;

  public float y;
  public float z;

  /** How far a blocker may be. */
  public float distance;

  /** Light that comes from there: radiance, or for a point the irradiance facing it. */
  public final float[] radiance = new float[3];

  /** Density over solid angle; without meaning for a point. */
  public float pdf;

  /** Whether the direction has no width. */
  public boolean point;

  /**
   * @param moment of this thread
   */
  public LightSampler(Moment moment, EnvironmentMap environment, SurfaceReader reader) {
    this.moment = moment;
    this.environment = environment;
    this.reader = reader;
  }

  /** Picks, as seen from a place; returns whether any light can come from there. */
  public boolean sample(Emitters.Emitter emitter, float px, float py, float pz, float u, float v) {
    return switch (emitter) {
      case Emitters.Shining s -> shining(s, px, py, pz, u, v);
      case Emitters.Area a -> area(a, px, py, pz, u, v);
      case Emitters.Surround s -> surround(u, v);
    };
  }

  private boolean surround(float u, float v) {
    environment.sample(u, v, pick);
    x = pick.x;
    y = pick.y;
    z = pick.z;
    pdf = pick.pdf;
    distance = Float.POSITIVE_INFINITY;
    point = false;
    System.arraycopy(pick.radiance, 0, radiance, 0, 3);
    return pdf > 0;
  }

  private boolean shining(Emitters.Shining s, float px, float py, float pz, float u, float v) {
    float[] m = placed(s);
    Light light = s.light();
    radiance[0] = light.intensity().r();
    radiance[1] = light.intensity().g();
    radiance[2] = light.intensity().b();
    point = false;
    return switch (light.type()) {
      case POINT, SPOT -> punctual(light, m, px, py, pz);
      case DIRECTIONAL -> directional(s, m, u, v);
      case RECTANGLE, DISC -> flat(light, m, px, py, pz, u, v);
      case SPHERE -> sphere(light, m, px, py, pz, u, v);
    };
  }

  private boolean punctual(Light light, float[] m, float px, float py, float pz) {
    point = true;
    pdf = 1;
    towards(m[3] - px, m[7] - py, m[11] - pz);
    float strength = 1 / (distance * distance);
    distance *= 1 - 1e-5f;
    if (light.type() == Light.Type.SPOT) {
      strength *= cone(light, m);
    }
    dim(strength);
    return strength > 0 && Float.isFinite(strength);
  }

  /** Returns the transform of a light at the moment, valid until another is asked for. */
  public float[] placed(Emitters.Shining s) {
    if (!s.path().moves()) {
      return s.path().standing();
    }
    s.path().at(moment.time(), placed, 0);
    return placed;
  }

  private void dim(float strength) {
    radiance[0] *= strength;
    radiance[1] *= strength;
    radiance[2] *= strength;
  }

  /** The smooth edge that KHR_lights_punctual recommends. */
  private float cone(Light light, float[] m) {
    double length = Math.sqrt(m[2] * m[2] + m[6] * m[6] + m[10] * m[10]);
    double cos = (x * m[2] + y * m[6] + z * m[10]) / Math.max(1e-20, length);
    double inner = Math.cos(light.innerCone());
    double outer = Math.cos(light.outerCone());
    double part = (cos - outer) / Math.max(1e-4, inner - outer);
    double clamped = Math.max(0, Math.min(1, part));
    return (float) (clamped * clamped);
  }

  private boolean directional(Emitters.Shining s, float[] m, float u, float v) {
    distance = Float.POSITIVE_INFINITY;
    axis(m);
    if (s.halfAngle() <= 0) {
      point = true;
      pdf = 1;
      return true;
    }
    // a disc in the sky: its radiance times its solid angle, each part with its cosine, is the
    // irradiance facing its middle
    float cos = (float) Math.cos(s.halfAngle());
    pdf = disc(s.halfAngle());
    float sin2 = 1 - cos * cos;
    dim(1 / ((float) Math.PI * Math.max(1e-12f, sin2)));
    around(x, y, z, 1 - u * (1 - cos), v);
    return true;
  }

  /** Density of even directions in a cone. */
  private static float disc(float halfAngle) {
    return 1 / (2 * (float) Math.PI * Math.max(1e-12f, 1 - (float) Math.cos(halfAngle)));
  }

  /** Direction to where light along the node's -z axis comes from. */
  private void axis(float[] m) {
    float inv = 1 / Math.max(1e-20f, (float) Math.sqrt(m[2] * m[2] + m[6] * m[6] + m[10] * m[10]));
    x = m[2] * inv;
    y = m[6] * inv;
    z = m[10] * inv;
  }

  /** Turns to a direction at an angle from an axis. */
  private void around(float ax, float ay, float az, float cos, float v) {
    float sin = (float) Math.sqrt(Math.max(0, 1 - cos * cos));
    float phi = 2 * (float) Math.PI * v;
    float lx = sin * (float) Math.cos(phi);
    float ly = sin * (float) Math.sin(phi);
    axis.about(ax, ay, az);
    x = axis.x(lx, ly, cos);
    y = axis.y(lx, ly, cos);
    z = axis.z(lx, ly, cos);
  }

  private boolean flat(Light light, float[] m, float px, float py, float pz, float u, float v) {
    float a;
    float b;
    if (light.type() == Light.Type.RECTANGLE) {
      a = (u - 0.5f) * light.width();
      b = (v - 0.5f) * light.height();
    } else {
      float r = 0.5f * light.width() * (float) Math.sqrt(u);
      a = r * (float) Math.cos(2 * Math.PI * v);
      b = r * (float) Math.sin(2 * Math.PI * v);
    }
    towards(
        m[0] * a + m[1] * b + m[3] - px,
        m[4] * a + m[5] * b + m[7] - py,
        m[8] * a + m[9] * b + m[11] - pz);
    pdf = flatPdf(light, m, x, y, z, distance);
    distance *= 1 - 1e-5f;
    return pdf > 0;
  }

  /** Density over solid angle of a point of a flat light; 0 behind it. */
  private static float flatPdf(Light light, float[] m, float x, float y, float z, float distance) {
    float nx = m[4] * m[9] - m[8] * m[5];
    float ny = m[8] * m[1] - m[0] * m[9];
    float nz = m[0] * m[5] - m[4] * m[1];
    float grown = (float) Math.sqrt(nx * nx + ny * ny + nz * nz);
    // it shines to the side of -z, so a direction to it goes along +z
    float facing = (x * m[2] + y * m[6] + z * m[10]) > 0 ? 1 : 0;
    float cos = Math.abs(x * nx + y * ny + z * nz) / Math.max(1e-20f, grown);
    float area =
        light.type() == Light.Type.RECTANGLE
            ? light.width() * light.height()
            : 0.25f * (float) Math.PI * light.width() * light.width();
    return cos > 1e-6f ? facing * distance * distance / (cos * area * grown) : 0;
  }

  /** Radius of a round light under a transform: as its volume is scaled. */
  static float radius(Light light, float[] m) {
    double det =
        m[0] * (double) (m[5] * m[10] - m[6] * m[9])
            - m[1] * (double) (m[4] * m[10] - m[6] * m[8])
            + m[2] * (double) (m[4] * m[9] - m[5] * m[8]);
    return 0.5f * light.width() * (float) Math.cbrt(Math.abs(det));
  }

  private boolean sphere(Light light, float[] m, float px, float py, float pz, float u, float v) {
    towards(m[3] - px, m[7] - py, m[11] - pz);
    float radius = radius(light, m);
    float far = distance;
    if (far <= radius) {
      return false;
    }
    float sin2 = radius * radius / (far * far);
    float cosMax = (float) Math.sqrt(1 - sin2);
    // 1 - cos without cancelling, for small spheres
    float cap = sin2 / (1 + cosMax);
    pdf = 1 / (2 * (float) Math.PI * cap);
    float cos = 1 - u * cap;
    around(x, y, z, cos, v);
    float side = Math.max(0, radius * radius - far * far * (1 - cos * cos));
    distance = (far * cos - (float) Math.sqrt(side)) * (1 - 1e-5f);
    return true;
  }

  private boolean area(Emitters.Area a, float px, float py, float pz, float u, float v) {
    int k = a.pick(u);
    float low = k == 0 ? 0 : a.cdf()[k - 1];
    float again = Math.min(0.999999f, (u - low) / Math.max(1e-12f, a.cdf()[k] - low));
    // E. Heitz, "A Low-Distortion Map Between Triangle and Square", 2019
    float b;
    float c;
    if (v > again) {
      b = again * 0.5f;
      c = v - b;
    } else {
      c = v * 0.5f;
      b = again - c;
    }
    float[] t = corners;
    Emitters.corners(moment, a.instance(), a.triangles()[k], t);
    towards(
        t[0] + b * t[3] + c * t[6] - px,
        t[1] + b * t[4] + c * t[7] - py,
        t[2] + b * t[5] + c * t[8] - pz);
    pdf = areaPdf(a, k, x, y, z, distance);
    if (!(pdf > 0) || !(distance > 0)) {
      return false;
    }
    distance *= 1 - 1e-4f;
    point = false;
    reader.emission(a.instance(), a.triangles()[k], b, c, radiance);
    return radiance[0] + radiance[1] + radiance[2] > 0;
  }

  /** Density over solid angle of a point on a triangle whose {@link #corners} are set. */
  private float areaPdf(Emitters.Area a, int k, float x, float y, float z, float distance) {
    float[] t = corners;
    float nx = t[4] * t[8] - t[5] * t[7];
    float ny = t[5] * t[6] - t[3] * t[8];
    float nz = t[3] * t[7] - t[4] * t[6];
    float doubled = (float) Math.sqrt(nx * nx + ny * ny + nz * nz);
    float cos = Math.abs(x * nx + y * ny + z * nz) / Math.max(doubled, 1e-30f);
    if (!(cos > 1e-6f) || !(doubled > 0)) {
      return 0;
    }
    return a.chance(k) * distance * distance / (cos * 0.5f * doubled);
  }

  /** Density with which the place of a hit on an emitting mesh would have been picked. */
  public float pdfOf(Emitters.Area a, Hit hit, RayCaster ray) {
    int triangle = hit.triangle;
    int k = a.place()[triangle];
    if (k < 0) {
      return 0;
    }
    Emitters.corners(moment, a.instance(), triangle, corners);
    return areaPdf(a, k, ray.dx, ray.dy, ray.dz, hit.t);
  }

  private void towards(float tx, float ty, float tz) {
    distance = (float) Math.sqrt(tx * tx + ty * ty + tz * tz);
    float inv = 1 / Math.max(distance, 1e-20f);
    x = tx * inv;
    y = ty * inv;
    z = tz * inv;
  }

  /**
   * Finds whether a ray meets a light that has an extent before a distance; sets {@link #radiance},
   * {@link #pdf} and {@link #distance} if so.
   */
  public boolean intersect(Emitters.Shining s, RayCaster ray, float far) {
    float[] m = placed(s);
    Light light = s.light();
    boolean met =
        switch (light.type()) {
          case DIRECTIONAL -> far == Float.POSITIVE_INFINITY && intersectSun(s, m, ray);
          case RECTANGLE, DISC -> intersectFlat(light, m, ray, far);
          case SPHERE -> intersectSphere(light, m, ray, far);
          case POINT, SPOT -> false;
        };
    if (met) {
      float level = 1;
      if (light.type() == Light.Type.DIRECTIONAL) {
        float sin = (float) Math.sin(s.halfAngle());
        level = 1 / ((float) Math.PI * Math.max(1e-12f, sin * sin));
      }
      radiance[0] = light.intensity().r() * level;
      radiance[1] = light.intensity().g() * level;
      radiance[2] = light.intensity().b() * level;
    }
    return met;
  }

  private boolean intersectSun(Emitters.Shining s, float[] m, RayCaster ray) {
    axis(m);
    float cos = x * ray.dx + y * ray.dy + z * ray.dz;
    pdf = disc(s.halfAngle());
    distance = Float.POSITIVE_INFINITY;
    return cos >= (float) Math.cos(s.halfAngle());
  }

  private boolean intersectFlat(Light light, float[] m, RayCaster ray, float far) {
    // the ray in the light's own space, by the two axes and the plane's normal
    float nx = m[4] * m[9] - m[8] * m[5];
    float ny = m[8] * m[1] - m[0] * m[9];
    float nz = m[0] * m[5] - m[4] * m[1];
    float down = ray.dx * nx + ray.dy * ny + ray.dz * nz;
    float t = ((m[3] - ray.ox) * nx + (m[7] - ray.oy) * ny + (m[11] - ray.oz) * nz) / down;
    if (!(t > 0 && t < far)) {
      return false;
    }
    float qx = ray.ox + t * ray.dx - m[3];
    float qy = ray.oy + t * ray.dy - m[7];
    float qz = ray.oz + t * ray.dz - m[11];
    float square = nx * nx + ny * ny + nz * nz;
    // coordinates along the axes, by Cramer's rule
    float a =
        ((qy * m[9] - qz * m[5]) * nx + (qz * m[1] - qx * m[9]) * ny + (qx * m[5] - qy * m[1]) * nz)
            / square;
    float b =
        ((m[4] * qz - m[8] * qy) * nx + (m[8] * qx - m[0] * qz) * ny + (m[0] * qy - m[4] * qx) * nz)
            / square;
    boolean met =
        light.type() == Light.Type.RECTANGLE
            ? Math.abs(a) <= 0.5f * light.width() && Math.abs(b) <= 0.5f * light.height()
            : a * a + b * b <= 0.25f * light.width() * light.width();
    distance = t;
    pdf = met ? flatPdf(light, m, ray.dx, ray.dy, ray.dz, t) : 0;
    return pdf > 0;
  }

  private boolean intersectSphere(Light light, float[] m, RayCaster ray, float far) {
    float cx = m[3] - ray.ox;
    float cy = m[7] - ray.oy;
    float cz = m[11] - ray.oz;
    float radius = radius(light, m);
    float along = cx * ray.dx + cy * ray.dy + cz * ray.dz;
    float square = cx * cx + cy * cy + cz * cz;
    float side = radius * radius - (square - along * along);
    if (along <= 0 || side < 0 || square <= radius * radius) {
      return false;
    }
    distance = along - (float) Math.sqrt(side);
    float sin2 = radius * radius / square;
    pdf = (1 + (float) Math.sqrt(1 - sin2)) / (2 * (float) Math.PI * sin2);
    return distance < far;
  }
}
