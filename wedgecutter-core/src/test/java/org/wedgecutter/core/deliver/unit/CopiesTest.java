package org.wedgecutter.core.deliver.unit;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.FileTime;
import java.util.List;
import java.util.Set;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.wedgecutter.core.deliver.Delivery;
import org.wedgecutter.core.deliver.check.DeliveryProof;
import org.wedgecutter.core.deliver.file.DeliveryPictures;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.image.Region;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.mistake.Mistake;
import org.wedgecutter.core.plan.Output;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.PlanReader;
import org.wedgecutter.core.plan.PlanWriter;
import org.wedgecutter.core.resolve.EntitySet;
import org.wedgecutter.core.testing.Programs;
import org.wedgecutter.core.testing.Renders;
import org.wedgecutter.core.testing.ShotFolder;
import org.wedgecutter.exr.Channel;
import org.wedgecutter.exr.Compression;
import org.wedgecutter.exr.ExrImage;
import org.wedgecutter.exr.ExrPart;
import org.wedgecutter.exr.ExrReader;
import org.wedgecutter.exr.PixelType;

/** Other forms of a layer's file: read by programs that are not ours, and made from the file. */
class CopiesTest {
  @TempDir Path dir;

  private static LoadedShot with(
      LoadedShot shot, java.util.function.Consumer<Output.Draft> output) {
    return shot.withPlan(shot.plan().withOutput(shot.plan().output().with(output)));
  }

  private String run(String... command) throws Exception {
    return Programs.run(dir, command);
  }

  @Test
  void everyFormIsReadByOthersAndNothingIsRenderedAgainForIt() throws Exception {
    LoadedShot plain = ShotFolder.load(dir.resolve("shot"));
    Path out = dir.resolve("out");
    Renders.delivery(plain, out, 1, true);
    Path main = out.resolve("set/Back/set_Back.0002.exr");
    Files.setLastModifiedTime(main, FileTime.fromMillis(1000));
    LoadedShot all = with(plain, o -> o.copies = Set.of(Output.Copy.values()));
    Delivery delivery = Renders.delivery(all, out, 1, true);
    assertThat(Files.getLastModifiedTime(main)).isEqualTo(FileTime.fromMillis(1000));
    assertThat(delivery.held("Back", 2).orElseThrow().path())
        .isEqualTo("set/Back/set_Back.0002.exr");
    assertThat(DeliveryProof.prove(delivery, 2).exact()).isTrue();
    assertThat(Delivery.schema().check(Files.readString(out.resolve(Delivery.MANIFEST)))).isEmpty();

    String beauty = dir.resolve("beauty.exr").toString();
    run("oiiotool", main.toString(), "--ch", "R,G,B,A", "-d", "float", "-o", beauty);
    String linear = "out/set/Back_linear/set_Back_linear.0002";
    run("idiff", "-fail", "0", beauty, linear + ".tif");
    String opaque = dir.resolve("rgb.exr").toString();
    run("oiiotool", beauty, "--ch", "R,G,B", "-o", opaque);
    run("idiff", "-fail", "0.02", opaque, linear + ".hdr");
    for (String[] form :
        new String[][] {
          {"srgb16", "tif", "uint16"}, {"srgb16", "png", "uint16"}, {"srgb8", "png", "uint8"}
        }) {
      String file = "out/set/Back_%1$s/set_Back_%1$s.0002.%2$s".formatted(form[0], form[1]);
      assertThat(run("oiiotool", "--info", "-v", file)).contains(form[2]);
      // the tool's own curve and division by alpha
      String own = "own." + form[1];
      run(
          "oiiotool",
          beauty,
          "--unpremult",
          "--colorconvert",
          "linear",
          "sRGB",
          "-d",
          form[2],
          "--nosoftwareattrib",
          "-o",
          own);
      run(
          "oiiotool",
          "--no-autopremult",
          file,
          "-d",
          "float",
          "-o",
          "a.exr",
          "--no-autopremult",
          own,
          "-d",
          "float",
          "-o",
          "b.exr");
      run("idiff", "-fail", "0.01", "-failpercent", "2", "-hardfail", "0.1", "a.exr", "b.exr");
    }
  }

