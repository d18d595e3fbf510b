package org.wedgecutter.core.fragment;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.util.List;
import org.junit.jupiter.api.Test;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.pass.LightPass;
import org.wedgecutter.core.pass.PassPicture;
import org.wedgecutter.core.plan.CatcherOutput;
import org.wedgecutter.core.plan.Join;
import org.wedgecutter.core.rejoin.Rejoiner;
import org.wedgecutter.core.resolve.CatcherSpec;
import org.wedgecutter.core.resolve.Decisions;
import org.wedgecutter.core.resolve.EntitySet;
import org.wedgecutter.core.resolve.ResolvedLayer;
import org.wedgecutter.core.resolve.ResolvedShot;
import org.wedgecutter.core.resolve.TransportClass;
import org.wedgecutter.core.scene.Scene;
import org.wedgecutter.core.testing.SceneMaker;
import org.wedgecutter.core.testing.Traces;
import org.wedgecutter.core.trace.Environment;
import org.wedgecutter.core.trace.TraceJob;

/** What a caster does to a surface, against closed forms and the algebra's own identities. */
class CatcherTest {
  private static final double LIGHT_HEIGHT = 10;
  private static final double EDGE_HEIGHT = 1;
  private static final double RADIUS = 0.6;

  private static Scene penumbra() {
    return new SceneMaker()
        .mesh("/floor", SceneMaker.floor(20, 20), SceneMaker.matte(0.5), 0, 0, 0)
        .mesh("/edge", SceneMaker.halfPlane(30), SceneMaker.matte(0.0), 0, EDGE_HEIGHT, 0)
        .mesh("/light", SceneMaker.disc(RADIUS, 256), SceneMaker.glowing(50), 0, LIGHT_HEIGHT, 0)
        .cameraFromAbove(2 * Math.atan(0.1 / 4), 0, 4, 0)
        .scene();
  }

  private static LayerPictures pictures(
      Scene scene,
      CatcherOutput output,
      String surface,
      List<String> casters,
      List<String> skipped,
      Environment environment,
      int bounces,
      int width,
      int height,
      int samples) {
    TransportClass whole = Traces.whole(scene, bounces);
    EntitySet surfaces = Traces.set(scene, surface);
    EntitySet cast = Traces.set(scene, casters.toArray(String[]::new));
    EntitySet through = Traces.set(scene, skipped.toArray(String[]::new));
    ResolvedLayer layer =
        new ResolvedLayer(
            "shadow",
            Decisions.all(scene.entities().size(), org.wedgecutter.core.plan.Role.HOLDOUT),
            EntitySet.NONE,
            through,
            whole,
            new CatcherSpec(surfaces, cast, whole.without(cast), output));
    ResolvedLayer clean =
        new ResolvedLayer("clean", layer.decisions(), surfaces, through, whole.without(cast), null);
    ResolvedLayer full =
        new ResolvedLayer("full", layer.decisions(), surfaces, through, whole, null);
    ResolvedShot shot =
        new ResolvedShot(List.of(layer, clean, full), whole, scene.entities().size());
    JobPlan plan = new JobPlan(shot, l -> true, false, c -> false);
    assertThat(plan.jobs()).as("two classes, whatever is asked of them").hasSize(2);
    List<FragmentSums> sums =
        plan.jobs().stream()
            .map(j -> Traces.trace(scene, environment, j, width, height, samples))
            .toList();
    return new LayerPictures(shot, plan, sums);
  }

  /** Share of a disc on the far side of a chord at x from its centre. */
  private static double discBeyond(double x, double radius) {
    double t = Math.max(-1, Math.min(1, x / radius));
    return (Math.acos(t) - t * Math.sqrt(1 - t * t)) / Math.PI;
  }

  @Test
  void theRatioFollowsThePenumbraOfADiscLight() {
    Scene scene = penumbra();
    int w = 41;
    // the camera must look past the edge, which is above the floor: it is skipped
    Picture ratio =
        pictures(
                scene,
                CatcherOutput.RATIO,
                "/floor",
                List.of("/edge"),
                List.of("/edge", "/light"),
                Environment.DARK,
                0,
                w,
                w,
                400)
            .layer(0);
    double pixel = 0.2 / w;
    double worst = 0;
    for (int x = 0; x < w; x++) {
      double place = (x + 0.5 - w / 2.0) * pixel;
      // seen from the floor, the edge at x = 0 falls onto the light's plane at this x
      double chord = place + (0 - place) * LIGHT_HEIGHT / EDGE_HEIGHT;
      double visible = discBeyond(chord, RADIUS);
      double mean = 0;
      for (int y = w / 3; y < 2 * w / 3; y++) {
        mean += ratio.rgba()[4 * (y * w + x)] / (2 * w / 3 - w / 3);
      }
      worst = Math.max(worst, Math.abs(mean - visible));
    }
    assertThat(worst).isLessThan(0.02);
    assertThat(ratio.rgba()[4 * (w / 2 * w + w - 1)]).isCloseTo(1, within(0.001f));
    assertThat(ratio.rgba()[4 * (w / 2 * w)]).isCloseTo(0, within(0.001f));
  }

