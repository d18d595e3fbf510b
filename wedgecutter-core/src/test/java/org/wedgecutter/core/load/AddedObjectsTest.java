package org.wedgecutter.core.load;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.wedgecutter.core.deliver.unit.UnitDigests;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.core.pass.PassPicture;
import org.wedgecutter.core.plan.AddedEdits;
import org.wedgecutter.core.plan.AddedObject;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.PlanReader;
import org.wedgecutter.core.plan.PlanWriter;
import org.wedgecutter.core.proof.PlanProof;
import org.wedgecutter.core.render.FrameRenderer;
import org.wedgecutter.core.resolve.EntitySet;
import org.wedgecutter.core.scene.Entity;
import org.wedgecutter.core.scene.Material;
import org.wedgecutter.core.scene.Rgb;
import org.wedgecutter.core.scene.Scene;
import org.wedgecutter.core.testing.SceneMaker;
import org.wedgecutter.core.testing.Shots;

/** Ground and fog that a plan adds to its scene. */
class AddedObjectsTest {
  private static final String GROUND =
      """
      "added": [{"kind": "ground", "name": "floor", "at": [0, -0.5, 0], "size": 4,
                 "colour": [0.3, 0.4, 0.5], "roughness": 1}]\
      """;

  /** A layer that holds out what the other shows. */
  private static final String TWO =
      """
      "collections": [{"name": "Added", "rule": "path:/added/**"}],
      "layers": [
        {"name": "Back", "cells": {"Added": {"role": "Seen"}}, "rest": {"role": "Holdout"}},
        {"name": "Front", "cells": {"Added": {"role": "Holdout"}}, "rest": {"role": "Seen"}}],
      "recipe": {"joins": [{"layer": "Back", "join": "plus"}, {"layer": "Front", "join": "plus"}]}\
      """;

  private static SceneMaker box() {
    return new SceneMaker()
        .mesh("/box", SceneMaker.box(0.3), SceneMaker.matte(0.6), 0, 0, 0)
        .camera(0.8, 0, 0.6, 4);
  }

  private static FrameRenderer renderer(LoadedShot shot, int samples) {
    return new FrameRenderer(shot, FrameRenderer.Settings.of(shot, 1, samples, 1, false));
  }

  private static Picture uncut(LoadedShot shot, int frame, int samples) {
    return renderer(shot, samples).render(frame, l -> true, true, p -> {}).uncut();
  }

  private static void assertExact(LoadedShot shot, int frame) {
    var residual = PlanProof.prove(shot, frame, renderer(shot, 2), p -> {}).residual();
    assertThat(residual.exact()).as("frame %d: %s", frame, residual).isTrue();
  }

  @Test
  void groundIsWhatTheSameFloorInTheSceneIs() {
    Material grey = Material.plain("floor", new Rgb(0.3f, 0.4f, 0.5f)).with(m -> m.roughness = 1);
    Scene with =
        box()
            .mesh("/floor", SceneMaker.floor(2, 2), grey, 0, -0.5, 0)
            .sunFromAbove("/sun", 3)
            .scene();
    LoadedShot added = Shots.of(box().sunFromAbove("/sun", 3).scene(), "1", GROUND, TWO);
    assertThat(added.scene().entity("/added/floor")).isPresent();
    assertThat(added.read().entities()).hasSize(added.scene().entities().size() - 1);
    Picture own = uncut(added, 1, 8);
    Picture other = uncut(Shots.of(with, "1", "", ""), 1, 8);
    assertThat(other.rgba()[4 * (40 * 64 + 32)]).isGreaterThan(0.05f);
    assertThat(own.rgba()).usingComparatorWithPrecision(1e-4f).containsExactly(other.rgba());
    assertExact(added, 1);
  }

