package org.wedgecutter.core.trace;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.util.Map;
import org.junit.jupiter.api.Test;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.plan.Property;
import org.wedgecutter.core.plan.Property.Verb;
import org.wedgecutter.core.plan.Value;
import org.wedgecutter.core.resolve.AppearanceOverride;
import org.wedgecutter.core.resolve.EntitySet;
import org.wedgecutter.core.resolve.Reach;
import org.wedgecutter.core.resolve.TraceSettings;
import org.wedgecutter.core.resolve.TransportClass;
import org.wedgecutter.core.scene.Mesh;
import org.wedgecutter.core.scene.Scene;
import org.wedgecutter.core.testing.SceneMaker;
import org.wedgecutter.core.testing.Traces;

/** Overrides as light: against what the rendering equation says of them. */
class OverrideTraceTest {
  private static final int N = 24;
  private final Scene scene =
      new SceneMaker()
          .camera(0.6, 0, 0, 4)
          .mesh("/wall", SceneMaker.wall(2, 2), SceneMaker.matte(0.4), 0, 0, 0)
          .mesh("/shade", SceneMaker.wall(0.5, 0.5), SceneMaker.matte(0.4), 0, 0, 3.0)
          .pointLight("/lamp", 30, 0, 0, 5)
          .scene();

  private TransportClass change(String path, AppearanceOverride.Change... changes) {
    int e = scene.entity(path).orElseThrow().index();
    return new TransportClass(
        reach(),
        Map.of(e, new AppearanceOverride(java.util.List.of(changes))),
        TraceSettings.unbiased(2, 1));
  }

  private Reach[] reach() {
    Reach[] reach = new Reach[scene.entities().size()];
    java.util.Arrays.fill(reach, Reach.ALL);
    // the shade stands in no way unless a test wants it
    reach[1] = Reach.NONE;
    return reach;
  }

  private TransportClass plain() {
    return new TransportClass(reach(), TraceSettings.unbiased(2, 1));
  }

  private Picture trace(TransportClass transport) {
    EntitySet shade = Traces.set(scene, "/shade");
    TraceJob job =
        new TraceJob(
            transport,
            EntitySet.NONE,
            java.util.List.of(new TraceJob.View(shade, Traces.all(scene))));
    return Traces.trace(scene, Environment.DARK, job, N, N, 4).picture(0, Traces.all(scene));
  }

  private static AppearanceOverride.Change change(Property property, Verb verb, Value value) {
    return new AppearanceOverride.Change(property, verb, value);
  }

  @Test
  void aLightScaledByTwoGivesTwiceTheLight() {
    Picture once = trace(plain());
    Picture twice =
        trace(change("/lamp", change(Property.LIGHT_INTENSITY, Verb.SCALE, new Value.Num(2))));
    Picture added =
        trace(change("/lamp", change(Property.LIGHT_INTENSITY, Verb.ADD, new Value.Num(30))));
    Picture set =
        trace(change("/lamp", change(Property.LIGHT_INTENSITY, Verb.SET, new Value.Num(60))));
    assertThat(Traces.middle(once, 0)).isPositive();
    for (int i = 0; i < once.rgba().length; i++) {
      if ((i & 3) < 3) {
        assertThat(twice.rgba()[i]).isEqualTo(2 * once.rgba()[i]);
        assertThat(added.rgba()[i]).isEqualTo(twice.rgba()[i]);
        assertThat(set.rgba()[i]).isEqualTo(twice.rgba()[i]);
      }
    }
  }

  @Test
  void aLightsColourKeepsItsStrength() {
    Picture red =
        trace(change("/lamp", change(Property.LIGHT_COLOR, Verb.SET, new Value.Colour(1, 0, 0))));
    Picture white = trace(plain());
    assertThat(Traces.middle(red, 0)).isEqualTo(Traces.middle(white, 0));
    assertThat(Traces.middle(red, 1)).isZero();
  }

