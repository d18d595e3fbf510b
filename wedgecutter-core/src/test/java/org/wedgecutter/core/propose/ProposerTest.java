package org.wedgecutter.core.propose;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.concurrent.CancellationException;
import java.util.function.Supplier;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;
import org.wedgecutter.core.check.Finding;
import org.wedgecutter.core.check.PlanCheck;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.load.Starting;
import org.wedgecutter.core.mistake.Mistake;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.PlanReader;
import org.wedgecutter.core.plan.PlanWriter;
import org.wedgecutter.core.plan.Role;
import org.wedgecutter.core.proof.PlanProof;
import org.wedgecutter.core.render.FrameRenderer;
import org.wedgecutter.core.resolve.ResolvedLayer;
import org.wedgecutter.core.scene.Channel;
import org.wedgecutter.core.scene.Scene;
import org.wedgecutter.core.testing.Corpus;
import org.wedgecutter.core.testing.SceneMaker;
import org.wedgecutter.core.testing.Shots;

/** First cuts of scenes of every kind: no finding is an error, and they rejoin as they say. */
class ProposerTest {
  private static SceneMaker room() {
    return new SceneMaker()
        .camera(1, 0, 0.5, 6)
        .mesh("/room/wall", SceneMaker.wall(6, 4), SceneMaker.matte(0.5), 0, 0, -4)
        .mesh("/room/floor", SceneMaker.floor(6, 6), SceneMaker.matte(0.4), 0, -1, 0)
        .pointLight("/lamp", 60, 1, 4, 4);
  }

  private static SceneMaker ball(SceneMaker to, String path, List<Channel> track, double... at) {
    return to.mesh(
        path, SceneMaker.box(0.3), SceneMaker.colored(0.7, 0.2, 0.1), List.of(), track, at);
  }

  private static List<Channel> track(double... xyz) {
    float[] times = new float[xyz.length / 3];
    float[] values = new float[xyz.length];
    for (int k = 0; k < xyz.length; k++) {
      times[k / 3] = k / 3;
      values[k] = (float) xyz[k];
    }
    return List.of(new Channel(Channel.Target.TRANSLATION, Channel.Between.LINEAR, times, values));
  }

  private static SceneMaker crowd(int count, boolean moving) {
    SceneMaker made = room();
    Random random = new Random(3);
    for (int k = 0; k < count; k++) {
      double x = 6 * random.nextDouble() - 3;
      double z = 4 * random.nextDouble() - 3;
      ball(made, "/crowd/box" + k, moving ? track(x, 0, z, x + 0.5, 0, z) : List.of(), x, -0.7, z);
    }
    return made;
  }

