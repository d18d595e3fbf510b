package org.wedgecutter.core.deliver.unit;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.IntBuffer;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.TreeMap;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;
import org.wedgecutter.core.deliver.Delivery;
import org.wedgecutter.core.deliver.check.DeliveryProof;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.plan.FrameRange;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.PlanEdits;
import org.wedgecutter.core.plan.Role;
import org.wedgecutter.core.render.FrameRenderer;
import org.wedgecutter.core.resolve.HeldFrames;
import org.wedgecutter.core.testing.Corpus;
import org.wedgecutter.core.testing.ShotFolder;
import org.wedgecutter.exr.Channel;
import org.wedgecutter.exr.ExrPart;
import org.wedgecutter.exr.ExrReader;

/** Frames that are the same are held; rendering them anyway gives the same bits. */
class HeldFramesTest {
  @TempDir Path dir;

  private LoadedShot shot(int last) throws Exception {
    LoadedShot shot = ShotFolder.load(dir.resolve("shot"));
    return shot.withPlan(
        shot.plan()
            .withShot(
                shot.plan()
                    .requireShot()
                    .with(s -> {
                      s.frames = FrameRange.parse("1-" + last);
                      s.shutter = 0.5;
                    })));
  }

  private Delivery render(LoadedShot shot, String name, List<Integer> frames, boolean every)
      throws Exception {
    return renderer(shot, name, frames, false, every).run((f, p, s) -> {});
  }

  private DeliveryRenderer renderer(
      LoadedShot shot, String name, List<Integer> frames, boolean resume, boolean every)
      throws Exception {
    return new DeliveryRenderer(
        shot,
        new DeliveryOrder(
                dir.resolve(name),
                List.of(),
                frames,
                true,
                FrameRenderer.Settings.of(shot, 0.5, 2, 2, false),
                resume)
            .withEveryFrame(every));
  }

  private static Map<String, IntBuffer> pixels(Delivery delivery, Delivery.Entry entry)
      throws Exception {
    ExrPart part = ExrReader.read(delivery.folder().resolve(entry.path())).parts().getFirst();
    Map<String, IntBuffer> out = new TreeMap<>();
    for (Channel channel : part.channels().keySet()) {
      float[] values = part.real(channel.name());
      int[] bits = new int[values.length];
      for (int k = 0; k < bits.length; k++) {
        bits[k] = Float.floatToRawIntBits(values[k]);
      }
      out.put(channel.name(), IntBuffer.wrap(bits));
    }
    return out;
  }

  static IntStream seeds() {
    return IntStream.rangeClosed(1, Corpus.many(2, 6));
  }

  /** The front turns until second 2, which is frame 3, so frames 4 and 5 and on are alike. */
  @ParameterizedTest
  @MethodSource("seeds")
  void whatIsHeldIsWhatRenderingItAnywayGives(int seed) throws Exception {
    LoadedShot shot = shot(6);
    Random random = new Random(seed);
    Plan plan = shot.plan();
    Role[] roles = {Role.HOLDOUT, Role.UNSEEN, Role.ABSENT, Role.ABSENT, Role.CATCHER};
    for (var layer : plan.layers()) {
      for (var row : plan.collections()) {
        if (!layer.name().equals(row.name())) {
          Role role = roles[random.nextInt(roles.length)];
          plan = PlanEdits.cell(plan, layer.name(), row.name(), c -> c.withRole(role));
        }
      }
    }
    LoadedShot cut = shot.withPlan(plan);
    List<Integer> frames = List.of(1, 2, 3, 4, 5, 6);
    Delivery held = render(cut, "held" + seed, frames, false);
    Delivery every = render(cut, "every" + seed, frames, true);
    assertThat(every.files()).hasSize(4 * 6).allMatch(f -> f.heldAt().isEmpty());
    assertThat(held.files().size()).isLessThan(4 * 6);
    assertThat(held.frames()).isEqualTo(frames);
    for (int frame : frames) {
      assertThat(held.shown(frame)).hasSize(4);
      for (Delivery.Entry entry : held.shown(frame)) {
        Delivery.Entry own = every.file(entry.layer(), entry.uncut(), frame).orElseThrow();
        assertThat(pixels(held, entry))
            .as("%s at frame %d, held from %d", entry.layer(), frame, entry.frame())
            .isEqualTo(pixels(every, own));
      }
    }
    Delivery again = Delivery.read(held.folder());
    assertThat(again).isEqualTo(held);
  }

  @Test
  void aLayerWithoutTheMovingThingIsWrittenOnceAndNamedForTheOtherFrames() throws Exception {
    LoadedShot shot = shot(5);
    LoadedShot cut =
        shot.withPlan(PlanEdits.cell(shot.plan(), "Floor", "Front", c -> c.withRole(Role.ABSENT)));
    HeldFrames frames = HeldFrames.of(cut.plan(), cut.members());
    assertThat(frames.pictures(0)).isEqualTo(1);
    assertThat(frames.from(0, 5)).isEqualTo(1);
    assertThat(frames.same(0, 3)).containsExactly(1, 2, 3, 4, 5);
    // the shutter is open from a quarter before: at 4 nothing turns any more
    assertThat(frames.pictures(2)).isEqualTo(4);
    assertThat(frames.same(2, 4)).containsExactly(4, 5);
    assertThat(frames.uncutPictures()).isEqualTo(4);
    assertThat(frames.uncutFrom(5)).isEqualTo(4);
    Delivery delivery = render(cut, "out", List.of(2, 3, 5), false);
    assertThat(delivery.files().stream().filter(f -> f.layer().equals("Floor")))
        .singleElement()
        .satisfies(f -> {
          assertThat(f.frame()).as("the first that was asked for").isEqualTo(2);
          assertThat(f.heldAt()).containsExactly(3, 5);
        });
    assertThat(delivery.frames()).containsExactly(2, 3, 5);
    assertThat(Files.readString(delivery.folder().resolve(Delivery.MANIFEST)))
        .contains("\"held_at\" : \"3,5\"");
  }

