package org.wedgecutter.core.proof;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.mistake.Message;
import org.wedgecutter.core.mistake.Sentence;
import org.wedgecutter.core.plan.Join;
import org.wedgecutter.core.plan.Property;
import org.wedgecutter.core.plan.Recipe;
import org.wedgecutter.core.plan.Role;
import org.wedgecutter.core.resolve.AppearanceOverride;
import org.wedgecutter.core.resolve.CatcherSpec;
import org.wedgecutter.core.resolve.EntitySet;
import org.wedgecutter.core.resolve.Reach;
import org.wedgecutter.core.resolve.ResolvedLayer;
import org.wedgecutter.core.resolve.TraceSettings;
import org.wedgecutter.core.resolve.TransportClass;
import org.wedgecutter.core.scene.Entity;
import org.wedgecutter.core.scene.EntityKind;

/**
 * Why light is missing from layers, or counted twice: things seen nowhere or several times, layers
 * lit otherwise than the uncut frame, settings that differ.
 */
final class LightCauses {
  private final Causes all;

  LightCauses(Causes all) {
    this.all = all;
  }

  /**
   * Finds what is Seen in no layer, or in several layers that do not divide its light among them.
   */
  void partition() {
    Map<String, List<Entity>> nowhere = new LinkedHashMap<>();
    Map<String, List<Entity>> twice = new LinkedHashMap<>();
    Map<String, List<ResolvedLayer>> several = new LinkedHashMap<>();
    Map<ResolvedLayer, List<Entity>> bare = new LinkedHashMap<>();
    for (Entity e : all.scene.entities()) {
      if (!e.kind().isSeen()) {
        continue;
      }
      int times = 0;
      for (ResolvedLayer layer : all.joined) {
        times += seen(layer, e.index()) ? 1 : 0;
      }
      if (times == 1) {
        for (ResolvedLayer layer : all.joined) {
          if (layer != null
              && seen(layer, e.index())
              && all.plan.join(layer.name()).orElse(Join.PLUS) == Join.LIGHT) {
            bare.computeIfAbsent(layer, k -> new ArrayList<>()).add(e);
          }
        }
      }
      if (times == 0) {
        nowhere.computeIfAbsent(Causes.parent(e), k -> new ArrayList<>()).add(e);
      } else if (times > 1) {
        List<ResolvedLayer> layers = new ArrayList<>();
        for (ResolvedLayer layer : all.joined) {
          if (layer != null && seen(layer, e.index())) {
            layers.add(layer);
          }
        }
        String names = Message.all(layers.stream().map(ResolvedLayer::name).toList());
        twice.computeIfAbsent(names, k -> new ArrayList<>()).add(e);
        several.putIfAbsent(names, layers);
      }
    }
    seenInRatio();
    bare.forEach(this::alphaMissing);
    nowhere.forEach((group, list) ->
        all.add(Message.of(Sentence.SEEN_NOWHERE, "entities", Causes.paths(list)), "", list));
    twice.forEach((names, list) -> seenTwice(names, list, several.getOrDefault(names, List.of())));
  }

  private static boolean seen(@Nullable ResolvedLayer layer, int entity) {
    return layer != null && layer.shown().contains(entity);
  }

  /** Things that are Seen in a layer whose picture cannot hold them. */
  void seenInRatio() {
    for (ResolvedLayer layer : all.joined) {
      if (layer == null) {
        continue;
      }
      CatcherSpec catcher = layer.catcher();
      List<Entity> lost = all.entities(all.seen(layer.seen().minus(layer.shown())));
      if (catcher != null && !lost.isEmpty()) {
        all.add(
            Message.of(
                Sentence.SEEN_IN_RATIO,
                "layer",
                layer.name(),
                "entities",
                Causes.paths(lost),
                "form",
                "the %s alone".formatted(catcher.output().word())),
            layer.name(),
            lost);
      }
    }
  }

