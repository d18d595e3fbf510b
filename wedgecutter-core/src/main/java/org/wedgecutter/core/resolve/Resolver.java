package org.wedgecutter.core.resolve;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.EnumSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.plan.Bounces;
import org.wedgecutter.core.plan.CatcherOptions;
import org.wedgecutter.core.plan.CatcherOutput;
import org.wedgecutter.core.plan.CatcherTuning;
import org.wedgecutter.core.plan.Cell;
import org.wedgecutter.core.plan.CellOverride;
import org.wedgecutter.core.plan.CollectionDef;
import org.wedgecutter.core.plan.LayerDef;
import org.wedgecutter.core.plan.Output;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.Property;
import org.wedgecutter.core.plan.Role;
import org.wedgecutter.core.plan.Shot;
import org.wedgecutter.core.plan.Value;
import org.wedgecutter.core.scene.EntityKind;
import org.wedgecutter.core.scene.Scene;
import org.wedgecutter.core.scene.SceneTime;

/**
 * Resolves plan, scene and frame into layers.
 *
 * <p>Rows count from top to bottom. For a layer, the first row that matches the entity and has an
 * entry in that layer decides: its role, separately each property that is overridden, and
 * separately what is caught; what no row decides, the layer's rest does.
 *
 * <p>Sets of entities are bit sets and a row is asked once for all its entities, so that hundreds
 * of rows over ten thousand entities take milliseconds.
 */
public final class Resolver {
  private final Plan plan;
  private final Members members;
  private final Scene scene;
  private final int count;
  private final List<String> names;
  private final List<EntitySet> takes = new ArrayList<>();

  private Resolver(Plan plan, Members members) {
    this.plan = plan;
    this.members = members;
    scene = members.scene();
    count = scene.entities().size();
    names = plan.collections().stream().map(CollectionDef::name).toList();
    for (CollectionDef c : plan.collections()) {
      takes.add(members.of(c));
    }
  }

  /** Resolves every layer at a frame. */
  public static ResolvedShot resolve(Plan plan, Members members, int frame) {
    Resolver resolver = new Resolver(plan, members);
    Shot shot = plan.requireShot();
    List<ResolvedLayer> layers = new ArrayList<>();
    for (LayerDef layer : plan.layers()) {
      layers.add(resolver.layer(layer, LayerFrames.of(layer, shot).held(frame)));
    }
    Reach[] there = new Reach[resolver.count];
    Arrays.fill(there, Reach.ALL);
    TransportClass uncut =
        new TransportClass(there, Map.of(), resolver.links(), settings(shot), resolver.time(frame));
    return new ResolvedShot(layers, uncut, resolver.count, resolver.asked(uncut, frame));
  }

  private ResolvedShot.Asked asked(TransportClass uncut, int frame) {
    Shot shot = plan.requireShot();
    List<ResolvedShot.Group> emitters = new ArrayList<>();
    EntitySet open = Subjects.emitters(shot, scene);
    for (String name : plan.output().lightGroups()) {
      int row = names.indexOf(name);
      EntitySet own = row < 0 ? EntitySet.NONE : takes.get(row).and(open);
      if (!own.isEmpty()) {
        emitters.add(new ResolvedShot.Group(name, own));
        open = open.minus(own);
      }
    }
    for (int e : open.indices()) {
      emitters.add(
          new ResolvedShot.Group(
              scene.entities().get(e).name(), EntitySet.where(count, k -> k == e)));
    }
    List<ResolvedShot.Group> collections = new ArrayList<>();
    EntitySet left = EntitySet.where(count, e -> true);
    for (int r = 0; r < names.size(); r++) {
      collections.add(new ResolvedShot.Group(names.get(r), takes.get(r).and(left)));
      left = left.minus(takes.get(r));
    }
    List<Double> denoise = new ArrayList<>();
    for (LayerDef layer : plan.layers()) {
      denoise.add(number(layer, shot, Property.DENOISE, frame));
    }
    Map<String, EntitySet> limits = new TreeMap<>();
    plan.output()
        .limits()
        .forEach((word, name) -> {
          int row = names.indexOf(name);
          limits.put(word, row < 0 ? EntitySet.NONE : takes.get(row));
        });
    return new ResolvedShot.Asked(
        plan.output(), emitters, collections, plate(uncut), shot.denoise(), denoise, limits);
  }

