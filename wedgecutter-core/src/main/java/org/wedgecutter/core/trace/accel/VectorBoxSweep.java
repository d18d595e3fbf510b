package org.wedgecutter.core.trace.accel;

import jdk.incubator.vector.FloatVector;
import jdk.incubator.vector.IntVector;
import jdk.incubator.vector.VectorOperators;
import jdk.incubator.vector.VectorSpecies;

/** Takes all numbers of a primitive at once. */
final class VectorBoxSweep extends BoxSweep {
  private static final VectorSpecies<Float> EIGHT = FloatVector.SPECIES_256;
  private static final VectorSpecies<Float> FOUR = FloatVector.SPECIES_128;

  private final int[] at = new int[4];

  @Override
  void grow(float[] box, int to, float[] by, int from) {
    FloatVector.fromArray(EIGHT, box, to)
        .min(FloatVector.fromArray(EIGHT, by, from))
        .intoArray(box, to);
  }

  @Override
  void measure(float[] things, int from, int to, float[] box, float[] middles) {
    FloatVector all = FloatVector.broadcast(EIGHT, Float.POSITIVE_INFINITY);
    FloatVector least = FloatVector.broadcast(FOUR, Float.POSITIVE_INFINITY);
    FloatVector most = FloatVector.broadcast(FOUR, Float.POSITIVE_INFINITY);
    for (int i = STRIDE * from; i < STRIDE * to; i += STRIDE) {
      all = all.min(FloatVector.fromArray(EIGHT, things, i));
      FloatVector low = FloatVector.fromArray(FOUR, things, i);
      FloatVector high = FloatVector.fromArray(FOUR, things, i + 4);
      least = least.min(low.sub(high));
      most = most.min(high.sub(low));
    }
    all.intoArray(box, 0);
    least.intoArray(middles, 0);
    most.intoArray(middles, 4);
  }

  @Override
  void bin(
      float[] things,
      int from,
      int to,
      float[] low,
      float[] scale,
      int[] counts,
      float[] bins,
      int across) {
    FloatVector lows = FloatVector.fromArray(FOUR, low, 0);
    FloatVector scales = FloatVector.fromArray(FOUR, scale, 0);
    int[] place = at;
    for (int i = STRIDE * from; i < STRIDE * to; i += STRIDE) {
      ((IntVector)
              FloatVector.fromArray(FOUR, things, i)
                  .sub(FloatVector.fromArray(FOUR, things, i + 4))
                  .sub(lows)
                  .mul(scales)
                  .convertShape(VectorOperators.F2I, IntVector.SPECIES_128, 0))
          .intoArray(place, 0);
      int x = place[0];
      int y = across + place[1];
      int z = 2 * across + place[2];
      counts[x]++;
      counts[y]++;
      counts[z]++;
      FloatVector thing = FloatVector.fromArray(EIGHT, things, i);
      FloatVector.fromArray(EIGHT, bins, STRIDE * x).min(thing).intoArray(bins, STRIDE * x);
      FloatVector.fromArray(EIGHT, bins, STRIDE * y).min(thing).intoArray(bins, STRIDE * y);
      FloatVector.fromArray(EIGHT, bins, STRIDE * z).min(thing).intoArray(bins, STRIDE * z);
    }
  }

  @Override
  void swap(float[] things, int a, int b) {
    FloatVector x = FloatVector.fromArray(EIGHT, things, STRIDE * a);
    FloatVector.fromArray(EIGHT, things, STRIDE * b).intoArray(things, STRIDE * a);
    x.intoArray(things, STRIDE * b);
  }
}
