package org.wedgecutter.core.deliver.check;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.util.ArrayList;
import java.util.List;
import java.util.function.UnaryOperator;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import org.wedgecutter.core.check.PlanCheck;
import org.wedgecutter.core.deliver.Delivery;
import org.wedgecutter.core.deliver.file.DeliveryPictures;
import org.wedgecutter.core.deliver.file.ExrFrames;
import org.wedgecutter.core.deliver.unit.DeliveryOrder;
import org.wedgecutter.core.deliver.unit.DeliveryRenderer;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.mistake.Mistake;
import org.wedgecutter.core.mistake.Sentence;
import org.wedgecutter.core.plan.Join;
import org.wedgecutter.core.plan.LayerEdits;
import org.wedgecutter.core.plan.Output;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.PlanEdits;
import org.wedgecutter.core.plan.Role;
import org.wedgecutter.core.plan.Shot;
import org.wedgecutter.core.proof.Cause;
import org.wedgecutter.core.render.FrameRenderer;
import org.wedgecutter.core.testing.Programs;
import org.wedgecutter.core.testing.Renders;
import org.wedgecutter.core.testing.ShotFolder;

/** The order of evidence in deliveries: who is named, and who is not. */
class DeliveryEvidenceTest {
  @TempDir Path dir;
  private LoadedShot shot;

  @BeforeEach
  void load() throws Exception {
    shot = ShotFolder.load(dir.resolve("shot"));
  }

  private Path out() {
    return dir.resolve("out");
  }

  private Delivery render(UnaryOperator<Plan> edit) throws Exception {
    return Renders.delivery(shot.withPlan(edit.apply(shot.plan())), out(), 1, false);
  }

  private DeliveryProof prove() throws Exception {
    return DeliveryProof.prove(Delivery.read(out()), 1);
  }

  private Path file(String layer) throws Exception {
    Delivery delivery = Delivery.read(out());
    var entry = layer.equals("uncut") ? delivery.uncut(1) : delivery.held(layer, 1);
    return out().resolve(entry.orElseThrow().path());
  }

  private void tool(String layer, String... command) throws Exception {
    Path file = file(layer);
    List<String> all = new ArrayList<>(List.of("oiiotool", file.toString()));
    all.addAll(List.of(command));
    all.addAll(List.of("-o", "changed.exr"));
    Path in = Path.of(String.valueOf(file.getParent()));
    Programs.run(in, all.toArray(String[]::new));
    Files.move(in.resolve("changed.exr"), file, StandardCopyOption.REPLACE_EXISTING);
  }

  private static UnaryOperator<Plan> sky(double level) {
    return p ->
        p.withShot(
            p.requireShot()
                .withEnvironment(
                    new Shot.EnvironmentDef(
                        "sky.hdr", 0, level, p.requireShot().environment().extra())));
  }

  private static List<Sentence> sentences(DeliveryProof proof) {
    return proof.causes().stream().map(c -> c.message().sentence()).toList();
  }

  // ---- light that halves cannot hold

  @Test
  void lightBeyondHalvesIsFoundBeforeAndNamedAfter() throws Exception {
    Plan bright = sky(1e6).apply(shot.plan());
    LoadedShot of = shot.withPlan(bright);
    assertThat(PlanCheck.check(of, of.resolve(1))).anyMatch(f -> f.kind() == Mistake.HALF_RANGE);
    render(sky(1e6));
    DeliveryProof proof = prove();
    assertThat(proof.exact()).isFalse();
    assertThat(proof.residual().invalid()).isPositive();
    assertThat(proof.residual().max()).isFinite();
    assertThat(sentences(proof)).containsOnly(Sentence.HALF_RANGE);
    double told = proof.causes().stream().mapToDouble(Cause::share).sum();
    assertThat(told).isCloseTo(1, within(1e-3));
    // its fix: 32-bit floats
    LoadedShot mended =
        of.withPlan(bright.withOutput(bright.output().withFloats(Output.BEAUTY, true)));
    assertThat(PlanCheck.check(mended, mended.resolve(1)))
        .noneMatch(f -> f.kind() == Mistake.HALF_RANGE);
    Renders.delivery(mended, dir.resolve("floats"), 1, false);
    assertThat(DeliveryProof.prove(Delivery.read(dir.resolve("floats")), 1).exact()).isTrue();
  }

