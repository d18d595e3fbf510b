package org.wedgecutter.core.deliver.unit;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.List;
import java.util.Set;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.wedgecutter.core.deliver.Delivery;
import org.wedgecutter.core.deliver.UnitState;
import org.wedgecutter.core.deliver.check.DeliveryProof;
import org.wedgecutter.core.image.DeepPicture;
import org.wedgecutter.core.image.Region;
import org.wedgecutter.core.io.FileDigest;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.plan.CellOverride;
import org.wedgecutter.core.plan.Output;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.PlanEdits;
import org.wedgecutter.core.plan.PlanReader;
import org.wedgecutter.core.plan.Property;
import org.wedgecutter.core.plan.Role;
import org.wedgecutter.core.plan.Value;
import org.wedgecutter.core.resolve.EntitySet;
import org.wedgecutter.core.testing.Renders;
import org.wedgecutter.core.testing.ShotFolder;
import org.wedgecutter.exr.ExrPart;
import org.wedgecutter.exr.ExrReader;

/** A part of a layer is rendered again and is what a full render gives there. */
class PatcherTest {
  private static final String SEEN = "\"cells\": {\"Back\": {\"role\": \"Seen\"}}";
  private static final String RED =
      "{\"property\": \"material.base-color\", \"verb\": \"set\", \"value\": [0.9, 0.1, 0.1], \"on\": true}";

  @TempDir Path dir;

  private static LoadedShot with(LoadedShot shot, String cell) throws Exception {
    String text = ShotFolder.PLAN.replace(SEEN, "\"cells\": {\"Back\": " + cell + "}");
    assertThat(text).isNotEqualTo(ShotFolder.PLAN);
    Plan plan = PlanReader.parse(text, shot.file());
    return shot.withPlan(plan).withPicturesOf(plan);
  }

  private static EntitySet named(LoadedShot shot, String path) {
    int index = shot.scene().entity(path).orElseThrow().index();
    return EntitySet.of(List.of(index));
  }

  private ExrPart part(String out, String layer, int frame) throws Exception {
    Path file = dir.resolve(out).resolve("set/%s/set_%s.%04d.exr".formatted(layer, layer, frame));
    return ExrReader.read(file).parts().getFirst();
  }

  private static void assertSame(ExrPart a, ExrPart b, Region region) throws Exception {
    int width = a.dataWindow().width();
    for (var channel : a.channels().keySet()) {
      float[] own = a.real(channel.name());
      float[] other = b.real(channel.name());
      for (int y = region.y(); y < region.y() + region.height(); y++) {
        int from = y * width + region.x();
        assertThat(Arrays.copyOfRange(own, from, from + region.width()))
            .as("%s in line %d", channel.name(), y)
            .isEqualTo(Arrays.copyOfRange(other, from, from + region.width()));
      }
    }
  }

  @Test
  void aPatchIsWhatAFullRenderGivesThereAndTellsWhereTheEditReachesFurther() throws Exception {
    LoadedShot before = ShotFolder.load(dir.resolve("shot"));
    Renders.delivery(before, dir.resolve("out"), 2, false);
    LoadedShot after = with(before, "{\"role\": \"Seen\", \"overrides\": [" + RED + "]}");
    Renders.delivery(after, dir.resolve("whole"), 2, false);
    Patcher.Done done =
        new Patcher(
                after,
                Delivery.read(dir.resolve("out")),
                new Patcher.Order("Back", List.of(2), null, named(after, "/back")),
                2)
            .run(p -> {});
    assertThat(done.patches()).singleElement().satisfies(p -> assertThat(p.whole()).isFalse());
    Region region = done.patches().getFirst().region().orElseThrow();
    assertThat(region.width()).isBetween(10, 60);
    ExrPart patched = part("out", "Back", 2);
    ExrPart whole = part("whole", "Back", 2);
    assertSame(patched, whole, region);
    // the layer shows nothing but the back: all that is seen of it was rendered again
    String name = Delivery.read(dir.resolve("out")).file("Back", false, 2).orElseThrow().path();
    assertThat(FileDigest.sha256(dir.resolve("out").resolve(name)))
        .isEqualTo(FileDigest.sha256(dir.resolve("whole").resolve(name)));
    assertThat(done.touched()).extracting(Patcher.Touched::layer).containsExactly("Back");
    assertThat(DeliveryStatus.read(dir.resolve("out"), after).cells())
        .filteredOn(c -> c.state() == UnitState.STALE)
        .extracting(c -> c.unit().frame() + ": " + c.why())
        .containsExactly(
            "1: plan or scene have changed since",
            "2: plan or scene have changed since; a part of it was rendered again");
  }

  @Test
  void whatOnlyTheCameraMeetsIsWholeAfterAPatch() throws Exception {
    String off = HeldFramesTest.INERT;
    LoadedShot shot = ShotFolder.load(dir.resolve("shot"));
    LoadedShot before = with(shot, off);
    Renders.delivery(before, dir.resolve("out"), 2, false);
    LoadedShot after = with(shot, off.replace("[", "[" + RED + ", "));
    Renders.delivery(after, dir.resolve("whole"), 2, false);
    Patcher.Done done =
        new Patcher(
                after,
                Delivery.read(dir.resolve("out")),
                new Patcher.Order("Back", List.of(), null, named(after, "/back")),
                2)
            .run(p -> {});
    assertThat(done.touched()).isEmpty();
    for (Patcher.Patch p : done.patches()) {
      assertThat(p.whole()).isTrue();
      assertSame(
          part("out", "Back", p.frame()), part("whole", "Back", p.frame()), Region.whole(80, 48));
    }
    assertThat(DeliveryStatus.read(dir.resolve("out"), after).count(UnitState.DONE)).isEqualTo(8);
  }

