package org.wedgecutter.core.deliver.file;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.concurrent.CancellationException;
import java.util.concurrent.atomic.AtomicInteger;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.wedgecutter.core.deliver.Delivery;
import org.wedgecutter.core.deliver.check.DeliveryProof;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.core.plan.Correction;
import org.wedgecutter.core.plan.MatteDef;
import org.wedgecutter.core.plan.Recipe;
import org.wedgecutter.core.proof.BeforeAfter;
import org.wedgecutter.core.testing.Renders;
import org.wedgecutter.core.testing.ShotFolder;

/** A frame of files, put together by one recipe after another. */
class DeliveryFrameTest {
  @TempDir Path dir;
  private Delivery delivery;

  @BeforeEach
  void render() throws Exception {
    delivery = Renders.delivery(ShotFolder.load(dir.resolve("shot")), dir.resolve("out"), 1, false);
  }

  private Recipe corrected(Correction... with) {
    return delivery.plan().recipe().withCorrections(List.of(with));
  }

  @Test
  void recipesGiveWhatACommandGives() throws Exception {
    DeliveryFrame frame = new DeliveryFrame(delivery, 2);
    List<Recipe> recipes =
        List.of(
            delivery.plan().recipe(),
            corrected(Correction.of("Back", "", Correction.Type.EXPOSURE, 1.0)),
            corrected(Correction.of("Back", "diffuse.direct", Correction.Type.EXPOSURE, 1.0)),
            corrected(Correction.of("", "", Correction.Type.SATURATION, 0.2)),
            delivery.plan().recipe());
    for (Recipe recipe : recipes) {
      Delivery with = delivery.withRecipe(recipe, dir);
      assertThat(frame.rejoined(recipe, dir, 1).rgba())
          .isEqualTo(DeliveryPictures.corrected(with, 2).rgba());
    }
    Picture small = frame.rejoined(recipes.get(1), dir, 4);
    assertThat(small.width()).isEqualTo(delivery.width() / 4);
  }

  @Test
  void eachFileIsReadOnce() throws Exception {
    DeliveryFrame frame = new DeliveryFrame(delivery, 2);
    Recipe plain = delivery.plan().recipe();
    Picture before = frame.rejoined(plain, dir, 1);
    Files.delete(delivery.folder().resolve(delivery.held("Back", 2).orElseThrow().path()));
    assertThat(frame.rejoined(plain, dir, 1).rgba()).isEqualTo(before.rgba());
    Recipe darker = corrected(Correction.of("Front", "", Correction.Type.EXPOSURE, -1.0));
    assertThat(frame.rejoined(darker, dir, 1).rgba()).isNotEqualTo(before.rgba());
  }

  @Test
  void aFileThatComesBackIsRead() throws Exception {
    DeliveryFrame frame = new DeliveryFrame(delivery, 1);
    Recipe plain = delivery.plan().recipe();
    Path file = delivery.folder().resolve(delivery.held("Back", 1).orElseThrow().path());
    Path away = dir.resolve("away.exr");
    Files.move(file, away);
    assertThatThrownBy(() -> frame.rejoined(plain, dir, 1))
        .isInstanceOf(InputException.class)
        .hasMessageContaining(String.valueOf(file.getFileName()));
    Files.move(away, file);
    assertThat(frame.rejoined(plain, dir, 1).rgba())
        .isEqualTo(DeliveryPictures.corrected(delivery, 1).rgba());
    Recipe matte =
        corrected(Correction.of("Back", "", Correction.Type.EXPOSURE, 1.0).through("m"))
            .withMattes(List.of(MatteDef.picked("m", "/back")));
    assertThatThrownBy(() -> frame.rejoined(matte, dir, 1))
        .as("what the files lack")
        .isInstanceOf(InputException.class)
        .hasMessageContaining("ID mattes");
  }

  private static double light(Picture of) {
    double sum = 0;
    for (float v : of.rgba()) {
      sum += Math.abs(v);
    }
    return sum;
  }

  @Test
  void aProofIsStoppedInTheMidst() throws Exception {
    Renders.brighten(delivery, "Back", 1);
    DeliveryProof whole = DeliveryProof.prove(delivery, 1);
    BeforeAfter evidence = whole.evidence().get(whole.causes().getFirst());
    assertThat(light(evidence.residual(evidence.after())))
        .as("the evidence: with the file put right nearly nothing is left")
        .isLessThan(light(evidence.residual(evidence.before())) / 50);
    AtomicInteger asked = new AtomicInteger();
    assertThatThrownBy(() -> DeliveryProof.prove(delivery, 1, () -> asked.incrementAndGet() > 3))
        .isInstanceOf(CancellationException.class);
    assertThat(asked.get()).isBetween(4, 6);
  }
}
