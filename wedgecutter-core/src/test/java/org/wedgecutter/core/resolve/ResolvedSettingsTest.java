package org.wedgecutter.core.resolve;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.wedgecutter.core.plan.Bounces;
import org.wedgecutter.core.plan.CatcherOutput;
import org.wedgecutter.core.plan.Cell;
import org.wedgecutter.core.plan.CellOverride;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.PlanReader;
import org.wedgecutter.core.plan.Property;
import org.wedgecutter.core.plan.Role;
import org.wedgecutter.core.plan.Value;
import org.wedgecutter.core.scene.Channel;
import org.wedgecutter.core.scene.Light;
import org.wedgecutter.core.scene.Scene;
import org.wedgecutter.core.testing.SceneMaker;

/** What a plan's settings become for a layer, and for the shot. */
class ResolvedSettingsTest {
  /**
   * floor 0, hero 1 (moves from second 0.05 to 1.05), sign 2 (glows), lamp 3, panel 4, haze 5, sky
   * 6.
   */
  private static final Scene SCENE =
      new SceneMaker()
          .mesh("/floor", SceneMaker.floor(2, 2), SceneMaker.matte(0.5), 0, 0, 0)
          .mesh(
              "/hero",
              SceneMaker.wall(1, 1),
              SceneMaker.matte(0.5),
              List.of(),
              List.of(
                  new Channel(
                      Channel.Target.TRANSLATION,
                      Channel.Between.LINEAR,
                      new float[] {0.05f, 1.05f},
                      new float[] {0, 0, 0, 1, 0, 0})),
              0,
              0,
              0)
          .mesh("/sign", SceneMaker.wall(1, 1), SceneMaker.glowing(2), 0, 0, 0)
          .pointLight("/lamp", 1, 0, 2, 0)
          .areaLight("/panel", Light.Type.RECTANGLE, 1, 1, 1, 0, 2, 2)
          .medium("/haze", SceneMaker.haze(0.1, 1), 4, 4, 4, 0, 0, 0)
          .camera(1, 0, 0, 5)
          .scene()
          .withMovesTold();

  private static final String SHOT =
      """
      "scene": "x.glb", "frames": "1-25", "fps": 10, "size": [200, 100], "samples": 8, "seed": 3,
      "shutter": 0.5, "bounces": 4, "environment": {"image": "sky.hdr", "level": 0.5, "turn": 30}
      """;

  private static Plan plan(String shot, String layer, String output) throws Exception {
    return PlanReader.parse(
        """
        {"wedgecutter": 1, "shot": {%s},
         "collections": [
           {"name": "Floor", "rule": "floor"},
           {"name": "Hero", "rule": "hero | lamp"},
           {"name": "Lights", "rule": "kind:light | sign"}],
         "layers": [{"name": "L", "hue": 0, "rest": {"role": "Seen"}%s}],
         "recipe": {"joins": [{"layer": "L", "join": "plus"}]},
         "output": {%s}}
        """
            .formatted(
                shot, layer.contains("\"cells\"") ? layer : layer + ", \"cells\": {}", output),
        Path.of("t.wedge"));
  }

  private static EntitySet set(int... entities) {
    List<Integer> wanted = new ArrayList<>();
    for (int e : entities) {
      wanted.add(e);
    }
    return EntitySet.where(7, wanted::contains);
  }

  private static ResolvedShot resolve(Plan plan, int frame) {
    return Resolver.resolve(plan, SCENE, frame);
  }