  @Test
  void turnedGroundHasAnotherOutlineAndTheSameLight() {
    Scene scene = box().sunFromAbove("/sun", 3).scene();
    Picture straight = uncut(Shots.of(scene, "1", GROUND, TWO), 1, 8);
    String turned = GROUND.replace("\"size\": 4", "\"size\": 4, \"turn\": 45");
    Picture diagonal = uncut(Shots.of(scene, "1", turned, TWO), 1, 8);
    int near = 4 * (47 * 64 + 32);
    assertThat(diagonal.rgba()[near]).isCloseTo(straight.rgba()[near], within(0.02f));
    assertThat(diagonal.rgba()).isNotEqualTo(straight.rgba());
  }

  private static String fog(String density) {
    return """
    "added": [{"kind": "fog", "name": "fog", "density": %s, "colour": [0, 0, 0],
               "box": {"at": [0, 0, 1], "size": [9, 9, 1]}}]\
    """
        .formatted(density);
  }

  private static LoadedShot behindFog(String density, String rest) {
    Scene scene =
        new SceneMaker()
            .mesh("/wall", SceneMaker.wall(9, 9), SceneMaker.glowing(1), 0, 0, -2)
            .camera(0.01, 0, 0, 4)
            .scene();
    return Shots.of(scene, "1-30", fog(density), rest);
  }

  /** The extinction law of Beer and Lambert, through one metre. */
  @ParameterizedTest
  @CsvSource({"1, 0", "6, 1", "11, 2", "30, 2"})
  void fogHidesByItsDensityAtTheFrame(int frame, double density) {
    LoadedShot shot = behindFog("[[1, 0], [11, 2]]", TWO);
    assertThat(shot.scene().entity("/added/fog").map(Entity::moves)).contains(true);
    Picture p = uncut(shot, frame, 16);
    assertThat((double) p.rgba()[4 * (24 * 64 + 32)]).isCloseTo(Math.exp(-density), within(2e-3));
    assertExact(shot, frame);
  }

  private static final String FIRE =
      """
      "added": [{"kind": "fog", "name": "fire", "density": 1.5, "colour": [0, 0, 0], "emission": [4, 2, 1],
                 "box": {"at": [0, 0.9, 0], "size": [1, 1, 1]}},
                {"kind": "ground", "name": "floor", "at": [0, -0.5, 0], "size": 4}],
      "bounces": 3\
      """;

  /**
   * What a fire adds is a pass of light of its own: all light of a scene that nothing else lights.
   */
  @Test
  void aFireIsAnEmitterWithItsOwnPassOfLight() {
    Scene scene = box().sunFromAbove("/sun", 1).scene();
    String output = TWO + ", \"output\": {\"more\": [\"lights\"]}";
    LoadedShot shot = Shots.of(scene, "1", FIRE, output);
    var frame = renderer(shot, 16).render(1, l -> true, true, p -> {});
    float[] fire = pass(frame.uncutPasses(), "light.fire");
    float[] sun = pass(frame.uncutPasses(), "light.sun");
    float[] beauty = frame.uncut().rgba();
    double floor = 0;
    for (int p = 0; p < fire.length / 3; p++) {
      for (int c = 0; c < 3; c++) {
        assertThat(fire[3 * p + c] + sun[3 * p + c])
            .isCloseTo(beauty[4 * p + c], within(1e-4f * (1 + beauty[4 * p + c])));
      }
      floor += p / 64 > 44 ? fire[3 * p] : 0;
    }
    assertThat(floor).as("it lights the ground, too").isPositive();
    // through its middle, one metre thick: the colour that it emits, by what it covers
    int middle = 3 * (17 * 64 + 32);
    assertThat((double) fire[middle]).isCloseTo(4 * (1 - Math.exp(-1.5)), within(0.35));
    assertThat(fire[middle] / fire[middle + 2]).isCloseTo(4, within(0.05f));
    assertExact(shot, 1);
    // the sun off leaves the fire's light alone, as the pass has it
    String dark = FIRE.replace("\"bounces\"", "\"clamp\": 0, \"bounces\"");
    LoadedShot alone = Shots.of(box().scene(), "1", dark, output);
    Picture without = uncut(alone, 1, 16);
    assertThat((double) without.rgba()[4 * (17 * 64 + 32)]).isCloseTo(fire[middle], within(0.05));
  }

