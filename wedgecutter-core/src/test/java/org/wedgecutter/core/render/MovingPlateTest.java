package org.wedgecutter.core.render;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.List;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.wedgecutter.core.carry.PlanCarrier;
import org.wedgecutter.core.check.Finding;
import org.wedgecutter.core.check.PlanCheck;
import org.wedgecutter.core.deliver.check.DeliveryProof;
import org.wedgecutter.core.deliver.unit.UnitDigests;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.image.RadianceHdr;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.mistake.Mistake;
import org.wedgecutter.core.plan.CellOverride;
import org.wedgecutter.core.plan.LayerEdits;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.PlanEdits;
import org.wedgecutter.core.plan.Property;
import org.wedgecutter.core.plan.Role;
import org.wedgecutter.core.plan.Value;
import org.wedgecutter.core.proof.PlanProof;
import org.wedgecutter.core.resolve.HeldFrames;
import org.wedgecutter.core.testing.Renders;
import org.wedgecutter.core.testing.ShotFolder;

/** A plate with a picture for each frame. */
class MovingPlateTest {
  private static final int LAST = 4;

  @TempDir Path dir;
  private LoadedShot shot;

  @BeforeEach
  void make() throws Exception {
    LoadedShot still = ShotFolder.loadWithPlate(dir);
    int w = still.plan().requireShot().width();
    int h = still.plan().requireShot().height();
    for (int frame = 1; frame <= LAST; frame++) {
      write(frame, w, h, 0.125f * frame);
    }
    Path file = dir.resolve("plate.wedge");
    Files.writeString(
        file, Files.readString(file).replace("plate.hdr", "footage/plate.{frame:4}.hdr"));
    shot = LoadedShot.load(file);
  }

  private void write(int frame, int w, int h, float level) throws Exception {
    Picture p = Picture.empty(w, h);
    Arrays.fill(p.rgba(), level);
    Files.createDirectories(dir.resolve("footage"));
    try (var out = Files.newOutputStream(dir.resolve("footage/plate.000%d.hdr".formatted(frame)))) {
      RadianceHdr.write(p, out);
    }
  }

  private FrameRenderer renderer() {
    return new FrameRenderer(shot, FrameRenderer.Settings.of(shot, 1, 0, 2, false));
  }

  @Test
  void eachFrameShowsItsOwnPictureAndRejoinsExactly() throws Exception {
    for (int frame : new int[] {1, 3}) {
      Picture uncut = renderer().render(frame, l -> true, true, p -> {}).uncut();
      // the corner shows nothing but the plate
      assertThat(uncut.rgba()[0]).isCloseTo(0.125f * frame, within(1e-4f));
      assertThat(PlanProof.prove(shot, frame, renderer(), p -> {}).residual().exact()).isTrue();
    }
  }

  @Test
  void onlyWhatShowsThePlateDiffersByIt() throws Exception {
    // nothing else moves, once the front is still
    HeldFrames held = HeldFrames.of(shot.plan(), shot.members());
    assertThat(held.uncutPictures()).isEqualTo(LAST);
    assertThat(held.pictures(0)).as("the layer of the plate").isEqualTo(LAST);
    LoadedShot still =
        shot.withPlan(
            shot.plan()
                .withShot(
                    shot.plan()
                        .requireShot()
                        .with(s ->
                            s.plate =
                                new org.wedgecutter.core.plan.Shot.PlateDef(
                                    "plate.hdr", "Floor", s.plate.extra()))));
    HeldFrames before = HeldFrames.of(still.plan(), still.members());
    assertThat(held.pictures(1)).as("what is caught").isEqualTo(before.pictures(1));
    assertThat(held.pictures(2)).as("things").isEqualTo(before.pictures(2));
    assertThat(before.pictures(0)).isLessThan(LAST + 1);
  }

  @Test
  void aPictureThatChangesMakesItsFrameAloneStale() throws Exception {
    FrameRenderer.Settings settings = FrameRenderer.Settings.of(shot, 1, 0, 2, false);
    UnitDigests before = new UnitDigests(shot, settings);
    List<String> was = List.of(before.of(0, 2), before.of(0, 3), before.of(2, 3));
    int w = shot.plan().requireShot().width();
    write(3, w, shot.plan().requireShot().height(), 0.9f);
    UnitDigests after = new UnitDigests(LoadedShot.load(shot.file()), settings);
    assertThat(after.of(0, 2)).isEqualTo(was.get(0));
    assertThat(after.of(0, 3)).isNotEqualTo(was.get(1));
    assertThat(after.of(2, 3)).as("things do not show it").isEqualTo(was.get(2));
  }

  @Test
  void itsDeliveryIsProvedFrameByFrame() throws Exception {
    var delivery = Renders.delivery(shot, dir.resolve("out"), 1, false);
    for (int frame = 1; frame <= 2; frame++) {
      assertThat(DeliveryProof.prove(delivery, frame).exact()).isTrue();
    }
  }

  @Test
  void aLayerThatShowsItIsNeverCalledStill() throws Exception {
    // without the front nothing moves but the plate
    Plan plan = shot.plan();
    for (String layer : List.of("Plate", "Caught", "Things")) {
      plan = PlanEdits.cell(plan, layer, "Front", c -> c.withRole(Role.ABSENT));
    }
    LoadedShot still = shot.withPlan(plan);
    assertThat(PlanCheck.check(still, still.resolve(1)))
        .filteredOn(f -> f.kind() == Mistake.LAYER_STILL)
        .extracting(Finding::layer)
        .containsExactly("Caught", "Things");
    Plan held =
        LayerEdits.setting(
            plan,
            "Plate",
            CellOverride.of(Property.FRAMES, Property.Verb.SET, new Value.Text("1")));
    LoadedShot frozen = shot.withPlan(held);
    assertThat(PlanCheck.check(frozen, frozen.resolve(1)))
        .anyMatch(f -> f.kind() == Mistake.HELD_NOT_STILL && f.layer().equals("Plate"));
  }

  @Test
  void missingFramesAreFoundBeforeRenderingAndTold() throws Exception {
    Files.delete(dir.resolve("footage/plate.0003.hdr"));
    assertThat(PlanCheck.check(shot, shot.resolve(1)))
        .extracting(Finding::text)
        .anySatisfy(t -> assertThat(t).contains("footage/plate.{frame:4}.hdr", "frames 3"));
    assertThatThrownBy(() -> Renders.delivery(shot, dir.resolve("out"), 1, false, 1, 3))
        .isInstanceOf(InputException.class)
        .hasMessageContaining("plate.0003.hdr");
    assertThat(dir.resolve("out/Plate")).doesNotExist();
    assertThatThrownBy(() -> renderer().render(3, l -> true, true, p -> {}).uncut())
        .hasStackTraceContaining("plate.0003.hdr");
    Files.delete(dir.resolve("footage/plate.0001.hdr"));
    assertThatThrownBy(() -> LoadedShot.load(shot.file()))
        .isInstanceOf(InputException.class)
        .hasMessageContaining("plate.0001.hdr");
  }

  @Test
  void allOfItsFilesAreCarried() throws Exception {
    Path next = Files.createDirectories(dir.resolve("next"));
    Files.copy(dir.resolve("sky.hdr"), next.resolve("sky.hdr"));
    PlanCarrier.save(shot.plan(), shot.file(), next.resolve("b.wedge"));
    for (int frame = 1; frame <= LAST; frame++) {
      assertThat(next.resolve("footage/plate.000%d.hdr".formatted(frame))).exists();
    }
  }
}