  @Test
  void aLayersSettingsAreKeptRelativeToTheShots() throws Exception {
    String settings =
        """
        , "settings": [
          {"property": "samples", "value": 12}, {"property": "size", "value": [100, 25]},
          {"property": "bounces", "verb": "add", "value": 1},
          {"property": "bounces.glass", "value": 7}, {"property": "bounces.media", "value": 2},
          {"property": "environment.level", "verb": "scale", "value": 3},
          {"property": "environment.turn", "verb": "add", "value": 15},
          {"property": "see-through-glass", "value": true},
          {"property": "motion-blur", "value": false},
          {"property": "denoise", "value": 0.25}]
        """;
    ResolvedShot shot = resolve(plan(SHOT, settings, ""), 1);
    TraceSettings own = shot.layers().getFirst().transport().settings();
    assertThat(own.bounces()).isEqualTo(new Bounces(5, 7, 2));
    assertThat(own.samples()).isEqualTo(1.5);
    assertThat(own.samples(8)).isEqualTo(12);
    assertThat(own.samples(1)).isEqualTo(2);
    assertThat(own.width(200)).isEqualTo(100);
    assertThat(own.height(100)).isEqualTo(25);
    assertThat(own.height(1)).as("never nothing").isEqualTo(1);
    assertThat(own.level()).isEqualTo(1.5);
    assertThat(own.turn()).isEqualTo(45);
    assertThat(own.seeThrough()).isTrue();
    assertThat(own.blur()).isFalse();
    assertThat(own.seed()).isEqualTo(3);
    assertThat(shot.asked().denoise(0)).isEqualTo(0.25);
    assertThat(shot.asked().denoise(1)).isZero();
    assertThat(shot.asked().filters()).isTrue();
    TraceSettings uncut = shot.uncut().settings();
    assertThat(uncut.bounces().surfaces()).isEqualTo(4);
    assertThat(uncut.samples(8)).isEqualTo(8);
    assertThat(uncut.level()).isEqualTo(0.5);
    assertThat(uncut.turn()).isEqualTo(30);
    assertThat(uncut.blur()).isTrue();
  }

  @Test
  void withoutAFilterNothingIsFiltered() throws Exception {
    assertThat(resolve(plan(SHOT, "", ""), 1).asked().filters()).isFalse();
    assertThat(resolve(plan(SHOT + ", \"denoise\": 0.5", "", ""), 1).asked().filters()).isTrue();
    // without a shutter there is nothing to switch off
    Plan still =
        plan(
            SHOT.replace("\"shutter\": 0.5", "\"shutter\": 0"),
            ", \"settings\": [{\"property\": \"motion-blur\", \"value\": false}]",
            "");
    assertThat(resolve(still, 1).layers().getFirst().transport())
        .isEqualTo(resolve(still, 1).uncut());
  }

  @Test
  void theClassIsThatOfTheShutterAboutTheFrame() throws Exception {
    Plan blurred = plan(SHOT, "", "");
    // the hero stands still from the middle between frames 11 and 12
    TransportClass after = resolve(blurred, 12).uncut();
    assertThat(resolve(blurred, 13).uncut()).isEqualTo(after);
    assertThat(resolve(blurred, 11).uncut()).as("it ends to move").isNotEqualTo(after);
    // motion vectors look a frame ahead and back
    Plan vectors = plan(SHOT, "", "\"more\": [\"motion\"]");
    assertThat(resolve(vectors, 12).uncut()).isNotEqualTo(resolve(vectors, 14).uncut());
    assertThat(resolve(vectors, 13).uncut()).isEqualTo(resolve(vectors, 14).uncut());
    // it begins to move after the shutter has closed at frame 1
    assertThat(resolve(blurred, 1).uncut()).isEqualTo(resolve(blurred, 0).uncut());
    assertThat(resolve(vectors, 1).uncut()).isNotEqualTo(resolve(vectors, 0).uncut());
    Plan wide = plan(SHOT.replace("\"shutter\": 0.5", "\"shutter\": 1"), "", "");
    assertThat(resolve(wide, 12).uncut()).isEqualTo(resolve(wide, 13).uncut());
  }

  @Test
  void emittersAreByGroupThenOneByOne() throws Exception {
    ResolvedShot shot = resolve(plan(SHOT, "", "\"light_groups\": [\"Hero\", \"Floor\"]"), 1);
    assertThat(shot.asked().emitters())
        .containsExactly(
            new ResolvedShot.Group("Hero", set(3)),
            new ResolvedShot.Group("sign", set(2)),
            new ResolvedShot.Group("panel", set(4)),
            new ResolvedShot.Group(SCENE.entities().getLast().name(), set(6)));
    assertThat(shot.asked().collections())
        .containsExactly(
            new ResolvedShot.Group("Floor", set(0)),
            new ResolvedShot.Group("Hero", set(1, 3)),
            new ResolvedShot.Group("Lights", set(2, 4)));
    String dark = SHOT.replaceAll(", \"environment\".*", "");
    assertThat(resolve(plan(dark, "", ""), 1).asked().emitters())
        .extracting(ResolvedShot.Group::entities)
        .containsExactly(set(2), set(3), set(4));
    assertThat(new Members(SCENE).rows(plan(SHOT, "", "")))
        .containsExactly(set(0), set(1, 3), set(2, 4), set(5, 6));
  }

