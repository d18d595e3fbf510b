package org.wedgecutter.core.deliver.check;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.util.Comparator;
import java.util.List;
import java.util.stream.Stream;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.TestInstance;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import org.wedgecutter.core.deliver.Delivery;
import org.wedgecutter.core.deliver.file.DeliveryPictures;
import org.wedgecutter.core.deliver.file.ExrFrames;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.mistake.Sentence;
import org.wedgecutter.core.proof.Cause;
import org.wedgecutter.core.testing.Programs;
import org.wedgecutter.core.testing.Renders;
import org.wedgecutter.core.testing.ShotFolder;

/** Deliveries that are compared band by band tell what they tell when compared at once. */
@TestInstance(TestInstance.Lifecycle.PER_CLASS)
class BandsOfFilesTest {
  private static final int WHOLE = Integer.MAX_VALUE;

  /** Bands of 32 lines: three of the frame's 96. */
  private static final int BAND = 1;

  private Path dir;
  private Path clean;

  @BeforeAll
  void render(@TempDir Path folder) throws Exception {
    dir = folder;
    clean = dir.resolve("clean");
    Delivery made = Renders.delivery(ShotFolder.load(dir.resolve("shot")), clean, 4, false);
    assertThat(made.height()).isGreaterThan(64);
  }

  private Path copied(String name) throws Exception {
    Path to = dir.resolve(name);
    try (Stream<Path> all = Files.walk(clean)) {
      for (Path from : all.sorted(Comparator.naturalOrder()).toList()) {
        Files.copy(from, to.resolve(clean.relativize(from).toString()));
      }
    }
    return to;
  }

  private static DeliveryProof prove(Path folder, int band) throws Exception {
    return FrameSearch.proof(Delivery.read(folder), 1, true, band, () -> false);
  }

  private static void same(DeliveryProof a, DeliveryProof b) {
    assertThat(a.exact()).isEqualTo(b.exact());
    assertThat(a.residual().max()).isEqualTo(b.residual().max());
    assertThat(a.residual().maxRelative()).isEqualTo(b.residual().maxRelative());
    assertThat(a.residual().rms()).isCloseTo(b.residual().rms(), within(1e-9));
    assertThat(a.residual().beyond()).isEqualTo(b.residual().beyond());
    assertThat(a.residual().invalid()).isEqualTo(b.residual().invalid());
    assertThat(a.residual().worstX()).isEqualTo(b.residual().worstX());
    assertThat(a.residual().worstY()).isEqualTo(b.residual().worstY());
    assertThat(a.residual().absolute()).isEqualTo(b.residual().absolute());
    assertThat(a.causes().stream().map(Cause::text))
        .containsExactlyElementsOf(b.causes().stream().map(Cause::text).toList());
  }

  private static Path file(Path folder, String layer) throws Exception {
    return folder.resolve(Delivery.read(folder).held(layer, 1).orElseThrow().path());
  }

  @Test
  void aCleanFrameIsExactEitherWay() throws Exception {
    DeliveryProof whole = prove(clean, WHOLE);
    assertThat(whole.exact()).isTrue();
    same(prove(clean, BAND), whole);
  }

  @ParameterizedTest
  @ValueSource(strings = {"Floor", "Back", "Front"})
  void aBrighterFileIsNamedOnceWithAllOfTheResidual(String layer) throws Exception {
    Path folder = copied("bright-" + layer);
    Renders.brighten(Delivery.read(folder), layer, 1);
    DeliveryProof banded = prove(folder, BAND);
    same(banded, prove(folder, WHOLE));
    assertThat(banded.causes()).hasSize(1);
    assertThat(banded.causes().getFirst().layer()).isEqualTo(layer);
    assertThat(banded.causes().getFirst().share()).isCloseTo(1, within(0.01));
    assertThat(banded.unexplained()).isLessThan(0.01);
  }

  @Test
  void numbersOfTwoBandsThatAreNotFiniteAreCountedTogether() throws Exception {
    Path folder = copied("nan");
    Path floor = file(folder, "Floor");
    Picture p = ExrFrames.read(floor).copy();
    int at = 4 * (3 * p.width() + 5);
    p.rgba()[at] = Float.NaN;
    p.rgba()[at + 1] = Float.NaN;
    p.rgba()[4 * (70 * p.width() + 9)] = Float.NaN;
    DeliveryPictures.write(Delivery.read(folder), p, floor);
    DeliveryProof banded = prove(folder, BAND);
    DeliveryProof whole = prove(folder, WHOLE);
    same(banded, whole);
    Cause told =
        banded.causes().stream()
            .filter(c -> c.message().sentence() == Sentence.FILE_INVALID)
            .findFirst()
            .orElseThrow();
    assertThat(told.message().arguments()).containsEntry("count", 3).containsEntry("at", "5, 3");
  }

  @Test
  void aDisplacedDataWindowIsNamedByItsWay() throws Exception {
    Path folder = copied("displaced");
    Path front = file(folder, "Front");
    Programs.run(folder, "oiiotool", front.toString(), "--originoffset", "+2+1", "-o", "moved.exr");
    Files.move(folder.resolve("moved.exr"), front, StandardCopyOption.REPLACE_EXISTING);
    DeliveryProof banded = prove(folder, BAND);
    same(banded, prove(folder, WHOLE));
    assertThat(banded.causes().getFirst().message().sentence()).isEqualTo(Sentence.FILE_MOVED);
    assertThat(banded.causes().getFirst().message().arguments()).containsEntry("amount", "2, 1");
  }

  @Test
  void twoFilesWithMistakesInOtherBandsAreBothNamed() throws Exception {
    Path folder = copied("two");
    for (String layer : List.of("Floor", "Back")) {
      Path file = file(folder, layer);
      Picture p = ExrFrames.read(file).copy();
      int from = layer.equals("Floor") ? 80 : 0;
      for (int i = 4 * from * p.width(); i < 4 * (from + 16) * p.width(); i++) {
        p.rgba()[i] += (i & 3) == 3 ? 0 : 0.25f;
      }
      DeliveryPictures.write(Delivery.read(folder), p, file);
    }
    DeliveryProof banded = prove(folder, BAND);
    assertThat(banded.causes().stream().map(Cause::layer))
        .containsExactlyInAnyOrder("Floor", "Back");
    assertThat(banded.causes().stream().mapToDouble(Cause::share).sum()).isCloseTo(1, within(0.02));
  }
}
