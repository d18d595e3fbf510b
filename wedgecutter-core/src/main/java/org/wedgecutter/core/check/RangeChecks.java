package org.wedgecutter.core.check;

import java.util.List;
import java.util.Map;
import org.joml.Matrix4f;
import org.joml.Vector3f;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.mistake.Message;
import org.wedgecutter.core.mistake.Sentence;
import org.wedgecutter.core.plan.LayerDef;
import org.wedgecutter.core.plan.Output;
import org.wedgecutter.core.resolve.AppearanceOverride;
import org.wedgecutter.core.resolve.EntitySet;
import org.wedgecutter.core.resolve.ResolvedLayer;
import org.wedgecutter.core.scene.Entity;
import org.wedgecutter.core.scene.EntityKind;
import org.wedgecutter.core.scene.Light;
import org.wedgecutter.core.scene.Material;
import org.wedgecutter.core.scene.Mesh;
import org.wedgecutter.core.scene.Rgb;

/**
 * Light that half floats cannot hold, before anything is rendered: what shines in the picture
 * itself, and what lights it give surfaces near them. These are bounds of the radiance that a white
 * surface sends back: {@code I / (pi d^2)} of a light without extent at the distance d.
 */
final class RangeChecks {
  /** The largest half float. */
  private static final double LARGEST = 65504;

  /** The smallest half float with all its bits: 2^-14. */
  private static final double SMALLEST = 0x1p-14;

  /** Metres: nearer than that, a light is inside what it lights. */
  private static final double NEAREST = 0.02;

  private final Checked c;
  private final Map<String, Picture> pictures;
  private Matrix4f @Nullable [] pose;

  private RangeChecks(Checked c, Map<String, Picture> pictures) {
    this.c = c;
    this.pictures = pictures;
  }

  /**
   * @param pictures the shot's images, by their paths
   */
  static void run(Checked c, Map<String, Picture> pictures) {
    Output output = c.plan.output();
    if (!output.half() || output.floats().contains(Output.BEAUTY)) {
      return;
    }
    RangeChecks checks = new RangeChecks(c, pictures);
    double most = 0;
    for (LayerDef layer : c.plan.layers()) {
      if (layer.render()) {
        most = Math.max(most, checks.layer(c.layer(layer.name())));
      }
    }
    if (most > 0 && most < SMALLEST) {
      c.add(
          Message.of(Sentence.HALF_RANGE_DARK),
          "",
          "",
          p -> p.withOutput(p.output().withFloats(Output.BEAUTY, true)));
    }
  }

  private double layer(ResolvedLayer layer) {
    double most = 0;
    Entity brightest = null;
    for (Entity e : c.scene.entities()) {
      double light = light(layer, e);
      if (light > most) {
        most = light;
        brightest = e;
      }
    }
    if (brightest != null && most > LARGEST) {
      c.add(
          Message.of(
              Sentence.HALF_RANGE_AHEAD,
              "entities",
              List.of(brightest.path()),
              "light",
              "%.3g".formatted(most),
              "layer",
              layer.name()),
          layer.name(),
          brightest.path(),
          EntitySet.of(List.of(brightest.index())),
          p -> p.withOutput(p.output().withFloats(Output.BEAUTY, true)));
    }
    return most;
  }

  /** The most light that an entity gives in the picture of a layer. */
  private double light(ResolvedLayer layer, Entity e) {
    AppearanceOverride look = layer.transport().look(e.index());
    boolean isShown = layer.shown().contains(e.index());
    return switch (e.kind()) {
      case MESH -> isShown ? emission(e, look) : 0;
      case LIGHT -> layer.transport().reach(e.index()).emits() ? lit(layer, e, look) : 0;
      case ENVIRONMENT -> isShown ? surround(look) : 0;
      case MEDIUM -> 0;
    };
  }

  private double emission(Entity e, @Nullable AppearanceOverride look) {
    double most = 0;
    int last = -1;
    for (int m : c.scene.meshes().get(e.payload()).triangleMaterials()) {
      if (m != last) {
        Material before = c.scene.materials().get(m);
        Material now = look == null ? before : look.material(before, c.scene::material);
        most = Math.max(most, now.emission().max());
        last = m;
      }
    }
    return most;
  }

  private double surround(@Nullable AppearanceOverride look) {
    Picture image = pictures.get(c.shot.environment().image());
    double most = 0;
    if (image != null) {
      for (float v : image.rgba()) {
        most = Float.isFinite(v) ? Math.max(most, v) : most;
      }
    }
    Rgb factor = look == null ? Rgb.WHITE : look.shone(Rgb.WHITE);
    return most * factor.max() * c.shot.environment().level();
  }

  private double lit(ResolvedLayer layer, Entity e, @Nullable AppearanceOverride look) {
    Light before = c.scene.lights().get(e.payload());
    Light light = look == null ? before : look.light(before);
    double strength = light.intensity().max();
    if (light.type().isArea()) {
      return strength;
    }
    if (light.type() == Light.Type.DIRECTIONAL) {
      return strength / Math.PI;
    }
    if (Math.sqrt(strength / (Math.PI * LARGEST)) < NEAREST) {
      // no surface can be that bright by it; how bright is not worked out
      return Math.min(strength, LARGEST);
    }
    Vector3f at = pose()[e.node()].getTranslation(new Vector3f());
    double near = Double.POSITIVE_INFINITY;
    for (int s : layer.subject().indices()) {
      Entity other = c.entity(s);
      if (other.kind() == EntityKind.MESH) {
        near = Math.min(near, distance(other, at));
      }
    }
    double d = Math.max(NEAREST, near);
    return strength / (Math.PI * d * d);
  }

  private Matrix4f[] pose() {
    Matrix4f[] known = pose;
    if (known == null) {
      known = c.scene.pose(c.shot.time(c.shot.frames().first()));
      pose = known;
    }
    return known;
  }

  /** The distance of a mesh's bounds, or for what is within them half that of its points. */
  private double distance(Entity e, Vector3f at) {
    Matrix4f place = pose()[e.node()];
    Mesh mesh = c.scene.meshes().get(e.payload());
    Vector3f low = new Vector3f(Float.POSITIVE_INFINITY);
    Vector3f high = new Vector3f(Float.NEGATIVE_INFINITY);
    Vector3f p = new Vector3f();
    double nearest = Double.POSITIVE_INFINITY;
    float[] xyz = mesh.positions();
    for (int i = 0; i < xyz.length; i += 3) {
      place.transformPosition(p.set(xyz[i], xyz[i + 1], xyz[i + 2]));
      low.min(p);
      high.max(p);
      nearest = Math.min(nearest, p.distance(at));
    }
    double x = Math.max(0, Math.max(low.x - at.x, at.x - high.x));
    double y = Math.max(0, Math.max(low.y - at.y, at.y - high.y));
    double z = Math.max(0, Math.max(low.z - at.z, at.z - high.z));
    double box = Math.sqrt(x * x + y * y + z * z);
    return box > 0 ? box : nearest / 2;
  }
}
