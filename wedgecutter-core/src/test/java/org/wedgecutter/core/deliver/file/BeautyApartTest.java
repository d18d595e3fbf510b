package org.wedgecutter.core.deliver.file;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Set;
import java.util.SortedMap;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.wedgecutter.core.deliver.Delivery;
import org.wedgecutter.core.deliver.check.DeliveryProof;
import org.wedgecutter.core.export.JoinScript;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.plan.Correction;
import org.wedgecutter.core.plan.Output;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.PlanReader;
import org.wedgecutter.core.plan.PlanWriter;
import org.wedgecutter.core.testing.Programs;
import org.wedgecutter.core.testing.Renders;
import org.wedgecutter.core.testing.ShotFolder;
import org.wedgecutter.exr.Channel;
import org.wedgecutter.exr.ExrHeader;
import org.wedgecutter.exr.ExrInput;
import org.wedgecutter.exr.ExrPart;
import org.wedgecutter.exr.Samples;

/** Files with the beauty in a part of its own hold what those of one part hold. */
class BeautyApartTest {
  @TempDir Path dir;

  private LoadedShot shot(boolean apart) throws Exception {
    LoadedShot shot = ShotFolder.load(dir.resolve("shot"));
    Plan plan =
        shot.plan()
            .withOutput(
                shot.plan()
                    .output()
                    .withMore(Set.of(Output.More.IDS, Output.More.DEPTH))
                    .with(o -> o.beautyApart = apart))
            .withRecipe(
                shot.plan()
                    .recipe()
                    .withCorrections(
                        List.of(
                            Correction.of(
                                "Back", "diffuse.direct", Correction.Type.EXPOSURE, 1.0))));
    Path file = dir.resolve("shot/%s.wedge".formatted(apart ? "apart" : "one"));
    PlanWriter.save(plan, file);
    assertThat(PlanReader.read(file)).isEqualTo(plan);
    return shot.withPlan(plan);
  }

  private static List<ExrHeader> headers(Path file) throws Exception {
    try (ExrInput in = ExrInput.open(file)) {
      return in.headers();
    }
  }

  private static float[] values(SortedMap<Channel, Samples> of, Channel channel) {
    return ((Samples.Real) of.get(channel)).values();
  }

  @Test
  void everyReaderFindsTheSame() throws Exception {
    Path one = dir.resolve("one");
    Path apart = dir.resolve("apart");
    Delivery first = Renders.delivery(shot(false), one, 1, false);
    Delivery second = Renders.delivery(shot(true), apart, 1, false);
    String name = "set/Back/set_Back.0002.exr";
    List<ExrHeader> heads = headers(apart.resolve(name));
    assertThat(headers(one.resolve(name))).hasSize(1);
    assertThat(heads).extracting(ExrHeader::name).containsExactly("beauty", "passes");
    assertThat(heads.getFirst().channels())
        .extracting(Channel::name)
        .containsExactly("A", "B", "G", "R");

    ExrPart wanted = ExrFrames.part(one.resolve(name), n -> true);
    ExrPart read = ExrFrames.part(apart.resolve(name), n -> true);
    assertThat(read.channels().keySet()).isEqualTo(wanted.channels().keySet());
    for (Channel channel : wanted.channels().keySet()) {
      assertThat(values(read.channels(), channel))
          .as(channel.name())
          .isEqualTo(values(wanted.channels(), channel));
    }

    // of another implementation: the first part is the beauty, the second the passes
    String file = "apart/" + name;
    Programs.run(dir, "oiiotool", file, "-o", "beauty.exr");
    Programs.run(dir, "oiiotool", "one/" + name, "--ch", "R,G,B,A", "-o", "wanted.exr");
    Programs.run(dir, "idiff", "-fail", "0", "beauty.exr", "wanted.exr");
    String direct = "diffuse.direct.R,diffuse.direct.G,diffuse.direct.B";
    Programs.run(dir, "oiiotool", file, "--subimage", "1", "--ch", direct, "-o", "direct.exr");
    Programs.run(dir, "oiiotool", "one/" + name, "--ch", direct, "-o", "wanted.exr");
    Programs.run(dir, "idiff", "-fail", "0", "direct.exr", "wanted.exr");

    Files.writeString(apart.resolve("join.sh"), JoinScript.text(second));
    Programs.run(apart, "bash", "join.sh", "2", "joined.exr");
    float[] joined = ExrFrames.read(apart.resolve("joined.exr")).rgba();
    float[] ours = DeliveryPictures.corrected(second, 2).rgba();
    for (int i = 0; i < ours.length; i++) {
      assertThat(joined[i]).isCloseTo(ours[i], within(5e-6f));
    }
    assertThat(DeliveryProof.prove(second, 2).exact()).isTrue();
    assertThat(DeliveryPictures.corrected(second, 2).rgba())
        .isEqualTo(DeliveryPictures.corrected(first, 2).rgba());
  }

  @Test
  void oneIsNotTakenForTheOther() throws Exception {
    Path out = dir.resolve("out");
    Path file = out.resolve("set/Front/set_Front.0001.exr");
    Renders.delivery(shot(false), out, 1, false);
    assertThatThrownBy(() -> Renders.delivery(shot(true), out, 1, true))
        .as("another form of file is another file")
        .hasMessageContaining("of an earlier state");
    assertThat(headers(file)).hasSize(1);
    LoadedShot same = shot(false);
    assertThat(Renders.delivery(same, out, 1, true).files()).isNotEmpty();
  }

  @Test
  void aFramesFileHoldsBothPartsOfEachLayer() throws Exception {
    LoadedShot shot = shot(true);
    LoadedShot all =
        shot.withPlan(
            shot.plan()
                .withOutput(shot.plan().output().with(o -> o.copies = Set.of(Output.Copy.FRAME))));
    Path out = dir.resolve("out");
    Delivery delivery = Renders.delivery(all, out, 1, false);
    String name =
        delivery.files().stream()
            .map(Delivery.Entry::path)
            .filter(p -> p.contains("frame") && p.contains("0001"))
            .findFirst()
            .orElse("set/frame/set_frame.0001.exr");
    List<String> parts = headers(out.resolve(name)).stream().map(ExrHeader::name).toList();
    assertThat(parts).contains("Back", "Back.passes", "Front", "Front.passes");
    String made = "out/" + name;
    String number = String.valueOf(parts.indexOf("Back"));
    Programs.run(dir, "oiiotool", made, "--subimage", number, "-o", "part.exr");
    Programs.run(
        dir, "oiiotool", "out/set/Back/set_Back.0001.exr", "--subimage", "0", "-o", "back.exr");
    Programs.run(dir, "idiff", "-fail", "0", "part.exr", "back.exr");
  }
}
