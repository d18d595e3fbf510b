package org.wedgecutter.core.resolve;

import java.util.Arrays;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.scene.SceneTime;

/**
 * What is beyond the camera segment: which entities are present, for which rays, their appearance,
 * at which time, and how light is traced. Layers of the same class share one trace. Two classes are
 * equal if no light differs between them: at different frames, too, if everything that is present
 * is the same there by its digest.
 */
public final class TransportClass {
  private final Reach[] reach;
  private final Map<Integer, AppearanceOverride> looks;
  private final Map<Integer, EntitySet> links;
  private final TraceSettings settings;
  private final SceneTime time;
  private final int hash;

  /** The same as the links, by emitter: asked for at every vertex of every path. */
  private final @Nullable EntitySet[] linked;

  /**
   * @param reach how each entity of the scene takes part, by index; copied
   * @param looks the entities that look other than in the scene
   * @param links the emitters that light only some entities, and these; all others light all
   * @param settings how light is followed
   * @param time what the scene is like at the frame
   */
  public TransportClass(
      Reach[] reach,
      Map<Integer, AppearanceOverride> looks,
      Map<Integer, EntitySet> links,
      TraceSettings settings,
      SceneTime time) {
    this.time = time;
    this.reach = reach.clone();
    this.links = java.util.Collections.unmodifiableMap(new TreeMap<>(links));
    this.looks = java.util.Collections.unmodifiableMap(new TreeMap<>(looks));
    this.settings = settings;
    linked = new EntitySet[reach.length];
    links.forEach((emitter, only) -> linked[emitter] = only);
    for (int e = 0; e < reach.length; e++) {
      // light that no lobe receives does not exist
      if (!reach[e].isMet()) {
        this.reach[e] = this.reach[e].without(Reach.Flag.EMITS);
      }
      // what stops no light at all does not stop it on the way to itself either
      if (!reach[e].castsShadow()) {
        this.reach[e] = this.reach[e].without(Reach.Flag.NO_SELF_SHADOW);
      }
    }
    hash =
        31 * (31 * (31 * Arrays.hashCode(this.reach) + this.looks.hashCode()) + settings.hashCode())
            + this.links.hashCode();
  }

  /** A class at the first frame, of whose time nothing else is known. */
  public TransportClass(
      Reach[] reach,
      Map<Integer, AppearanceOverride> looks,
      Map<Integer, EntitySet> links,
      TraceSettings settings) {
    this(reach, looks, links, settings, SceneTime.ofFrame(1));
  }

  /** A class in which every emitter lights everything. */
  public TransportClass(
      Reach[] reach, Map<Integer, AppearanceOverride> looks, TraceSettings settings) {
    this(reach, looks, Map.of(), settings);
  }

  /** A class in which everything looks as in the scene. */
  public TransportClass(Reach[] reach, TraceSettings settings) {
    this(reach, Map.of(), settings);
  }

  /** The class in which every entity is wholly there. */
  public static TransportClass whole(int entities, TraceSettings settings) {
    Reach[] reach = new Reach[entities];
    Arrays.fill(reach, Reach.ALL);
    return new TransportClass(reach, settings);
  }

  /** Returns the class without some entities. */
  public TransportClass without(EntitySet absent) {
    return without(absent, Reach.ALL.flags());
  }

  /** Returns the class in which some entities take part in fewer ways. */
  public TransportClass without(EntitySet absent, Set<Reach.Flag> fewer) {
    Reach[] next = reach.clone();
    Map<Integer, AppearanceOverride> nextLooks = new TreeMap<>(looks);
    for (int e = 0; e < next.length; e++) {
      if (absent.contains(e)) {
        next[e] = next[e].without(fewer);
        if (!next[e].isMet() && !next[e].castsShadow()) {
          next[e] = Reach.NONE;
          nextLooks.remove(e);
        }
      }
    }
    return new TransportClass(next, nextLooks, links, settings, time);
  }

  /** Returns how an entity takes part. */
  public Reach reach(int entity) {
    return reach[entity];
  }

  /** Returns how an entity looks, or null if it looks as in the scene. */
  public @Nullable AppearanceOverride look(int entity) {
    return looks.get(entity);
  }

  /** Returns the entities that look other than in the scene. */
  public Map<Integer, AppearanceOverride> looks() {
    return looks;
  }

  /** Whether an emitter lights an entity, if nothing stops its light. */
  public boolean lights(int emitter, int entity) {
    EntitySet only = linked[emitter];
    return only == null || only.contains(entity);
  }

  /** Returns the emitters that light only some entities, and these. */
  public Map<Integer, EntitySet> links() {
    return links;
  }

  /** Returns the number of entities of the scene. */
  public int entities() {
    return reach.length;
  }

  /** Returns the frame that is traced. */
  public int frame() {
    return time.frame();
  }

  /** Returns what the scene is like at the frame that is traced. */
  public SceneTime time() {
    return time;
  }

  /** Whether everything that is present here is the same at another time. */
  public boolean isSameAt(SceneTime other) {
    return time.same(other, e -> !reach[e].isNone());
  }

  /**
   * Whether a camera that looks through some entities sees the same at another time. What takes no
   * part in the light is not compared by {@link #equals}, but the camera may see it.
   */
  public boolean isSeenSameAt(SceneTime other, EntitySet skipped) {
    return time.same(other, e -> !skipped.contains(e));
  }

  /** Returns how light is followed. */
  public TraceSettings settings() {
    return settings;
  }

  @Override
  public boolean equals(@Nullable Object other) {
    return other instanceof TransportClass that
        && hash == that.hash
        && Arrays.equals(reach, that.reach)
        && looks.equals(that.looks)
        && links.equals(that.links)
        && settings.equals(that.settings)
        && isSameAt(that.time);
  }

  @Override
  public int hashCode() {
    return hash;
  }
}