  @Test
  void baseColourScalesDiffuseLight() {
    Picture white =
        trace(
            change(
                "/wall",
                change(Property.MATERIAL, Verb.SET, new Value.Text("white")),
                change(Property.BASE_COLOR, Verb.SET, new Value.Colour(1, 1, 1))));
    Picture half =
        trace(
            change(
                "/wall",
                change(Property.MATERIAL, Verb.SET, new Value.Text("white")),
                change(Property.BASE_COLOR, Verb.SET, new Value.Colour(0.5, 0.5, 0.5))));
    assertThat(Traces.middle(half, 0)).isCloseTo(Traces.middle(white, 0) / 2, within(1e-5));
  }

  @Test
  void blackGivesNothingBackAndClayHalf() {
    Picture black =
        trace(change("/wall", change(Property.MATERIAL, Verb.SET, new Value.Text("black"))));
    assertThat(Traces.middle(black, 0)).isZero();
    assertThat(Traces.middle(black, 3)).isEqualTo(1);
    double clay =
        Traces.middle(
            trace(change("/wall", change(Property.MATERIAL, Verb.SET, new Value.Text("clay")))), 0);
    double white =
        Traces.middle(
            trace(change("/wall", change(Property.MATERIAL, Verb.SET, new Value.Text("white")))),
            0);
    assertThat(clay / white).isCloseTo(0.5 / 0.8, within(1e-4));
    // inverse square, head on: intensity / distance squared * albedo / pi
    assertThat(white).isCloseTo(30.0 / 25 * 0.8 / Math.PI, within(0.02));
  }

  @Test
  void emissionIsSeenAndLightsOthers() {
    Picture glows =
        trace(
            change(
                "/wall",
                change(Property.EMISSION, Verb.SET, new Value.Colour(3, 2, 1)),
                change(Property.MATERIAL, Verb.SET, new Value.Text("black"))));
    assertThat(Traces.middle(glows, 0)).isCloseTo(3, within(1e-6));
    assertThat(Traces.middle(glows, 2)).isCloseTo(1, within(1e-6));
  }

  @Test
  void dataViewsShowNumbersToTheCameraAndLightNothing() {
    Picture depth =
        trace(change("/wall", change(Property.MATERIAL, Verb.SET, new Value.Text("data.depth"))));
    assertThat(Traces.middle(depth, 0)).isCloseTo(4, within(0.02));
    Picture normal =
        trace(change("/wall", change(Property.MATERIAL, Verb.SET, new Value.Text("data.normal"))));
    assertThat(Traces.middle(normal, 0)).isCloseTo(0.5, within(1e-5));
    assertThat(Traces.middle(normal, 2)).isCloseTo(1, within(1e-5));
    Picture position =
        trace(
            change("/wall", change(Property.MATERIAL, Verb.SET, new Value.Text("data.position"))));
    assertThat(Traces.middle(position, 2)).isCloseTo(0, within(1e-5));
    Picture albedo =
        trace(change("/wall", change(Property.MATERIAL, Verb.SET, new Value.Text("data.albedo"))));
    assertThat(Traces.middle(albedo, 1)).isCloseTo(0.4, within(1e-6));
  }

  private TransportClass shaded(Reach ofWall, Reach ofShade) {
    Reach[] reach = reach();
    reach[0] = ofWall;
    reach[1] = ofShade;
    return new TransportClass(reach, TraceSettings.unbiased(0, 1));
  }

  @Test
  void aSurfaceThatReceivesNoShadowIsLitThroughTheShade() {
    double open =
        Traces.middle(trace(new TransportClass(reach(), TraceSettings.unbiased(0, 1))), 0);
    assertThat(Traces.middle(trace(shaded(Reach.ALL, Reach.ALL)), 0))
        .as("in the shade")
        .isLessThan(open * 0.01);
    assertThat(
            Traces.middle(
                trace(shaded(Reach.ALL.with(Reach.Flag.NO_RECEIVED_SHADOWS), Reach.ALL)), 0))
        .isCloseTo(open, within(open * 1e-3));
    assertThat(
            Traces.middle(trace(shaded(Reach.ALL, Reach.ALL.with(Reach.Flag.NO_SELF_SHADOW))), 0))
        .as("the shade still falls on others")
        .isLessThan(open * 0.01);
  }

