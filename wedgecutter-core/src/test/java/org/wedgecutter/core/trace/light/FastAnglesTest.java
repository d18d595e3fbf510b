package org.wedgecutter.core.trace.light;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.util.Random;
import org.junit.jupiter.api.Test;

/** FastAngles are the library's, but for less than a pixel of any image. */
class FastAnglesTest {
  @Test
  void anglesOfDirectionsAreRight() {
    Random random = new Random(1);
    for (int k = 0; k < 200_000; k++) {
      float x = (float) random.nextGaussian();
      float y = (float) random.nextGaussian();
      assertThat(FastAngles.atan2(y, x)).isCloseTo((float) Math.atan2(y, x), within(2e-6f));
    }
  }

  @Test
  void axesAndCornersAreRight() {
    float[] steps = {-1, -1e-30f, 0, 1e-30f, 1};
    for (float x : steps) {
      for (float y : steps) {
        float expected = x == 0 && y == 0 ? 0 : (float) Math.atan2(y, x);
        // the library tells zeros apart by their signs; here both are the positive one
        if (y != 0 || x >= 0) {
          assertThat(FastAngles.atan2(y, x)).as("%s %s", x, y).isCloseTo(expected, within(2e-6f));
        }
      }
    }
    assertThat(FastAngles.atan2(0, -1)).isCloseTo((float) Math.PI, within(1e-6f));
  }

  @Test
  void anglesOfCosinesAreRight() {
    for (int k = -10_000; k <= 10_000; k++) {
      float cos = k / 10_000f;
      assertThat(FastAngles.acos(cos)).isCloseTo((float) Math.acos(cos), within(4e-6f));
    }
    assertThat(FastAngles.acos(1)).isZero();
    assertThat(FastAngles.acos(-1)).isCloseTo((float) Math.PI, within(1e-6f));
  }
}
