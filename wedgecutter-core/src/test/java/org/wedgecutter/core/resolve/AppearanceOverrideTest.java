package org.wedgecutter.core.resolve;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.wedgecutter.core.plan.BuiltInMaterial;
import org.wedgecutter.core.plan.Property;
import org.wedgecutter.core.plan.Property.Verb;
import org.wedgecutter.core.plan.Value;
import org.wedgecutter.core.scene.Light;
import org.wedgecutter.core.scene.Material;
import org.wedgecutter.core.scene.Medium;
import org.wedgecutter.core.scene.Rgb;
import org.wedgecutter.core.scene.TextureRef;
import org.wedgecutter.core.testing.SceneMaker;

/** What each override does to a material, a light or a medium, worked out by hand. */
class AppearanceOverrideTest {
  private static final TextureRef IMAGE = new TextureRef(0, false, false);

  private static final Material PAINTED =
      Material.plain("paint", new Rgb(0.4f, 0.2f, 0.1f))
          .with(m -> {
            m.roughness = 0.5f;
            m.metallic = 0.25f;
            m.opacity = 0.8f;
            m.emission = new Rgb(1, 2, 4);
            m.baseColorTexture = IMAGE;
            m.metallicRoughnessTexture = IMAGE;
            m.emissionTexture = IMAGE;
            m.glass = new Material.Glass(0.5f, IMAGE, true, new Rgb(0.9f, 0.8f, 0.7f), 3);
          });

  private static AppearanceOverride of(Property property, Verb verb, Value value) {
    return new AppearanceOverride(List.of(new AppearanceOverride.Change(property, verb, value)));
  }

  private static Material painted(Property property, Verb verb, Value value) {
    return of(property, verb, value).material(PAINTED, name -> Optional.empty());
  }

  private static Value num(double n) {
    return new Value.Num(n);
  }

  private static Value colour(double r, double g, double b) {
    return new Value.Colour(r, g, b);
  }

  private static void same(Rgb found, double r, double g, double b) {
    assertThat(found.r()).isCloseTo((float) r, within(1e-6f));
    assertThat(found.g()).isCloseTo((float) g, within(1e-6f));
    assertThat(found.b()).isCloseTo((float) b, within(1e-6f));
  }

  @Test
  void whatIsSetTakesThePlaceOfImagesAndWhatIsScaledDoesNot() {
    Material set = painted(Property.BASE_COLOR, Verb.SET, colour(0.1, 0.3, 0.5));
    same(set.baseColor(), 0.1, 0.3, 0.5);
    assertThat(set.baseColorTexture()).isNull();
    assertThat(set.metallicRoughnessTexture()).isEqualTo(IMAGE);
    Material scaled = painted(Property.BASE_COLOR, Verb.SCALE, colour(0.5, 1, 2));
    same(scaled.baseColor(), 0.2, 0.2, 0.2);
    assertThat(scaled.baseColorTexture()).isEqualTo(IMAGE);
    // an image that makes holes stays, or they would close
    Material fading = PAINTED.with(m -> m.fades = true);
    assertThat(
            of(Property.BASE_COLOR, Verb.SET, colour(1, 1, 1))
                .material(fading, name -> Optional.empty())
                .baseColorTexture())
        .isEqualTo(IMAGE);

    Material rough = painted(Property.ROUGHNESS, Verb.SET, num(0.3));
    assertThat(rough.roughness()).isEqualTo(0.3f);
    assertThat(rough.metallic()).isEqualTo(0.25f);
    assertThat(rough.metallicRoughnessTexture()).isNull();
    Material rougher = painted(Property.ROUGHNESS, Verb.ADD, num(0.25));
    assertThat(rougher.roughness()).isEqualTo(0.75f);
    assertThat(rougher.metallicRoughnessTexture()).isEqualTo(IMAGE);

    Material metal = painted(Property.METAL, Verb.SET, num(1));
    assertThat(metal.metallic()).isEqualTo(1);
    assertThat(metal.metallicRoughnessTexture()).isNull();
    assertThat(painted(Property.METAL, Verb.SCALE, num(2)).metallicRoughnessTexture())
        .isEqualTo(IMAGE);

    Material clear = painted(Property.TRANSMISSION, Verb.SET, num(1));
    assertThat(clear.glass())
        .isEqualTo(new Material.Glass(1, null, true, new Rgb(0.9f, 0.8f, 0.7f), 3));
    assertThat(painted(Property.TRANSMISSION, Verb.SCALE, num(0.5)).glass())
        .isEqualTo(new Material.Glass(0.25f, IMAGE, true, new Rgb(0.9f, 0.8f, 0.7f), 3));

    assertThat(painted(Property.OPACITY, Verb.SCALE, num(0.5)).opacity()).isEqualTo(0.4f);

    Material glows = painted(Property.EMISSION, Verb.SET, colour(3, 2, 1));
    same(glows.emission(), 3, 2, 1);
    assertThat(glows.emissionTexture()).isNull();
    Material more = painted(Property.EMISSION, Verb.ADD, colour(1, 1, 1));
    same(more.emission(), 2, 3, 5);
    assertThat(more.emissionTexture()).isEqualTo(IMAGE);
  }