  @ParameterizedTest
  @ValueSource(doubles = {1e-3, 1, 1e3})
  void exposureChangesNoVerdictOfFiles(double light) throws Exception {
    render(sky(light));
    assertThat(prove().exact()).isTrue();
    Files.move(out(), dir.resolve("good"));
    render(p -> LayerEdits.unjoin(sky(light).apply(p), "Back"));
    assertThat(prove().exact()).isFalse();
    assertThat(prove().causes().getFirst().kind()).isEqualTo(Mistake.LAYER_NOT_JOINED);
  }

  @Test
  void floatsAreJudgedAsFloatsThoughOthersAreHalves() throws Exception {
    render(p -> p.withOutput(p.output().withFloats(Output.BEAUTY, true)));
    assertThat(prove().exact()).isTrue();
    tool("Floor", "--mulc", "1.003,1.003,1.003,1");
    assertThat(prove().exact()).as("0.3 % off").isFalse();
  }

  // ---- who is not accused

  @Test
  void aFileThatFitsItsRecordIsNeverAccused() throws Exception {
    render(p -> PlanEdits.cell(p, "Back", "Front", c -> c.withRole(Role.SEEN)));
    DeliveryProof proof = prove();
    assertThat(proof.exact()).isFalse();
    assertThat(proof.causes())
        .singleElement()
        .satisfies(c -> {
          assertThat(c.kind()).isEqualTo(Mistake.SEEN_TWICE);
          assertThat(c.isMeasured()).isTrue();
        });
    assertThat(proof.unexplained()).isLessThan(0.02);
  }

  @Test
  void staleFilesAreNamedAndNotTheFreshOne() throws Exception {
    render(p -> p);
    LoadedShot lit = shot.withPlan(sky(2).apply(shot.plan()));
    FrameRenderer.Settings settings = FrameRenderer.Settings.of(lit, 1, 0, 2, false);
    new DeliveryRenderer(
            lit,
            new DeliveryOrder(out(), List.of("Front"), List.of(1), false, settings, true)
                .changing(true))
        .run((f, p, s) -> {});
    DeliveryProof proof = prove();
    assertThat(proof.exact()).isFalse();
    assertThat(proof.causes())
        .singleElement()
        .satisfies(c -> {
          assertThat(c.kind()).isEqualTo(Mistake.STALE);
          assertThat(c.text()).contains("set_Floor.0001").doesNotContain("set_Front.0001");
          assertThat(c.share()).isGreaterThan(0.9);
        });
  }

  @Test
  void aChangedUncutFileIsNamedAndNoLayer() throws Exception {
    render(p -> p);
    tool("uncut", "--mulc", "1.4,1.4,1.4,1", "-d", "half");
    assertThat(prove().causes())
        .singleElement()
        .satisfies(c -> {
          assertThat(c.layer()).isEqualTo("uncut");
          assertThat(c.message().sentence()).isEqualTo(Sentence.FILE_EXPOSED);
          assertThat(c.share()).isGreaterThan(0.95);
        });
  }

  @ParameterizedTest
  @ValueSource(strings = {"piz", "float", "trim"})
  void theSamePixelsPackedAnewAreANote(String how) throws Exception {
    render(p -> p);
    switch (how) {
      case "piz" -> tool("Front", "-d", "half", "--compression", "piz");
      case "float" -> tool("Front", "-d", "float");
      default -> tool("Front", "--trim", "-d", "half");
    }
    DeliveryProof proof = prove();
    assertThat(proof.exact()).isTrue();
    assertThat(sentences(proof)).containsExactly(Sentence.FILE_REWRITTEN);
    assertThat(proof.causes().getFirst().kind().severity()).isEqualTo(Mistake.Severity.NOTE);
  }

