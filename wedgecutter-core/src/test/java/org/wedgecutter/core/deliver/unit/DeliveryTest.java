package org.wedgecutter.core.deliver.unit;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.FileTime;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.CancellationException;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.wedgecutter.core.deliver.Delivery;
import org.wedgecutter.core.deliver.DeliveryFolders;
import org.wedgecutter.core.deliver.check.DeliveryProof;
import org.wedgecutter.core.deliver.file.DeliveryPictures;
import org.wedgecutter.core.deliver.file.ExrFrames;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.mistake.Mistake;
import org.wedgecutter.core.mistake.Sentence;
import org.wedgecutter.core.plan.CellOverride;
import org.wedgecutter.core.plan.FileNames;
import org.wedgecutter.core.plan.LayerEdits;
import org.wedgecutter.core.plan.Property;
import org.wedgecutter.core.plan.Value;
import org.wedgecutter.core.proof.Cause;
import org.wedgecutter.core.render.FrameRenderer;
import org.wedgecutter.core.testing.ShotFolder;
import org.wedgecutter.exr.ExrPart;
import org.wedgecutter.exr.ExrReader;

class DeliveryTest {
  @TempDir Path dir;

  private DeliveryRenderer renderer(LoadedShot shot, List<Integer> frames, boolean resume)
      throws Exception {
    return new DeliveryRenderer(
        shot,
        new DeliveryOrder(
            dir.resolve("out"),
            List.of(),
            frames,
            true,
            FrameRenderer.Settings.of(shot, 1, 0, 2, false),
            resume));
  }

  private Delivery render(LoadedShot shot, List<Integer> frames) throws Exception {
    return renderer(shot, frames, false).run((f, p, s) -> {});
  }

