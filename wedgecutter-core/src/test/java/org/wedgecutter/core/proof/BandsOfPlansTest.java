package org.wedgecutter.core.proof;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.nio.file.Path;
import java.util.Arrays;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.image.Region;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.PlanEdits;
import org.wedgecutter.core.plan.Role;
import org.wedgecutter.core.render.FrameRenderer;
import org.wedgecutter.core.testing.ShotFolder;

/** Frames that are proved band by band tell what they tell when traced at once. */
class BandsOfPlansTest {
  @TempDir Path dir;

  private static PlanProof prove(LoadedShot shot, int pixels) {
    FrameRenderer renderer =
        new FrameRenderer(shot, FrameRenderer.Settings.of(shot, 4, 2, 2, false));
    return PlanProof.prove(shot, 1, renderer, pixels, p -> {});
  }

  @Test
  void aCutThatDoesNotRejoinIsToldAlike() throws Exception {
    LoadedShot shot = ShotFolder.load(dir);
    Plan wrong = PlanEdits.cell(shot.plan(), "Back", "Front", c -> c.withRole(Role.ABSENT));
    for (Plan plan : new Plan[] {shot.plan(), wrong}) {
      PlanProof whole = prove(shot.withPlan(plan), Integer.MAX_VALUE);
      PlanProof banded = prove(shot.withPlan(plan), 1);
      assertThat(whole.residual().exact()).isEqualTo(plan == shot.plan());
      assertThat(banded.residual().exact()).isEqualTo(whole.residual().exact());
      assertThat(banded.residual().max()).isEqualTo(whole.residual().max());
      assertThat(banded.residual().beyond()).isEqualTo(whole.residual().beyond());
      assertThat(banded.residual().worstY()).isEqualTo(whole.residual().worstY());
      assertThat(banded.residual().excess())
          .isCloseTo(whole.residual().excess(), within(1e-6 * (1 + whole.residual().excess())));
      assertThat(banded.causes()).isEqualTo(whole.causes());
      assertThat(banded.traced().invalidSamples()).isEqualTo(whole.traced().invalidSamples());
      double[] light = whole.traced().interplay().light();
      for (int e = 0; e < light.length; e++) {
        assertThat(banded.traced().interplay().light()[e])
            .isCloseTo(light[e], within(1e-6 * (1 + light[e])));
      }
      assertThat(banded.traced().interplay().pairs())
          .hasSameSizeAs(whole.traced().interplay().pairs());
    }
  }

  @Test
  void theLightOfAFrameIsThatOfItsSortedPixels() {
    Random random = new Random(5);
    Picture p = Picture.empty(101, 30);
    float[] sizes = new float[101 * 30];
    for (int i = 0; i < sizes.length; i++) {
      float light = (float) Math.exp(4 * random.nextGaussian());
      p.rgba()[4 * i + i % 3] = i % 2 == 0 ? light : -light;
      p.rgba()[4 * i + 3] = 1e30f;
      sizes[i] = light;
    }
    p.rgba()[0] = Float.NaN;
    p.rgba()[1] = Float.POSITIVE_INFINITY;
    sizes[0] = 0;
    Arrays.sort(sizes);
    FrameLight light = new FrameLight();
    light.add(p.cropped(new Region(0, 0, 101, 11)));
    light.add(p.cropped(new Region(0, 11, 101, 19)));
    assertThat(light.most()).isEqualTo(sizes[sizes.length - 1]);
    for (double share : new double[] {0, 0.1, 0.5, 0.9, 0.99, 1}) {
      float expected = sizes[(int) Math.min(sizes.length - 1, Math.floor(share * sizes.length))];
      assertThat(light.percentile(share)).isLessThanOrEqualTo(expected);
      assertThat(light.percentile(share)).isCloseTo(expected, within(expected / 2000));
    }
  }
}
