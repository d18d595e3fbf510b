package org.wedgecutter.core.load;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.CancellationException;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.wedgecutter.core.check.Finding;
import org.wedgecutter.core.check.PlanCheck;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.core.mistake.Mistake;
import org.wedgecutter.core.mistake.Sentence;
import org.wedgecutter.core.motion.MotionTable;
import org.wedgecutter.core.pass.LightPass;
import org.wedgecutter.core.proof.Cause;
import org.wedgecutter.core.proof.PlanProof;
import org.wedgecutter.core.render.FrameRenderer;
import org.wedgecutter.core.render.RenderedFrame;
import org.wedgecutter.core.testing.ShotFolder;

class ShotTest {
  @TempDir Path dir;

  private static FrameRenderer renderer(LoadedShot shot, boolean separately) {
    return new FrameRenderer(shot, FrameRenderer.Settings.of(shot, 1, 0, 2, separately));
  }

  private static PlanProof prove(LoadedShot shot, boolean separately) {
    return PlanProof.prove(shot, 1, renderer(shot, separately), p -> {});
  }

  private static RenderedFrame render(LoadedShot shot, boolean separately) {
    return renderer(shot, separately).render(1, l -> true, true, p -> {});
  }

  private static List<Mistake> causes(PlanProof proof) {
    return proof.causes().stream().map(Cause::kind).toList();
  }

  @Test
  void aHeldOutPlanRejoinsExactlyAtAnySamples() throws Exception {
    LoadedShot shot = ShotFolder.load(dir);
    for (int samples : new int[] {1, 3, 7}) {
      FrameRenderer renderer =
          new FrameRenderer(shot, FrameRenderer.Settings.of(shot, 1, samples, 2, false));
      PlanProof proof = PlanProof.prove(shot, 2, renderer, p -> {});
      assertThat(proof.residual().exact()).isTrue();
      assertThat(proof.residual().maxRelative()).isLessThan(1e-6);
      assertThat(proof.causes()).isEmpty();
    }
    assertThat(PlanCheck.check(shot.plan(), shot.members(), shot.resolve(1))).isEmpty();
  }

  @Test
  void separatelyIsTheSameToTheLastBit() throws Exception {
    LoadedShot shot = ShotFolder.load(dir);
    RenderedFrame shared = render(shot, false);
    RenderedFrame alone = render(shot, true);
    assertThat(shared.classes()).hasSize(1);
    assertThat(shared.classes().getFirst().layers())
        .containsExactly("Floor", "Back", "Front", "uncut");
    assertThat(alone.classes()).hasSize(4);
    for (int l = 0; l < 3; l++) {
      assertThat(alone.layer(l).rgba()).isEqualTo(shared.layer(l).rgba());
      for (int k = 0; k < LightPass.PASSES.size(); k++) {
        assertThat(alone.passes(l).get(k).values()).isEqualTo(shared.passes(l).get(k).values());
      }
    }
    assertThat(alone.uncut().rgba()).isEqualTo(shared.uncut().rgba());
    assertThat(shared.rays()).isLessThan(alone.rays());
  }

  @Test
  void anAbsentThingIsNamedAsTheCause() throws Exception {
    LoadedShot shot =
        ShotFolder.changed(
            dir,
            "\"cells\": {\"Floor\": {\"role\": \"Seen\"}}",
            "\"cells\": {\"Floor\": {\"role\": \"Seen\"}, \"Front\": {\"role\": \"Absent\"}}");
    PlanProof proof = prove(shot, false);
    assertThat(proof.residual().exact()).isFalse();
    assertThat(causes(proof)).contains(Mistake.LIGHT_DIFFERS, Mistake.PLUS_ON_COMPLETE);
    Cause light =
        proof.causes().stream()
            .filter(c -> c.kind() == Mistake.LIGHT_DIFFERS)
            .findFirst()
            .orElseThrow();
    assertThat(light.layer()).isEqualTo("Floor");
    assertThat(light.entity()).isEqualTo("/front");
    assertThat(light.message().sentence()).isEqualTo(Sentence.LIGHT_ABSENT);
    assertThat(light.share()).isBetween(0.0, 1.0);
  }

