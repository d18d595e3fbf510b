package org.wedgecutter.core.fragment;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import java.util.concurrent.CancellationException;
import java.util.function.Consumer;
import java.util.stream.LongStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.image.Region;
import org.wedgecutter.core.pass.LightPass;
import org.wedgecutter.core.resolve.EntitySet;
import org.wedgecutter.core.scene.Light;
import org.wedgecutter.core.scene.Material;
import org.wedgecutter.core.scene.Rgb;
import org.wedgecutter.core.scene.Scene;
import org.wedgecutter.core.scene.SceneCamera;
import org.wedgecutter.core.testing.Corpus;
import org.wedgecutter.core.testing.SceneMaker;
import org.wedgecutter.core.testing.Traces;
import org.wedgecutter.core.trace.Environment;
import org.wedgecutter.core.trace.SceneTracer;
import org.wedgecutter.core.trace.TraceJob;

/** The identities that "exact" rests on. */
class PartitionTest {
  private static final int W = 40;
  private static final int H = 28;

  /**
   * Rods and balls of many materials, some moving, seen through a lens; a pane, gaps, a coat,
   * cloth, a glass ball, haze and a puff of smoke over one another.
   */
  private static Scene tangle(long seed) {
    Random random = new Random(seed);
    SceneMaker maker =
        new SceneMaker()
            .mesh("/floor", SceneMaker.floor(6, 6), SceneMaker.colored(0.5, 0.4, 0.3), 0, -1, 0)
            .mesh("/back", SceneMaker.wall(6, 3), SceneMaker.colored(0.2, 0.4, 0.5), 0, 1, -3)
            .mesh("/glow", SceneMaker.sphere(0.2, 10), SceneMaker.glowing(8), -1, 1.6, 0.5)
            .pointLight("/lamp", 5, 1.5, 2, 2)
            .areaLight("/panel", Light.Type.RECTANGLE, 2, 1, 0.5, 0, 0.5, 4)
            .medium("/haze", SceneMaker.haze(0.1, 0.8), 5, 4, 4, 0, 0, 0)
            .medium("/smoke", SceneMaker.puff(4, 0.6), 1, 1.5, 1, 0.3, 0, 0.5)
            .camera(0.7, new SceneCamera.Lens(0.024f, 2, 4.5f), 0, 0, 5);
    for (int k = 0; k < 8; k++) {
      boolean rod = k % 2 == 1;
      double x = random.nextDouble() * 2.4 - 1.2;
      double y = random.nextDouble() * 1.6 - 0.8;
      double z = random.nextDouble() * 3 - 1.5;
      Material paint =
          SceneMaker.colored(random.nextDouble(), random.nextDouble(), random.nextDouble())
              .with(material(k));
      maker.mesh(
          "/thing" + k,
          rod ? SceneMaker.wall(0.06, 1.4) : SceneMaker.sphere(0.3 + 0.2 * random.nextDouble(), 12),
          paint,
          List.of(),
          k == 4 ? SceneMaker.slide(x - 0.5, x + 0.5, 1) : List.of(),
          x,
          y,
          z);
    }
    return maker.scene();
  }

  private static Consumer<Material.Draft> material(int k) {
    return switch (k) {
      case 0 -> m -> m.glass = new Material.Glass(1, null, true, new Rgb(0.5f, 0.8f, 0.9f), 0.5f);
      case 1 ->
          m -> m.glass = new Material.Glass(0.9f, null, false, Rgb.WHITE, Float.POSITIVE_INFINITY);
      case 2 -> m -> m.metallic = 1;
      case 3 -> m -> m.opacity = 0.4f;
      case 5 -> m -> m.coat = new Material.Coat(0.8f, null, 0.1f, null);
      case 6 -> m -> m.sheen = new Material.Sheen(new Rgb(0.8f, 0.4f, 0.3f), null, 0.4f);
      default -> m -> {};
    };
  }

  static LongStream seeds() {
    return LongStream.rangeClosed(1, Corpus.many(2, 6));
  }

  private static EntitySet group(Scene scene, int[] groupOf, int group) {
    return EntitySet.where(scene.entities().size(), e -> groupOf[e] == group);
  }