  /** How a plate takes part in the uncut frame: everything else does what it does to stand-ins. */
  private @Nullable CatcherSpec plate(TransportClass uncut) {
    Shot.PlateDef plate = plan.requireShot().plate();
    int row = names.indexOf(plate.standIns());
    if (!plate.exists()) {
      return null;
    }
    EntitySet surfaces =
        (row < 0 ? EntitySet.NONE : takes.get(row))
            .and(EntitySet.where(count, e -> scene.entities().get(e).kind().stopsLight()));
    EntitySet casters =
        EntitySet.where(
            count, e -> scene.entities().get(e).kind().stopsLight() && !surfaces.contains(e));
    return new CatcherSpec(
        surfaces, casters, uncut.without(casters, Reach.RAYS_AND_SHADOW), CatcherOutput.DIFFERENCE);
  }

  /** Resolves every layer of a scene that is seen for the first time. */
  public static ResolvedShot resolve(Plan plan, Scene scene, int frame) {
    return resolve(plan, new Members(scene), frame);
  }

  /** Returns what the scene is like at a frame, for as long as the pictures of it look at it. */
  private SceneTime time(int frame) {
    Shot shot = plan.requireShot();
    // motion vectors look a frame ahead and back
    boolean vectors = plan.output().more().contains(Output.More.MOTION);
    double half = vectors ? Math.max(1, shot.shutter() / 2) : shot.shutter() / 2;
    double middle = shot.time(frame);
    return members
        .time()
        .over(frame, shot.cameraIn(scene), middle - half / shot.fps(), middle + half / shot.fps());
  }

  private static TraceSettings settings(Shot shot) {
    return new TraceSettings(
        shot.bounces(),
        shot.seed(),
        shot.clamp(),
        shot.soften(),
        1,
        1,
        1,
        shot.environment().turn(),
        shot.environment().level(),
        shot.seeThrough(),
        true);
  }

  /** The emitters that illuminate only some entities, by the shot's light links. */
  private Map<Integer, EntitySet> links() {
    Map<Integer, EntitySet> out = new TreeMap<>();
    plan.requireShot()
        .links()
        .forEach((path, collection) -> {
          int row = names.indexOf(collection);
          if (row >= 0) {
            scene.entity(path).ifPresent(e -> out.put(e.index(), takes.get(row)));
          }
        });
    return out;
  }

  private static TraceSettings settings(Shot shot, LayerDef layer, int frame) {
    Value.Size size = (Value.Size) LayerSettings.at(layer, shot, Property.SIZE, frame);
    return new TraceSettings(
        new Bounces(
            (int) number(layer, shot, Property.BOUNCES, frame),
            (int) number(layer, shot, Property.BOUNCES_GLASS, frame),
            (int) number(layer, shot, Property.BOUNCES_MEDIA, frame)),
        shot.seed(),
        shot.clamp(),
        shot.soften(),
        number(layer, shot, Property.SAMPLES, frame) / shot.samples(),
        size.width() / (double) shot.width(),
        size.height() / (double) shot.height(),
        number(layer, shot, Property.ENVIRONMENT_TURN, frame),
        number(layer, shot, Property.ENVIRONMENT_LEVEL, frame),
        isOn(layer, shot, Property.SEE_THROUGH, frame),
        // without a shutter there is nothing to switch off: such layers share their light
        shot.shutter() <= 0 || isOn(layer, shot, Property.MOTION_BLUR, frame));
  }

  private static boolean isOn(LayerDef layer, Shot shot, Property property, int frame) {
    return ((Value.Switch) LayerSettings.at(layer, shot, property, frame)).on();
  }

  private static double number(LayerDef layer, Shot shot, Property property, int frame) {
    return ((Value.Num) LayerSettings.at(layer, shot, property, frame)).number();
  }

  /** Resolves one layer at a frame that is rendered for it, whether it holds another or not. */
  public static ResolvedLayer at(Plan plan, Members members, LayerDef layer, int frame) {
    return new Resolver(plan, members).layer(layer, frame);
  }

