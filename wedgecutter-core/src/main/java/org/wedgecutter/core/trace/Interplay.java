package org.wedgecutter.core.trace;

import java.util.Arrays;
import org.wedgecutter.core.trace.sample.Sampler;

/**
 * How much of the light of visible entities came via other entities, and how much others blocked:
 * sums over samples for pairs of entities, in an open-addressed table of numbers. One object serves
 * one thread; tables of several are added up.
 */
public final class Interplay {
  private static final int EMPTY = -1;

  private long[] keys = new long[256];
  private double[] ways = new double[256];
  private double[] blocks = new double[256];
  private int used;

  public Interplay() {
    Arrays.fill(keys, EMPTY);
  }

  /** Adds light of one entity that came via another. */
  void way(int of, int by, double light) {
    // the arrays may grow: the slot comes first
    int slot = slot(of, by);
    ways[slot] += light;
  }

  /** Adds light of one entity that another blocked. */
  void blocked(int of, int by, double light) {
    int slot = slot(of, by);
    blocks[slot] += light;
  }

  /** Receives sums of pairs. */
  @FunctionalInterface
  public interface Pairs {
    /**
     * Receives one pair.
     *
     * @param of what the camera sees, by index
     * @param by what had a part in its light
     * @param way luminance that came via it, summed over samples
     * @param blocked luminance straight from emitters that it stopped
     */
    void pair(int of, int by, double way, double blocked);
  }

  /** Reports every pair. */
  public void each(Pairs pairs) {
    for (int i = 0; i < keys.length; i++) {
      if (keys[i] != EMPTY) {
        pairs.pair((int) (keys[i] >>> 32), (int) keys[i], ways[i], blocks[i]);
      }
    }
  }

  /** Adds another's sums to these. */
  public void add(Interplay other) {
    other.each((of, by, way, blocked) -> {
      int slot = slot(of, by);
      ways[slot] += way;
      blocks[slot] += blocked;
    });
  }

  private int slot(int of, int by) {
    long key = (long) of << 32 | by;
    int at = find(key);
    if (keys[at] == key) {
      return at;
    }
    if (4 * ++used > 3 * keys.length) {
      grow();
      at = find(key);
    }
    keys[at] = key;
    return at;
  }

  private int find(long key) {
    int mask = keys.length - 1;
    int at = Sampler.hash((int) (key ^ key >>> 29)) & mask;
    while (keys[at] != EMPTY && keys[at] != key) {
      at = at + 1 & mask;
    }
    return at;
  }

  private void grow() {
    long[] oldKeys = keys;
    double[] oldWays = ways;
    double[] oldBlocks = blocks;
    keys = new long[2 * oldKeys.length];
    Arrays.fill(keys, EMPTY);
    ways = new double[keys.length];
    blocks = new double[keys.length];
    for (int i = 0; i < oldKeys.length; i++) {
      if (oldKeys[i] != EMPTY) {
        int at = find(oldKeys[i]);
        keys[at] = oldKeys[i];
        ways[at] = oldWays[i];
        blocks[at] = oldBlocks[i];
      }
    }
  }
}
