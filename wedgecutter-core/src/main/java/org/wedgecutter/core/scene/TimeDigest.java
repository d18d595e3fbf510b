package org.wedgecutter.core.scene;

import com.google.common.hash.HashCode;
import com.google.common.hash.Hasher;
import com.google.common.hash.Hashing;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.Map;
import org.joml.Matrix4f;
import org.jspecify.annotations.Nullable;

/**
 * The one model of what changes in a scene, and when. Held frames, stillness, transport classes and
 * {@code moves:} rules ask it and nothing else.
 *
 * <p>Over an interval of time an entity depends on the transforms of its node and all parents; if
 * it deforms, on its morph weights and on the chains of its joints; a medium that rises by its own
 * law, on time itself. Each is put into a digest: keys that the interval touches, by their distance
 * from its start, or the bare value if it does not change there. So two intervals have equal
 * digests exactly where everything that is in them is equal at corresponding moments, up to keys
 * that differ by rounding, which count as different. Digests are 128 bits of MurmurHash3 (A.
 * Appleby, 2011).
 *
 * <p>Immutable, and safe for use by several threads.
 */
public final class TimeDigest {
  private final Scene scene;

  /** Digest of each node's own transform where no channel changes it, else null. */
  private final HashCode[] still;

  private final Map<Long, SceneTime> known =
      new LinkedHashMap<>(16, 0.75f, true) {
        private static final long serialVersionUID = 1L;

        @Override
        protected boolean removeEldestEntry(Map.Entry<Long, SceneTime> eldest) {
          return size() > KEPT;
        }
      };

  private static final int KEPT = 256;

  public TimeDigest(Scene scene) {
    this.scene = scene;
    still = new HashCode[scene.nodes().size()];
    for (int n = 0; n < still.length; n++) {
      Node node = scene.nodes().get(n);
      if (node.channels().stream().noneMatch(Channel::changes)) {
        still[n] = own(node, 0, 0);
      }
    }
  }

  /**
   * Returns what the scene is like over an interval.
   *
   * @param frame the frame that it belongs to
   * @param camera the camera
   * @param from start of the interval, seconds
   * @param to its end, the same or later
   */
  public SceneTime over(int frame, SceneCamera camera, double from, double to) {
    long key =
        31 * (31 * (31L * frame + camera.hashCode()) + Double.hashCode(from)) + Double.hashCode(to);
    synchronized (known) {
      SceneTime made = known.get(key);
      if (made != null && made.is(frame, camera, from, to)) {
        return made;
      }
    }
    HashCode[] chain = chains(from, to);
    HashCode[] entities = new HashCode[scene.entities().size()];
    for (Entity e : scene.entities()) {
      entities[e.index()] = entity(e, chain, from, to);
    }
    SceneTime made = new SceneTime(frame, camera, from, to, seen(camera, chain), entities);
    synchronized (known) {
      known.put(key, made);
    }
    return made;
  }

  private static HashCode seen(SceneCamera camera, HashCode[] chain) {
    if (camera.node() >= 0) {
      return chain[camera.node()];
    }
    Hasher h = hasher();
    put(h, camera.in(new Matrix4f[0]).get(new float[16]));
    return h.hash();
  }

  /** The digest of each node with all its parents. */
  private HashCode[] chains(double from, double to) {
    HashCode[] chain = new HashCode[still.length];
    for (int n = 0; n < chain.length; n++) {
      Node node = scene.nodes().get(n);
      HashCode own = still[n] == null ? own(node, from, to) : still[n];
      chain[n] = node.parent() < 0 ? own : both(chain[node.parent()], own);
    }
    return chain;
  }

  private static HashCode both(HashCode a, HashCode b) {
    return hasher().putBytes(a.asBytes()).putBytes(b.asBytes()).hash();
  }

  private static Hasher hasher() {
    return Hashing.murmur3_128().newHasher();
  }

  private static void put(Hasher into, float[] values) {
    for (float v : values) {
      into.putFloat(v);
    }
  }

  private static HashCode own(Node node, double from, double to) {
    Hasher h = hasher();
    put(h, node.rest().translation());
    put(h, node.rest().rotation());
    put(h, node.rest().scale());
    for (Channel c : node.channels()) {
      h.putInt(c.target().ordinal());
      put(h, c.track(), from, to);
    }
    return h.hash();
  }

