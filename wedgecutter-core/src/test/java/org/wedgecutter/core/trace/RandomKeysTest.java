package org.wedgecutter.core.trace;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.HashMap;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.wedgecutter.core.trace.sample.Sampler;

/** No two uses of random numbers of a path share a dimension or a row. */
class RandomKeysTest {
  private static final int BOUNCES = 192;
  private static final int MEDIA = 12;

  private final Map<Integer, String> taken = new HashMap<>();

  private void take(int key, String use) {
    String other = taken.putIfAbsent(key, use);
    assertThat(other).as("%s has the key of another use", use).isNull();
  }

  @Test
  void pairsOfDimensionsAreApart() {
    for (String use : new String[] {"pixel", "lens", "time"}) {
      take(taken.size(), use);
    }
    take(Transport.FIRST_LIGHT_PAIR - 1, "occlusion");
    for (int light = 0; light < 64; light++) {
      take(Transport.FIRST_LIGHT_PAIR + light, "light of the first surface " + light);
    }
    for (int base = 0; base <= MEDIA; base++) {
      for (int bounce = 0; bounce < BOUNCES; bounce++) {
        int first = Transport.MEDIUM_BLOCK * base + Transport.pairs(bounce);
        // the first vertex picks lights alone; its directions are those of the first bounce
        for (int use = bounce == 0 ? Transport.PICK_PAIR : 1; use <= 5; use++) {
          take(first + use, "use %d of bounce %d from %d".formatted(use, bounce, base));
        }
      }
    }
  }

  @Test
  void rowsOfNumbersAreApart() {
    for (int base = 0; base <= MEDIA; base++) {
      for (int bounce = 0; bounce < BOUNCES; bounce++) {
        int pairs = Transport.MEDIUM_BLOCK * base + Transport.pairs(bounce);
        for (int passed = 0; passed < 24; passed++) {
          take(Sampler.key(Transport.COLLISIONS, pairs, passed), "collisions");
          take(Sampler.key(Transport.PASSES, pairs, passed), "passes");
        }
        take(Sampler.key(Transport.UNSHADOWED, pairs, 0), "unshadowed");
        for (int light = 0; light < 24; light++) {
          int vertex = Transport.MEDIUM_BLOCK * base + bounce;
          take(Sampler.key(Transport.SHADOWS, vertex, light), "shadows");
        }
      }
    }
  }
}