  @Test
  void aLaterRunHoldsWhatIsThereAndTellsIt() throws Exception {
    LoadedShot shot = shot(5);
    LoadedShot cut =
        shot.withPlan(PlanEdits.cell(shot.plan(), "Floor", "Front", c -> c.withRole(Role.ABSENT)));
    render(cut, "out", List.of(2), false);
    Delivery more = renderer(cut, "out", List.of(1, 4, 5), true, false).run((f, p, s) -> {});
    var floor = more.files().stream().filter(f -> f.layer().equals("Floor")).toList();
    assertThat(floor).singleElement();
    assertThat(floor.getFirst().frame()).isEqualTo(2);
    assertThat(floor.getFirst().heldAt()).containsExactly(1, 4, 5);
    assertThat(more.held("Floor", 4)).contains(floor.getFirst());
    assertThat(more.held("Front", 5).orElseThrow().frame()).isEqualTo(4);
    assertThat(more.uncut(5).orElseThrow().frame()).isEqualTo(4);
    assertThat(more.frames()).containsExactly(1, 2, 4, 5);
    assertThat(DeliveryProof.prove(more, 5).frame()).isEqualTo(5);
  }

  @Test
  void aFilteredLayerChangesWithTheUncutFrameThatGuidesIt() throws Exception {
    LoadedShot shot = shot(3);
    Plan plan = PlanEdits.cell(shot.plan(), "Floor", "Front", c -> c.withRole(Role.ABSENT));
    plan = plan.withShot(plan.requireShot().with(s -> s.denoise = 1));
    HeldFrames frames = HeldFrames.of(plan, shot.members());
    assertThat(frames.pictures(0)).isEqualTo(3);
  }

  static final String INERT =
      "{\"role\": \"Seen\", \"overrides\": ["
          + String.join(
              ", ",
              List.of(
                      "visible.reflection",
                      "visible.bounce",
                      "visible.transmission",
                      "shadow.casts")
                  .stream()
                  .map(p ->
                      "{\"property\": \"%s\", \"verb\": \"set\", \"value\": false, \"on\": true}"
                          .formatted(p))
                  .toList())
          + "]}";

  @Test
  void whatOnlyTheCameraSeesMovesAllTheSame() throws Exception {
    LoadedShot inert =
        ShotFolder.changed(
            dir.resolve("inert"),
            "\"cells\": {\"Front\": {\"role\": \"Seen\"}}",
            "\"cells\": {\"Front\": " + INERT + "}");
    HeldFrames held = HeldFrames.of(inert.plan(), inert.members());
    assertThat(held.from(2, 2)).as("the front turns, and only the camera sees it").isEqualTo(2);
    Delivery delivery = render(inert, "inert-out", List.of(1, 2), false);
    Delivery each = render(inert, "inert-each", List.of(1, 2), true);
    for (int frame : new int[] {1, 2}) {
      Delivery.Entry a = delivery.held("Front", frame).orElseThrow();
      Delivery.Entry b = each.held("Front", frame).orElseThrow();
      assertThat(pixels(delivery, a)).hasSameSizeAs(pixels(each, b));
      pixels(each, b)
          .forEach((channel, bits) -> {
            try {
              assertThat(pixels(delivery, a).get(channel)).as(channel).isEqualTo(bits);
            } catch (Exception e) {
              throw new AssertionError(e);
            }
          });
    }
  }

  @Test
  void aLayerHeldAtAFrameDoesNotShareTheTraceOfAnotherInWhichItsFrontHasTurned() throws Exception {
    LoadedShot own =
        ShotFolder.changed(
            dir.resolve("own"),
            "{\"name\": \"Front\", \"hue\": 2, \"cells\": {\"Front\": {\"role\": \"Seen\"}}}",
            "{\"name\": \"Front\", \"hue\": 2, \"cells\": {\"Front\": "
                + INERT
                + "}}, {\"name\": \"First\", \"hue\": 3, \"settings\": [{\"property\": \"frames\","
                + " \"verb\": \"set\", \"value\": \"1\", \"on\": true}], \"cells\": {\"Front\": "
                + INERT
                + "}}");
    FrameRenderer renderer = new FrameRenderer(own, FrameRenderer.Settings.of(own, 1, 2, 1, false));
    float[] together = renderer.render(2, l -> l >= 2, false, p -> {}).layer(3).rgba();
    float[] alone = renderer.render(2, l -> l == 3, false, p -> {}).layer(3).rgba();
    float[] moved = renderer.render(2, l -> l == 2, false, p -> {}).layer(2).rgba();
    assertThat(alone).isNotEqualTo(moved);
    assertThat(together).isEqualTo(alone);
  }
}