  @ParameterizedTest
  @MethodSource("seeds")
  void layersOfAnyPartitionAddUpToTheUncutFrame(long seed) {
    Scene scene = tangle(seed);
    Picture uncut =
        Traces.trace(scene, Traces.uniform(0.3), Traces.job(scene, 3), W, H, 5)
            .picture(0, Traces.all(scene));
    int[] groupOf = new Random(seed * 31).ints(scene.entities().size(), 0, 4).toArray();
    double[] sum = new double[uncut.rgba().length];
    for (int g = 0; g < 4; g++) {
      addAlone(scene, group(scene, groupOf, g), 5, sum);
    }
    double light = 0;
    for (int i = 0; i < sum.length; i++) {
      assertThat((double) uncut.rgba()[i]).isCloseTo(sum[i], within(2e-6 + 2e-6 * sum[i]));
      light += sum[i];
    }
    assertThat(light).isGreaterThan(100);
  }

  /**
   * Traces one layer on its own, in which all else is a holdout, and adds up its fragments as the
   * algebra says: light after what is in front, and the share of the view that it stops.
   */
  private static void addAlone(Scene scene, EntitySet seen, int samples, double[] sum) {
    TraceJob alone =
        new TraceJob(
            Traces.whole(scene, 3),
            EntitySet.NONE,
            List.of(new TraceJob.View(EntitySet.NONE, seen)));
    SceneTracer.Worker worker =
        Traces.frame(scene, Traces.uniform(0.3))
            .worker(alone, scene.cameras().getFirst(), W, H, null);
    for (int p = 0; p < W * H; p++) {
      for (int k = 0; k < samples; k++) {
        worker.sample(
            p % W,
            p / W,
            k,
            p,
            (view, pixel, f) -> {
              if (seen.contains(f.entity)) {
                for (int c = 0; c < 3; c++) {
                  double light = 0;
                  for (LightPass pass : LightPass.values()) {
                    light += f.light[pass.at() + c];
                  }
                  sum[4 * pixel + c] += f.throughput[c] * light / samples;
                  sum[4 * pixel + 3] += (double) f.throughput[c] * f.opacity[c] / (3 * samples);
                }
              }
            });
      }
    }
  }

  @ParameterizedTest
  @MethodSource("seeds")
  void aLayerTracedAloneIsTheSameToTheLastBit(long seed) {
    Scene scene = tangle(seed);
    FragmentSums shared = Traces.trace(scene, Traces.uniform(0.3), Traces.job(scene, 3), W, H, 4);
    int[] groupOf = new Random(seed).ints(scene.entities().size(), 0, 3).toArray();
    for (int g = 0; g < 3; g++) {
      EntitySet seen = group(scene, groupOf, g);
      TraceJob alone =
          new TraceJob(
              Traces.whole(scene, 3),
              EntitySet.NONE,
              List.of(new TraceJob.View(EntitySet.NONE, seen)));
      FragmentSums own = Traces.trace(scene, Traces.uniform(0.3), alone, W, H, 4, 1);
      assertThat(own.picture(0, seen).rgba()).isEqualTo(shared.picture(0, seen).rgba());
      assertThat(own.passes(0, seen)).isEqualTo(shared.passes(0, seen));
    }
  }

  @ParameterizedTest
  @MethodSource("seeds")
  void viewsThatLookThroughThingsAreTheSameTogetherAndAlone(long seed) {
    Scene scene = tangle(seed);
    Random random = new Random(seed * 7);
    List<TraceJob.View> views = new ArrayList<>();
    for (int v = 0; v < 4; v++) {
      boolean[] skip = new boolean[scene.entities().size()];
      for (int e = 0; e < skip.length; e++) {
        skip[e] = random.nextInt(3) == 0;
      }
      EntitySet skipped = EntitySet.where(skip.length, e -> skip[e]);
      views.add(new TraceJob.View(skipped, Traces.all(scene)));
    }
    TraceJob together = new TraceJob(Traces.whole(scene, 2), EntitySet.NONE, views);
    FragmentSums shared = Traces.trace(scene, Traces.uniform(0.3), together, W, H, 4);
    for (int v = 0; v < views.size(); v++) {
      TraceJob alone = new TraceJob(Traces.whole(scene, 2), EntitySet.NONE, List.of(views.get(v)));
      FragmentSums own = Traces.trace(scene, Traces.uniform(0.3), alone, W, H, 4);
      assertThat(own.picture(0, Traces.all(scene)).rgba())
          .isEqualTo(shared.picture(v, Traces.all(scene)).rgba());
      for (int e = 0; e < scene.entities().size(); e++) {
        if (views.get(v).skipped().contains(e)) {
          int skippedEntity = e;
          EntitySet only = EntitySet.where(scene.entities().size(), k -> k == skippedEntity);
          assertThat(shared.picture(v, only).rgba()).containsOnly(0);
        }
      }
    }
  }

