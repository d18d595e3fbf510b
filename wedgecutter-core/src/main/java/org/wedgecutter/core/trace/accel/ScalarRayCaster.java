package org.wedgecutter.core.trace.accel;

/** Tests eight boxes or triangles one after another. For machines and moments without vectors. */
public final class ScalarRayCaster extends RayCaster {
  public ScalarRayCaster(Instances world, Moment moment) {
    super(moment, world, new TreeTraversal());
  }

  @Override
  public boolean vector() {
    return false;
  }

  @Override
  int boxes(float[] b, int at, float far) {
    int x0 = at + firstX;
    int x1 = at + 8 - firstX;
    int y0 = at + 16 + firstY;
    int y1 = at + 24 - firstY;
    int z0 = at + 32 + firstZ;
    int z1 = at + 40 - firstZ;
    int met = 0;
    for (int i = 0; i < 8; i++) {
      float enter =
          Math.max(
              Math.max((b[x0 + i] - px) * inX, (b[y0 + i] - py) * inY),
              Math.max((b[z0 + i] - pz) * inZ, afterT));
      float leave =
          Math.min(
              Math.min((b[x1 + i] - px) * outX, (b[y1 + i] - py) * outY),
              Math.min((b[z1 + i] - pz) * outZ, far));
      near[i] = enter;
      met |= enter <= leave ? 1 << i : 0;
    }
    return met;
  }

  @Override
  int packet(float[] c, int at, float far) {
    int met = 0;
    for (int i = at; i < at + 8; i++) {
      if (meets(
          c[i], c[i + 8], c[i + 16], c[i + 24], c[i + 32], c[i + 40], c[i + 48], c[i + 56],
          c[i + 64], far, i - at)) {
        met |= 1 << i - at;
      }
    }
    return met;
  }

  @Override
  int packet(float[] c, float[] e, float part, int at, float far) {
    int met = 0;
    for (int i = at; i < at + 8; i++) {
      if (meets(
          c[i] + part * (e[i] - c[i]),
          c[i + 8] + part * (e[i + 8] - c[i + 8]),
          c[i + 16] + part * (e[i + 16] - c[i + 16]),
          c[i + 24] + part * (e[i + 24] - c[i + 24]),
          c[i + 32] + part * (e[i + 32] - c[i + 32]),
          c[i + 40] + part * (e[i + 40] - c[i + 40]),
          c[i + 48] + part * (e[i + 48] - c[i + 48]),
          c[i + 56] + part * (e[i + 56] - c[i + 56]),
          c[i + 64] + part * (e[i + 64] - c[i + 64]),
          far,
          i - at)) {
        met |= 1 << i - at;
      }
    }
    return met;
  }

  private boolean meets(
      float ax,
      float ay,
      float az,
      float e1x,
      float e1y,
      float e1z,
      float e2x,
      float e2y,
      float e2z,
      float far,
      int lane) {
    float hx = qy * e2z - qz * e2y;
    float hy = qz * e2x - qx * e2z;
    float hz = qx * e2y - qy * e2x;
    float inverse = 1 / (e1x * hx + e1y * hy + e1z * hz);
    float sx = px - ax;
    float sy = py - ay;
    float sz = pz - az;
    float u = (sx * hx + sy * hy + sz * hz) * inverse;
    if (!(u >= 0 && u <= 1)) {
      return false;
    }
    float kx = sy * e1z - sz * e1y;
    float ky = sz * e1x - sx * e1z;
    float kz = sx * e1y - sy * e1x;
    float v = (qx * kx + qy * ky + qz * kz) * inverse;
    if (!(v >= 0 && u + v <= 1)) {
      return false;
    }
    float t = (e2x * kx + e2y * ky + e2z * kz) * inverse;
    ts[lane] = t;
    us[lane] = u;
    vs[lane] = v;
    return t >= afterT && t <= far;
  }
}
