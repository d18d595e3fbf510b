package org.wedgecutter.app.live;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.nio.file.Path;
import java.util.List;
import java.util.concurrent.BlockingQueue;
import java.util.concurrent.LinkedBlockingQueue;
import java.util.concurrent.TimeUnit;
import java.util.function.Predicate;
import org.awaitility.Awaitility;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.plan.Correction;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.PlanEdits;
import org.wedgecutter.core.plan.Role;
import org.wedgecutter.core.render.FrameRenderer;
import org.wedgecutter.core.survey.Noise;
import org.wedgecutter.core.testing.ShotFolder;

class LiveTraceTest {
  @TempDir Path dir;
  private final BlockingQueue<Pictures> arrived = new LinkedBlockingQueue<>();
  private final BlockingQueue<Throwable> failed = new LinkedBlockingQueue<>();
  private LiveTrace live;
  private LoadedShot shot;

  @BeforeEach
  void start() throws Exception {
    shot = ShotFolder.load(dir);
    live =
        new LiveTrace(
            p -> {
              p.complete();
              arrived.add(p);
            },
            failed::add);
  }

  @AfterEach
  void end() {
    live.close();
  }

  private Pictures await(Predicate<Pictures> wanted) throws InterruptedException {
    long until = System.nanoTime() + 60_000_000_000L;
    while (System.nanoTime() < until) {
      Pictures p = arrived.poll(1, TimeUnit.SECONDS);
      if (p != null && wanted.test(p)) {
        return p;
      }
      assertThat(failed).isEmpty();
    }
    throw new AssertionError("no such pictures came");
  }

  private static boolean whole(Pictures p) {
    return p.uncut().width() == 40 && p.samples() == 2;
  }

  @Test
  void picturesGrowFromSmallToWholeAndThenItRests() throws Exception {
    live.show(shot, 1);
    Pictures first = await(p -> true);
    assertThat(first.uncut().width()).isLessThan(40);
    Pictures last = await(LiveTraceTest::whole);
    assertThat(last.residual().exact()).isTrue();
    assertThat(last.causes()).isEmpty();
    assertThat(last.frame()).isEqualTo(1);
    assertThat(last.facts().coverage()).hasSize(shot.scene().entities().size());
    assertThat(last.facts().entityAt(20, 23)).isNotNegative();
    var measured =
        new FrameRenderer(shot, FrameRenderer.Settings.of(shot, 1, 2, 1, false))
            .measure(1, l -> false, p -> {});
    double noise =
        Noise.of(measured.half().uncut(), measured.uncut(), measured.uncut(), 1, 2).relative();
    assertThat(last.noise()).as("from one sample and two").isEqualTo(noise);
    Awaitility.await().until(live::idle);
  }

  @Test
  void aLayerThatIsTracedLaterChangesNothingOfTheNoise() throws Exception {
    live.show(shot, 1);
    double noise = await(LiveTraceTest::whole).noise();
    Plan apart = PlanEdits.cell(shot.plan(), "Floor", "Front", c -> c.withRole(Role.ABSENT));
    live.show(shot.withPlan(apart), 1);
    Pictures late = await(p -> p.plan().equals(apart) && p.samples() == 1);
    assertThat(late.noise()).isEqualTo(noise);
    assertThat(await(p -> p.plan().equals(apart) && whole(p)).noise()).isEqualTo(noise);
  }

  @Test
  void aTraceThatIsHeldWaitsAndGoesOn() throws Exception {
    Plan plan = shot.plan().withShot(shot.plan().requireShot().with(d -> d.samples = 4000));
    LoadedShot longer = shot.withPlan(plan);
    live.show(longer, 1);
    Pictures last = await(p -> p.samples() >= 4 && p.uncut().width() == 40);
    live.hold(true);
    for (Pictures p = last; p != null; p = arrived.poll(500, TimeUnit.MILLISECONDS)) {
      last = p;
    }
    assertThat(last.samples()).isLessThan(4000);
    Plan brighter =
        plan.withRecipe(
            plan.recipe()
                .withCorrections(
                    List.of(Correction.of("Back", "", Correction.Type.EXPOSURE, 1.0))));
    live.show(longer.withPlan(brighter), 1);
    Pictures now = await(p -> p.plan().equals(brighter));
    assertThat(now.samples()).as("put together of what is there").isEqualTo(last.samples());
    assertThat(live.idle()).as("there is more to trace").isFalse();
    live.hold(false);
    await(p -> p.plan().equals(brighter) && p.samples() > now.samples());
  }

