package org.wedgecutter.core.resolve;

import java.util.List;
import java.util.Optional;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.plan.BuiltInMaterial;
import org.wedgecutter.core.plan.Property;
import org.wedgecutter.core.plan.Value;
import org.wedgecutter.core.scene.Light;
import org.wedgecutter.core.scene.Material;
import org.wedgecutter.core.scene.Medium;
import org.wedgecutter.core.scene.Rgb;

/**
 * How an entity's material and light differ in a layer: the overrides of its material and light at
 * a frame, one for each property at most.
 *
 * @param changes in the order of {@link Property}
 */
public record AppearanceOverride(List<Change> changes) {
  /** An override at a frame. */
  public record Change(Property property, Property.Verb verb, Value value) {}

  public AppearanceOverride {
    changes = List.copyOf(changes);
  }

  private @Nullable Change find(Property property) {
    for (Change c : changes) {
      if (c.property == property) {
        return c;
      }
    }
    return null;
  }

  /**
   * Returns levels of subdivision.
   *
   * @param own those of the mesh
   */
  public int levels(int own) {
    Change c = find(Property.SUBDIVISION);
    return c == null ? own : Math.round(number(applied(c, new Value.Num(own))));
  }

  /** Whether it asks for levels of subdivision. */
  public boolean subdivides() {
    return find(Property.SUBDIVISION) != null;
  }

  /** Returns factors on the light that it sends to other objects. */
  public Rgb returned() {
    Change c = find(Property.RETURNED);
    return c == null ? Rgb.WHITE : rgb(applied(c, colour(Rgb.WHITE)));
  }

  /** Whether motion blur is off. */
  public boolean still() {
    Change c = find(Property.MOTION_BLUR);
    return c != null && c.value instanceof Value.Switch s && !s.on();
  }

  /** Returns the data view that it shows, if it does. */
  public Optional<BuiltInMaterial> dataView() {
    Change c = find(Property.MATERIAL);
    return c != null && c.value instanceof Value.Text t
        ? BuiltInMaterial.of(t.word()).filter(BuiltInMaterial::data)
        : Optional.empty();
  }

  /**
   * Returns a material as it is with the overrides.
   *
   * @param byName finds a material of the scene
   */
  public Material material(Material before, Function<String, Optional<Material>> byName) {
    Material m = before;
    Change other = find(Property.MATERIAL);
    if (other != null && other.value instanceof Value.Text t) {
      m = builtIn(t.word()).or(() -> byName.apply(t.word())).orElse(before);
    }
    for (Change c : changes) {
      m = change(m, c);
    }
    return m;
  }

  private static Optional<Material> builtIn(String word) {
    return BuiltInMaterial.of(word)
        .map(m ->
            switch (m) {
              case CLAY -> matte(word, 0.5f);
              case WHITE -> matte(word, 0.8f);
              case BLACK, DATA_NORMAL, DATA_POSITION, DATA_UV, DATA_DEPTH, DATA_ALBEDO ->
                  matte(word, 0);
            });
  }

  private static Material matte(String word, float albedo) {
    return Material.plain(word, new Rgb(albedo, albedo, albedo)).with(m -> m.specular(0));
  }

  private static Material change(Material before, Change c) {
    boolean set = c.verb == Property.Verb.SET;
    return before.with(m -> {
      switch (c.property) {
        case BASE_COLOR -> {
          m.baseColor = rgb(applied(c, colour(m.baseColor)));
          m.baseColorTexture = set && !m.fades ? null : m.baseColorTexture;
        }
        case ROUGHNESS -> {
          m.roughness = number(applied(c, new Value.Num(m.roughness)));
          m.metallicRoughnessTexture = set ? null : m.metallicRoughnessTexture;
        }
        case METAL -> {
          m.metallic = number(applied(c, new Value.Num(m.metallic)));
          m.metallicRoughnessTexture = set ? null : m.metallicRoughnessTexture;
        }
        case TRANSMISSION -> {
          Material.Glass g = m.glass;
          m.glass =
              new Material.Glass(
                  number(applied(c, new Value.Num(g.transmission()))),
                  set ? null : g.transmissionTexture(),
                  g.thick(),
                  g.attenuation(),
                  g.distance());
        }
        case OPACITY -> m.opacity = number(applied(c, new Value.Num(m.opacity)));
        case EMISSION -> {
          m.emission = rgb(applied(c, colour(m.emission)));
          m.emissionTexture = set ? null : m.emissionTexture;
        }
        case LIGHT_INTENSITY, LIGHT_COLOR ->
            m.emission = m.emission.max() > 0 ? shone(m.emission, c) : m.emission;
        default -> {}
      }
    });
  }

  /** Returns a medium as it is with the overrides. */
  public Medium medium(Medium before) {
    Medium m = before;
    for (Change c : changes) {
      m =
          switch (c.property) {
            case MEDIUM_DENSITY -> m.withDensity(number(applied(c, new Value.Num(m.density()))));
            case MEDIUM_COLOR -> m.withColor(rgb(applied(c, colour(m.color()))));
            case MEDIUM_EMISSION -> m.withEmission(rgb(applied(c, colour(m.emission()))));
            default -> m;
          };
    }
    return m;
  }

  /** Returns a light as it is with the overrides. */
  public Light light(Light before) {
    return before.withIntensity(shone(before.intensity()));
  }

  /** Returns light of a colour as it is with the overrides of strength and colour. */
  public Rgb shone(Rgb before) {
    Rgb out = before;
    for (Change c : changes) {
      out = shone(out, c);
    }
    return out;
  }

  private static Rgb shone(Rgb before, Change c) {
    float strength = before.max();
    if (c.property == Property.LIGHT_INTENSITY) {
      float next = number(applied(c, new Value.Num(strength)));
      return strength > 0 ? before.times(next / strength) : new Rgb(next, next, next);
    }
    if (c.property == Property.LIGHT_COLOR) {
      Rgb hue = strength > 0 ? before.times(1 / strength) : Rgb.WHITE;
      return rgb(applied(c, colour(hue))).times(strength);
    }
    return before;
  }

  private static Value applied(Change c, Value before) {
    return Value.apply(c.property, c.verb, before, c.value);
  }

  /** Returns a colour as a value of plans. */
  public static Value.Colour colour(Rgb c) {
    return new Value.Colour(c.r(), c.g(), c.b());
  }

  private static Rgb rgb(Value v) {
    return v instanceof Value.Colour c
        ? new Rgb((float) c.r(), (float) c.g(), (float) c.b())
        : Rgb.BLACK;
  }

  private static float number(Value v) {
    return v instanceof Value.Num n ? (float) n.number() : 0;
  }
}