  // ---- pixels and places

  @Test
  void pixelsStandWhereTheDataWindowSays() throws Exception {
    render(p -> p);
    tool("Front", "--origin", "+2+1", "-d", "half");
    DeliveryProof proof = prove();
    assertThat(proof.exact()).isFalse();
    assertThat(proof.causes())
        .singleElement()
        .satisfies(c -> {
          assertThat(c.message().sentence()).isEqualTo(Sentence.FILE_MOVED);
          assertThat(c.message().arguments()).containsEntry("amount", "2, 1");
        });
    // an image tool puts them there, too
    Programs.run(
        out(),
        "oiiotool",
        file("Floor").toString(),
        "--ch",
        "R,G,B,A",
        file("Back").toString(),
        "--ch",
        "R,G,B,A",
        "--add",
        file("Front").toString(),
        "--ch",
        "R,G,B,A",
        "--add",
        "--crop",
        "40x24+0+0",
        "-d",
        "float",
        "-o",
        "theirs.exr");
    Picture theirs = ExrFrames.read(out().resolve("theirs.exr"));
    Picture ours = DeliveryPictures.corrected(Delivery.read(out()), 1);
    for (int i = 0; i < ours.rgba().length; i++) {
      assertThat(ours.rgba()[i]).isCloseTo(theirs.rgba()[i], within(1e-4f));
    }
  }

  @Test
  void valuesThatAreNotFiniteAreNamedWithTheirPlace() throws Exception {
    render(p -> p);
    // 0 / 0 in one pixel
    tool("Back", "--fill:color=0,0,0,0", "1x1+20+12", "-d", "float");
    Path file = file("Back");
    Picture p = ExrFrames.read(file).copy();
    p.rgba()[4 * (12 * p.width() + 20)] = Float.NaN;
    ExrFrames.write(
        file,
        p,
        List.of(),
        shot.plan().output(),
        org.wedgecutter.exr.Box.ofSize(p.width(), p.height()),
        org.wedgecutter.exr.Box.ofSize(p.width(), p.height()),
        java.util.Map.of());
    DeliveryProof proof = prove();
    assertThat(proof.exact()).isFalse();
    Cause first =
        proof.causes().stream()
            .filter(c -> c.kind() == Mistake.INVALID_LIGHT)
            .findFirst()
            .orElseThrow();
    assertThat(first.layer()).isEqualTo("Back");
    assertThat(first.message().arguments()).containsEntry("count", 1).containsEntry("at", "20, 12");
  }

  // ---- files under recipes that are more than sums

  @Test
  void changedFilesAreRecognisedUnderJoinsByDepthAndMattes() throws Exception {
    UnaryOperator<Plan> byDepth =
        p -> {
          Plan next = p.withOutput(p.output().withMore(java.util.Set.of(Output.More.DEPTH)));
          for (String layer : List.of("Back", "Front")) {
            for (String other : List.of("Floor", "Back", "Front")) {
              if (!other.equals(layer)) {
                next = PlanEdits.cell(next, other, layer, c -> c.withRole(Role.UNSEEN));
              }
            }
            next = LayerEdits.join(next, layer, Join.DEPTH);
          }
          return next;
        };
    render(byDepth);
    tool("Front", "--ch", "R,G,B,A,Z", "--mulc", "1.5,1.5,1.5,1,1", "-d", "half", "-d", "Z=float");
    assertThat(prove().causes())
        .filteredOn(c -> c.message().sentence() == Sentence.FILE_EXPOSED)
        .singleElement()
        .satisfies(c -> assertThat(c.layer()).isEqualTo("Front"));
  }
}
