package org.wedgecutter.core.survey;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import java.util.List;
import java.util.concurrent.CancellationException;
import org.junit.jupiter.api.Test;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.render.FrameRenderer;
import org.wedgecutter.core.scene.Channel;
import org.wedgecutter.core.scene.Scene;
import org.wedgecutter.core.testing.SceneMaker;
import org.wedgecutter.core.testing.Shots;

/** Surveys of scenes that were made so that the right answer is known. */
class ShotSurveyTest {
  /** Positions of one number: x, y or z, at seconds 0, 1, 2, ... */
  private static List<Channel> track(int axis, double... at) {
    float[] times = new float[at.length];
    float[] values = new float[3 * at.length];
    for (int k = 0; k < at.length; k++) {
      times[k] = k;
      values[3 * k + axis] = (float) at[k];
    }
    return List.of(new Channel(Channel.Target.TRANSLATION, Channel.Between.LINEAR, times, values));
  }

  /** A panel that comes from behind a still one, through its plane, to the front of it. */
  private static LoadedShot passing() {
    Scene scene =
        new SceneMaker()
            .camera(1, 0, 0, 6)
            .mesh("/set/still", SceneMaker.wall(1, 1), SceneMaker.matte(0.5), 0, 0, 0)
            .mesh(
                "/hero",
                SceneMaker.wall(0.5, 0.5),
                SceneMaker.matte(0.5),
                List.of(),
                track(2, -2, -1, -0.5, 0.5, 1, 2),
                0,
                0,
                -2)
            .pointLight("/lamp", 30, 0, 0, 5)
            .scene();
    return Shots.of(scene, "1-6", "\"samples\": 4", "");
  }

  private static ShotSurvey survey(LoadedShot shot, int traces) {
    return new Surveyor(shot, Surveyor.quick(shot, 2))
        .survey(shot.plan().requireShot().frames().frames(), traces, p -> {});
  }

  private static int part(ShotSurvey s, String name) {
    return s.parts().parts().stream().map(Parts.Part::name).toList().indexOf(name);
  }

  @Test
  void whatComesThroughIsBehindFirstAndInFrontThen() {
    ShotSurvey s = survey(passing(), 1);
    int hero = part(s, "hero");
    int set = part(s, "set");
    assertThat(s.order(1).order(hero, set)).isEqualTo(DepthOrder.Order.BEHIND);
    assertThat(s.order(3).order(set, hero)).isEqualTo(DepthOrder.Order.FRONT);
    assertThat(s.order(4).order(hero, set)).isEqualTo(DepthOrder.Order.FRONT);
    assertThat(s.order(hero, set)).isEqualTo(DepthOrder.Order.INTERLOCKED);
    assertThat(s.crossings()).containsExactly(new ShotSurvey.Crossing(hero, set, List.of(4)));
    // hidden behind the larger panel until it comes through
    assertThat(s.visible(hero)).containsExactly(4, 5, 6);
    assertThat(s.visible(set)).containsExactly(1, 2, 3, 4, 5, 6);
    assertThat(s.matters())
        .anySatisfy(m -> {
          assertThat(m.frame()).isEqualTo(4);
          assertThat(m.reasons())
              .contains(
                  new Matter.Reason(Matter.Event.APPEARS, "hero", ""),
                  new Matter.Reason(Matter.Event.CROSSING, "hero", "set"));
        })
        .anySatisfy(m -> {
          assertThat(m.frame()).as("nearest to the camera").isEqualTo(6);
          assertThat(m.reasons()).contains(new Matter.Reason(Matter.Event.MOST_SEEN, "hero", ""));
        });
  }

  @Test
  void theShareOfThePictureIsThatOfThePanelsByTheirSize() {
    ShotSurvey s = survey(passing(), 1);
    // half the height is tan(0.5) * distance; the picture is 4 : 3
    double half = Math.tan(0.5) * 6;
    assertThat(s.coverage(part(s, "set"), 1))
        .isCloseTo(4 / (4 * half * half * 4 / 3), within(0.01));
    double near = Math.tan(0.5) * 4;
    assertThat(s.coverage(part(s, "hero"), 6))
        .isCloseTo(1 / (4 * near * near * 4 / 3), within(0.005));
  }

  @Test
  void whatMovesAndDeformsIsToldByItsFrames() {
    LoadedShot shot = passing();
    Changes c = Changes.of(shot.plan(), shot.members());
    ShotSurvey s = survey(shot, 1);
    assertThat(c.moving(s.parts().parts().get(part(s, "hero")).entities()))
        .containsExactly(1, 2, 3, 4, 5);
    assertThat(c.kind(s.parts().parts().get(part(s, "hero")).entities()))
        .isEqualTo(Changes.Kind.MOVES);
    assertThat(c.kind(s.parts().parts().get(part(s, "set")).entities()))
        .isEqualTo(Changes.Kind.STILL);
    assertThat(c.camera()).isEmpty();
  }