  @Test
  void aLightLinkHoldsInEveryClass() throws Exception {
    ResolvedShot shot =
        resolve(
            plan(SHOT + ", \"links\": {\"/lamp\": \"Floor\", \"/panel\": \"Nobody\"}", "", ""), 1);
    TransportClass uncut = shot.uncut();
    assertThat(uncut.links()).containsExactly(Map.entry(3, set(0)));
    assertThat(uncut.lights(3, 0)).isTrue();
    assertThat(uncut.lights(3, 1)).isFalse();
    assertThat(uncut.lights(4, 1)).isTrue();
    assertThat(shot.layers().getFirst().transport()).isEqualTo(uncut);
    assertThat(uncut).isNotEqualTo(resolve(plan(SHOT, "", ""), 1).uncut());
  }

  @Test
  void aPlateIsShownByItsStandInsAndChangedByAllElse() throws Exception {
    String plate = SHOT + ", \"plate\": {\"image\": \"plate.exr\", \"stand_ins\": \"%s\"}";
    ResolvedShot shot = resolve(plan(plate.formatted("Floor"), "", ""), 1);
    CatcherSpec spec = shot.asked().plate();
    assertThat(spec.surfaces()).isEqualTo(set(0));
    assertThat(spec.casters()).as("no lights").isEqualTo(set(1, 2, 5));
    assertThat(spec.output()).isEqualTo(CatcherOutput.DIFFERENCE);
    assertThat(spec.without().reach(1).isMet()).isFalse();
    assertThat(spec.without().reach(0)).isEqualTo(Reach.ALL);
    assertThat(spec.remain()).isFalse();
    assertThat(shot.platePart()).isEqualTo(set(0, 6));
    // a light is no stand-in
    ResolvedShot lit = resolve(plan(plate.formatted("Hero"), "", ""), 1);
    assertThat(lit.asked().plate().surfaces()).isEqualTo(set(1));
    assertThat(resolve(plan(SHOT, "", ""), 1).asked().plate()).isNull();
    assertThat(resolve(plan(SHOT, "", ""), 1).platePart().isEmpty()).isTrue();
  }

  @Test
  void propertiesBelongToKinds() {
    Object[][] table = {
      {Property.VISIBLE_BOUNCE, set(0, 1, 2, 3, 4, 5, 6)},
      {Property.VISIBLE_CAMERA, set(0, 1, 2, 5)},
      {Property.ROUGHNESS, set(0, 1, 2)},
      {Property.LIGHT_COLOR, set(2, 3, 4, 6)},
      {Property.MEDIUM_DENSITY, set(5)},
      {Property.SAMPLES, set()},
    };
    for (Object[] row : table) {
      Property p = (Property) row[0];
      assertThat(EntitySet.where(7, e -> Subjects.has(SCENE, SCENE.entities().get(e), p)))
          .as(p.word())
          .isEqualTo(row[1]);
    }
  }

  @Test
  void lightThatNothingReceivesDoesNotExist() {
    Reach shadowOnly = Reach.NONE.with(Reach.Flag.SHADOW, Reach.Flag.EMITS);
    Reach shadowless = Reach.ALL.without(Reach.Flag.SHADOW).with(Reach.Flag.NO_SELF_SHADOW);
    TransportClass t =
        new TransportClass(
            new Reach[] {shadowOnly, shadowless, Reach.ALL}, TraceSettings.unbiased(1, 1));
    assertThat(t.reach(0).emits()).isFalse();
    assertThat(t.reach(0).castsShadow()).isTrue();
    assertThat(t.reach(1).castsNoSelfShadow()).isFalse();
    assertThat(t.reach(2).flags())
        .containsExactlyInAnyOrder(
            Reach.Flag.REFLECTION,
            Reach.Flag.BOUNCE,
            Reach.Flag.TRANSMISSION,
            Reach.Flag.SHADOW,
            Reach.Flag.EMITS);
    TransportClass without = t.without(EntitySet.where(3, e -> e == 2));
    assertThat(without.reach(2)).isEqualTo(Reach.NONE);
    assertThat(without.reach(1)).isEqualTo(t.reach(1));
    TransportClass shadows = t.without(EntitySet.where(3, e -> e == 2), Reach.RAYS);
    assertThat(shadows.reach(2)).isEqualTo(Reach.NONE.with(Reach.Flag.SHADOW));
    assertThat(Reach.ALL.with(Reach.Flag.NO_RECEIVED_SHADOWS).receivesNoShadows()).isTrue();
    assertThat(Reach.ALL.receivesNoShadows()).isFalse();
  }

