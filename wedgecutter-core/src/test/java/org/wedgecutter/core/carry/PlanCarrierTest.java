package org.wedgecutter.core.carry;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.image.RadianceHdr;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.testing.ShotFolder;

class PlanCarrierTest {
  @TempDir private Path dir;

  private Path here() throws Exception {
    Path folder = dir.resolve("here");
    ShotFolder.changed(
        folder,
        "\"environment\": {\"image\": \"sky.hdr\"}",
        "\"environment\": {\"image\": \"sky.hdr\"}, \"links\": {\"/lamp\": \"Front\"}");
    Picture plate = Picture.empty(8, 4);
    Arrays.fill(plate.rgba(), 0.5f);
    try (var out = Files.newOutputStream(folder.resolve("plate.hdr"))) {
      RadianceHdr.write(plate, out);
    }
    Path plan = folder.resolve("set.wedge");
    String text = Files.readString(plan);
    Files.writeString(
        plan, text.replace("\"links\"", "\"plate\": {\"image\": \"plate.hdr\"},\n    \"links\""));
    return plan;
  }

  @Test
  void picturesGoAlongAndLinksThatAreLostAreTold() throws Exception {
    Path plan = here();
    Path there = dir.resolve("there");
    ShotFolder.make(there);
    Files.delete(there.resolve("sky.hdr"));
    Path out = there.resolve("carried.wedge");
    Carry.Carried carried = PlanCarrier.carry(plan, there.resolve("set.glb"), out);
    assertThat(carried.report().notes())
        .contains(
            "the environment sky.hdr is copied beside the new plan",
            "the plate plate.hdr is copied beside the new plan",
            "/lamp is not in the scene: its light link is dropped");
    PlanCarrier.save(carried.plan(), plan, out);
    assertThat(there.resolve("sky.hdr")).hasSameBinaryContentAs(dir.resolve("here/sky.hdr"));
    LoadedShot loaded = LoadedShot.load(out);
    assertThat(loaded.plate(1)).isNotNull();
  }

  @Test
  void whatIsThereAlreadyIsNotWrittenOver() throws Exception {
    Path plan = here();
    Path there = dir.resolve("there");
    ShotFolder.make(there);
    Files.writeString(there.resolve("plate.hdr"), "mine");
    Path out = there.resolve("carried.wedge");
    PlanCarrier.save(PlanCarrier.carry(plan, there.resolve("set.glb"), out).plan(), plan, out);
    assertThat(there.resolve("plate.hdr")).hasContent("mine");
    assertThatThrownBy(() -> LoadedShot.load(out))
        .isInstanceOf(InputException.class)
        .hasMessageContaining("plate.hdr");
  }

  @Test
  void anotherPlansPicturesAreReadWhenTheyAreMissingAlone() throws Exception {
    LoadedShot shot = LoadedShot.load(here());
    var plan = shot.plan();
    var other =
        plan.withShot(
            plan.requireShot()
                .with(s ->
                    s.plate =
                        new org.wedgecutter.core.plan.Shot.PlateDef("gone.hdr", "", plan.extra())));
    assertThatThrownBy(() -> shot.withPicturesOf(other))
        .isInstanceOf(InputException.class)
        .hasMessageContaining("gone.hdr");
    assertThat(shot.withPicturesOf(plan).pictures()).isEqualTo(shot.pictures());
    assertThat(shot.withPlan(other).plate(1)).as("what was never read").isNull();
  }
}