  /** Adds what a track does over an interval. */
  private static void put(Hasher into, Track track, double from, double to) {
    int first = track.keyBefore(from);
    int last = track.keyAfter(to);
    int stride = track.values().length / track.times().length;
    if (!track.changes(first, last)) {
      put(into, Arrays.copyOfRange(track.values(), first * stride, (first + 1) * stride));
      return;
    }
    into.putInt(track.between().ordinal());
    for (int k = first; k <= last; k++) {
      into.putDouble(track.times()[k] - from);
      put(into, Arrays.copyOfRange(track.values(), k * stride, (k + 1) * stride));
    }
    into.putDouble(to - from);
  }

  private HashCode entity(Entity e, HashCode[] chain, double from, double to) {
    Hasher h = hasher();
    h.putInt(e.kind().ordinal());
    if (e.node() >= 0) {
      h.putBytes(chain[e.node()].asBytes());
    }
    Deformation d = scene.deformations().get(e.index());
    if (d != null && d.morph() != null && d.morph().weights() != null) {
      put(h, d.morph().weights(), from, to);
    }
    if (d != null && d.skin() != null) {
      for (int joint : d.skin().nodes()) {
        h.putBytes(chain[joint].asBytes());
      }
    }
    if (rises(e)) {
      h.putDouble(from).putDouble(to);
    }
    Track factors = factors(e);
    if (factors != null) {
      put(h, factors, from, to);
    }
    return h.hash();
  }

  /** How the density of a medium changes; null if it does not. */
  private @Nullable Track factors(Entity e) {
    return e.kind() == EntityKind.MEDIUM ? scene.media().get(e.payload()).factors() : null;
  }

  /** Whether an entity is a medium that moves by its own law. */
  private boolean rises(Entity e) {
    if (e.kind() != EntityKind.MEDIUM) {
      return false;
    }
    Medium m = scene.media().get(e.payload());
    return m.puff() != null && !m.everywhere() && m.puff().rise() != 0;
  }

  /** Whether anything about an entity changes within an interval. */
  public boolean changes(Entity e, double from, double to) {
    if (rises(e)) {
      return to > from;
    }
    Track factors = factors(e);
    if (factors != null && changes(factors, from, to)) {
      return true;
    }
    if (e.node() >= 0 && nodeChanges(e.node(), from, to)) {
      return true;
    }
    return deforms(e, from, to);
  }

  /** Whether the shape of an entity changes within an interval. */
  public boolean deforms(Entity e, double from, double to) {
    Deformation d = scene.deformations().get(e.index());
    if (d == null) {
      return false;
    }
    Deformation.Morph morph = d.morph();
    if (morph != null && morph.weights() != null && changes(morph.weights(), from, to)) {
      return true;
    }
    if (d.skin() != null) {
      for (int joint : d.skin().nodes()) {
        if (nodeChanges(joint, from, to)) {
          return true;
        }
      }
    }
    return false;
  }

  /** Whether a node or one of its parents changes within an interval; nothing does for -1. */
  public boolean nodeChanges(int node, double from, double to) {
    for (int n = node; n >= 0; n = scene.nodes().get(n).parent()) {
      if (still[n] == null) {
        for (Channel c : scene.nodes().get(n).channels()) {
          if (changes(c.track(), from, to)) {
            return true;
          }
        }
      }
    }
    return false;
  }

  private static boolean changes(Track track, double from, double to) {
    return to > from && track.changes(track.keyBefore(from), track.keyAfter(to));
  }

  /** Whether an entity changes at any time. */
  public boolean moves(Entity e) {
    double ever = 1e12;
    return changes(e, -ever, ever);
  }

  /**
   * Returns when an entity changes: the first and the last second with keys that change it; empty
   * if it is still, and all of the scene's time for a medium that rises.
   */
  public float[] movesWhen(Entity e) {
    if (rises(e)) {
      return new float[] {scene.time().first(), scene.time().last()};
    }
    float[] span = {Float.POSITIVE_INFINITY, Float.NEGATIVE_INFINITY};
    grow(span, e.node());
    Track factors = factors(e);
    if (factors != null) {
      grow(span, factors);
    }
    Deformation d = scene.deformations().get(e.index());
    if (d != null && d.morph() != null && d.morph().weights() != null) {
      grow(span, d.morph().weights());
    }
    if (d != null && d.skin() != null) {
      for (int joint : d.skin().nodes()) {
        grow(span, joint);
      }
    }
    return span[0] > span[1] ? new float[0] : span;
  }

  private void grow(float[] span, int node) {
    for (int n = node; n >= 0; n = scene.nodes().get(n).parent()) {
      for (Channel c : scene.nodes().get(n).channels()) {
        grow(span, c.track());
      }
    }
  }

  private static void grow(float[] span, Track track) {
    if (track.changes()) {
      span[0] = Math.min(span[0], track.times()[0]);
      span[1] = Math.max(span[1], track.times()[track.times().length - 1]);
    }
  }
}
