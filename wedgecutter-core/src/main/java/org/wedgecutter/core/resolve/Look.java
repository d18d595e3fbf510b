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
import org.wedgecutter.core.scene.Rgb;

/**
 * How an entity looks and shines differently in a layer: the overrides of its material and light at
 * a frame, one for each property at most.
 *
 * @param changes in the order of {@link Property}
 */
public record Look(List<Change> changes) {
  /** An override at a frame. */
  public record Change(Property property, Property.Verb verb, Value value) {}

  public Look {
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
              case CLAY -> Material.plain(word, new Rgb(0.5f, 0.5f, 0.5f)).withSpecular(0);
              case WHITE -> Material.plain(word, new Rgb(0.8f, 0.8f, 0.8f)).withSpecular(0);
              case BLACK, DATA_NORMAL, DATA_POSITION, DATA_UV, DATA_DEPTH, DATA_ALBEDO ->
                  Material.plain(word, Rgb.BLACK).withSpecular(0);
            });
  }

  private static Material change(Material m, Change c) {
    boolean set = c.verb == Property.Verb.SET;
    return switch (c.property) {
      case BASE_COLOR ->
          m.withBaseColor(
              rgb(applied(c, colour(m.baseColor()))), set ? null : m.baseColorTexture());
      case ROUGHNESS -> m.withRoughness(number(applied(c, new Value.Num(m.roughness()))), set);
      case METAL -> m.withMetallic(number(applied(c, new Value.Num(m.metallic()))), set);
      case EMISSION ->
          m.withEmission(rgb(applied(c, colour(m.emission()))), set ? null : m.emissionTexture());
      case LIGHT_INTENSITY, LIGHT_COLOR ->
          m.emits() ? m.withEmission(shone(m.emission(), c), m.emissionTexture()) : m;
      default -> m;
    };
  }

  /** Returns a light as it is with the overrides. */
  public Light light(Light before) {
    return new Light(
        before.type(), shone(before.intensity()), before.innerCone(), before.outerCone());
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