  @Test
  void strengthKeepsTheColourAndColourTheStrength() {
    same(painted(Property.LIGHT_INTENSITY, Verb.SET, num(8)).emission(), 2, 4, 8);
    same(painted(Property.LIGHT_INTENSITY, Verb.SCALE, num(0.5)).emission(), 0.5, 1, 2);
    same(painted(Property.LIGHT_COLOR, Verb.SET, colour(1, 0, 0.5)).emission(), 4, 0, 2);
    // what emits nothing is no light, and becomes none
    Material dark = PAINTED.with(m -> m.emission = Rgb.BLACK);
    same(
        of(Property.LIGHT_INTENSITY, Verb.SET, num(8))
            .material(dark, name -> Optional.empty())
            .emission(),
        0,
        0,
        0);
    Light lamp = new Light(Light.Type.POINT, new Rgb(2, 1, 0), 0.1f, 0.2f);
    Light brighter = of(Property.LIGHT_INTENSITY, Verb.ADD, num(2)).light(lamp);
    same(brighter.intensity(), 4, 2, 0);
    assertThat(brighter.type()).isEqualTo(Light.Type.POINT);
    assertThat(brighter.innerCone()).isEqualTo(0.1f);
    same(of(Property.LIGHT_COLOR, Verb.SCALE, colour(1, 1, 1)).shone(new Rgb(2, 1, 0)), 2, 1, 0);
    // a lamp that is off is white when it is turned on
    same(of(Property.LIGHT_INTENSITY, Verb.SET, num(3)).shone(Rgb.BLACK), 3, 3, 3);
    same(of(Property.LIGHT_COLOR, Verb.SET, colour(1, 0, 0)).shone(Rgb.BLACK), 0, 0, 0);
    same(of(Property.ROUGHNESS, Verb.SET, num(1)).shone(new Rgb(2, 1, 0)), 2, 1, 0);
  }

  @Test
  void mediaChange() {
    Medium haze = SceneMaker.haze(0.4, 0.5);
    assertThat(of(Property.MEDIUM_DENSITY, Verb.SCALE, num(0.5)).medium(haze).density())
        .isEqualTo(0.2f);
    same(of(Property.MEDIUM_COLOR, Verb.SET, colour(1, 0.5, 0)).medium(haze).color(), 1, 0.5, 0);
    Medium fire = of(Property.MEDIUM_EMISSION, Verb.ADD, colour(2, 1, 0)).medium(haze);
    same(fire.emission(), 2, 1, 0);
    assertThat(fire.density()).isEqualTo(haze.density());
    assertThat(of(Property.ROUGHNESS, Verb.SET, num(1)).medium(haze)).isEqualTo(haze);
  }

  @Test
  void otherMaterialsAreBuiltInOrTheScenes() {
    Material brass = Material.plain("brass", new Rgb(0.8f, 0.6f, 0.3f));
    AppearanceOverride other = of(Property.MATERIAL, Verb.SET, new Value.Text("brass"));
    assertThat(other.material(PAINTED, n -> Optional.of(brass).filter(m -> m.name().equals(n))))
        .isEqualTo(brass);
    assertThat(other.material(PAINTED, n -> Optional.empty())).isEqualTo(PAINTED);
    assertThat(other.dataView()).isEmpty();
    double[] albedo = {0.5, 0.8, 0};
    String[] words = {"clay", "white", "black"};
    for (int k = 0; k < words.length; k++) {
      Material m =
          of(Property.MATERIAL, Verb.SET, new Value.Text(words[k]))
              .material(PAINTED, n -> Optional.of(brass));
      same(m.baseColor(), albedo[k], albedo[k], albedo[k]);
      assertThat(m.dielectric().specular()).as("it has no highlights").isZero();
    }
    for (BuiltInMaterial view :
        Arrays.stream(BuiltInMaterial.values()).filter(BuiltInMaterial::data).toList()) {
      AppearanceOverride data = of(Property.MATERIAL, Verb.SET, new Value.Text(view.word()));
      assertThat(data.dataView()).contains(view);
      same(data.material(PAINTED, n -> Optional.empty()).baseColor(), 0, 0, 0);
    }
    assertThat(of(Property.MATERIAL, Verb.SET, new Value.Text("clay")).dataView()).isEmpty();
  }

  @Test
  void otherPropertiesAreFoundAmongMany() {
    AppearanceOverride many =
        new AppearanceOverride(
            List.of(
                new AppearanceOverride.Change(Property.RETURNED, Verb.SET, colour(0.5, 1, 2)),
                new AppearanceOverride.Change(Property.SUBDIVISION, Verb.SET, num(2)),
                new AppearanceOverride.Change(
                    Property.MOTION_BLUR, Verb.SET, new Value.Switch(false))));
    same(many.returned(), 0.5, 1, 2);
    assertThat(many.levels(0)).isEqualTo(2);
    assertThat(many.still()).isTrue();
    AppearanceOverride none = of(Property.ROUGHNESS, Verb.SET, num(1));
    same(none.returned(), 1, 1, 1);
    assertThat(none.levels(0)).isZero();
    assertThat(none.still()).isFalse();
    assertThat(of(Property.MOTION_BLUR, Verb.SET, new Value.Switch(true)).still()).isFalse();
  }
}
