package org.wedgecutter.core.fragment;

import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import java.util.function.IntPredicate;
import java.util.function.Predicate;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.plan.Output;
import org.wedgecutter.core.resolve.CatcherSpec;
import org.wedgecutter.core.resolve.EntitySet;
import org.wedgecutter.core.resolve.ResolvedLayer;
import org.wedgecutter.core.resolve.ResolvedShot;
import org.wedgecutter.core.resolve.TransportClass;
import org.wedgecutter.core.trace.LightSplit;
import org.wedgecutter.core.trace.TraceJob;

/**
 * Plans the traces that a set of layers needs: one for each transport class, in it one view for
 * each set of entities that the camera skips, and where each layer finds its light.
 *
 * <p>A catcher needs two: its own class, in which diffuse light via its casters is kept apart, and
 * the class without them. Other layers of its class share the first.
 */
public final class JobPlan {
  private final List<Draft> drafts = new ArrayList<>();
  private final @Nullable Source[] layerSources;
  private final @Nullable Source[] withoutSources;
  private @Nullable Source uncutSource;
  private @Nullable Source uncutWithout;
  private final LightSplit split;

  /** Where light is found: number of the job, and of the view in it. */
  public record Source(int job, int view) {}

  private static final class Draft {
    final TransportClass transport;
    final EntitySet casters;
    final List<EntitySet> skipped = new ArrayList<>();
    final List<EntitySet> wanted = new ArrayList<>();
    final List<EntitySet> deep = new ArrayList<>();

    Draft(TransportClass transport, EntitySet casters) {
      this.transport = transport;
      this.casters = casters;
    }
  }

  /**
   * Plans traces of which nothing is kept by depth.
   *
   * @param chosen which layers are needed, by index
   * @param uncut whether the uncut frame is needed
   * @param keepAll in which classes fragments of all entities are kept, so that roles may change
   *     between Seen and Holdout without a new trace; in others only what the layers show
   */
  public JobPlan(
      ResolvedShot shot, IntPredicate chosen, boolean uncut, Predicate<TransportClass> keepAll) {
    this(shot, chosen, uncut, keepAll, l -> false);
  }

  /**
   * Plans traces.
   *
   * @param chosen which layers are needed, by index
   * @param uncut whether the uncut frame is needed
   * @param keepAll in which classes fragments of all entities are kept, so that roles may change
   *     between Seen and Holdout without a new trace; in others only what the layers show
   * @param deep of which layers fragments are kept by depth, by index; catchers have none
   */
  public JobPlan(
      ResolvedShot shot,
      IntPredicate chosen,
      boolean uncut,
      Predicate<TransportClass> keepAll,
      IntPredicate deep) {
    int count = shot.layers().size();
    layerSources = new Source[count];
    withoutSources = new Source[count];
    EntitySet all = shot.all();
    split = split(shot);
    // catchers first: the trace that keeps their casters apart serves the others too
    for (int pass = 0; pass < 2; pass++) {
      for (int l = 0; l < count; l++) {
        ResolvedLayer layer = shot.layers().get(l);
        CatcherSpec catcher = layer.catcher();
        if (!chosen.test(l) || (catcher != null) != (pass == 0)) {
          continue;
        }
        if (catcher == null) {
          EntitySet wanted = keepAll.test(layer.transport()) ? all : layer.seen();
          layerSources[l] = source(layer.transport(), null, layer.skipped(), wanted);
          if (deep.test(l)) {
            keepDeep(layerSources[l], layer.seen());
          }
        } else {
          EntitySet shown = layer.seen().or(catcher.surfaces());
          EntitySet wanted = keepAll.test(layer.transport()) ? all : shown;
          layerSources[l] = source(layer.transport(), catcher.casters(), layer.skipped(), wanted);
          EntitySet surfaces = keepAll.test(catcher.without()) ? all : catcher.surfaces();
          // light that still comes via casters there is kept apart, too
          EntitySet remaining = catcher.remain() ? catcher.casters() : null;
          withoutSources[l] = source(catcher.without(), remaining, layer.skipped(), surfaces);
        }
      }
    }
    // the noise filter reads the uncut frame
    if (uncut || shot.asked().filters()) {
      CatcherSpec plate = shot.asked().plate();
      EntitySet casters = plate == null ? null : plate.casters();
      uncutSource = source(shot.uncut(), casters, EntitySet.NONE, all);
      if (plate != null && !plate.surfaces().isEmpty()) {
        EntitySet surfaces = keepAll.test(plate.without()) ? all : plate.surfaces();
        uncutWithout = source(plate.without(), null, EntitySet.NONE, surfaces);
      }
    }
  }