  private static Map<String, Supplier<Scene>> scenes() {
    Map<String, Supplier<Scene>> m = new LinkedHashMap<>();
    m.put("empty", () -> new SceneMaker().camera(1, 0, 0, 5).scene());
    m.put("nothing at all", () -> new SceneMaker().scene());
    m.put(
        "only emitters",
        () ->
            new SceneMaker()
                .camera(1, 0, 0, 5)
                .pointLight("/a", 5, 0, 1, 0)
                .areaLight("/b", org.wedgecutter.core.scene.Light.Type.RECTANGLE, 5, 1, 1, 0, 2, 0)
                .scene());
    m.put(
        "only a glowing wall",
        () ->
            new SceneMaker()
                .camera(1, 0, 0, 5)
                .mesh("/sign", SceneMaker.wall(1, 1), SceneMaker.glowing(2), 0, 0, 0)
                .scene());
    m.put(
        "one object",
        () ->
            ball(
                    new SceneMaker().camera(1, 0, 0, 5).pointLight("/l", 30, 2, 3, 4),
                    "/thing",
                    List.of(),
                    0,
                    0,
                    0)
                .scene());
    m.put(
        "one object that moves",
        () ->
            ball(
                    new SceneMaker().camera(1, 0, 0, 5).pointLight("/l", 30, 2, 3, 4),
                    "/thing",
                    track(0, 0, 0, 1, 0, 0),
                    0,
                    0,
                    0)
                .scene());
    m.put("still", () -> ball(room(), "/vase", List.of(), 0.5, -0.7, 1).scene());
    m.put(
        "bouncing",
        () -> ball(room(), "/ball", track(-1, 0, 1, 0, 1.5, 1, 1, 0, 1), -1, 0, 1).scene());
    m.put(
        "interlocked",
        () ->
            ball(
                    ball(room(), "/pillar", List.of(), 0, 0, 0),
                    "/comet",
                    track(-1, 0, -1, 1, 0, -1, 1, 0, 1, -1, 0, 1),
                    -1,
                    0,
                    -1)
                .scene());
    m.put(
        "front and back",
        () ->
            ball(
                    ball(room(), "/near", List.of(), -0.4, 0.2, 4),
                    "/hero",
                    track(-1, 0, 0, 1, 0, 0),
                    -1,
                    0,
                    0)
                .scene());
    m.put(
        "tagged hero",
        () ->
            room()
                .mesh(
                    "/cast/star",
                    SceneMaker.box(0.3),
                    SceneMaker.matte(0.5),
                    List.of("hero"),
                    List.of(),
                    0,
                    -0.7,
                    1)
                .scene());
    m.put(
        "haze",
        () ->
            ball(room(), "/vase", List.of(), 0.5, -0.7, 1)
                .medium("/air/haze", SceneMaker.haze(0.05, 0.9), 8, 8, 8, 0, 0, 0)
                .scene());
    m.put(
        "haze everywhere",
        () ->
            ball(room(), "/vase", List.of(), 0.5, -0.7, 1)
                .medium("/fog", SceneMaker.everywhere(0.02, 0.9), 1, 1, 1, 0, 0, 0)
                .scene());
    m.put(
        "smoke that rises",
        () ->
            ball(room(), "/vase", List.of(), 0.5, -0.7, 1)
                .medium("/smoke", SceneMaker.puff(2, 0.9), 1.5, 1.5, 1.5, 0, 0, 1)
                .scene());
    m.put(
        "everything moves",
        () ->
            ball(
                    ball(
                        new SceneMaker().camera(1, 0, 0, 5).pointLight("/l", 30, 2, 3, 4),
                        "/a",
                        track(0, 0, 0, 1, 0, 0),
                        0,
                        0,
                        0),
                    "/b",
                    track(0, 1, 0, -1, 1, 0),
                    0,
                    1,
                    0)
                .scene());
    m.put(
        "odd names",
        () ->
            ball(
                    ball(room(), "/a (1) & b|c", List.of(), -0.5, -0.7, 1),
                    "/\"quoted\" 'too'",
                    track(0, 0, 2, 1, 0, 2),
                    0,
                    0,
                    2)
                .scene());
    m.put(
        "all at the top",
        () ->
            ball(
                    ball(
                        ball(
                            new SceneMaker().camera(1, 0, 0, 5).pointLight("/l", 30, 2, 3, 4),
                            "/x1",
                            List.of(),
                            0,
                            0,
                            0),
                        "/x2",
                        List.of(),
                        0.4,
                        0,
                        1),
                    "/x3",
                    List.of(),
                    -0.4,
                    0,
                    -1)
                .scene());
    m.put("crowd", () -> crowd(60, false).scene());
    m.put("moving crowd", () -> crowd(30, true).scene());
    m.put("outside of the picture", () -> ball(room(), "/behind", List.of(), 0, 0, 30).scene());
    return m;
  }

  static Stream<String> names() {
    return scenes().keySet().stream();
  }

  static List<String> someNames() {
    return Corpus.oneIn(2, names().toList());
  }

  private static LoadedShot shot(Scene scene) {
    LoadedShot plain = Shots.of(scene, scene.duration() > 0 ? "1-4" : "1", "\"samples\": 16", "");
    Plan lit = plain.plan().withShot(Starting.shot(plain.plan().requireShot(), scene));
    try {
      return plain.withPlan(lit).withPicturesOf(lit);
    } catch (java.io.IOException e) {
      throw new java.io.UncheckedIOException(e);
    }
  }