  @Test
  void threadsAndStopsChangeNoBit() {
    Scene scene = tangle(9);
    TraceJob job = Traces.job(scene, 3);
    float[] one =
        Traces.trace(scene, Traces.uniform(0.3), job, W, H, 6, 1).passes(0, Traces.all(scene));
    float[] five =
        Traces.trace(scene, Traces.uniform(0.3), job, W, H, 6, 5).passes(0, Traces.all(scene));
    assertThat(five).isEqualTo(one);

    FragmentSums stepped = new FragmentSums(job, W, H);
    SceneTracer.Frame frame = Traces.frame(scene, Traces.uniform(0.3));
    for (int samples : new int[] {1, 2, 5, 6}) {
      new FrameTrace(f -> frame, scene.cameras().getFirst(), List.of(stepped))
          .run(samples, 2, p -> {});
    }
    assertThat(stepped.passes(0, Traces.all(scene))).isEqualTo(one);

    FragmentSums interrupted = new FragmentSums(job, W, H);
    FrameTrace stopping =
        new FrameTrace(f -> frame, scene.cameras().getFirst(), List.of(interrupted));
    assertThatThrownBy(() ->
            stopping.run(
                6,
                2,
                p -> {
                  if (p > 0.4) {
                    stopping.stop();
                  }
                }))
        .isInstanceOf(CancellationException.class);
    assertThat(interrupted.samples()).isLessThan(6);
    new FrameTrace(f -> frame, scene.cameras().getFirst(), List.of(interrupted)).run(6, 2, p -> {});
    assertThat(interrupted.passes(0, Traces.all(scene))).isEqualTo(one);
  }

  @Test
  void aRegionIsWhatTheWholeHoldsThereToTheLastBit() {
    Scene scene = tangle(4);
    TraceJob job = Traces.job(scene, 3);
    Picture whole =
        Traces.trace(scene, Traces.uniform(0.3), job, W, H, 4).picture(0, Traces.all(scene));
    Region region = new Region(13, 5, 21, 18);
    FragmentSums sums = new FragmentSums(job, W, H, region);
    new FrameTrace(
            f -> Traces.frame(scene, Traces.uniform(0.3)),
            scene.cameras().getFirst(),
            List.of(sums))
        .run(4, 2, p -> {});
    Picture part = sums.picture(0, Traces.all(scene));
    assertThat(part.width()).isEqualTo(21);
    for (int y = 0; y < region.height(); y++) {
      for (int i = 0; i < 4 * region.width(); i++) {
        assertThat(part.rgba()[4 * 21 * y + i]).isEqualTo(whole.rgba()[4 * (W * (y + 5) + 13) + i]);
      }
    }
    assertThat(sums.dominant(0, 20, 17)).isNotNegative();
    assertThatThrownBy(() -> new FragmentSums(job, W, H, new Region(30, 0, 11, 4)))
        .isInstanceOf(IllegalArgumentException.class);
  }

  @Test
  void passesAddUpToTheBeauty() {
    Scene scene = tangle(3);
    FragmentSums sums = Traces.trace(scene, Traces.uniform(0.3), Traces.job(scene, 4), W, H, 8);
    float[] light = sums.passes(0, Traces.all(scene));
    Picture beauty = sums.picture(0, Traces.all(scene));
    for (int p = 0; p < W * H; p++) {
      for (int c = 0; c < 3; c++) {
        float sum = 0;
        for (LightPass pass : LightPass.values()) {
          sum += light[LightPass.NUMBERS * p + pass.at() + c];
        }
        float b = beauty.rgba()[4 * p + c];
        assertThat(sum).isCloseTo(b, within(1e-6f + 2e-6f * b));
      }
    }
    for (LightPass pass : LightPass.values()) {
      assertThat(Traces.mean(light, pass)).as(pass.name()).isPositive();
    }
  }

  @Test
  void everyNumberIsFiniteAndNotNegative() {
    for (long seed = 0; seed < 4; seed++) {
      Scene scene = tangle(seed);
      FragmentSums sums = Traces.trace(scene, Traces.uniform(0.3), Traces.job(scene, 5), W, H, 8);
      for (float v : sums.passes(0, Traces.all(scene))) {
        assertThat(v).isFinite().isNotNegative();
      }
      for (float v : sums.picture(0, Traces.all(scene)).rgba()) {
        assertThat(v).isFinite().isNotNegative();
      }
    }
  }

