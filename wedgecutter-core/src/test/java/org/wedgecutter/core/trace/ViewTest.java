package org.wedgecutter.core.trace;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.util.List;
import org.junit.jupiter.api.Test;
import org.wedgecutter.core.fragment.FragmentSums;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.pass.LightPass;
import org.wedgecutter.core.resolve.EntitySet;
import org.wedgecutter.core.resolve.Reach;
import org.wedgecutter.core.resolve.TraceSettings;
import org.wedgecutter.core.resolve.TransportClass;
import org.wedgecutter.core.scene.Scene;
import org.wedgecutter.core.testing.SceneMaker;
import org.wedgecutter.core.testing.Traces;

/** What each finer switch of an entity does to light and to the camera. */
class ViewTest {
  private static Scene scene() {
    return new SceneMaker()
        .mesh("/floor", SceneMaker.floor(6, 6), SceneMaker.surface(0.5, 0, 0.1, 1, 0), 0, 0, 0)
        .mesh("/ball", SceneMaker.sphere(0.6, 24), SceneMaker.colored(0.9, 0.1, 0.1), 0, 0.7, 0)
        .mesh("/lamp", SceneMaker.disc(0.5, 24), SceneMaker.glowing(10), 0, 3, 0)
        .camera(0.8, 0, 1.2, 4.5)
        .scene();
  }

  private static TransportClass with(Scene scene, String path, Reach reach) {
    Reach[] bits = new Reach[scene.entities().size()];
    for (int e = 0; e < bits.length; e++) {
      bits[e] = scene.entities().get(e).path().equals(path) ? reach : Reach.ALL;
    }
    return new TransportClass(bits, TraceSettings.unbiased(2, 1));
  }

  private static float[] floor(Scene scene, TransportClass transport, Environment environment) {
    TraceJob job =
        new TraceJob(
            transport,
            EntitySet.NONE,
            List.of(new TraceJob.View(EntitySet.NONE, Traces.set(scene, "/floor"))));
    return Traces.trace(scene, environment, job, 30, 20, 64).passes(0, Traces.set(scene, "/floor"));
  }

  @Test
  void withoutShadowTheFloorGetsMoreOfTheLampAndTheRestIsAsBefore() {
    Scene scene = scene();
    float[] all = floor(scene, with(scene, "/ball", Reach.ALL), Environment.DARK);
    float[] none =
        floor(scene, with(scene, "/ball", Reach.ALL.without(Reach.Flag.SHADOW)), Environment.DARK);
    assertThat(Traces.mean(none, LightPass.DIFFUSE_LIGHTS))
        .isGreaterThan(1.03 * Traces.mean(all, LightPass.DIFFUSE_LIGHTS));
  }

  @Test
  void outOfReflectionsItLeavesTheSpecularLobe() {
    Scene scene = scene();
    float[] all = floor(scene, with(scene, "/ball", Reach.ALL), Environment.DARK);
    float[] none =
        floor(
            scene,
            with(scene, "/ball", Reach.ALL.without(Reach.Flag.REFLECTION)),
            Environment.DARK);
    assertThat(Traces.mean(none, LightPass.SPECULAR_INDIRECT))
        .isLessThan(0.6 * Traces.mean(all, LightPass.SPECULAR_INDIRECT));
    assertThat(Traces.mean(none, LightPass.DIFFUSE_BOUNCED))
        .isCloseTo(
            Traces.mean(all, LightPass.DIFFUSE_BOUNCED),
            within(0.15 * Traces.mean(all, LightPass.DIFFUSE_BOUNCED)));
  }

  @Test
  void outOfBouncesItLeavesTheDiffuseLobe() {
    Scene scene = scene();
    float[] all = floor(scene, with(scene, "/ball", Reach.ALL), Environment.DARK);
    float[] none =
        floor(scene, with(scene, "/ball", Reach.ALL.without(Reach.Flag.BOUNCE)), Environment.DARK);
    assertThat(Traces.mean(all, LightPass.DIFFUSE_BOUNCED)).isPositive();
    assertThat(Traces.mean(none, LightPass.DIFFUSE_BOUNCED))
        .isLessThan(0.2 * Traces.mean(all, LightPass.DIFFUSE_BOUNCED));
  }

  @Test
  void anAbsentEmitterGivesNoLight() {
    Scene scene = scene();
    float[] dark = floor(scene, with(scene, "/lamp", Reach.NONE), Environment.DARK);
    for (LightPass pass : LightPass.values()) {
      assertThat(Traces.mean(dark, pass)).isZero();
    }
  }