  /** How light is split for all passes that a shot writes. */
  private static LightSplit split(ResolvedShot shot) {
    ResolvedShot.Asked asked = shot.asked();
    Set<Output.More> more = asked.output().more();
    boolean byLight =
        more.contains(Output.More.LIGHTS)
            || shot.layers().stream()
                .anyMatch(l -> l.catcher() != null && l.catcher().lights() != null);
    List<Integer> groupOf = new ArrayList<>();
    int groups = 0;
    if (byLight) {
      // every emitter by itself: passes and catchers add up what they need; last all that is no
      // emitter by its nature, such as what an override makes shine
      groups = asked.emitters().stream().mapToInt(g -> g.entities().size()).sum() + 1;
      for (int e = 0; e < shot.entities(); e++) {
        groupOf.add(groups - 1);
      }
      int next = 0;
      for (ResolvedShot.Group g : asked.emitters()) {
        for (int e : g.entities().indices()) {
          groupOf.set(e, next++);
        }
      }
    }
    return new LightSplit(
        groupOf,
        groups,
        more.contains(Output.More.UNSHADOWED) || more.contains(Output.More.SHADOW),
        asked.plate() != null,
        more.contains(Output.More.OCCLUSION) ? (float) asked.output().occlusion() : 0,
        false,
        asked.filters() || more.stream().anyMatch(Output.More::isData));
  }

  private Source source(
      TransportClass transport, @Nullable EntitySet casters, EntitySet skipped, EntitySet wanted) {
    int job = -1;
    for (int d = 0; d < drafts.size() && job < 0; d++) {
      Draft draft = drafts.get(d);
      if (draft.transport.equals(transport)
          && draft.transport.isSeenSameAt(transport.time(), skipped)
          && (casters == null || draft.casters.equals(casters))) {
        job = d;
      }
    }
    if (job < 0) {
      job = drafts.size();
      drafts.add(new Draft(transport, casters == null ? EntitySet.NONE : casters));
    }
    Draft draft = drafts.get(job);
    int view = draft.skipped.indexOf(skipped);
    if (view < 0) {
      view = draft.skipped.size();
      draft.skipped.add(skipped);
      draft.wanted.add(wanted);
      draft.deep.add(EntitySet.NONE);
    } else {
      draft.wanted.set(view, draft.wanted.get(view).or(wanted));
    }
    return new Source(job, view);
  }

  private void keepDeep(Source source, EntitySet entities) {
    List<EntitySet> deep = drafts.get(source.job).deep;
    deep.set(source.view, deep.get(source.view).or(entities));
  }

  /** Returns the traces. */
  public List<TraceJob> jobs() {
    List<TraceJob> jobs = new ArrayList<>();
    for (int job = 0; job < drafts.size(); job++) {
      Draft draft = drafts.get(job);
      List<TraceJob.View> views = new ArrayList<>();
      for (int v = 0; v < draft.skipped.size(); v++) {
        views.add(new TraceJob.View(draft.skipped.get(v), draft.wanted.get(v), draft.deep.get(v)));
      }
      // interplay is measured in the uncut frame, not in the layers
      boolean whole = uncutSource != null && uncutSource.job == job;
      LightSplit own = split.withCasters(!draft.casters.isEmpty());
      jobs.add(new TraceJob(draft.transport, draft.casters, views, own, whole));
    }
    return jobs;
  }

  /** Returns where a chosen layer's light is; for a catcher, its own class. */
  public Source layer(int index) {
    return require(layerSources[index]);
  }

  /** Returns where a chosen catcher layer's light without the casters is. */
  public Source without(int index) {
    return require(withoutSources[index]);
  }

  /** Returns where the uncut frame's light is. */
  public Source uncut() {
    return require(uncutSource);
  }

  /** Returns where the light without the objects inserted into the plate is, or null. */
  public @Nullable Source uncutWithout() {
    return uncutWithout;
  }

  private static Source require(@Nullable Source source) {
    if (source == null) {
      throw new IllegalArgumentException("not among the layers that were chosen");
    }
    return source;
  }
}