  private static Scene ballOnFloor(double specular) {
    return new SceneMaker()
        .mesh(
            "/floor", SceneMaker.floor(6, 6), SceneMaker.surface(0.5, 0, 0.3, specular, 0), 0, 0, 0)
        .mesh("/ball", SceneMaker.sphere(0.6, 24), SceneMaker.colored(0.9, 0.2, 0.1), 0, 0.6, 0)
        .mesh("/light", SceneMaker.disc(0.8, 32), SceneMaker.glowing(12), 1.5, 3, 0.5)
        .camera(0.8, 0, 1.2, 4.5)
        .scene();
  }

  private static final int W = 36;
  private static final int H = 24;

  private static LayerPictures ball(CatcherOutput output, double specular, List<String> skipped) {
    return pictures(
        ballOnFloor(specular),
        output,
        "/floor",
        List.of("/ball"),
        skipped,
        Traces.uniform(0.2),
        3,
        W,
        H,
        16);
  }

  @Test
  void withoutPlusTheDifferenceIsWith() {
    LayerPictures p = ball(CatcherOutput.DIFFERENCE, 1, List.of());
    Picture joined = p.layer(1).copy();
    Rejoiner.join(joined, p.layer(0), Join.PLUS);
    Picture full = p.layer(2);
    float darkest = 0;
    for (int i = 0; i < full.rgba().length; i++) {
      float scale = Math.max(Math.abs(p.layer(1).rgba()[i]), Math.abs(full.rgba()[i]));
      assertThat(joined.rgba()[i]).isCloseTo(full.rgba()[i], within(1e-7f + 3e-7f * scale));
      darkest = Math.min(darkest, p.layer(0).rgba()[i]);
    }
    assertThat(darkest).as("a shadow takes light away").isLessThan(-0.05f);
  }

  @Test
  void differenceHasNoAlphaAndNothingOutsideTheSurface() {
    LayerPictures p = ball(CatcherOutput.DIFFERENCE, 1, List.of());
    Picture d = p.layer(0);
    Picture floor = p.layer(1);
    for (int i = 0; i < d.rgba().length; i += 4) {
      assertThat(d.rgba()[i + 3]).isZero();
      if (floor.rgba()[i + 3] == 0) {
        assertThat(d.rgba()[i]).isZero();
      }
    }
  }

  @Test
  void onAMatteSurfaceTimesTheRatioIsExact() {
    LayerPictures p = ball(CatcherOutput.RATIO, 0, List.of());
    Picture joined = p.layer(1).copy();
    Rejoiner.join(joined, p.layer(0), Join.TIMES);
    for (int i = 0; i < joined.rgba().length; i++) {
      assertThat(joined.rgba()[i]).isCloseTo(p.layer(2).rgba()[i], within(2e-6f));
    }
  }

  @Test
  void whereTheDarkeningIsGreyTheCatchPictureIsExact() {
    // one white light, white sky, and a black caster that bounces nothing: the ratio is grey
    Scene scene =
        new SceneMaker()
            .mesh("/floor", SceneMaker.floor(6, 6), SceneMaker.surface(0.5, 0, 0.3, 1, 0), 0, 0, 0)
            .mesh("/ball", SceneMaker.sphere(0.6, 24), SceneMaker.matte(0), 0, 0.6, 0)
            .mesh("/light", SceneMaker.disc(0.8, 32), SceneMaker.glowing(12), 1.5, 3, 0.5)
            .camera(0.8, 0, 1.2, 4.5)
            .scene();
    LayerPictures p =
        pictures(
            scene,
            CatcherOutput.CATCH,
            "/floor",
            List.of("/ball"),
            List.of("/ball"),
            Traces.uniform(0.2),
            2,
            W,
            H,
            16);
    Picture joined = p.layer(1).copy();
    Rejoiner.join(joined, p.layer(0), Join.CATCH);
    Picture full = p.layer(2);
    double lost = p.lostByClamping(0);
    double sum = 0;
    for (int i = 0; i < joined.rgba().length; i += 4) {
      // exact except for reflections that the caster blocks, which a positive picture cannot hold
      assertThat(joined.rgba()[i]).isGreaterThanOrEqualTo(full.rgba()[i] - 2e-5f);
      sum += Math.abs(joined.rgba()[i] - full.rgba()[i]) / (W * H);
    }
    assertThat(sum).isCloseTo(lost, within(1e-5 + 0.02 * lost));
  }

