package org.wedgecutter.app.shell;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import java.util.stream.IntStream;
import javafx.scene.AccessibleAttribute;
import javafx.scene.Node;
import javafx.scene.Parent;
import javafx.scene.control.ButtonBase;
import javafx.scene.control.ChoiceBox;
import javafx.scene.control.ComboBoxBase;
import javafx.scene.control.Hyperlink;
import javafx.scene.control.Labeled;
import javafx.scene.control.Slider;
import javafx.scene.control.TextInputControl;
import javafx.scene.control.ToggleButton;
import javafx.scene.input.KeyCode;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.wedgecutter.app.files.Preferences;
import org.wedgecutter.app.files.StateFolder;
import org.wedgecutter.app.testing.RealWindow;
import org.wedgecutter.app.theme.Theme;
import org.wedgecutter.core.testing.ShotFolder;

/** Everything works without a mouse, and has a name for assistive technology. */
class KeyboardWindowTest {
  @TempDir Path dir;
  private RealWindow window;

  @BeforeEach
  void open() throws Exception {
    window = new RealWindow();
    window.openWhole(ShotFolder.make(dir));
  }

  @AfterEach
  void close() throws Exception {
    window.close();
  }

  private static boolean clickable(Node n) {
    return n instanceof ButtonBase
        || n instanceof TextInputControl
        || n instanceof ChoiceBox
        || n instanceof ComboBoxBase
        || n instanceof Slider
        || n instanceof Hyperlink;
  }

  private static boolean shown(Node n) {
    for (Node at = n; at != null; at = at.getParent()) {
      if (!at.isVisible()) {
        return false;
      }
    }
    return true;
  }

  private static void collect(Node n, List<Node> out) {
    if (clickable(n)) {
      if (shown(n) && !n.isDisabled()) {
        out.add(n);
      }
      return;
    }
    if (n instanceof Parent p) {
      p.getChildrenUnmodifiable().forEach(child -> collect(child, out));
    }
  }

  /** Walks by Tab until it comes round; returns what could be clicked but was never focused. */
  private List<Node> missed() throws Exception {
    window.clickCell(0, 0);
    List<Node> all =
        RealWindow.fx(() -> {
          List<Node> out = new ArrayList<>();
          collect(window.stage().getScene().getRoot(), out);
          return out;
        });
    Set<Node> focused = new HashSet<>();
    for (int k = 0; k < 2 * all.size() + 20; k++) {
      window.press(KeyCode.TAB);
      Node at = focusOwner();
      focused.add(at);
      if (k > 5 && "sheet".equals(at.getId())) {
        break;
      }
    }
    assertThat(all.size()).isGreaterThan(20);
    List<Node> out = new ArrayList<>(all);
    out.removeIf(focused::contains);
    return out;
  }

  private Node focusOwner() throws Exception {
    return RealWindow.fx(() -> window.stage().getScene().getFocusOwner());
  }

  @Test
  void tabReachesAllThatCanBeClickedAtEveryStation() throws Exception {
    for (String station : List.of("shot", "cut", "output", "render")) {
      window.click("station-" + station);
      assertThat(missed()).as(station).isEmpty();
    }
  }

  @Test
  void aStationIsChosenByKeysAlone() throws Exception {
    ToggleButton shot = window.find("station-shot", ToggleButton.class);
    ToggleButton cut = window.find("station-cut", ToggleButton.class);
    focus(cut);
    window.press(KeyCode.LEFT);
    assertThat(cut.isSelected()).isTrue();
    assertThat(window.shows("bar-collection")).isTrue();
    focus(shot);
    window.press(KeyCode.SPACE);
    assertThat(shot.isSelected()).isTrue();
    assertThat(cut.isSelected()).isFalse();
    assertThat(window.shows("bar-collection")).isFalse();
  }

  private static void focus(Node node) throws Exception {
    RealWindow.fx(() -> {
      node.requestFocus();
      return node;
    });
  }

  @Test
  void tabReachesThePanelOfACatcherAndTheFindings() throws Exception {
    window.clickCell(2, 1);
    window.press(KeyCode.C);
    window.clickCell(0, 1);
    window.press(KeyCode.S);
    window.await("findings", () -> !window.findings().isEmpty());
    window.settle();
    window.clickCell(2, 1);
    assertThat(missed()).isEmpty();
  }

  @Test
  void everyControlHasANameForThoseWhoDoNotSeeIt() throws Exception {
    List<String> nameless =
        RealWindow.fx(() -> {
          List<Node> all = new ArrayList<>();
          collect(window.stage().getScene().getRoot(), all);
          List<String> out = new ArrayList<>();
          for (Node n : all) {
            boolean labelled = n instanceof Labeled l && !l.getText().isBlank();
            if (!labelled && (n.getAccessibleText() == null || n.getAccessibleText().isBlank())) {
              out.add(String.valueOf(n.getId()));
            }
          }
          return out;
        });
    assertThat(nameless).isEmpty();
  }