  @Test
  void passesHaveFilesOfTheirOwnAndAFrameOneOfAllItsLayers() throws Exception {
    LoadedShot shot =
        with(
            ShotFolder.load(dir.resolve("shot")),
            o -> {
              o.copies = Set.of(Output.Copy.PASSES, Output.Copy.FRAME);
              o.more = Set.of(Output.More.DEPTH, Output.More.IDS);
            });
    Path out = dir.resolve("out");
    Delivery delivery = Renders.delivery(shot, out, 1, true);
    ExrPart main = ExrReader.read(out.resolve("set/Back/set_Back.0002.exr")).parts().getFirst();
    ExrPart direct =
        ExrReader.read(out.resolve("set/Back_diffuse.direct/set_Back_diffuse.direct.0002.exr"))
            .parts()
            .getFirst();
    assertThat(direct.channels().keySet())
        .extracting(Channel::name)
        .containsExactly("diffuse.direct.B", "diffuse.direct.G", "diffuse.direct.R");
    assertThat(direct.real("diffuse.direct.G")).isEqualTo(main.real("diffuse.direct.G"));
    ExrPart ids =
        ExrReader.read(out.resolve("set/Back_CryptoObject/set_Back_CryptoObject.0002.exr"))
            .parts()
            .getFirst();
    assertThat(ids.attributes().keySet()).anyMatch(k -> k.startsWith("cryptomatte/"));
    assertThat(out.resolve("set/Back_beauty/set_Back_beauty.0002.exr")).isRegularFile();
    assertThat(delivery.files())
        .extracting(Delivery.Entry::path)
        .contains("set/Back_Z/set_Back_Z.0002.exr");

    Path frame = out.resolve("set/frame/set_frame.0002.exr");
    ExrImage whole = ExrReader.read(frame);
    assertThat(whole.parts())
        .extracting(ExrPart::name)
        .containsExactly("Floor", "Back", "Front", "uncut");
    for (Channel channel : main.channels().keySet()) {
      assertThat(whole.parts().get(1).real(channel.name())).isEqualTo(main.real(channel.name()));
    }
    assertThat(run("exrheader", frame.toString()))
        .contains("part 3", "name (type string): \"uncut\"", "scanlineimage");
    run("oiiotool", frame.toString(), "--subimage", "1", "--ch", "R,G,B,A", "-o", "part.exr");
    run("oiiotool", "out/set/Back/set_Back.0002.exr", "--ch", "R,G,B,A", "-o", "own.exr");
    run("idiff", "-fail", "0", "part.exr", "own.exr");

    Files.setLastModifiedTime(frame, FileTime.fromMillis(1000));
    Renders.delivery(shot, out, 1, true);
    assertThat(Files.getLastModifiedTime(frame)).isEqualTo(FileTime.fromMillis(1000));
    Files.delete(out.resolve("units/Back.0002.json"));
    Files.write(out.resolve("set/Back/set_Back.0002.exr"), new byte[] {1});
    Renders.delivery(shot, out, 1, true);
    assertThat(ExrReader.read(frame).parts().get(1).real("R")).isEqualTo(main.real("R"));
  }

  @Test
  void aPassCanBeLeftOutOfALayerAndBeFloatAmongHalfs() throws Exception {
    String text =
        ShotFolder.PLAN.replace(
            "\"passes\": true",
            "\"passes\": true, \"more\": [\"depth\", \"normal\"], \"floats\": [\"diffuse.direct\"],"
                + " \"left_out\": {\"Back\": [\"depth\", \"beauty\"]}, \"copies\": [\"png8\"]");
    Path file = ShotFolder.make(dir.resolve("shot"));
    Plan plan = PlanReader.parse(text, file);
    assertThat(PlanReader.parse(PlanWriter.text(PlanWriter.tree(plan)), file)).isEqualTo(plan);
    LoadedShot shot = LoadedShot.load(file).withPlan(plan).withPicturesOf(plan);
    Path out = dir.resolve("out");
    Renders.delivery(shot, out, 1, true);
    ExrPart back = ExrReader.read(out.resolve("set/Back/set_Back.0001.exr")).parts().getFirst();
    assertThat(back.has("Z")).isFalse();
    assertThat(back.has("diffuse.direct.R")).isFalse();
    assertThat(back.has("N.X")).isTrue();
    ExrPart front = ExrReader.read(out.resolve("set/Front/set_Front.0001.exr")).parts().getFirst();
    assertThat(front.has("Z")).isTrue();
    assertThat(front.channels().keySet())
        .contains(
            new Channel("diffuse.direct.R", PixelType.FLOAT), new Channel("R", PixelType.HALF));
  }

