package org.wedgecutter.core.trace.accel;

import jdk.incubator.vector.FloatVector;
import jdk.incubator.vector.IntVector;
import jdk.incubator.vector.VectorOperators;
import jdk.incubator.vector.VectorSpecies;

/**
 * Tests eight boxes or triangles at once. Distances that count are not negative, so their bits
 * compare as integers do, which machines do faster than comparing floats that may be NaN.
 */
public final class VectorRayCaster extends RayCaster {
  private static final VectorSpecies<Float> EIGHT = FloatVector.SPECIES_256;

  private final float[] moved = new float[MeshTree.STRIDE];

  public VectorRayCaster(Instances world, Moment moment) {
    super(moment, world, Traversal.copied());
  }

  @Override
  public boolean vector() {
    return true;
  }

  private static IntVector plane(float[] bounds, int at, float from, float by) {
    return FloatVector.fromArray(EIGHT, bounds, at).sub(from).mul(by).reinterpretAsInts();
  }

  @Override
  int boxes(float[] b, int at, float far) {
    IntVector enter =
        plane(b, at + firstX, px, inX)
            .max(plane(b, at + 16 + firstY, py, inY))
            .max(plane(b, at + 32 + firstZ, pz, inZ))
            .max(Float.floatToRawIntBits(afterT));
    IntVector leave =
        plane(b, at + 8 - firstX, px, outX)
            .min(plane(b, at + 24 - firstY, py, outY))
            .min(plane(b, at + 40 - firstZ, pz, outZ))
            .min(Float.floatToRawIntBits(far));
    int met = (int) enter.compare(VectorOperators.LE, leave).toLong();
    if (met != 0) {
      enter.reinterpretAsFloats().intoArray(near, 0);
    }
    return met;
  }

  private static FloatVector load(float[] c, int at) {
    return FloatVector.fromArray(EIGHT, c, at);
  }

  // one method without helpers: helpers too large to be inlined would pass vectors as objects
  @Override
  int packet(float[] c, int at, float far) {
    FloatVector e1x = load(c, at + 24);
    FloatVector e1y = load(c, at + 32);
    FloatVector e1z = load(c, at + 40);
    FloatVector e2x = load(c, at + 48);
    FloatVector e2y = load(c, at + 56);
    FloatVector e2z = load(c, at + 64);
    FloatVector dx = FloatVector.broadcast(EIGHT, qx);
    FloatVector dy = FloatVector.broadcast(EIGHT, qy);
    FloatVector dz = FloatVector.broadcast(EIGHT, qz);
    FloatVector hx = dy.mul(e2z).sub(dz.mul(e2y));
    FloatVector hy = dz.mul(e2x).sub(dx.mul(e2z));
    FloatVector hz = dx.mul(e2y).sub(dy.mul(e2x));
    FloatVector inverse =
        FloatVector.broadcast(EIGHT, 1).div(e1x.mul(hx).add(e1y.mul(hy)).add(e1z.mul(hz)));
    FloatVector sx = FloatVector.broadcast(EIGHT, px).sub(load(c, at));
    FloatVector sy = FloatVector.broadcast(EIGHT, py).sub(load(c, at + 8));
    FloatVector sz = FloatVector.broadcast(EIGHT, pz).sub(load(c, at + 16));
    FloatVector u = sx.mul(hx).add(sy.mul(hy)).add(sz.mul(hz)).mul(inverse);
    FloatVector kx = sy.mul(e1z).sub(sz.mul(e1y));
    FloatVector ky = sz.mul(e1x).sub(sx.mul(e1z));
    FloatVector kz = sx.mul(e1y).sub(sy.mul(e1x));
    FloatVector v = dx.mul(kx).add(dy.mul(ky)).add(dz.mul(kz)).mul(inverse);
    FloatVector t = e2x.mul(kx).add(e2y.mul(ky)).add(e2z.mul(kz)).mul(inverse);
    int bits =
        (int)
            u.compare(VectorOperators.GE, 0)
                .and(v.compare(VectorOperators.GE, 0))
                .and(u.add(v).compare(VectorOperators.LE, 1))
                .and(t.compare(VectorOperators.GE, afterT))
                .and(t.compare(VectorOperators.LE, far))
                .toLong();
    if (bits != 0) {
      t.intoArray(ts, 0);
      u.intoArray(us, 0);
      v.intoArray(vs, 0);
    }
    return bits;
  }

  @Override
  int packet(float[] c, float[] e, float part, int at, float far) {
    for (int k = 0; k < MeshTree.STRIDE; k += 8) {
      FloatVector a = load(c, at + k);
      a.add(load(e, at + k).sub(a).mul(part)).intoArray(moved, k);
    }
    return packet(moved, 0, far);
  }
}