  /** Several layers may show the same things if each has lights of its own: light adds up. */
  private void seenTwice(String names, List<Entity> list, List<ResolvedLayer> layers) {
    if (!splitByLight(layers)) {
      all.add(
          Message.of(Sentence.SEEN_TWICE, "entities", Causes.paths(list), "layers", names),
          layers.getLast().name(),
          list);
      return;
    }
    alpha(list, layers);
    for (int i = 0; i < layers.size(); i++) {
      for (int k = 0; k < i; k++) {
        EntitySet both = shining(layers.get(i)).and(shining(layers.get(k)));
        if (!both.isEmpty()) {
          all.add(
              Message.of(
                  Sentence.LIGHT_TWICE,
                  "entities",
                  Causes.paths(all.entities(both)),
                  "layers",
                  List.of(layers.get(k).name(), layers.get(i).name())),
              layers.get(i).name(),
              all.entities(both));
        }
      }
    }
    EntitySet dark = all.emitters;
    for (ResolvedLayer layer : layers) {
      dark = dark.minus(shining(layer));
    }
    if (!dark.isEmpty()) {
      all.add(
          Message.of(
              Sentence.LIGHT_OFF_EVERYWHERE,
              "entities",
              Causes.paths(all.entities(dark)),
              "layers",
              names),
          layers.getLast().name(),
          all.entities(dark));
    }
  }

  /** Of layers that show the same under different lights, one is to count its alpha. */
  private void alpha(List<Entity> list, List<ResolvedLayer> layers) {
    List<String> names = layers.stream().map(ResolvedLayer::name).toList();
    boolean counted = false;
    for (ResolvedLayer layer : layers) {
      boolean counts = all.plan.join(layer.name()).orElse(Join.PLUS) != Join.LIGHT;
      if (counts && counted) {
        all.add(
            Message.of(
                Sentence.ALPHA_TWICE,
                "layers",
                names,
                "entities",
                Causes.paths(list),
                "layer",
                layer.name()),
            layer.name(),
            list);
      }
      counted |= counts;
    }
    if (!counted) {
      alphaMissing(layers.getFirst(), list);
    }
  }

  /** Things whose alpha no layer counts. */
  private void alphaMissing(ResolvedLayer layer, List<Entity> list) {
    all.add(
        Message.of(Sentence.ALPHA_MISSING, "entities", Causes.paths(list), "layer", layer.name()),
        layer.name(),
        list);
  }

  private EntitySet shining(ResolvedLayer layer) {
    return EntitySet.where(
        all.shot.entities(), e -> all.emitters.contains(e) && layer.transport().reach(e).emits());
  }

  private boolean splitByLight(List<ResolvedLayer> layers) {
    EntitySet first = shining(layers.getFirst());
    for (ResolvedLayer layer : layers) {
      if (!all.plan.join(layer.name()).orElse(Join.OVER).adds()
          || !layer.skipped().minus(all.emitters).isEmpty()) {
        return false;
      }
    }
    return layers.stream().skip(1).noneMatch(l -> shining(l).equals(first))
        && layers.stream().anyMatch(l -> !shining(l).equals(all.emitters));
  }

  /** The layers that split the light of what they show with others. */
  private boolean sharesLight(ResolvedLayer layer) {
    List<ResolvedLayer> same = new ArrayList<>();
    for (ResolvedLayer other : all.joined) {
      if (other != null && all.seen(other.shown()).meets(layer.shown())) {
        same.add(other);
      }
    }
    return same.size() > 1 && splitByLight(same);
  }