  @Test
  void anAbsentEntityLooksLikeNothing() {
    AppearanceOverride rough =
        new AppearanceOverride(
            List.of(
                new AppearanceOverride.Change(
                    Property.ROUGHNESS, Property.Verb.SET, new Value.Num(1))));
    TransportClass plain = TransportClass.whole(2, TraceSettings.unbiased(1, 1));
    TransportClass t =
        new TransportClass(
            new Reach[] {Reach.ALL, Reach.ALL},
            Map.of(0, rough, 1, rough),
            TraceSettings.unbiased(1, 1));
    assertThat(t.looks()).containsOnlyKeys(0, 1);
    assertThat(t).isNotEqualTo(plain);
    assertThat(t.without(EntitySet.where(2, e -> e == 0)).looks()).containsOnlyKeys(1);
    assertThat(t.without(EntitySet.where(2, e -> e == 0), Reach.RAYS).looks())
        .as("it still casts a shadow")
        .containsOnlyKeys(0, 1);
    assertThat(t.entities()).isEqualTo(2);
  }

  @Test
  void catchersNameLightsAndLeaveOutParts() throws Exception {
    String layer =
        """
        , "cells": {
           "Floor": {"role": "Catcher", "catcher": {"bounce": false, "lights": ["Hero", "Nobody"]}}}
        """;
    CatcherSpec spec = resolve(plan(SHOT, layer, ""), 1).layers().getFirst().catcher();
    assertThat(spec.surfaces()).isEqualTo(set(0));
    assertThat(spec.lights()).isEqualTo(set(1, 3));
    assertThat(spec.casters()).isEqualTo(set(1, 2, 5));
    assertThat(spec.without().reach(1).has(Reach.Flag.BOUNCE)).isTrue();
    assertThat(spec.without().reach(1).has(Reach.Flag.REFLECTION)).isFalse();
    assertThat(spec.remain()).as("bounce is not caught").isTrue();
    String all = layer.replace("\"bounce\": false, \"lights\": [\"Hero\", \"Nobody\"]", "");
    CatcherSpec usual = resolve(plan(SHOT, all, ""), 1).layers().getFirst().catcher();
    assertThat(usual.lights()).isNull();
    assertThat(usual.remain()).isFalse();
    assertThat(usual.tuning().opacity()).isCloseTo(1, within(1e-9));
  }

  @Test
  void overridesOfTheRestAndOfMotionBlurChangeALook() throws Exception {
    String rest =
        """
        , "cells": {"Hero": {"overrides": [{"property": "shadow.casts", "value": false}]}}
        """;
    Plan cells = plan(SHOT, rest, "");
    assertThat(resolve(cells, 1).layers().getFirst().transport().looks())
        .as("a switch is no look")
        .isEmpty();
    Plan own =
        cells.withLayers(
            List.of(
                cells
                    .layers()
                    .getFirst()
                    .withRest(
                        Cell.of(Role.SEEN)
                            .withOverrides(
                                List.of(
                                    CellOverride.of(Property.MOTION_BLUR, false),
                                    CellOverride.of(Property.SHADOW_SELF, false),
                                    CellOverride.of(Property.SHADOW_RECEIVES, false))))));
    TransportClass t = resolve(own, 1).layers().getFirst().transport();
    assertThat(t.looks()).as("what can be blurred").containsOnlyKeys(0, 1, 2, 5);
    assertThat(t.look(0).still()).isTrue();
    for (int e = 0; e < 7; e++) {
      boolean surface = e < 3;
      assertThat(t.reach(e).receivesNoShadows()).as("%d receives", e).isEqualTo(surface);
      assertThat(t.reach(e).castsNoSelfShadow())
          .as("%d on itself", e)
          .isEqualTo(surface && t.reach(e).castsShadow());
    }
    assertThat(t.reach(1).castsShadow()).isFalse();
  }
}
