package org.wedgecutter.app.station.rejoin;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import javafx.scene.Node;
import javafx.scene.control.Label;
import javafx.scene.image.Image;
import javafx.scene.image.ImageView;
import javafx.scene.input.KeyCode;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.wedgecutter.app.testing.RealWindow;
import org.wedgecutter.core.deliver.Delivery;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.testing.Renders;
import org.wedgecutter.core.testing.ShotFolder;

/** The files of a delivery in the viewer, beside what is traced. */
class FilesInViewWindowTest {
  @TempDir Path dir;
  private RealWindow window;
  private Path plan;
  private Delivery delivery;

  @BeforeEach
  void open() throws Exception {
    plan = ShotFolder.make(dir);
    delivery = Renders.delivery(LoadedShot.load(plan), dir.resolve("set-v001"), 1, false);
    window = new RealWindow();
    window.openWhole(plan);
    window.click("station-rejoin");
  }

  @AfterEach
  void close() throws Exception {
    window.close();
  }

  private void choose() throws Exception {
    window.goTo("files", -1);
    window.pick("files-delivery", dir.resolve("set-v001"));
    awaitStatus("set-v001   40×24   2 samples");
  }

  private void awaitStatus(String text) throws Exception {
    Label status = window.find("viewer-status", Label.class);
    window.await(text, () -> status.getText().startsWith(text));
  }

  private String proof() {
    return window.stage().getScene().getRoot().lookup("#files-proof") instanceof Label l
        ? l.getText()
        : "";
  }

  /** Whether two looks are the same but for the rounding of half floats. */
  private static boolean isAlike(int[] a, int[] b) {
    int far = 0;
    for (int p = 0; p < a.length; p++) {
      for (int shift = 0; shift < 24; shift += 8) {
        far += Math.abs((a[p] >> shift & 255) - (b[p] >> shift & 255)) > 2 ? 1 : 0;
      }
    }
    return a.length == b.length && far == 0;
  }

  @Test
  void theFilesAreShownByTheRecipeOfThePlan() throws Exception {
    int[] traced = window.picture();
    choose();
    int[] files = window.picture();
    assertThat(isAlike(files, traced)).as("the same samples").isTrue();
    window.goTo("exposure", 2);
    window.enter("correction-value-0", "2");
    window.awaitPicture("the recipe changes the files", files, false);
    int[] brighter = window.picture();
    window.press(KeyCode.DIGIT3);
    window.awaitPicture("and what is traced", traced, false);
    assertThat(isAlike(window.picture(), brighter)).isTrue();
    window.press(KeyCode.DIGIT7);
    awaitStatus("set-v001");
    window.goTo("files", -1);
    window.click("files-none");
    assertThat(window.find("look-files", Node.class).isVisible()).isFalse();
    awaitStatus("rejoined");
    window.press(KeyCode.DIGIT7);
    awaitStatus("rejoined");
  }

  @Test
  void whatIsMissingIsTold() throws Exception {
    Files.delete(delivery.folder().resolve(delivery.held("Back", 2).orElseThrow().path()));
    choose();
    int[] first = window.picture();
    window.press(KeyCode.RIGHT);
    window.goTo("files", -1);
    RealWindow.fx(() -> {
      window.stage().getScene().getRoot().lookup("#timeline").requestFocus();
      return null;
    });
    window.press(KeyCode.RIGHT);
    awaitStatus("set-v001: no such file, though the delivery lists it");
    assertThat(Arrays.equals(window.picture(), first)).isFalse();
  }

  @Test
  void aFileThatWasChangedIsFoundByAProof() throws Exception {
    choose();
    window.click("files-prove");
    window.await("proved", () -> proof().equals("Frame 1 rejoins exactly."));
    String file = Renders.brighten(delivery, "Back", 1);
    window.click("files-prove");
    window.await("found", () -> proof().startsWith("Frame 1: max residual"));
    assertThat(window.text("files-cause-0")).startsWith("100 %: " + file + " is +0.59 EV off");
    window.click("files-show-0");
    Image left = window.find("evidence-after-residual", ImageView.class).getImage();
    assertThat(bright(window.find("evidence-before-residual", ImageView.class).getImage()))
        .as("what is wrong shines")
        .isGreaterThan(20 * Math.max(1, bright(left)));
  }

  private static int bright(Image image) {
    int out = 0;
    for (int y = 0; y < image.getHeight(); y++) {
      for (int x = 0; x < image.getWidth(); x++) {
        out += image.getPixelReader().getColor(x, y).getBrightness() > 0.5 ? 1 : 0;
      }
    }
    return out;
  }

  @Test
  void aDeliveryThatIsWrittenAgainIsReadAgain() throws Exception {
    choose();
    Path manifest = delivery.folder().resolve(Delivery.MANIFEST);
    Files.writeString(manifest, "{}");
    window.click("station-cut");
    window.click("station-rejoin");
    window.goTo("files", -1);
    Label told = window.find("files-told", Label.class);
    assertThat(told.getText()).startsWith("Cannot read the delivery").contains(manifest.toString());
    assertThat(window.find("look-files", Node.class).isVisible()).isFalse();
  }
}
