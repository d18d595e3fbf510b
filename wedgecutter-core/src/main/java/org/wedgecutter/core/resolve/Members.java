package org.wedgecutter.core.resolve;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.joml.Matrix4f;
import org.wedgecutter.core.plan.CollectionDef;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.Rule;
import org.wedgecutter.core.scene.Entity;
import org.wedgecutter.core.scene.Scene;
import org.wedgecutter.core.scene.TimeDigest;

/**
 * Which entities of a scene collections match. Matches of a rule are kept, so that an edit of one
 * collection does not evaluate all others again. Safe for use by several threads.
 */
public final class Members {
  private static final int KEPT = 5000;
  private final Scene scene;
  private final Map<CollectionDef, EntitySet> taken =
      new LinkedHashMap<>(64, 0.75f, true) {
        private static final long serialVersionUID = 1L;

        @Override
        protected boolean removeEldestEntry(Map.Entry<CollectionDef, EntitySet> eldest) {
          return size() > KEPT;
        }
      };

  private final Matrix4f[] restPose;
  private final TimeDigest time;

  public Members(Scene scene) {
    this.scene = scene;
    restPose = scene.pose(0);
    time = new TimeDigest(scene);
  }

  /** Returns the world transform of every node at time 0; not to be changed. */
  public Matrix4f[] restPose() {
    return restPose;
  }

  /** Returns what changes in the scene, and when. */
  public TimeDigest time() {
    return time;
  }

  /** Returns the scene. */
  public Scene scene() {
    return scene;
  }

  /** Returns the entities that a collection matches, regardless of rows above it. */
  public EntitySet of(CollectionDef collection) {
    synchronized (taken) {
      EntitySet known = taken.get(collection);
      if (known != null) {
        return known;
      }
    }
    Set<String> added = new HashSet<>(collection.added());
    Set<String> removed = new HashSet<>(collection.removed());
    EntitySet found =
        takes(e ->
            !removed.contains(e.path())
                && (added.contains(e.path()) || collection.rule().matches(e)));
    synchronized (taken) {
      taken.put(collection, found);
    }
    return found;
  }

  /** Returns the entities that a rule matches. */
  public EntitySet of(Rule rule) {
    return takes(rule::matches);
  }

  private EntitySet takes(java.util.function.Predicate<Entity> test) {
    List<Entity> all = scene.entities();
    return EntitySet.where(all.size(), i -> test.test(all.get(i)));
  }

  /**
   * Returns for each row of a plan, and last for the rest, the entities that belong to it: those
   * that no row above matches.
   */
  public List<EntitySet> rows(Plan plan) {
    List<EntitySet> out = new ArrayList<>();
    BitSet left = new BitSet();
    left.set(0, scene.entities().size());
    for (CollectionDef c : plan.collections()) {
      BitSet own = of(c).bits();
      own.and(left);
      left.andNot(own);
      out.add(EntitySet.of(own));
    }
    out.add(EntitySet.of(left));
    return out;
  }
}
