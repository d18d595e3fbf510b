package org.wedgecutter.core.render;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.fail;
import static org.assertj.core.api.Assertions.within;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.function.Consumer;
import java.util.stream.IntStream;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;
import org.wedgecutter.core.fragment.FragmentSums;
import org.wedgecutter.core.fragment.JobPlan;
import org.wedgecutter.core.fragment.LayerPictures;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.PlanReader;
import org.wedgecutter.core.plan.Property;
import org.wedgecutter.core.plan.Role;
import org.wedgecutter.core.resolve.Members;
import org.wedgecutter.core.resolve.ResolvedShot;
import org.wedgecutter.core.resolve.Resolver;
import org.wedgecutter.core.scene.Material;
import org.wedgecutter.core.scene.Rgb;
import org.wedgecutter.core.scene.Scene;
import org.wedgecutter.core.testing.Corpus;
import org.wedgecutter.core.testing.SceneMaker;
import org.wedgecutter.core.testing.Traces;
import org.wedgecutter.core.trace.Environment;

/**
 * Every combination of switch, role and kind of material that a plan can give to a white thing. In
 * even white light what absorbs nothing has the light of what is behind it, whatever its switches:
 * none of them takes or adds light where there is nothing but one convex thing. And without light
 * there is none. (A hollow ball of thin walls is not convex for light: what casts no shadow and is
 * met all the same counts twice, as it was asked to.)
 */
class PlanFurnaceTest {
  private static final int SIZE = 6;
  private static final int SAMPLES = 12;

  private static final List<Property> SWITCHES =
      List.of(
          Property.VISIBLE_REFLECTION,
          Property.VISIBLE_BOUNCE,
          Property.VISIBLE_TRANSMISSION,
          Property.SHADOW_CASTS,
          Property.SHADOW_RECEIVES,
          Property.SHADOW_SELF);

  private static Material.Glass glass(boolean thick) {
    return new Material.Glass(1, null, thick, Rgb.WHITE, Float.POSITIVE_INFINITY);
  }

  private static final Map<String, Consumer<Material.Draft>> MATERIALS = new LinkedHashMap<>();

  static {
    MATERIALS.put("matte", m -> m.specular(0));
    MATERIALS.put("glossy", m -> m.roughness = 0.3f);
    MATERIALS.put("metal", m -> m.metallic = 1);
    MATERIALS.put("coated", m -> m.coat = new Material.Coat(1, null, 0.1f, null));
    MATERIALS.put("cloth", m -> m.sheen = new Material.Sheen(Rgb.WHITE, null, 0.5f));
    MATERIALS.put(
        "clear wall",
        m -> {
          m.roughness = 0;
          m.glass = glass(false);
        });
    MATERIALS.put(
        "frosted wall",
        m -> {
          m.roughness = 0.4f;
          m.glass = glass(false);
        });
    MATERIALS.put(
        "clear body",
        m -> {
          m.roughness = 0;
          m.glass = glass(true);
        });
    MATERIALS.put(
        "frosted body",
        m -> {
          m.roughness = 0.4f;
          m.glass = glass(true);
        });
    MATERIALS.put("half there", m -> m.opacity = 0.5f);
  }

  static List<String> materials() {
    return List.copyOf(MATERIALS.keySet());
  }

  private static Scene scene(String material) {
    return new SceneMaker()
        .mesh(
            "/ball",
            // walls have no inside: a sheet of them; all else is a ball
            material.endsWith("wall") || material.startsWith("half")
                ? SceneMaker.wall(0.5, 0.5)
                : SceneMaker.sphere(0.6, 24),
            SceneMaker.colored(1, 1, 1).with(MATERIALS.get(material)::accept),
            0,
            0,
            0)
        .camera(0.2, 0, 0, 6)
        .scene();
  }

  /** Sets of switches that are off; each switch is among some of them, and not among others. */
  private static List<Integer> masks() {
    return Corpus.oneIn(3, IntStream.range(0, 1 << SWITCHES.size()).boxed().toList());
  }

  private static String off(int mask) {
    List<String> out = new ArrayList<>();
    for (int k = 0; k < SWITCHES.size(); k++) {
      if ((mask >> k & 1) != 0) {
        out.add(
            "{\"property\": \"%s\", \"verb\": \"set\", \"value\": false, \"on\": true}"
                .formatted(SWITCHES.get(k).word()));
      }
    }
    return String.join(",", out);
  }

