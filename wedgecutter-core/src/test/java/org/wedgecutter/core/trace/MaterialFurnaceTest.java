package org.wedgecutter.core.trace;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.util.List;
import java.util.function.Consumer;
import java.util.stream.Stream;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.Arguments;
import org.junit.jupiter.params.provider.MethodSource;
import org.wedgecutter.core.fragment.FragmentSums;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.plan.Bounces;
import org.wedgecutter.core.resolve.EntitySet;
import org.wedgecutter.core.resolve.TraceSettings;
import org.wedgecutter.core.resolve.TransportClass;
import org.wedgecutter.core.scene.Material;
import org.wedgecutter.core.scene.Medium;
import org.wedgecutter.core.scene.Rgb;
import org.wedgecutter.core.scene.Scene;
import org.wedgecutter.core.testing.Corpus;
import org.wedgecutter.core.testing.SceneMaker;
import org.wedgecutter.core.testing.Traces;

/**
 * In even white light all round, what absorbs nothing cannot be seen: a white ball of any material,
 * or a cloud that only scatters, looks like the light behind it.
 */
class MaterialFurnaceTest {
  private static final Bounces FAR = new Bounces(64, 64, 200);

  private static Arguments of(String name, double tolerance, Consumer<Material.Draft> paint) {
    return Arguments.of(name, tolerance, paint);
  }

  private static Material.Glass glass(boolean thick) {
    return new Material.Glass(1, null, thick, Rgb.WHITE, Float.POSITIVE_INFINITY);
  }

  private static Material.Dielectric ior(float index) {
    return new Material.Dielectric(1, null, Rgb.WHITE, null, index);
  }

  static Stream<Arguments> materials() {
    Stream.Builder<Arguments> all = Stream.builder();
    for (float roughness : Corpus.oneIn(3, List.of(0.02f, 0.3f, 0.6f, 1f))) {
      all.add(of("dielectric " + roughness, 0.01, m -> m.roughness = roughness));
      all.add(
          of(
              "metal " + roughness,
              0.01,
              m -> {
                m.metallic = 1;
                m.roughness = roughness;
              }));
      all.add(
          of(
              "glass body " + roughness,
              0.01,
              m -> {
                m.roughness = roughness;
                m.glass = glass(true);
              }));
      all.add(
          of(
              "dense glass body " + roughness,
              0.01,
              m -> {
                m.roughness = roughness;
                m.glass = glass(true);
                m.dielectric = ior(1.9f);
              }));
      all.add(
          of(
              "thin wall " + roughness,
              0.01,
              m -> {
                m.roughness = roughness;
                m.glass = glass(false);
              }));
      all.add(
          of(
              "coat over rough " + roughness,
              0.01,
              m -> {
                m.roughness = 0.8f;
                m.coat = new Material.Coat(1, null, roughness, null);
              }));
      all.add(
          of(
              "cloth " + roughness,
              0.01,
              m -> m.sheen = new Material.Sheen(Rgb.WHITE, null, roughness)));
    }
    all.add(of("half there", 0.005, m -> m.opacity = 0.5f));
    all.add(
        of(
            "half metal half glass",
            0.01,
            m -> {
              m.metallic = 0.5f;
              m.roughness = 0.3f;
              m.glass = new Material.Glass(0.5f, null, true, Rgb.WHITE, 1);
            }));
    all.add(
        of(
            "all at once",
            0.01,
            m -> {
              m.roughness = 0.4f;
              m.opacity = 0.7f;
              m.glass = new Material.Glass(0.4f, null, false, Rgb.WHITE, 1);
              m.coat = new Material.Coat(0.7f, null, 0.2f, null);
              m.sheen = new Material.Sheen(new Rgb(0.6f, 0.6f, 0.6f), null, 0.5f);
            }));
    return all.build();
  }

  private static Picture trace(Scene scene, boolean seeThrough) {
    TransportClass all =
        TransportClass.whole(
            scene.entities().size(), TraceSettings.unbiased(FAR, 1).withSeeThrough(seeThrough));
    TraceJob job =
        new TraceJob(
            all, EntitySet.NONE, List.of(new TraceJob.View(EntitySet.NONE, Traces.all(scene))));
    FragmentSums sums = Traces.trace(scene, Traces.uniform(1), job, 16, 16, 110);
    assertThat(sums.invalidSamples()).isZero();
    return sums.picture(0, Traces.all(scene));
  }

  @ParameterizedTest(name = "{0}")
  @MethodSource("materials")
  void aWhiteBallIsNotSeen(String name, double tolerance, Consumer<Material.Draft> paint) {
    Scene scene =
        new SceneMaker()
            .mesh(
                "/ball", SceneMaker.sphere(1, 96), SceneMaker.matte(1).with(white(paint)), 0, 0, 0)
            .camera(0.42, 0, 0, 5)
            .scene();
    for (boolean seeThrough : new boolean[] {false, true}) {
      Picture p = trace(scene, seeThrough);
      assertThat(mean(p)).as(name).isCloseTo(1, within(tolerance));
      assertThat(Traces.middle(p, 0)).as("middle").isCloseTo(1, within(4 * tolerance));
    }
  }

  private static Consumer<Material.Draft> white(Consumer<Material.Draft> paint) {
    return m -> {
      m.specular(1);
      paint.accept(m);
    };
  }

  private static double mean(Picture p) {
    double sum = 0;
    for (int i = 0; i < p.rgba().length; i += 4) {
      sum += p.rgba()[i];
    }
    return sum / (p.rgba().length / 4.0);
  }

  static Stream<Arguments> media() {
    Medium falling = new Medium("fog", false, 2, Rgb.WHITE, -0.4f, Rgb.BLACK, 0.6f, -0.5f, null);
    return Stream.of(
        Arguments.of("even", SceneMaker.haze(1.5, 1)),
        Arguments.of("falling off", falling),
        Arguments.of("puff", SceneMaker.puff(5, 1)));
  }

  @ParameterizedTest(name = "{0}")
  @MethodSource("media")
  void aCloudThatAbsorbsNothingIsNotSeen(String name, Medium medium) {
    Scene scene =
        new SceneMaker().medium("/cloud", medium, 2, 2, 2, 0, 0, 0).camera(0.4, 0, 0, 5).scene();
    Picture p = trace(scene, false);
    assertThat(mean(p)).as(name).isCloseTo(1, within(0.01));
  }

  @ParameterizedTest(name = "{0}")
  @MethodSource("media")
  void cloudsOverOneAnotherAreNotSeenEither(String name, Medium medium) {
    Scene scene =
        new SceneMaker()
            .medium("/cloud", medium, 2, 2, 2, 0, 0, 0)
            .medium("/haze", SceneMaker.haze(0.4, 1), 3, 1, 3, 0.2, 0, 0)
            .mesh("/ball", SceneMaker.sphere(0.4, 24), SceneMaker.matte(1), 0.3, 0, 0)
            .camera(0.4, 0, 0, 5)
            .scene();
    assertThat(mean(trace(scene, false))).as(name).isCloseTo(1, within(0.01));
  }
}