  /** Light that differs from the uncut frame's, unless differences or ratios put it right. */
  void light(ResolvedLayer layer) {
    TransportClass own = layer.transport();
    TransportClass uncut = all.shot.uncut();
    if (own.equals(uncut)) {
      return;
    }
    if (!own.settings().equals(uncut.settings())) {
      settings(layer);
    }
    if (!own.isSameAt(uncut.time())) {
      all.addLayer(
          Message.of(
              Sentence.HELD_NOT_STILL,
              "layer",
              layer.name(),
              "held",
              own.frame(),
              "frame",
              uncut.frame()),
          layer);
    }
    EntitySet apart = hazeApart().and(layer.decisions().of(Role.ABSENT));
    hazeLost = hazeLost.or(apart);
    EntitySet open =
        EntitySet.where(
            all.shot.entities(),
            // the environment is seen as it is, whatever lights the rest; lights are not seen
            e ->
                layer.seen().contains(e)
                    && all.scene.entities().get(e).kind() != EntityKind.ENVIRONMENT
                    && all.scene.entities().get(e).kind().isSeen()
                    && !mended(layer, e));
    if (open.isEmpty()) {
      return;
    }
    List<Entity> looking =
        all.entities(EntitySet.where(all.shot.entities(), e -> own.look(e) != null));
    if (!looking.isEmpty()) {
      overridden.computeIfAbsent(own.looks(), k -> new ArrayList<>()).add(layer);
    }
    EntitySet differing =
        EntitySet.where(
            all.shot.entities(), e -> !own.reach(e).equals(uncut.reach(e)) && !apart.contains(e));
    if (differing.isEmpty() || sharesLight(layer)) {
      return;
    }
    EntitySet absent = differing.and(layer.decisions().of(Role.ABSENT));
    List<Entity> list = all.entities(absent.isEmpty() ? differing : absent);
    all.add(
        new Cause(
            Message.of(
                missing(list, absent.isEmpty()),
                "layer",
                layer.name(),
                "entities",
                Causes.paths(list),
                "switches",
                switches(list, own, uncut)),
            layer.name(),
            list.getFirst().path(),
            list.stream().map(Entity::index).toList(),
            all.share(open::contains)));
  }

  /** The layers with the same overrides of looks, which the uncut frame is without. */
  private final Map<Map<Integer, AppearanceOverride>, List<ResolvedLayer>> overridden =
      new LinkedHashMap<>();

  /** Finds overrides of looks: one that several layers have alike is one cause. */
  void overrides() {
    overridden.forEach((looks, layers) -> {
      List<Entity> list = all.entities(EntitySet.of(List.copyOf(looks.keySet())));
      if (layers.size() == 1) {
        ResolvedLayer only = layers.getFirst();
        all.add(
            Message.of(
                Sentence.OVERRIDE_DIFFERS, "entities", Causes.paths(list), "layer", only.name()),
            only.name(),
            list);
        return;
      }
      List<String> names = layers.stream().map(ResolvedLayer::name).toList();
      all.add(
          Message.of(
              Sentence.OVERRIDE_IN_ALL,
              "entities",
              Causes.paths(list),
              "layers",
              Message.all(names)),
          "",
          list);
    });
  }

  /** The switches by which things take part otherwise than in the uncut frame, in words. */
  private String switches(List<Entity> list, TransportClass own, TransportClass whole) {
    Set<String> out = new LinkedHashSet<>();
    for (Entity e : list) {
      for (Reach.Flag flag : Reach.Flag.values()) {
        boolean counts = flag != Reach.Flag.EMITS || all.emitters.contains(e.index());
        if (counts && own.reach(e.index()).has(flag) != whole.reach(e.index()).has(flag)) {
          out.add(
              switch (flag) {
                case REFLECTION -> Property.VISIBLE_REFLECTION.word();
                case BOUNCE -> Property.VISIBLE_BOUNCE.word();
                case SHADOW -> Property.SHADOW_CASTS.word();
                case EMITS -> "light";
                case TRANSMISSION -> Property.VISIBLE_TRANSMISSION.word();
                case NO_RECEIVED_SHADOWS -> Property.SHADOW_RECEIVES.word();
                case NO_SELF_SHADOW -> Property.SHADOW_SELF.word();
              });
        }
      }
    }
    return Message.all(List.copyOf(out));
  }

  /** Finds a layer whose noise is filtered otherwise than the uncut frame's. */
  void filter(ResolvedLayer layer) {
    int index = all.plan.layerIndex(layer.name());
    double own = all.shot.asked().denoise(index);
    double whole = all.shot.asked().denoise();
    boolean told = !layer.transport().settings().equals(all.shot.uncut().settings());
    if (own != whole && !(told && !layer.shown().isEmpty())) {
      all.addLayer(
          Message.of(
              Sentence.SETTINGS_DIFFER, "layer", layer.name(), "settings", filtered(own, whole)),
          layer);
    }
  }

  private static String filtered(double own, double whole) {
    return "a noise filter of %.3g instead of %.3g".formatted(own, whole);
  }

