package org.wedgecutter.core.trace;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.util.Arrays;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.wedgecutter.core.fragment.FragmentSums;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.plan.Bounces;
import org.wedgecutter.core.plan.Property;
import org.wedgecutter.core.plan.Value;
import org.wedgecutter.core.resolve.AppearanceOverride;
import org.wedgecutter.core.resolve.EntitySet;
import org.wedgecutter.core.resolve.Reach;
import org.wedgecutter.core.resolve.TraceSettings;
import org.wedgecutter.core.resolve.TransportClass;
import org.wedgecutter.core.scene.Material;
import org.wedgecutter.core.scene.Rgb;
import org.wedgecutter.core.scene.Scene;
import org.wedgecutter.core.testing.SceneMaker;
import org.wedgecutter.core.testing.Traces;

/** What overrides of cover, glass, media, shape, motion and returned light, and links, do. */
class LookOfLightTest {
  private static final int W = 12;

  private static Reach[] all(Scene scene) {
    Reach[] reach = new Reach[scene.entities().size()];
    Arrays.fill(reach, Reach.ALL);
    return reach;
  }

  private static AppearanceOverride look(Property property, Property.Verb verb, Value value) {
    return new AppearanceOverride(List.of(new AppearanceOverride.Change(property, verb, value)));
  }

  private static TransportClass with(Scene scene, String path, Property property, Value value) {
    int e = scene.entity(path).orElseThrow().index();
    return new TransportClass(
        all(scene),
        Map.of(e, look(property, Property.Verb.SET, value)),
        TraceSettings.unbiased(4, 1));
  }

  private static FragmentSums trace(Scene scene, TransportClass transport, Environment light) {
    TraceJob job =
        new TraceJob(
            transport,
            EntitySet.NONE,
            List.of(new TraceJob.View(EntitySet.NONE, Traces.all(scene))));
    return Traces.trace(scene, light, job, W, W, 64);
  }

  private static double alpha(FragmentSums sums, Scene scene, String path) {
    return Traces.middle(sums.picture(0, Traces.set(scene, path)), 3);
  }

  private static Scene panel(Material material) {
    return new SceneMaker()
        .mesh("/panel", SceneMaker.wall(3, 3), material, 0, 0, 0)
        .mesh("/glow", SceneMaker.wall(9, 9), SceneMaker.glowing(1), 0, 0, -2)
        .camera(0.2, 0, 0, 5)
        .scene();
  }

  @Test
  void opacityUncoversWhatIsBehind() {
    Scene scene = panel(SceneMaker.matte(0.5));
    FragmentSums sums =
        trace(scene, with(scene, "/panel", Property.OPACITY, new Value.Num(0.3)), Environment.DARK);
    assertThat(alpha(sums, scene, "/panel")).isCloseTo(0.3, within(1e-5));
    assertThat(alpha(sums, scene, "/glow")).isCloseTo(0.7, within(1e-5));
  }

  @Test
  void transmissionMakesGlassOfAWall() {
    Scene scene =
        panel(
            SceneMaker.matte(1)
                .with(m -> {
                  m.roughness = 0;
                  m.specular(1);
                }));
    FragmentSums opaque = trace(scene, Traces.whole(scene, 4), Environment.DARK);
    FragmentSums glass =
        trace(
            scene,
            with(scene, "/panel", Property.TRANSMISSION, new Value.Num(1)),
            Environment.DARK);
    assertThat(Traces.middle(opaque.picture(0, Traces.all(scene)), 0)).isLessThan(0.5);
    assertThat(Traces.middle(glass.picture(0, Traces.all(scene)), 0))
        .as("all but what it reflects")
        .isCloseTo(0.96, within(0.03));
  }

  @Test
  void refractedRaysDoNotMeetWhatIsSwitchedOffForThem() {
    Scene scene =
        panel(
            SceneMaker.matte(1)
                .with(m -> {
                  m.roughness = 0;
                  m.specular(0);
                  m.glass = new Material.Glass(1, null, false, Rgb.WHITE, 1);
                }));
    Reach[] reach = all(scene);
    int glow = scene.entity("/glow").orElseThrow().index();
    reach[glow] = reach[glow].without(Reach.Flag.TRANSMISSION);
    FragmentSums sums =
        trace(scene, new TransportClass(reach, TraceSettings.unbiased(4, 1)), Environment.DARK);
    FragmentSums whole = trace(scene, Traces.whole(scene, 4), Environment.DARK);
    EntitySet panel = Traces.set(scene, "/panel");
    assertThat(Traces.middle(whole.picture(0, panel), 0)).isCloseTo(1, within(0.01));
    assertThat(Traces.middle(sums.picture(0, panel), 0)).isZero();
  }