  @Test
  void theFirstPictureIsATwelfthAndNoneIsSmallerThanTheOneBefore() throws Exception {
    live.show(shot, 1);
    int last = 0;
    Pictures p;
    do {
      p = await(next -> true);
      assertThat(p.uncut().width()).isGreaterThanOrEqualTo(last);
      if (last == 0) {
        assertThat(p.uncut().width()).isEqualTo(40 / 12);
        assertThat(p.samples()).isEqualTo(1);
      }
      last = p.uncut().width();
    } while (!whole(p));
  }

  @Test
  void aChangeOfRolesComesAtOnceFromLightThatIsThere() throws Exception {
    live.show(shot, 1);
    Pictures before = await(LiveTraceTest::whole);
    Plan moved = PlanEdits.seenOnlyIn(shot.plan(), "Back", "Front");
    live.show(shot.withPlan(moved), 1);
    Pictures after = await(p -> p.plan().equals(moved));
    assertThat(after.samples()).as("nothing is traced again").isEqualTo(2);
    assertThat(after.uncut().width()).isEqualTo(40);
    assertThat(after.uncut().rgba()).isEqualTo(before.uncut().rgba());
    assertThat(after.layer(1).rgba()).isNotEqualTo(before.layer(1).rgba());
    assertThat(after.residual().exact()).isTrue();
  }

  @Test
  void anotherTransportClassIsTracedBesideTheOneThatIsThere() throws Exception {
    live.show(shot, 1);
    Pictures before = await(LiveTraceTest::whole);
    Plan absent = PlanEdits.cell(shot.plan(), "Floor", "Front", c -> c.withRole(Role.ABSENT));
    live.show(shot.withPlan(absent), 1);
    Pictures after = await(p -> p.plan().equals(absent) && whole(p));
    assertThat(after.uncut().rgba()).isEqualTo(before.uncut().rgba());
    assertThat(after.residual().exact()).isFalse();
    assertThat(after.causes()).isNotEmpty();
  }

  @Test
  void correctionsShowInTheRejoinedPictureAndNotInTheProof() throws Exception {
    live.show(shot, 1);
    Pictures before = await(LiveTraceTest::whole);
    Plan corrected =
        shot.plan()
            .withRecipe(
                shot.plan()
                    .recipe()
                    .withCorrections(
                        List.of(
                            Correction.of("Floor", "", Correction.Type.EXPOSURE, 1.0),
                            Correction.of(
                                "Back", "diffuse.indirect", Correction.Type.EXPOSURE, 2.0))));
    live.show(shot.withPlan(corrected), 1);
    Pictures after = await(p -> p.plan().equals(corrected));
    assertThat(after.samples()).as("nothing is traced again").isEqualTo(2);
    assertThat(after.residual().exact()).isTrue();
    float[] pass = after.pass(1, "diffuse.indirect").values();
    for (int i = 0; i < before.rejoined().rgba().length; i++) {
      int p = i / 4;
      boolean alpha = i % 4 == 3;
      float floor = alpha ? 0 : before.layer(0).rgba()[i];
      float more = alpha ? 0 : 3 * pass[3 * p + i % 4];
      assertThat(after.rejoined().rgba()[i])
          .isCloseTo(before.rejoined().rgba()[i] + floor + more, within(1e-5f));
    }
  }