  private Sentence missing(List<Entity> list, boolean switchedOff) {
    if (all.emitters.contains(list.getFirst().index())) {
      return switchedOff ? Sentence.LIGHT_SWITCHED_OFF : Sentence.LIGHT_ABSENT;
    }
    return switchedOff ? Sentence.INFLUENCE_SWITCHED_OFF : Sentence.INFLUENCE_ABSENT;
  }

  /** Media that are put over other layers in a layer of their own. */
  private EntitySet hazeApart() {
    EntitySet out = EntitySet.NONE;
    for (Recipe.Step step : all.plan.recipe().joins()) {
      if (step.join() == Join.OVER) {
        out = out.or(all.shot.layers().get(all.plan.layerIndex(step.layer())).shown());
      }
    }
    return out.and(
        EntitySet.where(
            all.shot.entities(), e -> all.scene.entities().get(e).kind() == EntityKind.MEDIUM));
  }

  /** Media that some layer is lit without, though they are put over it. */
  private EntitySet hazeLost = EntitySet.NONE;

  /** Finds media that are put over layers lit without them. */
  void hazeIsApart() {
    if (!hazeLost.isEmpty()) {
      List<Entity> list = all.entities(hazeLost);
      all.add(Message.of(Sentence.HAZE_APART, "entities", Causes.paths(list)), "", list);
    }
  }

  private static String counted(int number, String of) {
    return "%d %s%s".formatted(number, of, number == 1 ? "" : "s");
  }

  private static void bounces(int own, int uncut, String of, List<String> what) {
    if (own != uncut) {
      what.add("%s instead of %d".formatted(counted(own, of), uncut));
    }
  }

  private void settings(ResolvedLayer layer) {
    TraceSettings own = layer.transport().settings();
    TraceSettings uncut = all.shot.uncut().settings();
    List<String> what = new ArrayList<>();
    bounces(own.bounces().surfaces(), uncut.bounces().surfaces(), "bounce", what);
    bounces(own.bounces().glass(), uncut.bounces().glass(), "refraction bounce", what);
    bounces(own.bounces().media(), uncut.bounces().media(), "volume bounce", what);
    if (own.seeThrough() != uncut.seeThrough()) {
      what.add("a different setting for seeing through glass");
    }
    if (own.blur() != uncut.blur()) {
      what.add("no motion blur");
    }
    if (own.across() != uncut.across() || own.down() != uncut.down()) {
      what.add("a different size");
    }
    if (own.samples() != uncut.samples()) {
      what.add(counted(own.samples(all.plan.requireShot().samples()), "sample"));
    }
    if (own.level() != uncut.level() || own.turn() != uncut.turn()) {
      what.add("a different environment");
    }
    double filter = all.shot.asked().denoise(all.plan.layerIndex(layer.name()));
    if (filter != all.shot.asked().denoise()) {
      what.add(filtered(filter, all.shot.asked().denoise()));
    }
    if (!what.isEmpty()) {
      all.addLayer(
          Message.of(
              Sentence.SETTINGS_DIFFER, "layer", layer.name(), "settings", Message.all(what)),
          layer);
    }
  }

  /**
   * Whether catchers bring a surface's light from this layer's class to the uncut frame's, one
   * after another.
   */
  private boolean mended(ResolvedLayer layer, int entity) {
    TransportClass whole = whole(layer);
    return caught(layer.transport(), entity, whole).equals(whole);
  }

  /** The uncut class, less haze that is put over all layers later, which is a cause of its own. */
  private TransportClass whole(ResolvedLayer layer) {
    return all.shot.uncut().without(hazeApart().and(layer.decisions().of(Role.ABSENT)));
  }

  /** Returns the class to which catchers bring a surface's light, from another. */
  private TransportClass caught(TransportClass from, int entity, TransportClass whole) {
    TransportClass at = from;
    for (int steps = 0; steps < all.joined.length && !at.equals(whole); steps++) {
      TransportClass before = at;
      for (ResolvedLayer other : all.joined) {
        CatcherSpec catcher = other == null ? null : other.catcher();
        if (other != null
            && catcher != null
            && catcher.surfaces().contains(entity)
            && catcher.without().equals(before)
            && !other.transport().equals(before)) {
          at = other.transport();
        }
      }
      if (at.equals(before)) {
        break;
      }
    }
    return at;
  }

