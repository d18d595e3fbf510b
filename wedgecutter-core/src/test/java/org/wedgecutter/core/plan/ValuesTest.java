package org.wedgecutter.core.plan;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.Arrays;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.wedgecutter.core.plan.Property.Verb;

/** Values, properties, names and ranges, by hand. */
class ValuesTest {
  private static Value num(double n) {
    return new Value.Num(n);
  }

  @Test
  void verbsApplyWithinTheRange() {
    assertThat(Value.apply(Property.ROUGHNESS, Verb.ADD, num(0.5), num(0.25))).isEqualTo(num(0.75));
    assertThat(Value.apply(Property.ROUGHNESS, Verb.SCALE, num(0.5), num(0.5)))
        .isEqualTo(num(0.25));
    assertThat(Value.apply(Property.ROUGHNESS, Verb.ADD, num(0.5), num(0.9))).isEqualTo(num(1));
    assertThat(Value.apply(Property.ROUGHNESS, Verb.ADD, num(0.5), num(-0.9))).isEqualTo(num(0));
    assertThat(Value.apply(Property.BOUNCES, Verb.SCALE, num(3), num(0.5))).isEqualTo(num(2));
    assertThat(Value.apply(Property.SAMPLES, Verb.SCALE, num(3), num(0))).isEqualTo(num(1));
    assertThat(
            Value.apply(Property.BASE_COLOR, Verb.SCALE, new Value.Colour(0.2, 0.4, 0.8), num(0.5)))
        .isEqualTo(new Value.Colour(0.1, 0.2, 0.4));
    assertThat(
            Value.apply(
                Property.EMISSION,
                Verb.ADD,
                new Value.Colour(1, 2, 3),
                new Value.Colour(0.5, 0.25, 4)))
        .isEqualTo(new Value.Colour(1.5, 2.25, 7));
    assertThat(Value.apply(Property.SIZE, Verb.SCALE, new Value.Size(100, 50), num(0.5)))
        .isEqualTo(new Value.Size(50, 25));
    assertThat(Value.apply(Property.SIZE, Verb.SCALE, new Value.Size(100, 50), num(0)))
        .isEqualTo(new Value.Size(1, 1));
    Value on = new Value.Switch(true);
    assertThat(Value.apply(Property.SHADOW_CASTS, Verb.SET, new Value.Switch(false), on))
        .isEqualTo(on);
    assertThat(Value.apply(Property.ROUGHNESS, Verb.SET, on, num(0.5))).isEqualTo(num(0.5));
    assertThat(Value.apply(Property.BASE_COLOR, Verb.SET, num(1), new Value.Colour(1, 0, 0)))
        .isEqualTo(new Value.Colour(1, 0, 0));
  }

  @Test
  void valuesAreReadAsTheyAreTyped() {
    assertThat(Value.parse(Property.SHADOW_CASTS, Verb.SET, " Off "))
        .isEqualTo(new Value.Switch(false));
    assertThat(Value.parse(Property.SHADOW_CASTS, Verb.SET, "yes"))
        .isEqualTo(new Value.Switch(true));
    assertThat(Value.parse(Property.SIZE, Verb.SET, "320 x 200"))
        .isEqualTo(new Value.Size(320, 200));
    assertThat(Value.parse(Property.SIZE, Verb.SCALE, "0.5")).isEqualTo(num(0.5));
    assertThat(Value.parse(Property.BASE_COLOR, Verb.SET, "0.5"))
        .isEqualTo(new Value.Colour(0.5, 0.5, 0.5));
    assertThat(Value.parse(Property.BASE_COLOR, Verb.SET, "1, 0.5 0"))
        .isEqualTo(new Value.Colour(1, 0.5, 0));
    assertThat(Value.parse(Property.FRAMES, Verb.SET, "1-5")).isEqualTo(new Value.Text("1-5"));
    String[][] wrong = {
      {"shadow.casts", "set", "maybe", "on or off"},
      {"material", "set", " ", "name of a material"},
      {"size", "set", "3", "width and height"},
      {"size", "scale", "3 4", "one factor"},
      {"size", "add", "3", "set or scaled"},
      {"material.roughness", "set", "1.5", "between 0 and 1"},
      {"material.roughness", "set", "-0.5", "between 0 and 1"},
      {"material.roughness", "scale", "-1", "must be between"},
      {"material.roughness", "set", "rough", "'rough' is not a number"},
      {"material.base-color", "set", "1 2", "red, green, blue"},
      {"frames", "set", "5-1", "comes before"},
      {"bounces", "set", "65", "between 0 and 64"},
    };
    for (String[] w : wrong) {
      assertThatThrownBy(() ->
              Value.parse(
                  Property.of(w[0]).orElseThrow(),
                  Verb.valueOf(w[1].toUpperCase(java.util.Locale.ROOT)),
                  w[2]))
          .as("%s %s %s", w[0], w[1], w[2])
          .isInstanceOf(IllegalArgumentException.class)
          .hasMessageContaining(w[3]);
    }
    Value.check(Property.ROUGHNESS, Verb.ADD, num(-3));
    assertThat(num(0.123456).text()).isEqualTo("0.1235");
    assertThat(num(2.50).text()).isEqualTo("2.5");
    assertThat(num(-1000).text()).isEqualTo("-1000");
    assertThat(num(1e9).text()).isEqualTo("1.000e+09");
  }