  @Test
  void oneTransparentPictureOfCatcherAndObjectLiesOverAnyBackground() throws Exception {
    Path file = ShotFolder.make(dir.resolve("shot"));
    String text =
        """
        {"wedgecutter": 1,
         "shot": {"scene": "set.glb", "frames": "1-2", "fps": 1, "size": [40, 24], "samples": 4,
           "bounces": 2, "environment": {"image": "sky.hdr"}},
         "collections": [{"name": "Front", "rule": "front"}, {"name": "Floor", "rule": "floor"}],
         "layers": [
           {"name": "Caught", "cells": {
             "Front": {"role": "Holdout", "catcher": {"caster": true}},
             "Floor": {"role": "Catcher", "catcher": {"output": "catch"}}}, "rest": {"role": "Unseen"}},
           {"name": "Object", "cells": {"Front": {"role": "Seen"}}, "rest": {"role": "Unseen"}}],
         "recipe": {"joins": [{"layer": "Caught", "join": "catch"}, {"layer": "Object", "join": "plus"}]}}
        """;
    Plan plan = PlanReader.parse(text, file);
    LoadedShot shot = LoadedShot.load(file).withPlan(plan).withPicturesOf(plan);
    Delivery delivery = Renders.delivery(shot, dir.resolve("out"), 1, true);
    Picture one = DeliveryPictures.transparent(delivery, 1, List.of("Caught", "Object"));
    Picture caught = DeliveryPictures.layer(delivery, "Caught", 1);
    Picture object = DeliveryPictures.layer(delivery, "Object", 1);
    int darkened = 0;
    for (int p = 0; p < 40 * 24; p++) {
      float background = 0.1f + 0.8f * (p % 40) / 40;
      darkened += caught.rgba()[4 * p + 3] > 0.02 ? 1 : 0;
      for (int c = 0; c < 3; c++) {
        float through = 1 - caught.rgba()[4 * p + 3];
        float alpha = object.rgba()[4 * p + 3];
        // the background as the object holds it out, darkened by the shadow, and the object's light
        float wanted =
            object.rgba()[4 * p + c] + caught.rgba()[4 * p + c] + (through - alpha) * background;
        float got = one.rgba()[4 * p + c] + (1 - one.rgba()[4 * p + 3]) * background;
        assertThat(got).isCloseTo(wanted, org.assertj.core.data.Offset.offset(1e-4f));
      }
    }
    assertThat(darkened).as("pixels in shadow").isGreaterThan(5);
    assertThatThrownBy(() -> DeliveryPictures.transparent(delivery, 1, List.of("Nothing")))
        .hasMessageContaining("does not join a layer 'Nothing'");
  }

  @Test
  void aLossyCompressionIsTakenAndTold() throws Exception {
    LoadedShot shot =
        with(ShotFolder.load(dir.resolve("shot")), o -> o.compression = Compression.DWAA);
    Path out = dir.resolve("out");
    Delivery delivery = Renders.delivery(shot, out, 1, false);
    assertThat(run("exrheader", out.resolve("set/Back/set_Back.0001.exr").toString()))
        .contains("dwa, small scanline blocks");
    DeliveryProof proof = DeliveryProof.prove(delivery, 1);
    assertThat(proof.exact() || proof.causes().getFirst().kind() == Mistake.COMPRESSION_LOSSY)
        .isTrue();
    assertThatThrownBy(() ->
            new Patcher(
                shot,
                delivery,
                new Patcher.Order("Back", List.of(), Region.whole(4, 4), EntitySet.NONE),
                1))
        .hasMessageContaining("dwaa");
  }
}