  @Test
  void aThingWithoutItsOwnShadowIsLitBehindItself() {
    Mesh wall = SceneMaker.wall(2, 2);
    Mesh shade = SceneMaker.wall(0.5, 0.5);
    // one mesh: the wall, and a shade before it, between the camera and the lamp
    int n = wall.positions().length / 3;
    float[] points =
        java.util.Arrays.copyOf(
            wall.positions(), wall.positions().length + shade.positions().length);
    int[] indices =
        java.util.Arrays.copyOf(wall.indices(), wall.indices().length + shade.indices().length);
    for (int k = 0; k < shade.positions().length; k++) {
      points[3 * n + k] = shade.positions()[k] + (k % 3 == 2 ? 3 : 0);
    }
    for (int k = 0; k < shade.indices().length; k++) {
      indices[wall.indices().length + k] = n + shade.indices()[k];
    }
    Mesh both = new Mesh("both", points, null, null, indices, new int[indices.length / 3]);
    Scene folded =
        new SceneMaker()
            .camera(0.3, 0, 0, 2)
            .mesh("/folded", both, SceneMaker.matte(0.4), 0, 0, 0)
            .pointLight("/lamp", 30, 0, 0, 5)
            .scene();
    Reach[] reach = new Reach[folded.entities().size()];
    java.util.Arrays.fill(reach, Reach.ALL);
    TraceSettings direct = TraceSettings.unbiased(0, 1);
    Picture dark = picture(folded, Environment.DARK, new TransportClass(reach, direct), 4);
    reach[0] = Reach.ALL.with(Reach.Flag.NO_SELF_SHADOW);
    Picture lit = picture(folded, Environment.DARK, new TransportClass(reach, direct), 4);
    assertThat(Traces.middle(dark, 0)).isZero();
    // inverse square, head on, a matt surface; specular adds a little
    assertThat(Traces.middle(lit, 0)).isCloseTo(30.0 / 25 * 0.4 / Math.PI, within(0.03));
  }

  @Test
  void theEnvironmentIsTurnedAndScaledForAClassAlone() {
    Picture sky = Picture.empty(8, 4);
    for (int p = 0; p < 32; p++) {
      float value = p % 8 < 4 ? 1 : 0;
      sky.rgba()[4 * p] = sky.rgba()[4 * p + 1] = sky.rgba()[4 * p + 2] = value;
    }
    Environment half = new Environment(sky, 0, 1);
    Scene empty = new SceneMaker().camera(0.4, 0, 0, 0).scene();
    TraceSettings s = TraceSettings.unbiased(0, 1);
    TraceSettings turned =
        new TraceSettings(s.bounces(), s.seed(), 0, 0, 1, 1, 1, 90, 3, false, true);
    Picture as = picture(empty, half, new TransportClass(new Reach[] {Reach.ALL}, s), 1);
    Picture other = picture(empty, half, new TransportClass(new Reach[] {Reach.ALL}, turned), 1);
    Picture otherWay =
        picture(
            empty, new Environment(sky, 90, 3), new TransportClass(new Reach[] {Reach.ALL}, s), 1);
    assertThat(other.rgba()).isNotEqualTo(as.rgba());
    assertThat(other.rgba()).isEqualTo(otherWay.rgba());
  }

  private static Picture picture(
      Scene of, Environment environment, TransportClass transport, int samples) {
    TraceJob job =
        new TraceJob(
            transport,
            EntitySet.NONE,
            java.util.List.of(new TraceJob.View(EntitySet.NONE, Traces.all(of))));
    return Traces.trace(of, environment, job, N, N, samples).picture(0, Traces.all(of));
  }
}