  private static float[] pass(List<PassPicture> all, String name) {
    return all.stream().filter(p -> p.name().equals(name)).findFirst().orElseThrow().values();
  }

  @Test
  void aLayerScalesTheDensityOfTheFrame() {
    String half =
        """
        {"role": "Seen", "overrides": [{"property": "medium.density", "verb": "scale", "value": 0.5}]}\
        """;
    String rest =
        TWO.replaceFirst("\\{\"role\": \"Seen\"}", half)
            .replaceFirst("\\{\"role\": \"Holdout\"}", "{\"role\": \"Seen\"}");
    LoadedShot shot = behindFog("[[1, 0], [11, 2]]", rest);
    Picture back = renderer(shot, 16).render(6, l -> true, true, p -> {}).layer(0);
    assertThat((double) back.rgba()[4 * (24 * 64 + 32)]).isCloseTo(Math.exp(-0.5), within(2e-3));
  }

  private static String digest(LoadedShot shot, int frame) {
    return new UnitDigests(shot, FrameRenderer.Settings.of(shot, 1, 1, 1, false)).of(0, frame);
  }

  @Test
  void aUnitKnowsWhatIsAddedAndWhichFramesAKeyChanges() {
    LoadedShot shot = behindFog("[[1, 0], [11, 2], [20, 2]]", TWO);
    assertThat(digest(shot, 5)).isNotEqualTo(digest(shot, 6));
    assertThat(digest(shot, 12)).isEqualTo(digest(shot, 19)).isEqualTo(digest(shot, 30));
    LoadedShot later = behindFog("[[1, 0], [11, 2], [20, 1]]", TWO);
    assertThat(digest(later, 5)).isEqualTo(digest(shot, 5));
    assertThat(digest(later, 30)).isNotEqualTo(digest(shot, 30));
  }

  @Test
  void whatIsAddedIsMadeAnewOnlyWhereItChanged() throws Exception {
    LoadedShot shot = behindFog("[[1, 0], [11, 2]]", TWO);
    Plan faster = shot.plan().withShot(shot.plan().requireShot().with(s -> s.fps = 2));
    Plan longer = shot.plan().withShot(shot.plan().requireShot().with(s -> s.samples = 7));
    assertThat(shot.of(longer).tracer()).isSameAs(shot.tracer());
    // keys are at frames: at twice the rate they are half as late in the scene's time
    Picture p = uncut(shot.of(faster), 6, 16);
    assertThat((double) p.rgba()[4 * (24 * 64 + 32)]).isCloseTo(Math.exp(-1), within(2e-3));
    Plan without = shot.plan().withShot(shot.plan().requireShot().with(s -> s.added = List.of()));
    assertThat(shot.of(without).scene().entities()).isEqualTo(shot.read().entities());
  }

