package org.wedgecutter.core.trace.world;

import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.plan.BuiltInMaterial;
import org.wedgecutter.core.resolve.AppearanceOverride;
import org.wedgecutter.core.resolve.TransportClass;
import org.wedgecutter.core.scene.Light;
import org.wedgecutter.core.scene.Material;
import org.wedgecutter.core.scene.Medium;
import org.wedgecutter.core.scene.Rgb;
import org.wedgecutter.core.scene.Scene;

/**
 * The materials and lights of a scene as one transport class has them: those of the scene but for
 * the entities with a {@link AppearanceOverride}. Immutable.
 */
public final class Appearance {
  private final Scene scene;
  private final World world;
  private final Material[] plain;
  private final Material[] @Nullable [] own;
  private final @Nullable BuiltInMaterial[] views;
  private final @Nullable TransportClass transport;
  private final boolean[] lets;

  /** The appearance of the scene without overrides. */
  public Appearance(World world) {
    this(world, null);
  }

  /**
   * @param transport has the overrides; null means none
   */
  public Appearance(World world, @Nullable TransportClass transport) {
    scene = world.scene;
    this.world = world;
    plain = scene.materials().toArray(new Material[0]);
    own = new Material[world.instances][];
    views = new BuiltInMaterial[world.instances];
    this.transport = transport;
    for (int i = 0; transport != null && i < own.length; i++) {
      AppearanceOverride look = transport.look(world.entity[i]);
      if (look != null) {
        Material[] changed = new Material[plain.length];
        for (int m = 0; m < changed.length; m++) {
          changed[m] = look.material(plain[m], scene::material);
        }
        own[i] = changed;
        views[i] = look.dataView().orElse(null);
      }
    }
    lets = new boolean[world.instances];
    for (int i = 0; i < lets.length; i++) {
      lets[i] = anyPartlyTransparent(i);
    }
  }

  /** Returns a material of the scene as it is on an instance. */
  public Material material(int instance, int number) {
    Material[] changed = own[instance];
    return changed == null ? plain[number] : changed[number];
  }

  /** Whether rays may go straight on through a part of an instance. */
  public boolean isPartlyTransparent(int instance) {
    return lets[instance];
  }

  private boolean anyPartlyTransparent(int instance) {
    int last = -1;
    for (int m : world.tree[instance].mesh.triangleMaterials()) {
      if (m != last && material(instance, m).isPartlyTransparent()) {
        return true;
      }
      last = m;
    }
    return false;
  }

  /** Returns factors on the light that an instance sends to other objects, or null for none. */
  public @Nullable Rgb returned(int instance) {
    AppearanceOverride look = transport == null ? null : transport.look(world.entity[instance]);
    Rgb factors = look == null ? Rgb.WHITE : look.returned();
    return factors.equals(Rgb.WHITE) ? null : factors;
  }

  /** Returns a medium as it is in this class. */
  public Medium medium(int entity, Medium before) {
    AppearanceOverride look = transport == null ? null : transport.look(entity);
    return look == null ? before : look.medium(before);
  }

  /** Returns a material as it is in the scene. */
  public Material before(int number) {
    return plain[number];
  }

  /** Returns the data that an instance shows to the camera, or null. */
  public @Nullable BuiltInMaterial dataView(int instance) {
    return views[instance];
  }

  /** Returns an entity's light as it is in this class. */
  public Light light(int entity, Light before) {
    AppearanceOverride look = transport == null ? null : transport.look(entity);
    return look == null ? before : look.light(before);
  }

  /** Returns factors on red, green and blue of the environment's light. */
  public Rgb surround() {
    AppearanceOverride look =
        transport == null ? null : transport.look(scene.environment().index());
    return look == null ? Rgb.WHITE : look.shone(Rgb.WHITE);
  }
}