  /**
   * @param frame the frame that is rendered for it
   */
  private ResolvedLayer layer(LayerDef layer, int frame) {
    Map<Property, CellOverride[]> overrides = overrides(layer);
    Decisions decisions = decide(layer, overrides.get(Property.VISIBLE_CAMERA), frame);
    Reach[] reach = reach(decisions, overrides, frame);
    TransportClass transport =
        new TransportClass(
            reach,
            looks(decisions, overrides, frame),
            links(),
            settings(plan.requireShot(), layer, frame),
            time(frame));
    EntitySet skipped = decisions.of(Role.UNSEEN).or(decisions.of(Role.ABSENT));
    return new ResolvedLayer(
        layer.name(),
        decisions,
        decisions.of(Role.SEEN),
        skipped,
        transport,
        catcher(layer, decisions, transport));
  }

  /** Assigns each entity to the first row that matches it and has an entry. */
  private <T> void firstRow(
      LayerDef layer, java.util.function.Function<Cell, @Nullable T> says, Taker<T> taker) {
    BitSet open = new BitSet();
    open.set(0, count);
    for (int r = 0; r < names.size() && !open.isEmpty(); r++) {
      Cell cell = layer.cells().get(names.get(r));
      T said = cell == null ? null : says.apply(cell);
      if (said != null) {
        BitSet own = takes.get(r).bits();
        own.and(open);
        open.andNot(own);
        for (int e = own.nextSetBit(0); e >= 0; e = own.nextSetBit(e + 1)) {
          taker.take(e, r, said);
        }
      }
    }
    T said = says.apply(layer.rest());
    if (said != null) {
      for (int e = open.nextSetBit(0); e >= 0; e = open.nextSetBit(e + 1)) {
        taker.take(e, -1, said);
      }
    }
  }

  private interface Taker<T> {
    void take(int entity, int row, T said);
  }

  private Decisions decide(LayerDef layer, CellOverride @Nullable [] visible, int frame) {
    byte[] roles = new byte[count];
    int[] rows = new int[count];
    Arrays.fill(roles, (byte) Role.HOLDOUT.ordinal());
    Arrays.fill(rows, -1);
    firstRow(
        layer,
        Cell::role,
        (e, row, role) -> {
          roles[e] = (byte) role.ordinal();
          rows[e] = row;
        });
    if (visible != null) {
      for (int e = 0; e < count; e++) {
        if (!isOn(visible[e], frame) && roles[e] != (byte) Role.ABSENT.ordinal()) {
          roles[e] = (byte) Role.UNSEEN.ordinal();
        }
      }
    }
    return new Decisions(roles, rows, names);
  }

  private static boolean isOn(@Nullable CellOverride override, int frame) {
    return override == null || !(override.at(frame) instanceof Value.Switch s) || s.on();
  }

  /** For each property that the layer overrides anywhere: the override of each entity, or null. */
  private Map<Property, CellOverride[]> overrides(LayerDef layer) {
    Set<Property> used = EnumSet.noneOf(Property.class);
    layer.cells().values().forEach(c -> c.overrides().forEach(o -> used.add(o.property())));
    layer.rest().overrides().forEach(o -> used.add(o.property()));
    Map<Property, CellOverride[]> out = new TreeMap<>();
    for (Property property : used) {
      CellOverride[] of = new CellOverride[count];
      firstRow(layer, c -> find(c, property), (e, row, override) -> of[e] = override);
      out.put(property, of);
    }
    return out;
  }

  /** Returns a cell's override of a property, if it is on, or null. */
  static @Nullable CellOverride find(Cell cell, Property property) {
    for (CellOverride o : cell.overrides()) {
      if (o.on() && o.property() == property) {
        return o;
      }
    }
    return null;
  }

  private Reach[] reach(Decisions decisions, Map<Property, CellOverride[]> overrides, int frame) {
    Reach[] reach = new Reach[count];
    for (int e = 0; e < count; e++) {
      reach[e] = decisions.role(e) == Role.ABSENT ? Reach.NONE : Reach.ALL;
    }
    overrides.forEach((property, of) -> {
      for (int e = 0; e < count; e++) {
        if (!reach[e].isNone() && of[e] != null && !isOn(of[e], frame)) {
          reach[e] = switchedOff(property, reach[e], e);
        }
      }
    });
    return reach;
  }

