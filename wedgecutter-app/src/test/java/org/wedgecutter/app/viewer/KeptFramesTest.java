package org.wedgecutter.app.viewer;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Path;
import javafx.scene.image.WritableImage;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.PlanReader;
import org.wedgecutter.core.testing.ShotFolder;

class KeptFramesTest {
  private static final Shown UNCUT =
      new Shown(Look.UNCUT, Look.REJOINED, false, 0, 0, Shown.BEAUTY, View.PLAIN, null);

  private Plan plan;

  @BeforeEach
  void read() throws Exception {
    // 40 by 24 pixels, 2 samples
    plan = PlanReader.parse(ShotFolder.PLAN, Path.of("set.wedge"));
  }

  private static KeptFrames.Kept picture(int width, int samples) {
    int height = width * 24 / 40;
    var images = new ShownImages(new WritableImage(width, height), null, null);
    return new KeptFrames.Kept(images, width >= 40, width, height, samples);
  }

  @Test
  void whatIsBetterTakesThePlaceOfWhatIsWorse() {
    KeptFrames kept = new KeptFrames(1 << 20);
    assertThat(kept.quality(plan, UNCUT, 1)).isZero();
    kept.keep(plan, UNCUT, 1, picture(5, 8));
    assertThat(kept.state(plan, UNCUT, 1)).as("too coarse").isEqualTo(KeptFrames.State.MISSING);
    kept.keep(plan, UNCUT, 1, picture(20, 8));
    assertThat(kept.state(plan, UNCUT, 1)).isEqualTo(KeptFrames.State.SMALL);
    assertThat(kept.quality(plan, UNCUT, 1)).isEqualTo(1);
    kept.keep(plan, UNCUT, 1, picture(40, 1));
    assertThat(kept.state(plan, UNCUT, 1)).isEqualTo(KeptFrames.State.WHOLE);
    int first = kept.quality(plan, UNCUT, 1);
    kept.keep(plan, UNCUT, 1, picture(20, 9));
    assertThat(kept.quality(plan, UNCUT, 1)).isEqualTo(first);
    kept.keep(plan, UNCUT, 1, picture(40, 2));
    assertThat(kept.quality(plan, UNCUT, 1)).as("all samples").isEqualTo(Integer.MAX_VALUE);
  }

  @Test
  void anotherPlanOrLookHasNoneOfThem() {
    KeptFrames kept = new KeptFrames(1 << 20);
    kept.keep(plan, UNCUT, 2, picture(40, 1));
    Shown residual =
        new Shown(Look.RESIDUAL, Look.REJOINED, false, 0, 0, Shown.BEAUTY, View.PLAIN, null);
    Plan other = plan.withShot(plan.requireShot().with(s -> s.seed = 9));
    assertThat(kept.of(plan, residual, 2)).isNull();
    assertThat(kept.of(other, UNCUT, 2)).isNull();
    assertThat(kept.of(plan, UNCUT, 2)).isNotNull();
    kept.keep(other, UNCUT, 1, picture(40, 1));
    assertThat(kept.of(plan, UNCUT, 2)).as("let go").isNull();
  }

  @Test
  void memoryIsBoundedAndBetterPicturesOfTheSameSizeStillCome() {
    // room for two pictures of 40 by 24 pixels, and not for three
    KeptFrames kept = new KeptFrames(3L * 40 * 24 * 4 - 1);
    kept.keep(plan, UNCUT, 1, picture(40, 1));
    assertThat(kept.hasRoom()).isTrue();
    kept.keep(plan, UNCUT, 2, picture(40, 1));
    assertThat(kept.hasRoom()).isFalse();
    kept.keep(plan, UNCUT, 3, picture(40, 1));
    assertThat(kept.of(plan, UNCUT, 3)).isNull();
    kept.keep(plan, UNCUT, 2, picture(40, 2));
    assertThat(kept.quality(plan, UNCUT, 2)).isEqualTo(Integer.MAX_VALUE);
  }
}