  private static FrameRenderer.Settings quick(LoadedShot shot) {
    return FrameRenderer.Settings.of(shot, 0.5, 4, 2, false);
  }

  @ParameterizedTest
  @MethodSource("someNames")
  void everySceneGetsACutWithoutErrorsThatRejoinsAsItSays(String name) throws Exception {
    LoadedShot shot = shot(scenes().get(name).get());
    List<Proposal> proposals = new Proposer(shot, quick(shot)).propose(p -> {});
    assertThat(proposals).isNotEmpty();
    assertThat(proposals.getFirst().proof().exact()).isTrue();
    for (Proposal p : proposals) {
      LoadedShot cut = shot.withPlan(p.plan());
      for (int frame : List.of(1, p.plan().requireShot().frames().last())) {
        List<Finding> errors =
            PlanCheck.check(p.plan(), shot.members(), cut.resolve(frame)).stream()
                .filter(f -> f.severity() == Mistake.Severity.ERROR)
                .toList();
        assertThat(errors).as(p.title()).isEmpty();
        PlanProof proof = PlanProof.prove(cut, frame, new FrameRenderer(cut, quick(cut)), x -> {});
        if (p.proof().exact()) {
          assertThat(proof.residual().exact()).as("%s at %d", p.title(), frame).isTrue();
        } else {
          assertThat(p.proof().causes()).as("it says why").isNotEmpty();
          assertThat(p.proof().beyond()).isPositive();
        }
      }
      assertThat(p.layers()).hasSameSizeAs(p.plan().layers()).allMatch(l -> !l.text().isBlank());
      assertThat(p.shot().middle()).isPositive();
      assertThat(p.later()).allMatch(l -> l.layers().size() <= l.of());
      // the plan is one that can be saved and read
      String text = PlanWriter.text(PlanWriter.tree(p.plan()));
      assertThat(PlanReader.parse(text, shot.file())).isEqualTo(p.plan());
    }
  }

  @Test
  void whatMovesInFrontOfARoomIsTheHeroAndTheRoomItsBackground() {
    LoadedShot shot = shot(scenes().get("front and back").get());
    Proposal first = new Proposer(shot, quick(shot)).propose(p -> {}).getFirst();
    assertThat(first.plan().layers())
        .extracting(l -> l.name())
        .containsExactly("Room", "Hero", "Near");
    assertThat(first.plan().collections())
        .extracting(c -> c.rule().text())
        .contains("path:/room/**", "name:near")
        .allMatch(r -> !r.isEmpty());
    ResolvedLayer hero = shot.withPlan(first.plan()).resolve(1).layers().get(1);
    assertThat(hero.seen().size()).isEqualTo(1);
    assertThat(hero.decisions().of(Role.HOLDOUT).size()).isGreaterThan(2);
  }

  @Test
  void theSeparateShadowLetsTheHeroChangeWithoutTheRoom() {
    LoadedShot shot = shot(scenes().get("front and back").get());
    List<Proposal> all = new Proposer(shot, quick(shot)).propose(p -> {});
    Proposal apart =
        all.stream().filter(p -> p.title().contains("shadow")).findFirst().orElseThrow();
    Proposal.Later colour =
        apart.later().stream().filter(l -> l.change().contains("colour")).findFirst().orElseThrow();
    assertThat(colour.layers())
        .contains("Hero", "Hero shadow and reflection")
        .doesNotContain("Room");
    assertThat(colour.seconds().middle()).isLessThan(apart.shot().middle());
    // no list of paths: the next shot has other objects
    assertThat(apart.plan().collections()).allMatch(c -> c.added().isEmpty());
  }

  @Test
  void aStopEndsIt() {
    LoadedShot shot = shot(scenes().get("still").get());
    Proposer proposer = new Proposer(shot, quick(shot));
    proposer.stop();
    assertThatThrownBy(() -> proposer.propose(p -> {})).isInstanceOf(CancellationException.class);
  }
}