  @Test
  void whatIsSeenNowhereOrTwiceIsNamed() throws Exception {
    LoadedShot nowhere =
        ShotFolder.changed(
            dir.resolve("a"),
            "{\"name\": \"Back\", \"hue\": 1, \"cells\": {\"Back\": {\"role\": \"Seen\"}}}",
            "{\"name\": \"Back\", \"hue\": 1, \"cells\": {\"Back\": {\"role\": \"Holdout\"}}}");
    PlanProof proof = prove(nowhere, false);
    assertThat(causes(proof)).containsExactly(Mistake.SEEN_NOWHERE);
    assertThat(proof.causes().getFirst().entity()).isEqualTo("/back");
    assertThat(proof.causes().getFirst().share()).isGreaterThan(0.7);
    LoadedShot twice =
        ShotFolder.changed(
            dir.resolve("b"),
            "\"cells\": {\"Back\": {\"role\": \"Seen\"}}",
            "\"cells\": {\"Back\": {\"role\": \"Seen\"}, \"Front\": {\"role\": \"Seen\"}}");
    assertThat(causes(prove(twice, false))).containsExactly(Mistake.SEEN_TWICE);
    assertThat(PlanCheck.check(twice.plan(), twice.members(), twice.resolve(1)))
        .singleElement()
        .satisfies(f -> assertThat(f.severity()).isEqualTo(Mistake.Severity.ERROR));
  }

  @Test
  void overOnAHeldOutLayerIsNamed() throws Exception {
    LoadedShot shot =
        ShotFolder.changed(
            dir,
            "{\"layer\": \"Front\", \"join\": \"plus\"}",
            "{\"layer\": \"Front\", \"join\": \"over\"}");
    PlanProof proof = prove(shot, false);
    assertThat(causes(proof)).containsExactly(Mistake.OVER_ON_HELD_OUT);
    assertThat(proof.causes().getFirst().layer()).isEqualTo("Front");
  }

  @Test
  void plusOnACompleteBackgroundIsNamed() throws Exception {
    LoadedShot shot =
        ShotFolder.changed(
            dir,
            "\"cells\": {\"Back\": {\"role\": \"Seen\"}}",
            "\"cells\": {\"Back\": {\"role\": \"Seen\"}, \"Front\": {\"role\": \"Unseen\"}}");
    PlanProof proof = prove(shot, false);
    assertThat(proof.residual().exact()).isFalse();
    assertThat(causes(proof)).containsExactly(Mistake.PLUS_ON_COMPLETE);
  }

  @Test
  void layersThatAreOffOrNotJoinedAreNamed() throws Exception {
    LoadedShot off =
        ShotFolder.changed(
            dir.resolve("a"),
            "\"name\": \"Front\", \"hue\": 2,",
            "\"name\": \"Front\", \"hue\": 2, \"render\": false,");
    assertThat(PlanCheck.check(off.plan(), off.members(), off.resolve(1)))
        .anyMatch(f -> f.kind() == Mistake.LAYER_NOT_RENDERED && f.layer().equals("Front"));
    LoadedShot lost =
        ShotFolder.changed(
            dir.resolve("b"), ",\n    {\"layer\": \"Front\", \"join\": \"plus\"}", "");
    assertThat(PlanCheck.check(lost.plan(), lost.members(), lost.resolve(1)))
        .anyMatch(f -> f.kind() == Mistake.LAYER_NOT_JOINED && f.layer().equals("Front"))
        .anyMatch(f -> f.kind() == Mistake.SEEN_NOWHERE && f.entity().equals("/front"));
  }

  @Test
  void emptyCollectionsAndLostMembersAreWarned() throws Exception {
    LoadedShot shot =
        ShotFolder.changed(
            dir,
            "{\"name\": \"Front\", \"rule\": \"front\"}",
            "{\"name\": \"Front\", \"rule\": \"frnt\", \"added\": [\"/gone\"]}");
    List<Finding> findings = PlanCheck.check(shot.plan(), shot.members(), shot.resolve(1));
    assertThat(findings)
        .anyMatch(f ->
            f.severity() == Mistake.Severity.WARNING
                && f.kind() == Mistake.RULE_EMPTY
                && f.entity().equals("Front"))
        .anyMatch(f -> f.message().arguments().containsValue("/gone"));
    List<Mistake.Severity> order = findings.stream().map(Finding::severity).toList();
    List<Mistake.Severity> sorted = new ArrayList<>(order);
    sorted.sort(null);
    assertThat(order).isEqualTo(sorted);
  }