  @Test
  void theSheetTellsItsRowsCellsAndValues() throws Exception {
    window.clickCell(0, 2);
    var told =
        RealWindow.fx(() -> {
          var sheet = window.sheetNow();
          List<Object> out = new ArrayList<>();
          out.add(sheet.queryAccessibleAttribute(AccessibleAttribute.ROW_COUNT));
          out.add(sheet.queryAccessibleAttribute(AccessibleAttribute.COLUMN_COUNT));
          Node focus = (Node) sheet.queryAccessibleAttribute(AccessibleAttribute.FOCUS_ITEM);
          out.add(focus.getAccessibleText());
          out.add(focus.queryAccessibleAttribute(AccessibleAttribute.COLUMN_INDEX));
          Node cell =
              (Node) sheet.queryAccessibleAttribute(AccessibleAttribute.CELL_AT_ROW_COLUMN, 1, 2);
          out.add(cell.getAccessibleText());
          return out;
        });
    assertThat(told.get(0)).isEqualTo(6);
    assertThat(told.get(1)).isEqualTo(4);
    assertThat(told.get(2)).asString().startsWith("Front in layer Front: Seen");
    assertThat(told.get(3)).isEqualTo(3);
    assertThat(told.get(4)).asString().startsWith("Back in layer Back: Seen");
  }

  @Test
  void shortcutsWorkWhereverTheKeyboardIs() throws Exception {
    window.clickCell(0, 0);
    window.press(KeyCode.U);
    window.click("look-uncut");
    window.press(KeyCode.CONTROL, KeyCode.Z);
    assertThat(window.text("save-state")).isEqualTo("saved");
    window.press(KeyCode.CONTROL, KeyCode.SHIFT, KeyCode.Z);
    assertThat(window.text("save-state")).contains("Unseen");
    window.press(KeyCode.CONTROL, KeyCode.S);
    window.await("saved", () -> window.stage().getScene().getRoot().lookup("#save-state") != null);
    window.await(
        "it is on the disk",
        () -> {
          try {
            return Files.readString(dir.resolve("set.wedge")).contains("Unseen");
          } catch (java.io.IOException e) {
            return false;
          }
        });
  }

  @Test
  void theThemeIsChosenInTheMenuAndRemembered() throws Exception {
    int[] dark = window.look(window.sheet());
    window.click("view-menu");
    window.choose("Light theme");
    assertThat(alike(dark, window.look(window.sheet()))).isLessThan(0.2);
    Preferences kept = new Preferences(StateFolder.path());
    window.await("remembered", () -> kept.theme().equals(Theme.LIGHT.name()));
    window.click("view-menu");
    window.choose("Dark theme");
    window.await("remembered", () -> kept.theme().equals(Theme.DARK.name()));
    assertThat(alike(dark, window.look(window.sheet()))).isGreaterThan(0.9);
  }

  /** Share of the pixels that two pictures of one size have in common. */
  private static double alike(int[] a, int[] b) {
    return (double) IntStream.range(0, a.length).filter(i -> a[i] == b[i]).count() / a.length;
  }

  @Test
  void causesLeadSomewhereAndAreFixedAndFindingsComeBack() throws Exception {
    window.clickCell(0, 1);
    window.press(KeyCode.S);
    window.await("findings", () -> !window.findings().isEmpty());
    Labeled chip = window.find("proof-chip", Labeled.class);
    window.await("causes", () -> chip.getText().contains("cause"));
    window.click("proof-chip");
    // shares are measured after the causes are named
    window.await("shares", () -> footNow().contains("%"));
    window.click("findings-tab");
    assertThat(foot()).contains("error").doesNotContain("%");
    window.click("causes-tab");
    window.clickCell(3, 0);
    window.click("finding-show-0");
    assertThat(RealWindow.fx(() -> window.sheetNow().row())).isNotEqualTo(3);
    window.click("finding-fix-0");
    window.await("it rejoins", () -> chip.getText().equals("rejoins exactly"));
    assertThat(window.findings()).isEmpty();
  }

  private String foot() throws Exception {
    return RealWindow.fx(this::footNow);
  }

  private String footNow() {
    StringBuilder out = new StringBuilder();
    window.stage().getScene().lookup("#findings").lookupAll("*").stream()
        .filter(Labeled.class::isInstance)
        .forEach(n -> out.append(((Labeled) n).getText()).append('\n'));
    return out.toString();
  }
}