  @Test
  void aPlanKeepsWhatItAdds(@TempDir Path dir) throws Exception {
    AddedObject.Ground ground =
        new AddedObject.Ground(
            "floor",
            List.of(1.0, -2.5, 3.0),
            12,
            30,
            "",
            List.of(0.1, 0.2, 0.3),
            0.4,
            AddedObject.Ground.of("x", List.of(0.0, 0.0, 0.0), 1).extra());
    List<AddedObject> added =
        List.of(
            ground,
            AddedObject.Fog.haze("haze", 0.02),
            AddedObject.Fog.haze("low", 0.5).lying(-1, 0.75),
            AddedObject.Fog.haze("box", 1)
                .in(new AddedObject.Fog.Box(List.of(0.0, 1.0, 2.0), List.of(3.0, 4.0, 5.0)))
                .withDensity(
                    List.of(
                        new AddedObject.Fog.Density(3, 0), new AddedObject.Fog.Density(8, 0.25))));
    LoadedShot shot = Shots.of(box().scene(), "1", "", "");
    Plan plan = shot.plan().withShot(shot.plan().requireShot().with(s -> s.added = added));
    Path file = dir.resolve("kept.wedge");
    PlanWriter.save(plan, file);
    assertThat(PlanReader.read(file).requireShot().added()).isEqualTo(added);
    assertThat(Files.readString(file)).contains("\"kind\" : \"ground\"", "\"falloff\" : 0.75");
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      textBlock =
          """
          "name": "floor"       | "name": "a/b"                        | shot/added/0: name: expected 1 to 80 characters, without slashes
          "size": 4             | "size": 0                            | shot/added/0: size: 0.0, expected 1.0E-6 to
          "size": 4             | "size": 4, "material": "silk"        | shot/added/0/material: there is no material 'silk'
          [0, -0.5, 0]          | [0, -0.5]                            | shot/added/0/at
          "kind": "ground"      | "kind": "grass"                      | shot/added/0/kind
          "kind": "ground"      | "kind": "fog"                        | shot/added/0
          "size": 4,            | "turn": 0,                           | shot/added/0
          """)
  void whatCannotBeAddedIsToldWithItsPlace(String from, String to, String told) {
    assertThatThrownBy(() -> Shots.of(box().scene(), "1", GROUND.replace(from, to), ""))
        .rootCause()
        .isInstanceOfAny(InputException.class, IllegalArgumentException.class);
    assertThatThrownBy(() -> Shots.of(box().scene(), "1", GROUND.replace(from, to), ""))
        .hasMessageContaining(told);
  }

  @Test
  void namesThatAreTakenAndKeysThatGoBackAreTold() {
    assertThatThrownBy(() ->
            Shots.of(
                box().mesh("/added/floor", SceneMaker.box(1), SceneMaker.matte(1), 0, 0, 0).scene(),
                "1",
                GROUND,
                ""))
        .hasMessageContaining("shot/added/0/name: '/added/floor' is taken");
    assertThatThrownBy(() -> behindFog("[[5, 1], [5, 2]]", TWO))
        .hasMessageContaining("frames of keys must increase");
  }

  @Test
  void groundLiesUnderWhatStandsOnItAtTheFrame() {
    Scene scene =
        new SceneMaker()
            .mesh("/low", SceneMaker.box(0.25), SceneMaker.matte(0.6), 3, 0, 1)
            .mesh(
                "/lift",
                SceneMaker.box(0.5),
                SceneMaker.matte(0.6),
                List.of(),
                SceneMaker.slide(0, 10, 10),
                0,
                4,
                0)
            .camera(0.8, 0, 0, 9)
            .scene();
    LoadedShot shot = Shots.of(scene, "1-11", "", "");
    int low = scene.entity("/low").orElseThrow().index();
    EntitySet things = EntitySet.of(List.of(low));
    AddedObject.Ground ground = AddedPlacing.under(shot, things, 1);
    assertThat(ground.at().get(0)).isEqualTo(3);
    assertThat(ground.at().get(1)).isCloseTo(-0.25, within(1e-3)).isLessThan(-0.25);
    assertThat(ground.at().get(2)).isEqualTo(1);
    assertThat(ground.size()).isEqualTo(3);
    // what slides is where it is at the frame
    EntitySet sliding = EntitySet.of(List.of(scene.entity("/lift").orElseThrow().index()));
    double first = AddedPlacing.under(shot, sliding, 1).at().get(0);
    assertThat(AddedPlacing.under(shot, sliding, 11).at().get(0))
        .isCloseTo(first + 10, within(0.1));
    AddedObject.Ground all = AddedPlacing.under(shot, EntitySet.NONE, 1);
    assertThat(all.at().get(1)).isCloseTo(-0.5, within(1e-2));
    AddedObject.Fog box = AddedPlacing.fog(shot, things, 1, false, true);
    assertThat(java.util.Objects.requireNonNull(box.box()).at()).containsExactly(3.0, 0.0, 1.0);
    assertThat(box.box().size()).containsExactly(0.6, 0.6, 0.6);
    AddedObject.Fog lying = AddedPlacing.fog(shot, things, 1, true, false);
    assertThat(lying.base()).isEqualTo(-0.25);
    assertThat(AddedPlacing.fog(shot, EntitySet.NONE, 1, false, false).densityAt(1)).isPositive();
  }

