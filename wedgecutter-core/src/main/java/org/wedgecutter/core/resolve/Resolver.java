package org.wedgecutter.core.resolve;

import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.plan.CatcherOptions;
import org.wedgecutter.core.plan.CatcherOutput;
import org.wedgecutter.core.plan.Cell;
import org.wedgecutter.core.plan.CellOverride;
import org.wedgecutter.core.plan.CollectionDef;
import org.wedgecutter.core.plan.LayerDef;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.Role;
import org.wedgecutter.core.plan.Shot;
import org.wedgecutter.core.plan.SwitchProperty;
import org.wedgecutter.core.scene.Entity;
import org.wedgecutter.core.scene.EntityKind;
import org.wedgecutter.core.scene.Scene;

/**
 * Makes of plan and scene what every layer is.
 *
 * <p>Rows count from top to bottom. For a layer, the first row that takes the entity and says
 * something in that layer decides: its role, and separately each property that is overridden; what
 * no row decides, the layer's rest does.
 */
public final class Resolver {
  private final Scene scene;
  private final List<List<CollectionDef>> rowsOf;

  private Resolver(Plan plan, Scene scene) {
    this.scene = scene;
    rowsOf = new ArrayList<>();
    for (Entity e : scene.entities()) {
      rowsOf.add(plan.collections().stream().filter(c -> c.takes(e)).toList());
    }
  }

  /** Resolves every layer. */
  public static ResolvedShot resolve(Plan plan, Scene scene) {
    Resolver resolver = new Resolver(plan, scene);
    TraceSettings settings = settings(plan.requireShot());
    List<ResolvedLayer> layers = new ArrayList<>();
    for (LayerDef layer : plan.layers()) {
      layers.add(resolver.layer(layer, settings));
    }
    int entities = scene.entities().size();
    return new ResolvedShot(layers, TransportClass.whole(entities, settings), entities);
  }

  private static TraceSettings settings(Shot shot) {
    return new TraceSettings(shot.bounces(), shot.seed(), shot.clamp(), shot.soften());
  }

  private ResolvedLayer layer(LayerDef layer, TraceSettings settings) {
    int count = scene.entities().size();
    List<Decision> decisions = new ArrayList<>();
    byte[] reach = new byte[count];
    for (int e = 0; e < count; e++) {
      Decision decision = decide(layer, e);
      decisions.add(decision);
      reach[e] = (byte) reach(layer, e, decision.role());
    }
    EntitySet seen = EntitySet.where(count, e -> decisions.get(e).role() == Role.SEEN);
    EntitySet skipped = EntitySet.where(count, e -> decisions.get(e).role().skipped());
    TransportClass transport = new TransportClass(reach, settings);
    return new ResolvedLayer(
        layer.name(), decisions, seen, skipped, transport, catcher(layer, decisions, transport));
  }

  private Decision decide(LayerDef layer, int entity) {
    for (CollectionDef row : rowsOf.get(entity)) {
      Cell cell = layer.cells().get(row.name());
      if (cell != null && cell.role() != null) {
        return new Decision(cell.role(), row.name());
      }
    }
    Role rest = layer.rest().role();
    return new Decision(rest == null ? Role.HOLDOUT : rest, null);
  }

  private int reach(LayerDef layer, int entity, Role role) {
    if (role == Role.ABSENT) {
      return 0;
    }
    int reach = Reach.ALL;
    for (SwitchProperty property : SwitchProperty.values()) {
      if (!switchedOn(layer, entity, property)) {
        reach &=
            ~switch (property) {
              case VISIBLE_REFLECTION -> Reach.REFLECTION;
              case VISIBLE_BOUNCE -> Reach.BOUNCE;
              case SHADOW_CASTS -> Reach.SHADOW;
            };
      }
    }
    return reach;
  }

  private boolean switchedOn(LayerDef layer, int entity, SwitchProperty property) {
    for (CollectionDef row : rowsOf.get(entity)) {
      CellOverride found = find(layer.cells().get(row.name()), property);
      if (found != null) {
        return found.value();
      }
    }
    CellOverride rest = find(layer.rest(), property);
    return rest == null || rest.value();
  }

  private static @Nullable CellOverride find(@Nullable Cell cell, SwitchProperty property) {
    if (cell != null) {
      for (CellOverride o : cell.overrides()) {
        if (o.on() && o.property() == property) {
          return o;
        }
      }
    }
    return null;
  }

  private @Nullable CatcherSpec catcher(
      LayerDef layer, List<Decision> decisions, TransportClass transport) {
    int count = decisions.size();
    EntitySet surfaces = EntitySet.where(count, e -> decisions.get(e).role() == Role.CATCHER);
    if (surfaces.isEmpty()) {
      return null;
    }
    EntitySet casters = EntitySet.where(count, e -> isCaster(layer, e, decisions.get(e).role()));
    CatcherOutput output = CatcherOutput.DIFFERENCE;
    for (int e = count - 1; e >= 0; e--) {
      if (surfaces.contains(e)) {
        CatcherOptions options = optionsOf(layer, e);
        output =
            options != null && options.output() != null
                ? options.output()
                : CatcherOutput.DIFFERENCE;
      }
    }
    return new CatcherSpec(surfaces, casters, transport.without(casters), output);
  }

  private boolean isCaster(LayerDef layer, int entity, Role role) {
    EntityKind kind = scene.entities().get(entity).kind();
    if (kind == EntityKind.LIGHT || kind == EntityKind.ENVIRONMENT || role == Role.ABSENT) {
      return false;
    }
    CatcherOptions options = optionsOf(layer, entity);
    if (role != Role.CATCHER && options != null && options.caster() != null) {
      return options.caster();
    }
    return role == Role.SEEN || role == Role.UNSEEN;
  }

  private @Nullable CatcherOptions optionsOf(LayerDef layer, int entity) {
    for (CollectionDef row : rowsOf.get(entity)) {
      Cell cell = layer.cells().get(row.name());
      if (cell != null && cell.catcher() != null) {
        return cell.catcher();
      }
    }
    return layer.rest().catcher();
  }
}
