package org.wedgecutter.core.trace.light;

import org.wedgecutter.core.trace.bsdf.Surface;

/**
 * Picks one of a scene's emitters for a point, by its likely contribution there, and returns the
 * probability with which any emitter would have been picked.
 *
 * <p>First one of a few is picked, each by the square root of its importance: emitters at infinity
 * (suns and the environment), and the top nodes of the tree of those with a position. The root
 * gives weak ones a fair share, since strong ones may be occluded. Below a top node the {@link
 * LightTree} goes on. The probabilities are the scene's, not a layer's. One object serves one
 * thread; the point stays until the next is set.
 */
public final class LightPicker {
  private final Emitters emitters;
  private final LightTree tree;
  private final float[] weight;
  private final float[] sums;
  private float total;

  private float px;
  private float py;
  private float pz;
  private boolean facing;
  private float nx;
  private float ny;
  private float nz;

  /** The probability with which the last emitter was picked. */
  public float chance;

  public LightPicker(Emitters emitters) {
    this.emitters = emitters;
    tree = emitters.tree;
    weight = new float[emitters.nowhere.length + tree.top.length];
    sums = new float[weight.length];
  }

  /** Weighs the emitters as seen from a surface. */
  public void stand(Surface s) {
    px = s.px;
    py = s.py;
    pz = s.pz;
    facing = !s.takes(Surface.TRANSMISSION);
    nx = s.nx;
    ny = s.ny;
    nz = s.nz;
    weigh();
  }

  /** Weighs the emitters as seen from a place without a normal. */
  public void stand(float x, float y, float z) {
    px = x;
    py = y;
    pz = z;
    facing = false;
    weigh();
  }

  private void weigh() {
    int far = emitters.nowhere.length;
    float sum = 0;
    for (int k = 0; k < weight.length; k++) {
      weight[k] =
          (float)
              Math.sqrt(
                  k < far ? emitters.strength[emitters.nowhere[k]] : importance(tree.top[k - far]));
      sum += weight[k];
      sums[k] = sum;
    }
    total = sum;
  }

  private float importance(int node) {
    return tree.importance(node, px, py, pz, facing, nx, ny, nz);
  }

  /**
   * Picks an emitter and sets {@link #chance}.
   *
   * @param u random number, 0 to 1
   * @return its index in the list of all, or -1 if no light can reach the point
   */
  public int pick(float u) {
    if (!(total > 0)) {
      return -1;
    }
    float at = u * total;
    int k = 0;
    while (k < weight.length - 1 && at >= sums[k]) {
      k++;
    }
    while (weight[k] == 0) {
      // only rounding leads here
      k = k == 0 ? weight.length - 1 : k - 1;
    }
    chance = weight[k] / total;
    int far = emitters.nowhere.length;
    if (k < far) {
      return emitters.nowhere[k];
    }
    float rest = Math.clamp((at - (sums[k] - weight[k])) / weight[k], 0, 0.9999999f);
    int node = tree.top[k - far];
    while (tree.emitter(node) < 0) {
      int child = tree.children(node);
      float first = share(child);
      if (!(first >= 0)) {
        return -1;
      }
      if (rest < first) {
        node = child;
        chance *= first;
        rest = Math.min(rest / first, 0.9999999f);
      } else {
        node = child + 1;
        chance *= 1 - first;
        rest = Math.min((rest - first) / (1 - first), 0.9999999f);
      }
    }
    return tree.emitter(node);
  }

  /** Share of the first of two children; not a number if no light can come from either. */
  private float share(int child) {
    float a = importance(child);
    float b = importance(child + 1);
    return a / (a + b);
  }

  /** Returns the probability with which an emitter would have been picked at the point. */
  public float chance(int number) {
    if (!(total > 0)) {
      return 0;
    }
    int at = emitters.topOf[number];
    float out = weight[at] / total;
    int node = tree.leaf(number);
    int upTo = node < 0 ? node : tree.top[at - emitters.nowhere.length];
    while (node != upTo) {
      int above = tree.above(node);
      int child = tree.children(above);
      float first = share(child);
      if (!(first >= 0)) {
        return 0;
      }
      out *= node == child ? first : 1 - first;
      node = above;
    }
    return out;
  }
}