  @Test
  void aKeyedOverrideIsAChangeOfThatLayer() {
    LoadedShot shot =
        Shots.of(
            passing().scene(),
            "1-6",
            "",
            """
            "collections": [{"name": "Lamp", "rule": "lamp"}],
            "layers": [{"name": "All", "rest": {"role": "Seen"}, "cells": {"Lamp": {"overrides": [
              {"property": "light.intensity", "verb": "scale", "keys": [[2, 1], [4, 0]], "on": true}]}}}], "recipe": {"joins": []}
            """);
    assertThat(Changes.of(shot.plan(), shot.members()).keyed())
        .singleElement()
        .satisfies(k -> {
          assertThat(k.layer()).isEqualTo("All");
          assertThat(k.property()).isEqualTo("light.intensity");
          assertThat(List.of(k.first(), k.last())).containsExactly(2, 4);
        });
  }

  @Test
  void partsAreCollectionsByPrecedenceAndTheRest() {
    LoadedShot shot =
        Shots.of(
            passing().scene(),
            "1",
            "",
            """
            "collections": [{"name": "A", "rule": "hero | still"}, {"name": "B", "rule": "hero"}],
            "layers": [], "recipe": {"joins": []}
            """);
    Parts parts = Parts.of(shot.plan(), shot.members());
    assertThat(parts.parts()).extracting(Parts.Part::name).containsExactly("A", Parts.REST);
    int[] of = parts.byEntity(shot.scene().entities().size());
    assertThat(of).doesNotContain(-1).contains(0, 1);
  }

  /** Floor, lamp above, and a card between that shadows part of the floor. */
  private static Scene lit(boolean card, boolean wall) {
    SceneMaker made =
        new SceneMaker()
            .cameraFromAbove(0.9, 0, 9, 0)
            .mesh("/floor", SceneMaker.floor(3, 3), SceneMaker.matte(0.5), 0, 0, 0)
            .pointLight("/lamp", 60, 0.5, 4, 0);
    if (card) {
      made.mesh("/card", SceneMaker.floor(0.6, 0.6), SceneMaker.matte(0), 0, 1, 0);
    }
    if (wall) {
      made.mesh("/wall", SceneMaker.wall(3, 2), SceneMaker.matte(0.8), 0, 1.5, -2.5);
    }
    return made.scene();
  }

  private static double light(Picture p, int[] only, int entity) {
    double sum = 0;
    for (int i = 0; i < p.width() * p.height(); i++) {
      if (only[i] == entity) {
        sum +=
            0.2126 * p.rgba()[4 * i] + 0.7152 * p.rgba()[4 * i + 1] + 0.0722 * p.rgba()[4 * i + 2];
      }
    }
    return sum;
  }

  /** Light that the floor has with a thing beyond the light without it, by two traces. */
  private static double removed(Scene with, Scene without, double[] whole) {
    LoadedShot a = Shots.of(with, "1", "\"bounces\": 1, \"samples\": 64", "");
    LoadedShot b = Shots.of(without, "1", "\"bounces\": 1, \"samples\": 64", "");
    var first = render(a);
    var second = render(b);
    int floor = with.entity("/floor").orElseThrow().index();
    int[] there = new int[64 * 48];
    for (int i = 0; i < there.length; i++) {
      // pixels that are wholly the floor's in both
      boolean same =
          first.dominant(i % 64, i / 64) == floor && second.dominant(i % 64, i / 64) == floor;
      there[i] = same ? floor : -1;
    }
    whole[0] = light(first.uncut(), there, floor);
    return light(first.uncut(), there, floor) - light(second.uncut(), there, floor);
  }

  private static org.wedgecutter.core.render.RenderedFrame render(LoadedShot shot) {
    return new FrameRenderer(shot, FrameRenderer.Settings.of(shot, 1, 0, 2, false))
        .render(1, l -> false, true, p -> {});
  }

  @Test
  void lightThatIsBlockedIsWhatTakingTheBlockerAwayBrings() {
    Scene with = lit(true, false);
    double[] whole = new double[1];
    double change = removed(with, lit(false, false), whole) / whole[0];
    ShotSurvey s = survey(Shots.of(with, "1", "\"bounces\": 1", ""), 1);
    LightMatrix m = s.matrix();
    double blocked = m.blocked(part(s, "floor"), part(s, "card"));
    assertThat(change).isNegative();
    assertThat(blocked).isCloseTo(-change, within(0.15 * -change));
    assertThat(m.via(part(s, "floor"), part(s, "card"))).isZero();
  }