  @Test
  void alphaOfAFullFrameIsOneAndCoverageAddsUp() {
    Scene scene = tangle(2);
    FragmentSums sums = Traces.trace(scene, Environment.DARK, Traces.job(scene, 0), W, H, 7);
    Picture p = sums.picture(0, Traces.all(scene));
    for (int i = 3; i < p.rgba().length; i += 4) {
      assertThat(p.rgba()[i]).isCloseTo(1, within(1e-6f));
    }
    double sum = 0;
    for (double share : sums.coverage(0)) {
      sum += share;
    }
    assertThat(sum).isCloseTo(1, within(1e-6));
  }

  @Test
  void theForemostEntityCoversMostOfItsPixel() {
    Scene scene = tangle(2);
    FragmentSums sums = Traces.trace(scene, Environment.DARK, Traces.job(scene, 0), W, H, 7);
    for (int y = 0; y < H; y += 3) {
      for (int x = 0; x < W; x += 3) {
        int first = sums.dominant(0, x, y);
        float most = alpha(sums, scene, first, x, y);
        for (int e = 0; e < scene.entities().size(); e++) {
          assertThat(alpha(sums, scene, e, x, y)).isLessThanOrEqualTo(most);
        }
      }
    }
  }

  private static float alpha(FragmentSums sums, Scene scene, int entity, int x, int y) {
    EntitySet only = EntitySet.where(scene.entities().size(), e -> e == entity);
    return sums.picture(0, only).rgba()[4 * (y * W + x) + 3];
  }

  @Test
  void sumsSayWhatTheyCover() {
    Scene scene = tangle(1);
    EntitySet floor = Traces.set(scene, "/floor");
    EntitySet glow = Traces.set(scene, "/glow");
    TraceJob rich = Traces.job(scene, 2);
    FragmentSums sums = new FragmentSums(rich, 8, 8);
    TraceJob poor =
        new TraceJob(
            rich.transport(), EntitySet.NONE, List.of(new TraceJob.View(EntitySet.NONE, floor)));
    assertThat(sums.covers(poor)).isTrue();
    assertThat(new FragmentSums(poor, 8, 8).covers(rich)).isFalse();
    assertThat(
            sums.covers(
                new TraceJob(
                    rich.transport(), EntitySet.NONE, List.of(new TraceJob.View(glow, floor)))))
        .isFalse();
    assertThat(sums.covers(new TraceJob(rich.transport(), glow, rich.views()))).isFalse();
    assertThat(
            sums.covers(new TraceJob(rich.transport().without(glow), EntitySet.NONE, rich.views())))
        .isFalse();
    assertThat(sums.bytes()).isPositive();
  }

  @Test
  void anotherSeedGivesOtherNoiseOfTheSameMean() {
    Scene scene = tangle(5);
    var settings = org.wedgecutter.core.resolve.TraceSettings.unbiased(3, 2);
    var other =
        org.wedgecutter.core.resolve.TransportClass.whole(scene.entities().size(), settings);
    TraceJob job =
        new TraceJob(
            other, EntitySet.NONE, List.of(new TraceJob.View(EntitySet.NONE, Traces.all(scene))));
    Picture a =
        Traces.trace(scene, Traces.uniform(0.3), job, W, H, 64).picture(0, Traces.all(scene));
    Picture b =
        Traces.trace(scene, Traces.uniform(0.3), Traces.job(scene, 3), W, H, 64)
            .picture(0, Traces.all(scene));
    assertThat(a.rgba()).isNotEqualTo(b.rgba());
    double meanA = 0;
    double meanB = 0;
    for (int i = 0; i < a.rgba().length; i += 4) {
      meanA += a.rgba()[i];
      meanB += b.rgba()[i];
    }
    assertThat(meanA).isCloseTo(meanB, within(0.02 * meanB));
  }

  @Test
  void aFailureWhileTracingIsTold() {
    Scene scene = tangle(5);
    FrameTrace trace =
        new FrameTrace(
            f -> new SceneTracer(scene).at(0, Environment.DARK),
            scene.cameras().getFirst(),
            List.of(new FragmentSums(Traces.job(scene, 1), W, H)));
    assertThatThrownBy(() ->
            trace.run(
                1,
                2,
                p -> {
                  throw new IllegalArgumentException("no room");
                }))
        .isInstanceOf(IllegalStateException.class)
        .hasMessageContaining("no room");
  }
}