  @Test
  void aStoppedRenderEndsSoon() throws Exception {
    LoadedShot shot = ShotFolder.load(dir);
    FrameRenderer renderer =
        new FrameRenderer(shot, FrameRenderer.Settings.of(shot, 4, 4000, 2, false));
    Thread stopper =
        new Thread(() -> {
          try {
            Thread.sleep(200);
          } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
          }
          renderer.stop();
        });
    stopper.start();
    long start = System.nanoTime();
    assertThatThrownBy(() -> renderer.render(1, l -> true, true, p -> {}))
        .isInstanceOf(CancellationException.class);
    assertThat((System.nanoTime() - start) / 1e9).isLessThan(20);
    assertThatThrownBy(() -> renderer.render(1, l -> true, true, p -> {}))
        .isInstanceOf(CancellationException.class);
  }

  @Test
  void progressRisesToOne() throws Exception {
    LoadedShot shot = ShotFolder.load(dir);
    FrameRenderer renderer =
        new FrameRenderer(shot, FrameRenderer.Settings.of(shot, 1, 1, 1, true));
    List<Double> told = new ArrayList<>();
    renderer.render(1, l -> true, true, told::add);
    for (int i = 1; i < told.size(); i++) {
      assertThat(told.get(i)).isGreaterThanOrEqualTo(told.get(i - 1));
    }
    assertThat(told.getLast()).isCloseTo(1, org.assertj.core.data.Offset.offset(1e-9));
  }

  @Test
  void aSceneAloneGetsAPlanOfOneLayer() throws Exception {
    ShotFolder.make(dir);
    String kept = Files.readString(dir.resolve("set.wedge"));
    LoadedShot shot = LoadedShot.load(dir.resolve("set.glb"));
    assertThat(shot.name()).as("the plan beside it has the name already").isEqualTo("set-2");
    assertThat(LoadedShot.planBeside(dir.resolve("set.glb"))).contains(dir.resolve("set.wedge"));
    assertThat(shot.plan().layers()).hasSize(1);
    assertThat(shot.plan().requireShot().frames().last()).isEqualTo(49);
    assertThat(PlanCheck.check(shot.plan(), shot.members(), shot.resolve(1))).isEmpty();
    shot.save();
    assertThat(LoadedShot.load(dir.resolve("set-2.wedge")).plan()).isEqualTo(shot.noted());
    assertThat(dir.resolve("set.wedge")).hasContent(kept);
    assertThat(LoadedShot.load(dir.resolve("set.glb")).name()).isEqualTo("set-3");
    Path alone = dir.resolve("alone");
    Files.createDirectories(alone);
    Files.copy(dir.resolve("set.glb"), alone.resolve("set.glb"));
    assertThat(LoadedShot.load(alone.resolve("set.glb")).name()).isEqualTo("set");
    assertThat(LoadedShot.planBeside(alone.resolve("set.glb"))).isEmpty();
  }

  @Test
  void whatAPlanPointsToMustBeThereAndInside() throws Exception {
    String[][] cases = {
      {"set.glb", "gone.glb", "gone.glb"},
      {"set.glb", "../set.glb", "shot/scene: '../set.glb' leads out of the folder"},
      {"sky.hdr", "gone.hdr", "gone.hdr"},
      {
        "\"frames\"",
        "\"camera\": \"left\", \"frames\"",
        "shot/camera: there is no camera 'left'; the cameras are main"
      },
    };
    for (int k = 0; k < cases.length; k++) {
      Path folder = dir.resolve("case" + k);
      String[] c = cases[k];
      assertThatThrownBy(() -> ShotFolder.changed(folder, c[0], c[1]))
          .isInstanceOf(InputException.class)
          .hasMessageContaining(c[2]);
    }
    Path template = dir.resolve("t.wedge");
    Files.writeString(
        template,
        "{\"wedgecutter\": 1, \"collections\": [], \"layers\": [], \"recipe\": {\"joins\": []}}");
    assertThatThrownBy(() -> LoadedShot.load(template)).hasMessageContaining("this is a template");
  }

  @Test
  void motionIsMeasuredPerFrame() throws Exception {
    LoadedShot shot = ShotFolder.load(dir);
    MotionTable motion = MotionTable.of(shot.plan().requireShot(), shot.scene());
    int front = shot.scene().entity("/front").orElseThrow().index();
    int back = shot.scene().entity("/back").orElseThrow().index();
    assertThat(motion.byEntity()[front]).hasSize(2);
    assertThat(motion.byEntity()[front][0]).isBetween(0.5, 1.0);
    assertThat(motion.byEntity()[back]).isEmpty();
    assertThat(motion.mean()).hasSize(2);
  }

  @Test
  void threadsAreCountedFromTheMachine() {
    int all = Runtime.getRuntime().availableProcessors();
    assertThat(FrameRenderer.Settings.threads(0)).isEqualTo(all);
    assertThat(FrameRenderer.Settings.threads(3)).isEqualTo(3);
    assertThat(FrameRenderer.Settings.threads(-1)).isEqualTo(Math.max(1, all - 1));
    assertThat(FrameRenderer.Settings.threads(-1000)).isEqualTo(1);
  }
}