  @Test
  void catchOnAMatteFloorIsExactToTheLastFewBits() {
    Scene scene =
        new SceneMaker()
            .mesh("/floor", SceneMaker.floor(60, 60), SceneMaker.matte(0.5), 0, 0, 0)
            .mesh("/ball", SceneMaker.sphere(0.6, 24), SceneMaker.matte(0.4), 0, 0.6, 0)
            .mesh("/light", SceneMaker.disc(0.8, 32), SceneMaker.glowing(12), 1.5, 3, 0.5)
            .cameraFromAbove(0.8, 0, 5, 0)
            .scene();
    LayerPictures p =
        pictures(
            scene,
            CatcherOutput.CATCH,
            "/floor",
            List.of("/ball"),
            List.of("/ball", "/light"),
            Environment.DARK,
            3,
            W,
            H,
            16);
    Picture joined = p.layer(1).copy();
    Rejoiner.join(joined, p.layer(0), Join.CATCH);
    int deeper = 0;
    for (int i = 0; i < joined.rgba().length; i += 4) {
      assertThat(joined.rgba()[i]).isCloseTo(p.layer(2).rgba()[i], within(3e-6f));
      deeper += p.layer(0).rgba()[i + 3] > 0.5f ? 1 : 0;
    }
    assertThat(deeper).as("pixels in deep shadow").isGreaterThan(5);
    assertThat(p.lostByClamping(0)).isZero();
  }

  @Test
  void theCatchPictureTakesBouncedColourFromTheCaster() {
    LayerPictures p = ball(CatcherOutput.CATCH, 0, List.of());
    double red = 0;
    double blue = 0;
    Picture caught = p.layer(0);
    for (int i = 0; i < caught.rgba().length; i += 4) {
      red += caught.rgba()[i];
      blue += caught.rgba()[i + 2];
      assertThat(caught.rgba()[i + 3]).isBetween(0f, 1f);
    }
    assertThat(red).as("a red ball throws red light on the floor").isGreaterThan(3 * blue);
  }

  @Test
  void aRatioIsOneWhereNothingIsCaught() {
    LayerPictures p = ball(CatcherOutput.RATIO, 1, List.of());
    Picture floor = p.layer(1);
    Picture ratio = p.layer(0);
    int outside = 0;
    for (int i = 0; i < ratio.rgba().length; i += 4) {
      if (floor.rgba()[i + 3] == 0) {
        assertThat(ratio.rgba()[i]).isEqualTo(1);
        outside++;
      }
    }
    assertThat(outside).isGreaterThan(10);
  }

  @Test
  void aDifferenceHasPassesThatAddUpToIt() {
    LayerPictures p = ball(CatcherOutput.DIFFERENCE, 1, List.of());
    Picture d = p.layer(0);
    var passes = p.passes(0);
    assertThat(passes.stream().map(PassPicture::name))
        .containsExactlyElementsOf(LightPass.PASSES.stream().map(LightPass.Named::name).toList());
    for (int px = 0; px < W * H; px++) {
      float sum = 0;
      for (PassPicture pass : passes) {
        sum += pass.values()[3 * px];
      }
      assertThat(sum).isCloseTo(d.rgba()[4 * px], within(3e-5f));
    }
    assertThat(ball(CatcherOutput.CATCH, 1, List.of()).passes(0)).isEmpty();
  }

  @Test
  void jobsOfACatcherShareTheTraceOfItsOwnClass() {
    Scene scene = ballOnFloor(1);
    TransportClass whole = Traces.whole(scene, 1);
    EntitySet ball = Traces.set(scene, "/ball");
    ResolvedLayer catcher =
        new ResolvedLayer(
            "s",
            Decisions.all(0, org.wedgecutter.core.plan.Role.HOLDOUT),
            EntitySet.NONE,
            EntitySet.NONE,
            whole,
            new CatcherSpec(
                Traces.set(scene, "/floor"), ball, whole.without(ball), CatcherOutput.RATIO));
    ResolvedLayer plain =
        new ResolvedLayer("p", catcher.decisions(), ball, EntitySet.NONE, whole, null);
    // the plain layer comes first, and yet there are no more than two traces
    ResolvedShot shot = new ResolvedShot(List.of(plain, catcher), whole, scene.entities().size());
    JobPlan plan = new JobPlan(shot, l -> true, true, c -> false);
    assertThat(plan.jobs()).hasSize(2);
    assertThat(plan.layer(0).job()).isEqualTo(plan.layer(1).job()).isEqualTo(plan.uncut().job());
    TraceJob with = plan.jobs().get(plan.layer(1).job());
    assertThat(with.casters()).isEqualTo(ball);
    assertThat(with.views()).hasSize(1);
  }
}