  @Test
  void anAbsentEnvironmentLightsNothing() {
    Scene scene = scene();
    float[] lit = floor(scene, with(scene, "/lamp", Reach.NONE), Traces.uniform(1));
    assertThat(Traces.mean(lit, LightPass.DIFFUSE_ENVIRONMENT)).isPositive();
    Reach[] bits = new Reach[scene.entities().size()];
    java.util.Arrays.fill(bits, Reach.ALL);
    bits[scene.environment().index()] = Reach.NONE;
    bits[2] = Reach.NONE;
    float[] dark =
        floor(scene, new TransportClass(bits, TraceSettings.unbiased(2, 1)), Traces.uniform(1));
    for (LightPass pass : LightPass.values()) {
      assertThat(Traces.mean(dark, pass)).isZero();
    }
  }

  @Test
  void withoutCastersLightByWayOfThemIsGoneAndTheRestAddsUp() {
    Scene scene = scene();
    EntitySet ball = Traces.set(scene, "/ball");
    TransportClass whole = with(scene, "/ball", Reach.ALL);
    TraceJob split =
        new TraceJob(
            whole,
            ball,
            List.of(new TraceJob.View(EntitySet.NONE, Traces.set(scene, "/floor"))),
            LightSplit.PLAIN.withCasters(true),
            false);
    FragmentSums sums = Traces.trace(scene, Environment.DARK, split, 30, 20, 64);
    float[] apart = sums.passes(0, Traces.set(scene, "/floor"));
    float[] together = floor(scene, whole, Environment.DARK);
    TransportClass without = whole.without(ball);
    float[] clean = floor(scene, without, Environment.DARK);
    int n = sums.job().split().numbers();
    double by = 0;
    double rest = 0;
    for (int p = 0; p < apart.length / n; p++) {
      for (int k = 0; k < LightPass.NUMBERS; k++) {
        assertThat(apart[n * p + k]).isEqualTo(together[LightPass.NUMBERS * p + k]);
      }
      int bounced = n * p + sums.job().split().bouncedByCastersAt();
      by += apart[bounced];
      float own = apart[n * p + LightPass.DIFFUSE_BOUNCED.at()] - apart[bounced];
      float open = clean[LightPass.NUMBERS * p + LightPass.DIFFUSE_BOUNCED.at()];
      rest += own;
      assertThat(own).as("casters add nothing to what is not via them").isLessThan(open + 1e-6f);
    }
    assertThat(by).isPositive();
    assertThat(rest).isNotNegative();
  }

  @Test
  void anUnseenBallLetsTheCameraThroughButKeepsItsShadow() {
    Scene scene = scene();
    EntitySet ball = Traces.set(scene, "/ball");
    TraceJob job =
        new TraceJob(
            with(scene, "/ball", Reach.ALL),
            EntitySet.NONE,
            List.of(
                new TraceJob.View(EntitySet.NONE, Traces.all(scene)),
                new TraceJob.View(ball, Traces.all(scene))));
    FragmentSums sums = Traces.trace(scene, Environment.DARK, job, 30, 20, 32);
    EntitySet floor = Traces.set(scene, "/floor");
    Picture cut = sums.picture(0, floor);
    Picture whole = sums.picture(1, floor);
    double coverCut = 0;
    double coverWhole = 0;
    for (int i = 0; i < cut.rgba().length; i += 4) {
      coverCut += cut.rgba()[i + 3];
      coverWhole += whole.rgba()[i + 3];
      if (cut.rgba()[i + 3] == 1) {
        assertThat(whole.rgba()[i])
            .as("where the ball is not, nothing changes")
            .isEqualTo(cut.rgba()[i]);
      }
    }
    assertThat(coverWhole).isGreaterThan(coverCut + 5);
  }

  @Test
  void lightThatNoLobeTakesIsNoLightForTheClass() {
    Scene scene = scene();
    assertThat(with(scene, "/ball", Reach.NONE.with(Reach.Flag.EMITS)))
        .isEqualTo(with(scene, "/ball", Reach.NONE));
    assertThat(with(scene, "/ball", Reach.NONE.with(Reach.Flag.EMITS)).hashCode())
        .isEqualTo(with(scene, "/ball", Reach.NONE).hashCode());
    assertThat(with(scene, "/ball", Reach.NONE.with(Reach.Flag.SHADOW)))
        .isNotEqualTo(with(scene, "/ball", Reach.NONE));
  }

  @Test
  void theEnvironmentIsSeenBehindEverythingAndCovers() {
    Scene scene = new SceneMaker().camera(0.8, 0, 0, 0).scene();
    Picture p = Traces.picture(scene, Traces.uniform(0.7), 2, 4, 4, 2);
    for (int i = 0; i < p.rgba().length; i += 4) {
      assertThat(p.rgba()[i]).isCloseTo(0.7f, within(1e-6f));
      assertThat(p.rgba()[i + 3]).isEqualTo(1);
    }
  }
}
