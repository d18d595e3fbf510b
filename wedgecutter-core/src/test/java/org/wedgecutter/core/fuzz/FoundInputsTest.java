package org.wedgecutter.core.fuzz;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.net.URL;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.Arrays;
import java.util.List;
import java.util.Random;
import org.junit.jupiter.api.Assertions;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;
import org.wedgecutter.core.testing.Corpus;

/** What mutated inputs did to the program once, and a few mutations more. */
class FoundInputsTest {
  private static final int MORE = Corpus.many(20, 60);
  private static final int FEW = Corpus.many(3, 8);
  private static final Duration LONGEST = Duration.ofSeconds(10);

  @TempDir private static Path dir;
  private static Ground ground;

  @BeforeAll
  static void make() throws Exception {
    ground = Ground.make(dir);
  }

  @ParameterizedTest
  @EnumSource
  void inputsOnceFoundAreTakenOrRefusedWithAReason(InputKind kind) throws Exception {
    URL found = FoundInputsTest.class.getResource(kind.folder());
    if (found == null) {
      return;
    }
    try (var files = Files.list(Path.of(found.toURI()))) {
      for (Path file : files.sorted().toList()) {
        byte[] bytes = Files.readAllBytes(file);
        Assertions.assertTimeoutPreemptively(
            LONGEST, () -> kind.ends(bytes, ground), file::toString);
      }
    }
  }

  @ParameterizedTest
  @EnumSource
  void seedsAreTakenAndTheirMutationsEnd(InputKind kind) throws Exception {
    Random random = new Random(kind.ordinal());
    int more =
        switch (kind) {
          // of links all single ones are seeds already
          case LINKS -> 0;
          // each is rendered, or handed over
          case BAND, RECIPE -> FEW;
          default -> MORE;
        };
    for (byte[] seed : seeds(kind)) {
      // plans of other shots name collections that this one does not have, and are taken too
      boolean isRefused = kind == InputKind.GLTF || kind == InputKind.LINKS;
      assertThat(kind.ends(seed, ground) || isRefused).as("a seed is valid").isTrue();
      for (int k = 0; k < more; k++) {
        byte[] mutated = mutated(seed, random);
        Assertions.assertTimeoutPreemptively(LONGEST, () -> kind.ends(mutated, ground));
      }
    }
  }

  /** All seeds; of links each name once, and each target twice or more, as all take a minute. */
  private static List<byte[]> seeds(InputKind kind) throws IOException {
    List<byte[]> all = FuzzSeeds.of(kind, ground);
    return kind == InputKind.LINKS
        ? all.stream().filter(s -> s[0] % LinkedDelivery.TARGETS.size() == s[1]).toList()
        : all;
  }

  /** Changes, moves or drops some bytes. */
  private static byte[] mutated(byte[] seed, Random random) {
    byte[] out = seed.clone();
    for (int n = 1 + random.nextInt(4); n > 0; n--) {
      int at = random.nextInt(out.length);
      switch (random.nextInt(4)) {
        case 0 -> out[at] = (byte) random.nextInt(256);
        case 1 -> out[at] ^= (byte) (1 << random.nextInt(8));
        case 2 -> out = Arrays.copyOf(out, Math.max(1, at));
        default -> {
          int from = random.nextInt(out.length);
          int length = Math.min(1 + random.nextInt(16), out.length - Math.max(at, from));
          System.arraycopy(out.clone(), from, out, at, length);
        }
      }
    }
    return out;
  }
}