  @Test
  void lightByWayOfAWallIsWhatIsLostWithoutIt() {
    Scene with = lit(false, true);
    double[] whole = new double[1];
    double change = removed(with, lit(false, false), whole) / whole[0];
    ShotSurvey s = survey(Shots.of(with, "1", "\"bounces\": 1", ""), 1);
    LightMatrix m = s.matrix();
    int floor = part(s, "floor");
    int wall = part(s, "wall");
    assertThat(change).isPositive();
    assertThat(m.via(floor, wall) - m.blocked(floor, wall))
        .isCloseTo(change, within(0.15 * change));
    assertThat(m.via(floor, wall)).isGreaterThan(m.via(wall, floor) / 10);
    assertThat(m.all()).isBetween(0.0, 1.0);
  }

  @Test
  void thePictureOfTheLightIsDarkInTheShadowAndBrightByTheWall() {
    Scene scene = lit(true, true);
    LoadedShot shot = Shots.of(scene, "1", "\"bounces\": 1", "");
    var floor = only(scene, "/floor");
    Picture card = new LightPicture(shot, 1, floor, only(scene, "/card"), 64, 48).trace(16, 2);
    Picture wall = new LightPicture(shot, 1, floor, only(scene, "/wall"), 64, 48).trace(16, 2);
    Picture none = new LightPicture(shot, 1, floor, only(scene, "/camera"), 64, 48).trace(16, 2);
    double darkest = 0;
    double brightest = 0;
    for (int p = 0; p < 64 * 48; p++) {
      darkest = Math.min(darkest, card.rgba()[4 * p]);
      brightest = Math.max(brightest, wall.rgba()[4 * p]);
      assertThat(none.rgba()[4 * p]).isZero();
    }
    // the lamp gives the floor 0.5 / pi * 60 / 16 at most
    assertThat(darkest).isBetween(-0.6, -0.3);
    assertThat(brightest).isBetween(0.02, 0.4);
  }

  private static org.wedgecutter.core.resolve.EntitySet only(Scene scene, String path) {
    return org.wedgecutter.core.resolve.EntitySet.where(
        scene.entities().size(), e -> scene.entities().get(e).path().equals(path));
  }

  @Test
  void framesThatAreTheSameShareTheirSightLines() {
    LoadedShot shot = passing();
    Surveyor surveyor = new Surveyor(shot, Surveyor.quick(shot, 1));
    var still =
        new Surveyor(
                Shots.of(lit(true, true), "1-5", "", ""),
                Surveyor.quick(Shots.of(lit(true, true), "1-5", "", ""), 1))
            .sights(List.of(1, 2, 3), p -> {});
    assertThat(still.get(3)).isSameAs(still.get(1));
    var moving = surveyor.sights(List.of(1, 2), p -> {});
    assertThat(moving.get(2)).isNotSameAs(moving.get(1));
  }

  @Test
  void regroupingTracesNothing() {
    ShotSurvey s = survey(passing(), 2);
    var all =
        new Parts(
            List.of(
                new Parts.Part(
                    "everything",
                    org.wedgecutter.core.resolve.EntitySet.where(
                        s.parts().byEntity(4).length, e -> true))));
    ShotSurvey one = s.by(all);
    assertThat(one.traced()).isEqualTo(s.traced());
    assertThat(one.coverage(0, 4))
        .isCloseTo(s.coverage(part(s, "hero"), 4) + s.coverage(part(s, "set"), 4), within(1e-9));
    assertThat(one.crossings()).isEmpty();
  }

  @Test
  void aStopEndsTheSurvey() {
    LoadedShot shot = passing();
    Surveyor surveyor = new Surveyor(shot, Surveyor.quick(shot, 1));
    surveyor.stop();
    assertThatThrownBy(() -> surveyor.survey(List.of(1, 2), 1, p -> {}))
        .isInstanceOf(CancellationException.class);
  }

  @Test
  void onlyWhatTheShotHasIsTried() {
    Scene scene = lit(true, true);
    LoadedShot shot = Shots.of(scene, "1", "\"bounces\": 8", "");
    Surveyor surveyor = new Surveyor(shot, FrameRenderer.Settings.of(shot, 1, 8, 1, false));
    FrameSurvey before = surveyor.look(1, p -> {});
    List<WhatIf> all = WhatIf.of(shot, before, surveyor);
    // no glass and no medium: nothing to be gained there
    assertThat(all).extracting(WhatIf::change).containsExactly("2 bounces");
    assertThat(all.getFirst().factor()).isPositive();
    LoadedShot few = Shots.of(scene, "1", "\"bounces\": 2", "");
    assertThat(WhatIf.of(few, before, new Surveyor(few, surveyor.settings()))).isEmpty();
  }
}