  @Test
  void fewPassesThroughGlassAreDark() {
    Material body =
        SceneMaker.matte(1)
            .with(m -> {
              m.roughness = 0;
              m.specular(1);
              m.glass = new Material.Glass(1, null, true, Rgb.WHITE, Float.POSITIVE_INFINITY);
            });
    Scene scene =
        new SceneMaker()
            .mesh("/ball", SceneMaker.sphere(1, 40), body, 0, 0, 0)
            .camera(0.1, 0, 0, 5)
            .scene();
    double[] seen = new double[3];
    int[] glass = {0, 1, 8};
    for (int k = 0; k < 3; k++) {
      TransportClass t =
          TransportClass.whole(
              scene.entities().size(), TraceSettings.unbiased(new Bounces(4, glass[k], 1), 1));
      seen[k] = Traces.middle(trace(scene, t, Traces.uniform(1)).picture(0, Traces.all(scene)), 0);
    }
    assertThat(seen[0]).as("reflection alone").isLessThan(0.1);
    assertThat(seen[1]).as("in, and out at once").isGreaterThan(0.8);
    assertThat(seen[2]).isCloseTo(1, within(0.01));
  }

  @Test
  void densityIsScaledAndSetToNothing() {
    Scene scene =
        new SceneMaker()
            .medium("/haze", SceneMaker.haze(0.5, 0), 2, 2, 2, 0, 0, 0)
            .camera(0.02, 0, 0, 5)
            .scene();
    int e = scene.entity("/haze").orElseThrow().index();
    TransportClass twice =
        new TransportClass(
            all(scene),
            Map.of(e, look(Property.MEDIUM_DENSITY, Property.Verb.SCALE, new Value.Num(2))),
            TraceSettings.unbiased(1, 1));
    assertThat(alpha(trace(scene, twice, Environment.DARK), scene, "/haze"))
        .isCloseTo(1 - Math.exp(-2), within(1e-4));
    TransportClass none = with(scene, "/haze", Property.MEDIUM_DENSITY, new Value.Num(0));
    assertThat(alpha(trace(scene, none, Environment.DARK), scene, "/haze")).isZero();
    TransportClass glows =
        with(scene, "/haze", Property.MEDIUM_EMISSION, new Value.Colour(2, 0, 0));
    Picture p = trace(scene, glows, Environment.DARK).picture(0, Traces.set(scene, "/haze"));
    assertThat(Traces.middle(p, 0)).isCloseTo(2 * (1 - Math.exp(-1)), within(1e-3));
    assertThat(Traces.middle(p, 1)).isZero();
  }

  @Test
  void subdivisionRoundsAShapeInOneClassAlone() {
    Scene scene =
        new SceneMaker()
            .mesh("/box", SceneMaker.box(1), SceneMaker.glowing(1), 0, 0, 0)
            .camera(0.5, 0, 0, 8)
            .scene();
    FragmentSums plain = trace(scene, Traces.whole(scene, 0), Environment.DARK);
    FragmentSums round =
        trace(scene, with(scene, "/box", Property.SUBDIVISION, new Value.Num(3)), Environment.DARK);
    double before = plain.coverage(0)[0];
    double after = round.coverage(0)[0];
    assertThat(after).isBetween(0.2 * before, 0.95 * before);
  }

