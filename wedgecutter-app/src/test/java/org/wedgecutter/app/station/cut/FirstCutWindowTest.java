package org.wedgecutter.app.station.cut;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Path;
import java.util.List;
import javafx.scene.control.Labeled;
import javafx.scene.input.KeyCode;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.wedgecutter.app.live.Pictures;
import org.wedgecutter.app.testing.RealWindow;
import org.wedgecutter.core.plan.CollectionDef;
import org.wedgecutter.core.plan.LayerDef;
import org.wedgecutter.core.testing.ShotFolder;

/** The first minutes with a scene of one's own: no plan yet. */
class FirstCutWindowTest {
  @TempDir Path dir;
  private RealWindow window;

  @BeforeEach
  void open() throws Exception {
    window = new RealWindow();
    ShotFolder.make(dir);
    window.open(dir.resolve("set.glb"));
    window.await("the scene is open", () -> window.planNow() != null);
    window.settle();
  }

  @AfterEach
  void close() throws Exception {
    window.close();
  }

  private String advice() throws Exception {
    return RealWindow.fx(() -> window.sheetNow().getAccessibleHelp());
  }

  private List<String> layers() throws Exception {
    return window.plan().layers().stream().map(LayerDef::name).toList();
  }

  @Test
  void aFreshSceneSaysWhatToDoFirstUntilSomethingIsNamed() throws Exception {
    assertThat(layers()).containsExactly("All");
    assertThat(advice()).contains("+ Collection");
    window.clickCell(0, -1);
    window.click("bar-collection");
    window.type("Hero");
    window.press(KeyCode.ENTER);
    assertThat(window.plan().collections()).extracting(CollectionDef::name).containsExactly("Hero");
    assertThat(advice()).isEmpty();
  }

  @Test
  void theProposalRejoinsExactly() throws Exception {
    Labeled chip = window.find("proof-chip", Labeled.class);
    window.clickCell(0, -1);
    window.click("bar-selection");
    window.choose("Split selection into layers", "One per object");
    assertThat(layers()).hasSizeGreaterThan(2);
    window.await(
        "it rejoins",
        () -> {
          Pictures p = window.pictures();
          return p != null
              && p.plan().equals(window.planNow())
              && chip.getText().equals("rejoins exactly");
        });
    assertThat(window.findings()).isEmpty();
    window.press(KeyCode.CONTROL, KeyCode.Z);
    assertThat(layers()).containsExactly("All");
  }
}