  @Test
  void propertiesOfEntitiesAndOfLayersAreApart() {
    for (Property p : Property.values()) {
      boolean setting =
          List.of(
                  "size",
                  "frames",
                  "samples",
                  "bounces",
                  "bounces.glass",
                  "bounces.media",
                  "see-through-glass",
                  "environment.level",
                  "environment.turn",
                  "denoise",
                  "motion-blur")
              .contains(p.word());
      assertThat(p.isSetting()).as(p.word()).isEqualTo(setting);
      assertThat(Arrays.asList(Property.words(true).split(", ")).contains(p.word()))
          .isEqualTo(setting);
      assertThat(Arrays.asList(Property.words(false).split(", ")).contains(p.word()))
          .as(p.word())
          .isEqualTo(!setting || p == Property.MOTION_BLUR);
      assertThat(Property.of(p.word())).contains(p);
    }
    assertThat(Property.SAMPLES.least()).isEqualTo(1);
    assertThat(Property.SIZE.most()).isEqualTo(16384);
    assertThat(Property.SIZE.unit()).isEqualTo("px");
    assertThat(Property.ENVIRONMENT_TURN.least()).isEqualTo(-1e6);
  }

  @Test
  void builtInMaterialsHaveNames() {
    assertThat(BuiltInMaterial.words())
        .containsExactly(
            "clay",
            "black",
            "white",
            "data.normal",
            "data.position",
            "data.uv",
            "data.depth",
            "data.albedo");
    assertThat(BuiltInMaterial.of("data.uv")).contains(BuiltInMaterial.DATA_UV);
    assertThat(BuiltInMaterial.of("UV")).isEmpty();
    assertThat(BuiltInMaterial.DATA_UV.data()).isTrue();
    assertThat(BuiltInMaterial.CLAY.data()).isFalse();
    for (Output.More m : Output.More.values()) {
      assertThat(Output.More.of(m.word())).contains(m);
    }
    assertThat(Output.More.of("x")).isEmpty();
    assertThat(Arrays.stream(Output.More.values()).filter(Output.More::isData))
        .containsExactly(
            Output.More.ALBEDO,
            Output.More.DEPTH,
            Output.More.RAMP,
            Output.More.NORMAL,
            Output.More.POSITION,
            Output.More.UV,
            Output.More.MOTION);
    assertThat(Arrays.stream(CatcherOutput.values()).filter(CatcherOutput::signed))
        .containsExactly(CatcherOutput.DIFFERENCE, CatcherOutput.REFLECTION);
    assertThat(Arrays.stream(Role.values()).filter(Role::skipped))
        .containsExactlyInAnyOrder(Role.UNSEEN, Role.ABSENT);
  }

  @Test
  void namesOfFilesAreSafe() {
    assertThat(FileNames.withoutExtension("a.{frame}.tiff.exr")).isEqualTo("a.{frame}");
    assertThat(FileNames.hasExtension("a.EXR")).isTrue();
    assertThat(FileNames.hasExtension("a.exr.x")).isFalse();
    assertThat(FileNames.safe("a-b_c.d+e f")).isEqualTo("a-b_c.d+e_f");
    assertThat(FileNames.safe(".hidden..")).isEqualTo("_hidden");
    assertThat(FileNames.safe("...")).isEqualTo("_");
    assertThat(FileNames.safe("")).isEqualTo("_");
    FileNames names = new FileNames("{version}//{layer}-{frame:3}-{frame:1}", "s", "c", "v2");
    assertThat(names.name("L", 7, "exr")).isEqualTo("v2/L-007-7.exr");
    assertThatThrownBy(() -> new FileNames("{layer}-{frame}-{sun}", "s", "c", "v"))
        .hasMessageContaining("{sun}");
  }

  @Test
  void freeNamesCountUp() {
    assertThat(Names.free("a", name -> Map.of("a", 1, "a 2", 1).containsKey(name)))
        .isEqualTo("a 3");
    assertThat(FrameRange.parse("1-7x3").frames()).containsExactly(1, 4, 7);
    assertThat(FrameRange.parse("5,1-2").first()).isEqualTo(1);
    assertThatThrownBy(() -> FrameRange.parse("1-100001,200000-200009"))
        .hasMessageContaining("too many");
    assertThatThrownBy(() -> FrameRange.parse("1-5x0")).hasMessageContaining("'1-5x0'");
  }
}