  private String run(String... command) throws Exception {
    Process process =
        new ProcessBuilder(command).directory(dir.toFile()).redirectErrorStream(true).start();
    String out = new String(process.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
    assertThat(process.waitFor()).as("%s: %s", List.of(command), out).isZero();
    return out;
  }

  @Test
  void filesFollowTheTemplateAndHoldBeautyPassesAndAttributes() throws Exception {
    Delivery delivery = render(ShotFolder.load(dir), List.of(1, 2));
    assertThat(delivery.files().stream().map(Delivery.Entry::path))
        .containsExactly(
            "set/Floor/set_Floor.0001.exr",
            "set/Back/set_Back.0001.exr",
            "set/Front/set_Front.0001.exr",
            "set/uncut/set_uncut.0001.exr",
            "set/Floor/set_Floor.0002.exr",
            "set/Back/set_Back.0002.exr",
            "set/Front/set_Front.0002.exr",
            "set/uncut/set_uncut.0002.exr");
    ExrPart part = ExrReader.read(dir.resolve("out/set/Back/set_Back.0002.exr")).parts().getFirst();
    for (String channel :
        List.of("R", "G", "B", "A", "diffuse.direct.R", "specular.indirect.B", "emission.G")) {
      assertThat(part.has(channel)).as(channel).isTrue();
    }
    assertThat(part.attributes())
        .containsKeys("chromaticities", "framesPerSecond", "layer", "worldToCamera");
    assertThat(delivery.frames()).containsExactly(1, 2);
    assertThat(Delivery.read(dir.resolve("out"))).isEqualTo(delivery);
    assertThat(Delivery.schema().check(Files.readString(dir.resolve("out/delivery.json"))))
        .isEmpty();
  }

  @Test
  void theFilesProveThemselvesAndAStrangersSumAgrees() throws Exception {
    Delivery delivery = render(ShotFolder.load(dir), List.of(2));
    DeliveryProof proof = DeliveryProof.prove(delivery, 2);
    assertThat(proof.residual().exact()).isTrue();
    assertThat(proof.residual().max()).isPositive().isLessThan(0.01);
    String stem = "out/set/";
    run(
        "oiiotool",
        stem + "Floor/set_Floor.0002.exr",
        stem + "Back/set_Back.0002.exr",
        "--add",
        stem + "Front/set_Front.0002.exr",
        "--add",
        "-o",
        "sum.exr");
    run(
        "idiff",
        "-fail",
        "0.002",
        "-hardfail",
        "0.02",
        "-failpercent",
        "0.1",
        "sum.exr",
        stem + "uncut/set_uncut.0002.exr");
    for (Delivery.Entry e : delivery.files()) {
      assertThat(run("exrheader", "out/" + e.path())).contains("diffuse.direct.R", "zip");
    }
  }

  @Test
  void floatFilesRejoinToRounding() throws Exception {
    LoadedShot shot = ShotFolder.changed(dir, "\"colour\": \"half\"", "\"colour\": \"float\"");
    Delivery delivery = render(shot, List.of(1));
    assertThat(DeliveryProof.prove(delivery, 1).residual().maxRelative()).isLessThan(1e-6);
  }

  @Test
  void anOldDeliveryIsNeverOverwritten() throws Exception {
    LoadedShot shot = ShotFolder.load(dir);
    render(shot, List.of(1));
    assertThatThrownBy(() -> render(shot, List.of(1)))
        .isInstanceOf(InputException.class)
        .hasMessageContaining("already holds a delivery");
    assertThat(DeliveryFolders.free(shot).getFileName().toString()).isEqualTo("set-v001");
    Files.createDirectories(dir.resolve("set-v001"));
    assertThat(DeliveryFolders.free(shot).getFileName().toString()).isEqualTo("set-v002");
  }

  @Test
  void resumingRendersOnlyWhatIsMissingOrBroken() throws Exception {
    LoadedShot shot = ShotFolder.load(dir);
    render(shot, List.of(1));
    Path first = dir.resolve("out/set/Back/set_Back.0001.exr");
    Files.setLastModifiedTime(first, FileTime.fromMillis(1000));
    Delivery both = renderer(shot, List.of(1, 2), true).run((f, p, s) -> {});
    assertThat(both.files()).hasSize(8);
    assertThat(Files.getLastModifiedTime(first)).isEqualTo(FileTime.fromMillis(1000));
    Files.write(first, new byte[] {1});
    renderer(shot, List.of(1, 2), true).run((f, p, s) -> {});
    assertThat(Files.size(first)).isGreaterThan(100);
    assertThat(Delivery.read(dir.resolve("out")).files()).hasSize(8);
  }

  @Test
  void resumingWithAnotherPlanIsRefused() throws Exception {
    LoadedShot shot = ShotFolder.load(dir);
    render(shot, List.of(1));
    LoadedShot other =
        shot.withPlan(shot.plan().withShot(shot.plan().requireShot().with(s -> s.seed = 9)));
    assertThatThrownBy(() -> renderer(other, List.of(1), true).run((f, p, s) -> {}))
        .isInstanceOf(InputException.class)
        .hasMessageContaining("4 of 4 files are of an earlier state")
        .hasMessageContaining("'Floor' at frame 1")
        .hasMessageContaining("--changed");
    FrameRenderer.Settings small = FrameRenderer.Settings.of(shot, 0.5, 0, 2, false);
    assertThatThrownBy(() ->
            new DeliveryRenderer(
                shot,
                new DeliveryOrder(dir.resolve("out"), List.of(), List.of(1), true, small, true)))
        .hasMessageContaining("holds a delivery of 40 x");
  }

  @Test
  void resumingWithAChangedSceneOrImageIsRefused() throws Exception {
    LoadedShot shot = ShotFolder.load(dir);
    render(shot, List.of(1));
    Path manifest = dir.resolve("out").resolve(Delivery.MANIFEST);
    byte[] before = Files.readAllBytes(manifest);
    Path sky = dir.resolve("sky.hdr");
    byte[] image = Files.readAllBytes(sky);
    image[image.length - 2] ^= 64;
    Files.write(sky, image);
    LoadedShot changed = LoadedShot.load(shot.file());
    assertThatThrownBy(() -> renderer(changed, List.of(1, 2), true).run((f, p, s) -> {}))
        .isInstanceOf(InputException.class)
        .hasMessageContaining("4 of 4 files are of an earlier state of plan, scene");
    assertThat(Files.readAllBytes(manifest)).isEqualTo(before);
    // the same scene from another folder goes on
    LoadedShot moved = ShotFolder.load(dir.resolve("moved"));
    assertThat(renderer(moved, List.of(1, 2), true).run((f, p, s) -> {}).files()).hasSize(8);
  }

  @Test
  void aStopLeavesOnlyWholeFilesAndCanGoOn() throws Exception {
    LoadedShot shot = ShotFolder.load(dir);
    DeliveryRenderer stopping = renderer(shot, List.of(1, 2), false);
    assertThatThrownBy(() ->
            stopping.run((frame, part, share) -> {
              if (frame == 2) {
                stopping.stop();
              }
            }))
        .isInstanceOf(CancellationException.class);
    Delivery half = Delivery.read(dir.resolve("out"));
    assertThat(half.frames()).containsExactly(1);
    for (Delivery.Entry e : half.files()) {
      ExrReader.read(dir.resolve("out").resolve(e.path()));
    }
    Delivery whole = renderer(shot, List.of(1, 2), true).run((f, p, s) -> {});
    assertThat(whole.frames()).containsExactly(1, 2);
  }

  @Test
  void chosenLayersAloneAreRendered() throws Exception {
    LoadedShot shot = ShotFolder.load(dir);
    DeliveryRenderer renderer =
        new DeliveryRenderer(
            shot,
            new DeliveryOrder(
                dir.resolve("out"),
                List.of("Back"),
                List.of(1),
                false,
                FrameRenderer.Settings.of(shot, 0.5, 1, 1, false),
                false));
    Delivery delivery = renderer.run((f, p, s) -> {});
    assertThat(delivery.files())
        .singleElement()
        .satisfies(f -> assertThat(f.layer()).isEqualTo("Back"));
    assertThat(delivery.width()).isEqualTo(20);
    assertThat(renderer.classes()).hasSize(1);
    assertThat(renderer.peakBytes()).isPositive();
    assertThatThrownBy(() -> DeliveryProof.prove(delivery, 1))
        .hasMessageContaining("render it with --uncut");
    assertThatThrownBy(() -> DeliveryPictures.rejoin(delivery, 1))
        .hasMessageContaining("no file of layer 'Floor'");
    assertThatThrownBy(() ->
            new DeliveryRenderer(
                shot,
                new DeliveryOrder(
                    dir,
                    List.of("Bck"),
                    List.of(1),
                    false,
                    FrameRenderer.Settings.of(shot, 1, 1, 1, false),
                    false)))
        .hasMessageContaining("there is no layer 'Bck'; the layers are Floor, Back, Front");
  }

  @Test
  void aFileChangedAfterwardsIsNamedAsTheCause() throws Exception {
    LoadedShot shot = ShotFolder.load(dir);
    Delivery delivery = render(shot, List.of(1, 2));
    Files.copy(
        dir.resolve("out/set/Floor/set_Floor.0001.exr"),
        dir.resolve("out/set/Front/set_Front.0001.exr"),
        java.nio.file.StandardCopyOption.REPLACE_EXISTING);
    DeliveryProof proof = DeliveryProof.prove(delivery, 1);
    assertThat(proof.residual().exact()).isFalse();
    assertThat(proof.causes())
        .singleElement()
        .satisfies(c -> {
          assertThat(c.kind()).isEqualTo(Mistake.FILE_CHANGED);
          assertThat(c.layer()).isEqualTo("Front");
        });
    Files.delete(dir.resolve("out/set/Front/set_Front.0001.exr"));
    assertThat(DeliveryProof.prove(delivery, 1).causes())
        .singleElement()
        .satisfies(c -> assertThat(c.kind()).isEqualTo(Mistake.FILE_MISSING));
    assertThatThrownBy(() -> DeliveryPictures.rejoin(delivery, 1))
        .hasMessageContaining("no such file");
  }

  @Test
  void aFrameThatALayerHoldsIsRenderedThoughItWasNotAskedFor() throws Exception {
    LoadedShot shot =
        ShotFolder.changed(
            dir,
            "\"cells\": {\"Back\": {\"role\": \"Seen\"}}",
            "\"settings\": [{\"property\": \"frames\", \"verb\": \"set\", \"value\": \"1\", \"on\": true}],"
                + "\"cells\": {\"Back\": {\"role\": \"Seen\"}, \"Front\": {\"role\": \"Holdout\"}}");
    Delivery delivery = render(shot, List.of(2));
    assertThat(delivery.files())
        .extracting(f -> f.layer() + " " + f.frame())
        .containsExactlyInAnyOrder("Back 1", "Floor 2", "Front 2", "uncut 2");
    assertThat(delivery.frames()).as("what can be joined").containsExactly(2);
    assertThat(delivery.shown(2)).extracting(Delivery.Entry::frame).contains(1);
    assertThat(DeliveryProof.prove(delivery, 2).residual().beyond()).isLessThan(1);
    Delivery again = renderer(shot, List.of(2, 1), true).run((f, p, s) -> {});
    assertThat(again.files()).as("the held file is not made again").hasSize(7);
  }

  @Test
  void aLayerHasItsOwnSamplesAndItsShareOfTheCost() throws Exception {
    LoadedShot shot =
        ShotFolder.changed(
            dir,
            "\"cells\": {\"Back\": {\"role\": \"Seen\"}}",
            "\"settings\": [{\"property\": \"samples\", \"verb\": \"set\", \"value\": 6, \"on\": true}],"
                + "\"cells\": {\"Back\": {\"role\": \"Seen\"}}");
    DeliveryRenderer renderer = renderer(shot, List.of(1), false);
    Delivery delivery = renderer.run((f, p, s) -> {});
    Delivery.Entry back = delivery.file("Back", false, 1).orElseThrow();
    Delivery.Entry floor = delivery.file("Floor", false, 1).orElseThrow();
    assertThat(back.samples()).isEqualTo(6);
    assertThat(floor.samples()).isEqualTo(2);
    long rays = renderer.classes().stream().mapToLong(c -> c.rays()).sum();
    assertThat(delivery.files().stream().mapToLong(Delivery.Entry::rays).sum())
        .isBetween(rays - 4, rays + 4);
    assertThat(back.rays()).as("three times the samples, alone").isGreaterThan(3 * floor.rays());
    // the samples are in the file, and not only told
    FrameRenderer six = new FrameRenderer(shot, FrameRenderer.Settings.of(shot, 1, 2, 1, false));
    float[] traced = six.render(1, l -> l == 1, false, p -> {}).layer(1).rgba();
    LoadedShot plain = shot.withPlan(ShotFolder.load(dir.resolve("plain")).plan());
    float[] same =
        new FrameRenderer(plain, FrameRenderer.Settings.of(plain, 1, 6, 1, false))
            .render(1, l -> l == 1, false, p -> {})
            .layer(1)
            .rgba();
    assertThat(traced).isEqualTo(same);
  }

  @Test
  void withoutComponentsOfTheBeautyOtherPassesStay() throws Exception {
    LoadedShot shot =
        ShotFolder.changed(
            dir, "\"passes\": true", "\"passes\": false, \"more\": [\"depth\", \"ids\"]");
    Delivery delivery = render(shot, List.of(1));
    ExrPart part = ExrReader.read(dir.resolve("out/set/Back/set_Back.0001.exr")).parts().getFirst();
    assertThat(part.has("Z")).isTrue();
    assertThat(part.has("CryptoObject00.R") || part.has("CryptoObject00.r")).isTrue();
    assertThat(part.has("diffuse.direct.R")).isFalse();
    assertThat(part.attributes().keySet()).anyMatch(k -> k.startsWith("cryptomatte/"));
    assertThat(delivery.files().getFirst().passes()).contains("Z").doesNotContain("emission");
  }

  @Test
  void layersWhoseFilesWereExchangedAreNamedThoughTheyAddUp() throws Exception {
    Delivery delivery = render(ShotFolder.load(dir), List.of(1));
    Path back = dir.resolve("out/set/Back/set_Back.0001.exr");
    Path front = dir.resolve("out/set/Front/set_Front.0001.exr");
    byte[] kept = Files.readAllBytes(back);
    Files.copy(front, back, java.nio.file.StandardCopyOption.REPLACE_EXISTING);
    Files.write(front, kept);
    DeliveryProof proof = DeliveryProof.prove(delivery, 1);
    assertThat(proof.residual().exact()).as("a sum commutes").isTrue();
    assertThat(proof.exact()).isFalse();
    assertThat(proof.causes())
        .extracting(c -> c.message().sentence())
        .containsExactly(Sentence.FILE_EXCHANGED, Sentence.FILE_EXCHANGED);
    assertThat(proof.causes()).extracting(Cause::layer).containsExactly("Back", "Front");
  }

  @Test
  void aDeliveryWithoutADisabledLayerDoesNotRejoin() throws Exception {
    LoadedShot shot =
        ShotFolder.changed(
            dir,
            "{\"name\": \"Back\", \"hue\": 1,",
            "{\"name\": \"Back\", \"hue\": 1, \"render\": false,");
    DeliveryProof proof = DeliveryProof.prove(render(shot, List.of(1)), 1);
    assertThat(proof.exact()).isFalse();
    assertThat(proof.causes())
        .singleElement()
        .satisfies(c -> assertThat(c.kind()).isEqualTo(Mistake.LAYER_NOT_RENDERED));
  }

  @Test
  void mistakesOfItsPlanAreMeasuredByTracingIt() throws Exception {
    LoadedShot shot =
        ShotFolder.changed(
            dir,
            "{\"layer\": \"Front\", \"join\": \"plus\"}",
            "{\"layer\": \"Front\", \"join\": \"over\"}");
    DeliveryProof proof = DeliveryProof.prove(render(shot, List.of(1)), 1);
    assertThat(proof.residual().exact()).isFalse();
    assertThat(proof.causes())
        .singleElement()
        .satisfies(c -> {
          assertThat(c.kind()).isEqualTo(Mistake.OVER_ON_HELD_OUT);
          assertThat(c.layer()).isEqualTo("Front");
          assertThat(c.share()).as("measured by tracing its plan").isGreaterThan(0.9);
        });
    // without its scene only the recipe is left
    Files.delete(dir.resolve("set.glb"));
    assertThat(DeliveryProof.prove(Delivery.read(dir.resolve("out")), 1).causes())
        .singleElement()
        .satisfies(c -> {
          assertThat(c.kind()).isEqualTo(Mistake.EDGE_COVARIANCE);
          assertThat(c.isMeasured()).isFalse();
        });
  }

  @Test
  void brokenManifestsAreRefused() throws Exception {
    LoadedShot shot = ShotFolder.load(dir);
    render(shot, List.of(1));
    Path manifest = dir.resolve("out/delivery.json");
    String text = Files.readString(manifest);
    String[][] cases = {
      {"\"wedgecutter_delivery\" : 1", "\"wedgecutter_delivery\" : 2", "wedgecutter_delivery"},
      {"set/Floor/set_Floor.0001.exr", "../../../etc/passwd", "leads out of the folder"},
      {"\"samples\"", "\"smples\"", "samples"},
      {"{", "", "not JSON"},
    };
    for (String[] c : cases) {
      Files.writeString(manifest, text.replace(c[0], c[1]));
      assertThatThrownBy(() -> Delivery.read(dir.resolve("out")))
          .isInstanceOf(InputException.class)
          .hasMessageContaining(c[2]);
    }
    assertThatThrownBy(() -> Delivery.read(dir)).hasMessageContaining("not a delivery");
    assertThat(Delivery.isDelivery(dir)).isFalse();
  }

  @Test
  void namesAreSafeAndNeverLeaveTheFolder() {
    FileNames names = new FileNames("{shot}/{layer}/{frame:4}.exr", "../up", "cam", "v1");
    assertThat(names.name("a/b:c*", 7, "exr")).isEqualTo("_._up/a_b_c_/0007.exr");
    assertThat(names.name("..", 7, "exr")).isEqualTo("_._up/_/0007.exr");
    assertThat(names.name("Äpfel & Öl", 12345, "exr")).isEqualTo("_._up/Äpfel___Öl/12345.exr");
    List<String> hostile =
        new ArrayList<>(List.of("", ".", "...", "a/../../b", "x".repeat(500), "\0"));
    for (String layer : hostile) {
      Path path = Path.of("/root/dir").resolve(names.name(layer, 1, "exr")).normalize();
      assertThat(path.startsWith("/root/dir")).isTrue();
    }
    FileNames dotted = new FileNames("{layer}.{frame:4}.exr.exr", "s", "c", "v");
    assertThat(dotted.name("A", 3, "exr")).isEqualTo("A.0003.exr");
    FileNames all = new FileNames("{camera}-{version}-{layer}-{frame}", "s", "c", "v2");
    assertThat(all.name("A", 3, "exr")).isEqualTo("c-v2-A-3.exr");
  }

  @Test
  void templatesThatWouldOverwriteAreRefused() throws Exception {
    assertThatThrownBy(() -> new FileNames("{layer}", "s", "c", "v"))
        .hasMessageContaining("{frame:4}");
    assertThatThrownBy(() -> new FileNames("{frame}", "s", "c", "v"))
        .hasMessageContaining("{layer}");
    assertThatThrownBy(() -> new FileNames("{layer}{frame}{moon}", "s", "c", "v"))
        .hasMessageContaining("unknown field {moon}");
    LoadedShot shot =
        ShotFolder.changed(
            dir,
            "\"name\": \"Back\", \"hue\"",
            "\"name\": \"Front:\", \"hue\"".replace("Front:", "Back"));
    var renamed =
        shot.withPlan(
            org.wedgecutter.core.plan.LayerEdits.rename(
                org.wedgecutter.core.plan.LayerEdits.rename(shot.plan(), "Back", "a:b"),
                "Front",
                "a*b"));
    assertThatThrownBy(() -> renderer(renamed, List.of(1), false))
        .isInstanceOf(InputException.class)
        .hasMessageContaining("layers 'a:b' and 'a*b' would share the file");
  }

  @Test
  void aLayerWithFramesAndSizeOfItsOwnIsHeldAndResampled() throws Exception {
    LoadedShot shot = ShotFolder.load(dir);
    var frames = CellOverride.of(Property.FRAMES, Property.Verb.SET, new Value.Text("1"));
    var half = CellOverride.of(Property.SIZE, Property.Verb.SCALE, new Value.Num(0.5));
    LoadedShot held =
        shot.withPlan(
            LayerEdits.setting(LayerEdits.setting(shot.plan(), "Back", frames), "Back", half));
    Delivery delivery = render(held, List.of(1, 2));
    assertThat(delivery.files().stream().filter(f -> f.layer().equals("Back"))).hasSize(1);
    assertThat(delivery.held("Back", 2)).isEqualTo(delivery.file("Back", false, 1));
    Picture back = ExrFrames.read(dir.resolve("out/set/Back/set_Back.0001.exr"));
    assertThat(back.width()).isEqualTo(20);
    DeliveryProof proof = DeliveryProof.prove(delivery, 2);
    assertThat(proof.residual().exact()).isFalse();
    assertThat(proof.causes())
        .anyMatch(c -> c.kind() == Mistake.SETTINGS_DIFFER && c.text().contains("different size"));
    // the mean of a picture does not change with its size
    Picture again = back.resized(40, 24).resized(20, 12);
    for (int i = 0; i < again.rgba().length; i++) {
      assertThat(again.rgba()[i])
          .isCloseTo(back.rgba()[i], org.assertj.core.data.Offset.offset(1e-5f));
    }
  }
}
