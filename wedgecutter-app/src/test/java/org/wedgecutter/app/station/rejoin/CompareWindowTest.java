package org.wedgecutter.app.station.rejoin;

import static org.assertj.core.api.Assertions.assertThat;
import static org.mockito.ArgumentMatchers.any;
import static org.mockito.ArgumentMatchers.anyString;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.when;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import javafx.scene.Node;
import javafx.scene.control.Label;
import javafx.scene.control.ScrollPane;
import javafx.scene.image.ImageView;
import javafx.scene.input.KeyCode;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.wedgecutter.app.files.FileAsker;
import org.wedgecutter.app.panel.FactGrid;
import org.wedgecutter.app.testing.RealWindow;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.plan.PlanEdits;
import org.wedgecutter.core.plan.PlanWriter;
import org.wedgecutter.core.plan.Role;
import org.wedgecutter.core.testing.Renders;
import org.wedgecutter.core.testing.ShotFolder;

/** The residual by frame, and two deliveries against one another. */
class CompareWindowTest {
  @TempDir Path dir;
  private final FileAsker asker = mock(FileAsker.class);
  private RealWindow window;
  private LoadedShot right;
  private Path plan;

  @BeforeEach
  void open() throws Exception {
    plan = ShotFolder.make(dir);
    right = LoadedShot.load(plan);
    // the front is seen in no layer
    PlanWriter.save(
        PlanEdits.cell(right.plan(), "Front", "Front", c -> c.withRole(Role.HOLDOUT)), plan);
    window = new RealWindow();
    RealWindow.fx(() -> {
      window.setAsker(asker);
      return null;
    });
    window.openWhole(plan);
    window.click("station-rejoin");
  }

  @AfterEach
  void close() throws Exception {
    window.close();
  }

  private FactGrid.Facts facts(String id) throws Exception {
    FactGrid grid = window.find(id, FactGrid.class);
    return RealWindow.fx(grid::facts);
  }

  @Test
  void theResidualOfEachFrameIsShownAndWhatItLiesOn() throws Exception {
    window.click("bar-compare");
    window.click("compare-frames");
    window.click("frames-start");
    window.await("all frames are proven", () -> told("frames-told").contains("rejoin exactly"));
    assertThat(window.text("frames-told")).isEqualTo("0 of 2 frames rejoin exactly");
    FactGrid.Facts facts = facts("frames-shares");
    assertThat(facts.rows()).first().isEqualTo("in no layer");
    assertThat(facts.rows()).anyMatch(r -> r.endsWith("/front"));
    window.click("station-cut");
    window.clickCell(0, 2);
    window.press(KeyCode.S);
    window.click("frames-start");
    window.await(
        "the plan is proven as it is now",
        () -> told("frames-told").equals("2 of 2 frames rejoin exactly"));
    window.press(KeyCode.CONTROL, KeyCode.Z);
    window.click("station-rejoin");
    window.click("frames-start");
    window.await("and undone", () -> told("frames-told").equals("0 of 2 frames rejoin exactly"));

    ImageView pictures = window.find("frames-pictures", ImageView.class);
    assertThat(pictures.getImage().getWidth()).as("two tiles, three gaps").isEqualTo(2 * 127 + 36);
    int[] look = window.look(pictures);
    assertThat(Arrays.stream(look).distinct().count()).isGreaterThan(50);
    Path file = dir.resolve("frames.png");
    when(asker.toSave(anyString(), any(), anyString())).thenReturn(file);
    window.click("frames-save");
    window.await("the file is there", () -> Files.isRegularFile(file));
    assertThat(javax.imageio.ImageIO.read(file.toFile()).getWidth()).isEqualTo(2 * 240 + 36);

    window.enter("frames-range", "7");
    window.click("frames-start");
    assertThat(window.text("frames-told"))
        .isEqualTo("None of these frames is in the shot's range.");
    window.enter("frames-range", "two");
    assertThat(window.text("frames-trouble")).isNotEmpty();
  }

  private String told(String id) {
    Node label = window.stage().getScene().getRoot().lookup("#" + id);
    return label instanceof Label l ? l.getText() : "";
  }

  @Test
  void twoDeliveriesAreComparedLayerByLayerWithPictures() throws Exception {
    String name = right.name();
    Renders.delivery(right, dir.resolve(name + "-v001"), 1, false);
    Renders.delivery(LoadedShot.load(plan), dir.resolve(name + "-v002"), 1, false);
    window.click("bar-compare");
    window.click("compare-deliveries");
    window.click("deliveries-start");
    window.await(
        "they are compared",
        () -> told("deliveries-told").contains("frames match within rounding"));
    assertThat(window.text("deliveries-told")).startsWith("0 of 2");
    FactGrid.Facts facts = facts("deliveries-table");
    int front = facts.rows().indexOf("Front");
    assertThat(facts.cells().get(facts.rows().indexOf("Back")).getFirst().text()).isEqualTo("same");
    assertThat(facts.cells().get(front).getFirst().bar()).isPositive();
    FactGrid grid = window.find("deliveries-table", FactGrid.class);
    RealWindow.fx(() -> {
      grid.select(front, 1);
      return null;
    });
    Node pictures = window.find("pair-pictures", Node.class);
    window.await("the pictures are shown", () -> pictures.getLayoutBounds().getHeight() > 100);
    window.click("pair-first");
    int[] first = window.look(pictures);
    window.click("pair-second");
    int[] second = window.look(pictures);
    assertThat(second).hasSameSizeAs(first).isNotEqualTo(first);
    window.click("pair-wipe");
    int width = (int) Math.round(pictures.getLayoutBounds().getWidth());
    window.drag(pictures, new double[] {0.5 * width, 50}, new double[] {0.25 * width, 60});
    int[] wiped = window.look(pictures);
    // left of the line is the first, right of it the second
    // the last line may be of a part of a pixel
    for (int p = 0; p < first.length - width; p++) {
      double x = (p % width + 0.5) / width;
      if (Math.abs(x - 0.25) > 0.01) {
        assertThat(wiped[p]).isEqualTo(x < 0.25 ? first[p] : second[p]);
      }
    }
    window.click("pair-difference");
    assertThat(window.look(pictures)).isNotEqualTo(first).isNotEqualTo(second);

    window.enter("deliveries-frames", "2");
    window.click("deliveries-start");
    window.await("one frame is compared", () -> told("deliveries-told").startsWith("0 of 1"));
  }

  @Test
  void theContactSheetFitsIntoTheDrawer() throws Exception {
    window.click("bar-compare");
    window.await("the sheet is there", () -> told("sheet-told").isEmpty());
    ScrollPane scroll = window.find("sheet-scroll", ScrollPane.class);
    int[] look = window.look(scroll);
    assertThat(Arrays.stream(look).distinct().count()).isGreaterThan(50);
    double sheet = RealWindow.fx(() -> scroll.getContent().getLayoutBounds().getWidth());
    assertThat(sheet)
        .isLessThanOrEqualTo(RealWindow.fx(() -> scroll.getViewportBounds().getWidth()));
  }
}