  /** The back is seen by the camera alone, and something else was changed with it. */
  @Test
  void aPatchIsNotWholeWhereMoreWasChangedThanWhatIsNamed() throws Exception {
    String off = HeldFramesTest.INERT;
    LoadedShot shot = ShotFolder.load(dir.resolve("shot"));
    Renders.delivery(with(shot, off), dir.resolve("out"), 2, false);
    LoadedShot after = with(shot, off.replace("[", "[" + RED + ", "));
    Plan plan =
        PlanEdits.override(
            after.plan(),
            "Back",
            "Floor",
            CellOverride.of(Property.BASE_COLOR, Property.Verb.SET, new Value.Colour(1, 0, 0)));
    // the floor does not show there, but its light does: everything is seen by reflections
    plan = PlanEdits.cell(plan, "Back", "Floor", c -> c.withRole(Role.SEEN));
    assertNotWhole(after.withPlan(plan), "/back");
  }

  @Test
  void aPatchIsNotWholeWhereWhatIsNamedMovedInTheScene() throws Exception {
    String off = HeldFramesTest.INERT;
    LoadedShot shot = ShotFolder.load(dir.resolve("shot"));
    LoadedShot before = with(shot, off);
    Renders.delivery(before, dir.resolve("out"), 2, false);
    Path scene = dir.resolve("shot/set.glb");
    String glb = Files.readString(scene, StandardCharsets.ISO_8859_1);
    assertThat(glb).contains("-0.4,0,-0.5").contains("[-0.4");
    Files.writeString(
        scene, glb.replace("[-0.4,0,-0.5]", "[-0.1,0,-0.5]"), StandardCharsets.ISO_8859_1);
    LoadedShot moved = LoadedShot.load(shot.file()).withPlan(before.plan());
    assertNotWhole(moved, "/back");
  }

  /** It stays stale, and {@code --changed} renders it again. */
  private void assertNotWhole(LoadedShot after, String named) throws Exception {
    Renders.delivery(after, dir.resolve("whole"), 2, false);
    Patcher.Done done =
        new Patcher(
                after,
                Delivery.read(dir.resolve("out")),
                new Patcher.Order("Back", List.of(2), null, named(after, named)),
                2)
            .run(p -> {});
    assertThat(done.patches()).singleElement().satisfies(p -> assertThat(p.whole()).isFalse());
    assertThat(DeliveryStatus.read(dir.resolve("out"), after).cells())
        .filteredOn(c -> c.unit().layer().equals("Back") && c.unit().frame() == 2)
        .singleElement()
        .satisfies(c -> assertThat(c.state()).isEqualTo(UnitState.STALE));
    Renders.changed(after, dir.resolve("out"), 2);
    assertSame(part("out", "Back", 2), part("whole", "Back", 2), Region.whole(80, 48));
  }

  @Test
  void aRegionOfAnUnchangedShotChangesNothing() throws Exception {
    LoadedShot shot = ShotFolder.load(dir.resolve("shot"));
    Delivery delivery = Renders.delivery(shot, dir.resolve("out"), 2, false);
    Patcher patcher =
        new Patcher(
            shot,
            delivery,
            new Patcher.Order("Floor", List.of(1), new Region(5, 7, 30, 20), EntitySet.NONE),
            2);
    assertThat(patcher.run(p -> {}).patches())
        .extracting(Patcher.Patch::whole)
        .containsExactly(true);
    assertThat(Delivery.read(dir.resolve("out")).file("Floor", false, 1).orElseThrow().sha256())
        .isEqualTo(delivery.file("Floor", false, 1).orElseThrow().sha256());
    assertThatThrownBy(() ->
            new Patcher(
                shot, delivery, new Patcher.Order("Flor", List.of(), null, EntitySet.NONE), 1))
        .hasMessageContaining("holds no file of layer 'Flor'");
  }

  @Test
  void whatALayerHasByDepthIsPatchedToo() throws Exception {
    LoadedShot before = deep(ShotFolder.load(dir.resolve("shot")));
    Renders.delivery(before, dir.resolve("out"), 2, false);
    LoadedShot after = deep(with(before, "{\"role\": \"Seen\", \"overrides\": [" + RED + "]}"));
    Renders.delivery(after, dir.resolve("whole"), 2, false);
    Patcher.Order order = new Patcher.Order("Back", List.of(2), null, named(after, "/back"));
    new Patcher(after, Delivery.read(dir.resolve("out")), order, 2).run(p -> {});
    assertThat(byDepth("out", 2)).isDeepEqualTo(byDepth("whole", 2));
    assertThat(byDepth("out", 1)).isNotEqualTo(byDepth("whole", 1));
    assertThat(DeliveryProof.prove(Delivery.read(dir.resolve("out")), 2).causes())
        .noneMatch(c -> c.text().contains("SHA"));
  }

  private static LoadedShot deep(LoadedShot shot) {
    return shot.withPlan(
        shot.plan().withOutput(shot.plan().output().withMore(Set.of(Output.More.DEEP))));
  }

  private float[][] byDepth(String out, int frame) throws Exception {
    Path file = dir.resolve(out).resolve("set/Back_deep/set_Back_deep.%04d.exr".formatted(frame));
    return DeepPicture.of(ExrReader.read(file).parts().getFirst()).pixels();
  }
}