  /**
   * Finds what a catcher layer fails to catch: things that are Absent, switched off or no casters
   * there, though the surface is lit without them wherever it is shown.
   */
  void caught(ResolvedLayer layer, CatcherSpec catcher) {
    TransportClass whole = whole(layer);
    EntitySet lacking = EntitySet.NONE;
    for (int s : catcher.surfaces().indices()) {
      for (TransportClass shown : shownIn(s)) {
        TransportClass end = caught(shown, s, whole);
        lacking =
            lacking.or(
                EntitySet.where(all.shot.entities(), e -> !end.reach(e).equals(whole.reach(e))));
      }
    }
    if (lacking.isEmpty()) {
      boolean couldCast = !all.stopping(layer.decisions().of(Role.HOLDOUT)).isEmpty();
      if (catcher.casters().isEmpty() && couldCast) {
        idle(layer, catcher, all.entities(catcher.surfaces()));
      }
      return;
    }
    EntitySet absent =
        EntitySet.where(
            all.shot.entities(),
            e ->
                layer.decisions().role(e) == Role.ABSENT
                    && !layer.transport().reach(e).equals(whole.reach(e)));
    EntitySet off =
        EntitySet.where(
            all.shot.entities(),
            e ->
                layer.decisions().role(e) != Role.ABSENT
                    && !layer.transport().reach(e).equals(whole.reach(e)));
    EntitySet things =
        EntitySet.where(all.shot.entities(), e -> all.scene.entities().get(e).kind().stopsLight());
    EntitySet still =
        lacking
            .and(things)
            .minus(catcher.casters())
            .minus(catcher.surfaces())
            .minus(absent)
            .minus(off);
    uncaught(layer, catcher, absent, true);
    uncaught(layer, catcher, off, false);
    if (!still.isEmpty()) {
      List<Entity> list = all.entities(still);
      if (catcher.casters().isEmpty() && absent.isEmpty() && off.isEmpty()) {
        idle(layer, catcher, list);
      } else {
        lost(Sentence.NOT_CAST, layer, catcher, list);
      }
    }
  }

  /**
   * A catcher onto which nothing casts.
   *
   * @param named what should, or if that is not known the surfaces
   */
  private void idle(ResolvedLayer layer, CatcherSpec catcher, List<Entity> named) {
    List<Entity> on = all.entities(catcher.surfaces());
    all.add(
        new Cause(
            Message.of(Sentence.CATCHER_IDLE, "layer", layer.name(), "entities", Causes.paths(on)),
            layer.name(),
            on.getFirst().path(),
            named.stream().map(Entity::index).toList(),
            all.share(catcher.surfaces()::contains)));
  }

  private void uncaught(
      ResolvedLayer layer, CatcherSpec catcher, EntitySet entities, boolean absent) {
    if (!entities.isEmpty()) {
      List<Entity> list = all.entities(entities);
      lost(missing(list, !absent), layer, catcher, list);
    }
  }

  private void lost(
      Sentence sentence, ResolvedLayer layer, CatcherSpec catcher, List<Entity> list) {
    all.add(
        new Cause(
            Message.of(
                sentence,
                "layer",
                layer.name(),
                "entities",
                Causes.paths(list),
                "switches",
                switches(list, layer.transport(), all.shot.uncut())),
            layer.name(),
            list.getFirst().path(),
            list.stream().map(Entity::index).toList(),
            all.share(catcher.surfaces()::contains)));
  }

  /** The classes that light a surface where it is shown: in joined layers, or on the plate. */
  private List<TransportClass> shownIn(int surface) {
    List<TransportClass> out = new ArrayList<>();
    CatcherSpec plate = all.shot.asked().plate();
    if (plate != null && plate.surfaces().contains(surface)) {
      out.add(plate.without());
      return out;
    }
    for (ResolvedLayer layer : all.joined) {
      if (layer != null && layer.shown().contains(surface) && !sharesLight(layer)) {
        out.add(layer.transport());
      }
    }
    return out;
  }
}
