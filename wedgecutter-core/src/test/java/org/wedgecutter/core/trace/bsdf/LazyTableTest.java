package org.wedgecutter.core.trace.bsdf;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Tables are made as they are read, and say what was to be tabulated. */
class LazyTableTest {
  @Test
  void aSliceIsMadeWhenItIsReadFirst() {
    List<Integer> made = new ArrayList<>();
    LazyTable slices =
        new LazyTable(
            5,
            k -> {
              made.add(k);
              return new float[] {10 * k};
            });
    assertThat(made).isEmpty();
    assertThat(slices.get(3)).containsExactly(30);
    assertThat(slices.get(3)).containsExactly(30);
    assertThat(slices.get(0)).containsExactly(0);
    assertThat(made).containsExactly(3, 0);
  }

  @Test
  void severalThreadsGetTheSameNumbers() throws Exception {
    LazyTable slices = new LazyTable(64, k -> new float[] {k, k * k});
    List<Thread> threads = new ArrayList<>();
    boolean[] wrong = new boolean[1];
    for (int t = 0; t < 4; t++) {
      int start = t * 16;
      threads.add(
          Thread.ofPlatform()
              .start(() -> {
                for (int n = 0; n < 10_000; n++) {
                  int k = (start + n) % 64;
                  float[] slice = slices.get(k);
                  if (slice[0] != k || slice[1] != k * k) {
                    wrong[0] = true;
                  }
                }
              }));
    }
    for (Thread t : threads) {
      t.join();
    }
    assertThat(wrong[0]).isFalse();
  }

  @ParameterizedTest
  @ValueSource(floats = {1.1f, 1.33f, 1.5f, 2.4f})
  void smoothGlassLosesNothing(float ior) {
    // with facets that all lie flat, what is reflected and what is refracted is all there is
    for (float cos = 0.2f; cos <= 1; cos += 0.1f) {
      assertThat(RoughGlass.directionalAlbedo(cos, 0, ior)).isCloseTo(1, within(0.02f));
      assertThat(RoughGlass.directionalAlbedo(cos, 1, ior))
          .isLessThan(RoughGlass.directionalAlbedo(cos, 0, ior));
    }
  }

  @Test
  void sharesOfFibresAreSharesAndChangeWithoutSteps() {
    for (float rough = 0; rough <= 1; rough += 0.05f) {
      float last = Sheen.directionalAlbedo(0, rough);
      for (float cos = 0.01f; cos <= 1; cos += 0.01f) {
        float share = Sheen.directionalAlbedo(cos, rough);
        assertThat(share).isBetween(0f, 1f);
        assertThat(share).isCloseTo(last, within(0.15f));
        last = share;
      }
    }
  }
}