  /** A layer of the ball in a role, and one of all else in which the ball holds out. */
  private static Plan plan(Role role, int mask, boolean seeThrough) throws Exception {
    String text =
        """
        {"wedgecutter": 1,
         "shot": {"scene": "none.glb", "frames": "1", "fps": 24, "size": [%d, %d], "samples": 1,
           "bounces": {"surfaces": 24, "glass": 48, "media": 4}, "see_through_glass": %b,
           "environment": {"image": "white.hdr"}},
         "collections": [{"name": "Ball", "rule": "name:ball"}],
         "layers": [
           {"name": "Ball", "cells": {"Ball": {"role": "%s", "overrides": [%s]}},
            "rest": {"role": "Holdout"}},
           {"name": "Rest", "cells": {"Ball": {"role": "Holdout", "overrides": [%s]}},
            "rest": {"role": "Seen"}}],
         "recipe": {"joins": [{"layer": "Ball", "join": "plus"}, {"layer": "Rest", "join": "plus"}]}}
        """
            .formatted(SIZE, SIZE, seeThrough, role.word(), off(mask), off(mask));
    return PlanReader.parse(text, Path.of("furnace.wedge"));
  }

  private static LayerPictures trace(Scene scene, Plan plan, double level) {
    return trace(scene, plan, level, SAMPLES);
  }

  private static LayerPictures trace(Scene scene, Plan plan, double level, int samples) {
    ResolvedShot resolved = Resolver.resolve(plan, new Members(scene), 1);
    JobPlan jobs = new JobPlan(resolved, l -> true, false, c -> false);
    Environment light = Traces.uniform(level);
    List<FragmentSums> sums =
        jobs.jobs().stream().map(j -> Traces.trace(scene, light, j, SIZE, SIZE, samples)).toList();
    return new LayerPictures(resolved, jobs, sums);
  }

  private static double mean(Picture p, int channel) {
    double sum = 0;
    for (int i = channel; i < p.rgba().length; i += 4) {
      sum += p.rgba()[i] / (SIZE * SIZE);
    }
    return sum;
  }

  @ParameterizedTest
  @MethodSource("materials")
  void inEvenLightNoSwitchTakesOrAddsAny(String material) throws Exception {
    Scene scene = scene(material);
    for (boolean seeThrough : new boolean[] {false, true}) {
      for (int mask : masks()) {
        LayerPictures p = trace(scene, plan(Role.SEEN, mask, seeThrough), 1);
        Picture ball = p.layer(0);
        Picture rest = p.layer(1);
        for (int c = 0; c < 4; c++) {
          assertThat(mean(ball, c) + mean(rest, c))
              .as("%s, switches %s, see through %b, channel %d", material, off(mask), seeThrough, c)
              .isCloseTo(1, within(c == 3 ? 1e-5 : 0.035));
        }
        assertThat(mean(ball, 0)).isCloseTo(mean(ball, 3), within(0.035));
      }
    }
  }

  @ParameterizedTest
  @MethodSource("materials")
  void rolesThatShowNothingAreBlackAndUncoveredOnesClear(String material) throws Exception {
    Scene scene = scene(material);
    for (int mask : masks()) {
      for (Role role : new Role[] {Role.HOLDOUT, Role.UNSEEN, Role.ABSENT, Role.CATCHER}) {
        Picture own = trace(scene, plan(role, mask, false), 1, 3).layer(0);
        for (float v : own.rgba()) {
          if (v != 0) {
            fail("%s as %s, switches %s: %s".formatted(material, role, off(mask), v));
          }
        }
      }
    }
  }

  @ParameterizedTest
  @MethodSource("materials")
  void withoutLightThereIsNone(String material) throws Exception {
    Scene scene = scene(material);
    for (int mask = 0; mask < 1 << SWITCHES.size(); mask += 7) {
      LayerPictures p = trace(scene, plan(Role.SEEN, mask, false), 0, 3);
      assertThat(mean(p.layer(0), 0) + mean(p.layer(1), 0)).isZero();
    }
  }
}