  private Reach switchedOff(Property property, Reach reach, int entity) {
    if (!Subjects.has(scene, scene.entities().get(entity), property)) {
      // what stops no light casts no shadow that could be switched off
      return reach;
    }
    return switch (property) {
      case VISIBLE_REFLECTION -> reach.without(Reach.Flag.REFLECTION);
      case VISIBLE_BOUNCE -> reach.without(Reach.Flag.BOUNCE);
      case VISIBLE_TRANSMISSION -> reach.without(Reach.Flag.TRANSMISSION);
      case SHADOW_CASTS -> reach.without(Reach.Flag.SHADOW);
      case SHADOW_RECEIVES -> reach.with(Reach.Flag.NO_RECEIVED_SHADOWS);
      case SHADOW_SELF -> reach.with(Reach.Flag.NO_SELF_SHADOW);
      default -> reach;
    };
  }

  private Map<Integer, AppearanceOverride> looks(
      Decisions decisions, Map<Property, CellOverride[]> overrides, int frame) {
    Map<Integer, AppearanceOverride> out = new TreeMap<>();
    List<Property> kinds = overrides.keySet().stream().filter(Resolver::changesLook).toList();
    if (kinds.isEmpty()) {
      return out;
    }
    for (int e = 0; e < count; e++) {
      if (decisions.role(e) == Role.ABSENT) {
        continue;
      }
      List<AppearanceOverride.Change> changes = new ArrayList<>();
      for (Property property : kinds) {
        CellOverride o = java.util.Objects.requireNonNull(overrides.get(property))[e];
        if (o != null && Subjects.has(scene, scene.entities().get(e), property)) {
          changes.add(new AppearanceOverride.Change(property, o.verb(), o.at(frame)));
        }
      }
      if (!changes.isEmpty()) {
        out.put(e, new AppearanceOverride(changes));
      }
    }
    return out;
  }

  private static boolean changesLook(Property p) {
    return p == Property.MOTION_BLUR || (p.sort() != Property.Sort.SWITCH && !p.ofLayer());
  }

  private @Nullable CatcherSpec catcher(
      LayerDef layer, Decisions decisions, TransportClass transport) {
    EntitySet surfaces = decisions.of(Role.CATCHER);
    if (surfaces.isEmpty()) {
      return null;
    }
    CatcherOptions[] options = new CatcherOptions[count];
    firstRow(layer, Cell::catcher, (e, row, said) -> options[e] = said);
    // what is switched off for all rays casts nothing, wherever it stands
    EntitySet casters =
        EntitySet.where(
            count,
            e ->
                isCaster(e, decisions.role(e), options[e])
                    && (transport.reach(e).isMet() || transport.reach(e).castsShadow()));
    CatcherOptions own = options[surfaces.first()];
    CatcherOutput output =
        own == null || own.output() == null ? CatcherOutput.DIFFERENCE : own.output();
    Set<Reach.Flag> caught = EnumSet.copyOf(Reach.RAYS_AND_SHADOW);
    if (own != null) {
      for (CatcherOptions.Part part : own.leftOut()) {
        caught.removeAll(
            switch (part) {
              case SHADOWS -> EnumSet.of(Reach.Flag.SHADOW);
              case REFLECTIONS -> EnumSet.of(Reach.Flag.REFLECTION, Reach.Flag.TRANSMISSION);
              case BOUNCE -> EnumSet.of(Reach.Flag.BOUNCE);
            });
      }
    }
    CatcherTuning tuning = own == null ? CatcherTuning.USUAL : own.tuning();
    if (output != CatcherOutput.CATCH) {
      // kept in the plan for when it is a catch again
      tuning = tuning.withBackgrounds(List.of());
    }
    return new CatcherSpec(
        surfaces,
        casters,
        transport.without(casters, caught),
        output,
        tuning,
        tuning.lights().isEmpty() ? null : named(tuning.lights()));
  }

  private EntitySet named(List<String> collections) {
    EntitySet out = EntitySet.NONE;
    for (String name : collections) {
      int row = names.indexOf(name);
      out = row < 0 ? out : out.or(takes.get(row));
    }
    return out;
  }

  private boolean isCaster(int entity, Role role, @Nullable CatcherOptions options) {
    EntityKind kind = scene.entities().get(entity).kind();
    if (!kind.stopsLight() || role == Role.ABSENT) {
      return false;
    }
    if (role != Role.CATCHER && options != null && options.caster() != null) {
      return options.caster();
    }
    return role == Role.SEEN || role == Role.UNSEEN;
  }
}