  @Test
  void aRecipeThatIsDraggedKeepsTheTraceAndEndsWithTheLastValue() throws Exception {
    live.show(shot, 1);
    Pictures before = await(LiveTraceTest::whole);
    Plan last = shot.plan();
    for (int k = 1; k <= 20; k++) {
      last =
          shot.plan()
              .withRecipe(
                  shot.plan()
                      .recipe()
                      .withCorrections(
                          List.of(Correction.of("Front", "", Correction.Type.EXPOSURE, 0.1 * k))));
      live.show(shot.withPlan(last), 1);
    }
    Plan asked = last;
    Pictures after = await(p -> p.plan().equals(asked));
    assertThat(live.isLatest(asked)).isTrue();
    assertThat(after.samples()).isEqualTo(before.samples());
    assertThat(after.layer(0)).as("nothing is made again").isEqualTo(before.layer(0));
    assertThat(after.joined().rgba()).isEqualTo(before.joined().rgba());
    for (int i = 0; i < after.rejoined().rgba().length; i++) {
      float more = i % 4 == 3 ? 0 : 3 * before.layer(2).rgba()[i];
      assertThat(after.rejoined().rgba()[i])
          .isCloseTo(before.rejoined().rgba()[i] + more, within(1e-4f));
    }
  }

  @Test
  void anotherFrameIsAnotherPicture() throws Exception {
    live.show(shot, 1);
    Pictures one = await(LiveTraceTest::whole);
    live.show(shot, 2);
    Pictures two = await(p -> p.frame() == 2 && whole(p));
    assertThat(two.uncut().rgba()).isNotEqualTo(one.uncut().rgba());
  }

  @Test
  void manyRequestsInARowEndWithTheLast() throws Exception {
    for (int k = 0; k < 30; k++) {
      live.show(shot, 1 + k % 2);
    }
    assertThat(await(p -> p.frame() == 2 && whole(p)).residual().exact()).isTrue();
  }

  @Test
  void whatGoesWrongIsToldAndTheNextRequestIsServed() throws Exception {
    live.close();
    boolean[] broken = {true};
    live =
        new LiveTrace(
            p -> {
              if (broken[0]) {
                throw new IllegalStateException("no screen");
              }
              arrived.add(p);
            },
            failed::add);
    live.show(shot, 1);
    assertThat(failed.poll(30, TimeUnit.SECONDS)).hasMessage("no screen");
    broken[0] = false;
    live.show(shot, 2);
    assertThat(await(p -> p.frame() == 2)).isNotNull();
  }

  /** A plan with a plate that was not read: pictures of it cannot be made. */
  private LoadedShot broken() {
    var plate =
        new org.wedgecutter.core.plan.Shot.PlateDef(
            "gone.exr", "Floor", org.wedgecutter.core.plan.Extra.NONE);
    return shot.withPlan(
        shot.plan().withShot(shot.plan().requireShot().with(d -> d.plate = plate)));
  }

  @Test
  void aTraceThatFailsIsToldOnceAndCanBeTriedAgain() throws Exception {
    live.show(broken(), 1);
    assertThat(failed.poll(60, TimeUnit.SECONDS)).isNotNull();
    Awaitility.await().until(live::idle);
    assertThat(failed.poll(300, TimeUnit.MILLISECONDS)).as("told once").isNull();
    live.retry(false);
    assertThat(failed.poll(60, TimeUnit.SECONDS)).isNotNull();
    Awaitility.await().until(live::idle);
    live.show(shot, 1);
    await(LiveTraceTest::whole);
  }

  @Test
  void whatIsTriedAgainWithLessLeavesOutTheLargestSize() throws Exception {
    live.show(shot, 1);
    await(LiveTraceTest::whole);
    live.retry(true);
    live.show(shot, 2);
    Pictures p = await(q -> q.frame() == 2 && q.samples() >= 4);
    assertThat(p.width()).isLessThan(40);
    Awaitility.await().until(live::idle);
  }

  @Test
  void errorsOfMemoryDoNotEndTheThread() throws Exception {
    BlockingQueue<Throwable> errors = new LinkedBlockingQueue<>();
    int[] calls = {0};
    try (LiveTrace hungry =
        new LiveTrace(
            p -> {
              if (calls[0]++ == 0) {
                throw new OutOfMemoryError("made for a test");
              }
              arrived.add(p);
            },
            errors::add)) {
      hungry.show(shot, 1);
      assertThat(errors.poll(60, TimeUnit.SECONDS)).isInstanceOf(OutOfMemoryError.class);
      hungry.retry(false);
      await(LiveTraceTest::whole);
    }
  }
}
