package org.wedgecutter.app.shell;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import javafx.scene.Node;
import javafx.scene.control.Label;
import javafx.scene.image.ImageView;
import javafx.scene.input.KeyCode;
import javafx.scene.paint.Color;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.wedgecutter.app.testing.RealWindow;
import org.wedgecutter.app.theme.Theme;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.PlanEdits;
import org.wedgecutter.core.plan.PlanReader;
import org.wedgecutter.core.plan.PlanWriter;
import org.wedgecutter.core.plan.Role;
import org.wedgecutter.core.testing.ShotFolder;

/** Why the layers do not rejoin, in the window. */
class ProofWindowTest {
  @TempDir Path dir;
  private RealWindow window;

  /** The front is Absent where the floor is shown: it casts no shadow there, and is not cut out. */
  @BeforeEach
  void open() throws Exception {
    Path file = ShotFolder.make(dir);
    Plan wrong =
        PlanEdits.cell(PlanReader.read(file), "Floor", "Front", c -> c.withRole(Role.ABSENT));
    PlanWriter.save(wrong, file);
    window = new RealWindow();
    window.openWhole(file);
  }

  @AfterEach
  void close() throws Exception {
    window.close();
  }

  /** The shares of the causes that are listed; on the interface thread. */
  private List<Double> shares() {
    List<Double> out = new ArrayList<>();
    Node label = lookup("finding-share-0");
    while (label != null) {
      String text = ((Label) label).getText();
      out.add(text.endsWith("%") ? Double.parseDouble(text.replace(" %", "")) : Double.NaN);
      label = lookup("finding-share-" + out.size());
    }
    return out;
  }

  private @Nullable Node lookup(String id) {
    return window.stage().getScene().getRoot().lookup("#" + id);
  }

  private double brightness(String id) throws Exception {
    return Arrays.stream(window.look(window.find(id, ImageView.class)))
        .mapToLong(p -> (p >> 16 & 0xff) + (p >> 8 & 0xff) + (p & 0xff))
        .sum();
  }

  @Test
  void causesAreMeasuredAddUpAndAreMendedAtTheirPictures() throws Exception {
    window.click("proof-chip");
    window.await("causes are measured", () -> lookup("cause-evidence-0") != null);
    List<Double> told = RealWindow.fx(this::shares);
    assertThat(told).hasSizeGreaterThan(1);
    assertThat(told.stream().mapToDouble(d -> d).sum()).isBetween(98.0, 101.0);

    window.click("cause-evidence-0");
    window.await("pictures are shown", () -> lookup("evidence-after") != null);
    double before = brightness("evidence-before-residual");
    assertThat(brightness("evidence-after-residual")).isLessThan(before);
    assertThat(window.look(window.find("evidence-after", ImageView.class)))
        .isNotEqualTo(window.look(window.find("evidence-before", ImageView.class)));

    Plan wrong = window.plan();
    window.click("evidence-fix");
    window.await("the drawer is closed", () -> lookup("evidence") == null);
    assertThat(window.plan()).isNotEqualTo(wrong);
    window.press(KeyCode.CONTROL, KeyCode.Z);
    assertThat(window.plan()).isEqualTo(wrong);
    window.await("the causes are back", () -> lookup("causes-tab").isVisible());
    window.click("proof-chip");
    window.await("measured again", () -> shares().equals(told));
  }

  @Test
  void theResidualHasTheHueOfTheLayerThatShowsThePixel() throws Exception {
    window.click("proof-chip");
    double floor = Theme.hue(window.plan().layers().getFirst().hue()).getHue();
    long hued =
        Arrays.stream(window.picture())
            .mapToObj(p -> Color.rgb(p >> 16 & 0xff, p >> 8 & 0xff, p & 0xff))
            .filter(c -> c.getSaturation() > 0.2 && Math.abs(c.getHue() - floor) < 4)
            .count();
    assertThat(hued).as("pixels in the floor's hue").isGreaterThan(200);
  }
}