  @Test
  void aThingIsSharpWhereItsBlurIsSwitchedOff() {
    Scene scene =
        new SceneMaker()
            .mesh(
                "/dot",
                SceneMaker.wall(0.5, 0.5),
                SceneMaker.glowing(1),
                List.of(),
                SceneMaker.slide(-5, 5, 1),
                0,
                0,
                0)
            .camera(0.8, 0, 0, 5)
            .scene();
    FragmentSums blurred = trace(scene, Traces.whole(scene, 0), Environment.DARK);
    FragmentSums sharp =
        trace(
            scene,
            with(scene, "/dot", Property.MOTION_BLUR, new Value.Switch(false)),
            Environment.DARK);
    TransportClass open = Traces.whole(scene, 0);
    FragmentSums layer =
        trace(
            scene,
            new TransportClass(all(scene), Map.of(), open.settings().withBlur(false)),
            Environment.DARK);
    assertThat(layer.picture(0, Traces.set(scene, "/dot")).rgba())
        .as("a layer without blur is as if its only thing had none")
        .isEqualTo(sharp.picture(0, Traces.set(scene, "/dot")).rgba());
    double most = 0;
    double least = 0;
    Picture a = blurred.picture(0, Traces.set(scene, "/dot"));
    Picture b = sharp.picture(0, Traces.set(scene, "/dot"));
    for (int i = 3; i < a.rgba().length; i += 4) {
      least = Math.max(least, a.rgba()[i]);
      most = Math.max(most, b.rgba()[i]);
    }
    assertThat(most).isCloseTo(1, within(1e-5));
    assertThat(least).isLessThan(0.8);
  }

  @Test
  void returnedLightIsScaledButNotWhatTheCameraSees() {
    Scene scene =
        new SceneMaker()
            .mesh("/floor", SceneMaker.floor(4, 4), SceneMaker.matte(0.8), 0, -1, 0)
            .mesh("/wall", SceneMaker.wall(2, 2), SceneMaker.matte(0.8), 0, 1, -2)
            .sunFromAbove("/sun", 3)
            .camera(0.7, 0, 0.5, 5)
            .scene();
    EntitySet floor = Traces.set(scene, "/floor");
    EntitySet wall = Traces.set(scene, "/wall");
    FragmentSums plain = trace(scene, Traces.whole(scene, 1), Environment.DARK);
    int e = floor.first();
    TransportClass none =
        new TransportClass(
            all(scene),
            Map.of(e, look(Property.RETURNED, Property.Verb.SET, new Value.Colour(0.5, 0, 0))),
            TraceSettings.unbiased(1, 1));
    FragmentSums half = trace(scene, none, Environment.DARK);
    double[] before = sums(plain.picture(0, wall));
    double[] after = sums(half.picture(0, wall));
    // the sun grazes the wall: all of its light comes via the floor
    assertThat(after[0]).isCloseTo(0.5 * before[0], within(1e-3 * before[0]));
    assertThat(after[1]).isCloseTo(0, within(1e-6));
    assertThat(sums(half.picture(0, floor))[0])
        .isCloseTo(sums(plain.picture(0, floor))[0], within(0.02 * before[0]));
  }

  private static double[] sums(Picture p) {
    double[] out = new double[3];
    for (int i = 0; i < p.rgba().length; i += 4) {
      for (int c = 0; c < 3; c++) {
        out[c] += p.rgba()[i + c];
      }
    }
    return out;
  }

  @Test
  void linkedLightsLightTheirOwnAlone() {
    Scene scene =
        new SceneMaker()
            .mesh("/left", SceneMaker.wall(1, 1), SceneMaker.matte(0.5), -1.2, 0, 0)
            .mesh("/right", SceneMaker.wall(1, 1), SceneMaker.matte(0.5), 1.2, 0, 0)
            .pointLight("/lamp", 5, 0, 0, 3)
            .areaLight("/panel", org.wedgecutter.core.scene.Light.Type.DISC, 3, 1, 1, 0, 0, 4)
            .camera(0.8, 0, 0, 6)
            .scene();
    EntitySet left = Traces.set(scene, "/left");
    EntitySet right = Traces.set(scene, "/right");
    Map<Integer, EntitySet> links =
        Map.of(Traces.set(scene, "/lamp").first(), left, Traces.set(scene, "/panel").first(), left);
    TransportClass linked =
        new TransportClass(all(scene), Map.of(), links, TraceSettings.unbiased(0, 1));
    assertThat(linked).isNotEqualTo(Traces.whole(scene, 0));
    FragmentSums sums = trace(scene, linked, Environment.DARK);
    FragmentSums plain = trace(scene, Traces.whole(scene, 0), Environment.DARK);
    assertThat(sums(sums.picture(0, right))[0]).isZero();
    assertThat(sums.picture(0, left).rgba()).isEqualTo(plain.picture(0, left).rgba());
  }
}