  private static LoadedShot added(LoadedShot shot, AddedObject object) throws Exception {
    LoadedShot with = shot.again(AddedEdits.add(shot.plan(), object));
    return with.withPlan(AddedPlacing.add(shot.plan(), object, with.members(), 1));
  }

  /**
   * Rows that see all fog, or everything, see what is added; then it needs a row only to be seen
   * once.
   */
  @ParameterizedTest
  @CsvSource({
    "kind:medium, Holdout, Front, 2",
    "kind:mesh, Holdout, Back, 3",
    "kind:mesh, Seen, Back, 3"
  })
  void rowsThatSeeItAlreadyAreLeftToIt(String rule, String rest, String layer, int rows)
      throws Exception {
    String cut =
        """
        "collections": [{"name": "Sky", "rule": "kind:environment"}, {"name": "Mine", "rule": "%s"}],
        "layers": [
          {"name": "Back", "cells": {"Sky": {"role": "Seen"}}, "rest": {"role": "%s"}},
          {"name": "Front", "cells": {"Mine": {"role": "Seen"}}, "rest": {"role": "%s"}}],
        "recipe": {"joins": [{"layer": "Back", "join": "plus"}, {"layer": "Front", "join": "plus"}]}\
        """
            .formatted(rule, rest, rest);
    LoadedShot shot = Shots.of(box().scene(), "1", "", cut);
    LoadedShot with = added(shot, AddedPlacing.fog(shot, EntitySet.NONE, 1, false, true));
    int fog = with.scene().entity("/added/fog box").orElseThrow().index();
    assertThat(with.resolve(1).layers().stream().filter(l -> l.seen().contains(fog)))
        .extracting(l -> l.name())
        .containsExactly(layer);
    assertThat(with.plan().collections()).hasSize(rows);
  }

  /** In whatever cut it is added, the layers rejoin exactly at once, and it is seen once. */
  @Test
  void whatIsAddedToACutIsSeenOnceAndRejoins() throws Exception {
    for (String rest : new String[] {"Seen", "Holdout"}) {
      String cut =
          """
          "collections": [{"name": "Box", "rule": "path:/box"},
                          {"name": "Sky", "rule": "kind:environment"}],
          "layers": [
            {"name": "Back", "cells": {"Box": {"role": "Holdout"}, "Sky": {"role": "Seen"}},
             "rest": {"role": "%s"}},
            {"name": "Front", "cells": {"Box": {"role": "Seen"}}, "rest": {"role": "Holdout"}}],
          "recipe": {"joins": [{"layer": "Back", "join": "plus"}, {"layer": "Front", "join": "plus"}]}\
          """
              .formatted(rest);
      LoadedShot shot = Shots.of(box().sunFromAbove("/sun", 3).scene(), "1", "", cut);
      LoadedShot with = added(shot, AddedPlacing.under(shot, EntitySet.NONE, 1));
      with = added(with, AddedPlacing.fog(shot, EntitySet.NONE, 1, true, false));
      Plan plan = with.plan();
      int ground = with.scene().entity("/added/ground").orElseThrow().index();
      assertThat(with.resolve(1).layers().stream().filter(l -> l.seen().contains(ground)))
          .hasSize(1);
      assertExact(with, 1);
      assertThat(AddedEdits.remove(plan, "ground").requireShot().added()).hasSize(1);
    }
  }
}
