package org.wedgecutter.app.station.cut;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Path;
import java.util.List;
import javafx.scene.control.Labeled;
import javafx.scene.control.TableView;
import javafx.scene.control.TextField;
import javafx.scene.input.KeyCode;
import javafx.stage.Popup;
import javafx.stage.Window;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.wedgecutter.app.sheet.SheetView;
import org.wedgecutter.app.testing.RealWindow;
import org.wedgecutter.core.plan.CatcherOptions;
import org.wedgecutter.core.plan.CatcherTuning;
import org.wedgecutter.core.plan.CellOverride;
import org.wedgecutter.core.plan.CollectionDef;
import org.wedgecutter.core.plan.LayerDef;
import org.wedgecutter.core.plan.Output;
import org.wedgecutter.core.plan.Property;
import org.wedgecutter.core.plan.Role;
import org.wedgecutter.core.plan.Value;
import org.wedgecutter.core.testing.ShotFolder;

/** Collections, layers and overrides by hand, on a real window. */
class CuttingWindowTest {
  @TempDir private Path dir;
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

  private SheetView sheet() {
    return window.sheetNow();
  }

  private List<String> layers() throws Exception {
    return window.plan().layers().stream().map(LayerDef::name).toList();
  }

  private List<String> rows() throws Exception {
    return window.plan().collections().stream().map(CollectionDef::name).toList();
  }

  private String told() throws Exception {
    return RealWindow.fx(() -> sheet().getAccessibleText());
  }

  @Test
  void theStatusNamesTheLayerAsItIsWritten() throws Exception {
    window.clickCell(0, 0);
    window.click("look-layer");
    window.await("the layer", () -> window.whole());
    assertThat(window.text("viewer-status")).startsWith("Floor ").contains("40×24", "samples");
  }

  // ---- collections

  @Test
  void aRuleIsCompletedWhileTypedAndShownInThePicture() throws Exception {
    window.clickCell(0, -1);
    window.click("rule");
    window.press(KeyCode.CONTROL, KeyCode.A);
    window.type("path:/b");
    window.press(KeyCode.TAB);
    TextField rule = window.find("rule", TextField.class);
    String text = RealWindow.fx(rule::getText);
    assertThat(text).isEqualTo("path:/back");
    assertThat(window.text("rule-count")).startsWith("1 of 4");
    int[] marked = window.picture();
    window.press(KeyCode.ENTER);
    assertThat(window.plan().collections().getFirst().rule().text()).isEqualTo("path:/back");
    window.clickCell(0, 0);
    window.awaitPicture("the mark goes", marked, false);
  }

  @Test
  void completionsGrowUpwardsAndNeverCoverTheRule() throws Exception {
    window.clickCell(0, -1);
    window.click("rule");
    window.press(KeyCode.CONTROL, KeyCode.A);
    TextField rule = window.find("rule", TextField.class);
    double few = 0;
    for (String text : List.of("path:/bac", "path:/")) {
      window.press(KeyCode.CONTROL, KeyCode.A);
      window.type(text);
      window.settle();
      double[] heights =
          RealWindow.fx(() -> {
            Window popup =
                Window.getWindows().stream()
                    .filter(w -> w instanceof Popup && w.isShowing())
                    .findFirst()
                    .orElseThrow();
            double top = rule.localToScreen(0, 0).getY();
            return new double[] {popup.getHeight(), popup.getY() + popup.getHeight() - top};
          });
      assertThat(heights[0]).isGreaterThan(few);
      assertThat(heights[1]).as("the popup ends above the field").isLessThanOrEqualTo(1);
      few = heights[0];
    }
  }

  @Test
  void rowsAreAddedRenamedMovedAndTakenAway() throws Exception {
    window.clickCell(1, -1);
    window.click("bar-collection");
    assertThat(rows()).containsExactly("Front", "New collection", "Back", "Floor");
    // the name is ready to be typed, then the rule
    window.type("Boards");
    window.press(KeyCode.ENTER);
    assertThat(rows()).containsExactly("Front", "Boards", "Back", "Floor");
    window.type("floor");
    window.press(KeyCode.ENTER);
    assertThat(window.plan().collections().get(1).rule().text()).isEqualTo("floor");
    window.clickCell(1, -1);
    window.press(KeyCode.ALT, KeyCode.UP);
    assertThat(rows()).startsWith("Boards", "Front");
    double[] from = RealWindow.fx(() -> sheet().centre(0, -1));
    double[] to = RealWindow.fx(() -> sheet().centre(3, -1));
    window.drag(window.sheet(), from, to);
    assertThat(rows()).containsExactly("Front", "Back", "Boards", "Floor");
    window.menu(2, -1, "Delete collection Boards");
    assertThat(rows()).containsExactly("Front", "Back", "Floor");
  }

  @Test
  void aCollectionThatNobodyNamedIsNamedByWhatItMatches() throws Exception {
    window.clickCell(1, -1);
    window.click("bar-collection");
    window.press(KeyCode.ENTER);
    assertThat(rows()).containsExactly("Front", "New collection", "Back", "Floor");
    window.type("name:floor");
    // once for the completion, once for the rule
    window.press(KeyCode.ESCAPE);
    window.press(KeyCode.ENTER);
    assertThat(rows()).containsExactly("Front", "floor", "Back", "Floor");
  }

  @Test
  void escapeKeepsTheOldName() throws Exception {
    window.clickCell(0, 1);
    window.press(KeyCode.F2);
    window.type("nothing");
    window.press(KeyCode.ESCAPE);
    assertThat(layers()).containsExactly("Floor", "Back", "Front");
    window.press(KeyCode.F2);
    window.type("wall");
    window.press(KeyCode.ENTER);
    assertThat(layers()).containsExactly("Floor", "wall", "Front");
    assertThat(RealWindow.fx(() -> sheet().isFocused())).as("the keyboard is back").isTrue();
  }

  @Test
  void aNameThatExistsIsRefusedWithAReason() throws Exception {
    window.clickCell(0, 1);
    window.press(KeyCode.F2);
    window.press(KeyCode.CONTROL, KeyCode.A);
    window.type("Front");
    window.press(KeyCode.ENTER);
    assertThat(layers()).containsExactly("Floor", "Back", "Front");
    window.await(
        "a message says so", () -> told("already a layer named Front; Back keeps its name"));
    window.clickCell(0, -1);
    window.press(KeyCode.F2);
    window.press(KeyCode.CONTROL, KeyCode.A);
    window.type("Back");
    window.press(KeyCode.ENTER);
    window.await(
        "a message says so", () -> told("already a collection named Back; Front keeps its name"));
    assertThat(window.plan().collection("Front")).isPresent();
  }

  private boolean told(String text) {
    return window.stage().getScene().getRoot().lookupAll(".label").stream()
        .anyMatch(n -> n instanceof javafx.scene.control.Label l && l.getText().contains(text));
  }

  @Test
  void aLineOfTheOverridesLeadsToItsRow() throws Exception {
    window.clickCell(3, 1);
    window.pick("override-add", Property.ROUGHNESS);
    window.click("station-output");
    window.goTo("samples", 2);
    window.pick("override-add", Property.SAMPLES);
    window.enter("override-value-samples", "7");
    assertThat(window.plan().layers().get(2).settings()).hasSize(1);
    window.click("station-cut");
    window.clickCell(0, 0);
    window.click("bar-overrides");
    assertThat(window.text("override-count")).isEqualTo("2 of 2 overrides");
    var table = window.find("override-table", javafx.scene.control.TableView.class);
    RealWindow.fx(() -> {
      table.getSelectionModel().select(0);
      return null;
    });
    assertThat(List.of(sheet().row(), sheet().column())).as("the rest").containsExactly(3, 1);
    RealWindow.fx(() -> {
      table.getSelectionModel().select(1);
      return null;
    });
    assertThat(RealWindow.fx(() -> sheet().rows().get(sheet().row()).label())).isEqualTo("samples");
    assertThat(sheet().column()).isEqualTo(2);
  }

  @Test
  void joinsRenderMarksAndMenusAreReachedByKeys() throws Exception {
    window.clickCell(0, 1);
    window.press(KeyCode.R);
    assertThat(window.plan().layers().get(1).render()).isFalse();
    window.press(KeyCode.R);
    assertThat(window.plan().layers().get(1).render()).isTrue();
    window.press(KeyCode.J);
    window.choose("Join Back by over");
    assertThat(window.plan().join("Back").orElseThrow().word()).isEqualTo("over");
    window.press(KeyCode.SHIFT, KeyCode.F10);
    window.choose("Layer Back", "Duplicate layer");
    assertThat(layers()).containsExactly("Floor", "Back", "Back copy", "Front");
  }

  @Test
  void aMemberIsDraggedToAnotherRow() throws Exception {
    window.click(sheet(), 10, RealWindow.fx(() -> sheet().centre(0, -1))[1]);
    double[] from = RealWindow.fx(() -> sheet().centre(1, -1));
    double[] to = RealWindow.fx(() -> sheet().centre(3, -1));
    window.drag(window.sheet(), from, to);
    assertThat(window.plan().collections().get(2).added()).containsExactly("/front");
    assertThat(window.plan().collections().get(0).removed()).containsExactly("/front");
  }

  @Test
  void aThingIsDraggedFromThePictureToARow() throws Exception {
    var viewer = window.find("viewer", javafx.scene.layout.Region.class);
    int[] at =
        RealWindow.fx(() -> {
          var p = window.pictures();
          for (int y = 12; y < 24; y++) {
            for (int x = 12; x < 40; x++) {
              if (p.facts().entityAt(x, y) == 0 && p.facts().entityAt(x + 1, y) == 0) {
                return new int[] {x, y};
              }
            }
          }
          throw new AssertionError("the front is nowhere");
        });
    double[] place =
        RealWindow.fx(() -> {
          // the picture is fitted into the room between the viewer's bars
          var canvas = viewer.lookup(".canvas-of-pictures");
          double zoom =
              Math.min(
                  (canvas.getLayoutBounds().getWidth() - 20) / 40,
                  (canvas.getLayoutBounds().getHeight() - 20) / 24);
          double x = (canvas.getLayoutBounds().getWidth() - 40 * zoom) / 2 + (at[0] + 0.5) * zoom;
          double y = (canvas.getLayoutBounds().getHeight() - 24 * zoom) / 2 + (at[1] + 0.5) * zoom;
          var scene = canvas.localToScene(x, y);
          var local = viewer.sceneToLocal(scene);
          return new double[] {local.getX(), local.getY()};
        });
    window.drag(viewer, place, sheet(), RealWindow.fx(() -> sheet().centre(2, 1)));
    // picking has opened the row of what was picked: the row that it fell on is one further down
    assertThat(window.plan().collections().stream().filter(c -> c.added().contains("/front")))
        .hasSize(1);
  }

  // ---- layers

  @Test
  void layersAreAddedCopiedRenamedReorderedAndTakenAway() throws Exception {
    window.clickCell(0, 1);
    window.click("bar-layer");
    window.type("fog");
    window.press(KeyCode.ENTER);
    assertThat(layers()).containsExactly("Floor", "Back", "fog", "Front");
    assertThat(window.plan().join("fog")).isPresent();
    window.menu(-1, 1, "Duplicate");
    assertThat(layers()).containsExactly("Floor", "Back", "Back copy", "fog", "Front");
    window.clickCell(0, 2);
    window.press(KeyCode.ALT, KeyCode.LEFT);
    assertThat(layers()).startsWith("Floor", "Back copy", "Back");
    assertThat(window.plan().recipe().joins().get(1).layer()).isEqualTo("Back copy");
    window.menu(-1, 1, "Delete layer");
    window.menu(-1, 2, "Delete layer");
    assertThat(layers()).containsExactly("Floor", "Back", "Front");
  }

  @Test
  void aCatcherIsSplitByPassFromItsHeader() throws Exception {
    window.clickCell(2, 1);
    window.press(KeyCode.C);
    window.menu(-1, 1, "Split catcher by pass");
    assertThat(layers()).as("it shows something, too").hasSize(3);
    window.press(KeyCode.ESCAPE);
    window.clickCell(1, 1);
    window.press(KeyCode.H);
    window.menu(-1, 1, "Split catcher by pass");
    assertThat(layers())
        .containsExactly(
            "Floor", "Back shadow", "Back occlusion", "Back bounce", "Back reflection", "Front");
    assertThat(window.plan().output().more("Floor")).contains(Output.More.ENVIRONMENT);
    window.press(KeyCode.CONTROL, KeyCode.Z);
    assertThat(layers()).containsExactly("Floor", "Back", "Front");
  }

  @Test
  void soloIsOfTheWindowAndNotOfThePlan() throws Exception {
    var before = window.plan();
    window.menu(-1, 2, "Solo");
    assertThat(window.plan()).isEqualTo(before);
    window.click("station-render");
    assertThat(window.text("render-start")).isEqualTo("Render Front only");
    window.click("station-cut");
    window.menu(-1, 2, "Solo");
    window.click("station-render");
    assertThat(window.text("render-start")).isEqualTo("Render");
  }

  @Test
  void aLayerIsMadeFromTheSelectionAndRejoins() throws Exception {
    window.clickCell(2, -1);
    window.click("bar-selection");
    window.choose("New layer from selection, with");
    assertThat(layers()).contains("floor 2", "floor shadow and reflection");
    window.await(
        "rejoins",
        () ->
            window.findings().stream()
                .noneMatch(
                    f -> f.severity() == org.wedgecutter.core.mistake.Mistake.Severity.ERROR));
    Labeled chip = window.find("proof-chip", Labeled.class);
    window.await("the chip", () -> window.whole() && chip.getText().equals("rejoins exactly"));
    window.press(KeyCode.CONTROL, KeyCode.Z);
    assertThat(layers()).containsExactly("Floor", "Back", "Front");
  }

  @Test
  void aPresetMakesTheLayersAnew() throws Exception {
    window.clickCell(0, -1);
    window.click("bar-presets");
    assertThat(window.text("drawer-title")).isEqualTo("Presets");
    window.click("preset-1");
    assertThat(layers()).containsExactly("Everything else", "Front");
    assertThat(window.shows("drawer")).isFalse();
    window.click("bar-presets");
    window.click("preset-of-Front");
    window.click("preset-1");
    assertThat(window.text("banner-text")).contains("Choose the collections");
    window.press(KeyCode.ESCAPE);
    assertThat(window.shows("drawer")).isFalse();
  }

  @Test
  void aSelectionIsSplitIntoLayers() throws Exception {
    window.clickCell(1, 0);
    window.press(KeyCode.SHIFT, KeyCode.DOWN);
    window.menu(1, -1, "Split selection into layers", "One per object");
    // the environment is left alone in its layer, which is then its own
    assertThat(layers()).containsExactly("Floor", "floor 2", "Back", "Front");
    assertThat(window.text("save-state")).contains("modified", "split into layers");
  }

  // ---- overrides

  @Test
  void anOverrideIsAddedChangedSwitchedAndTakenAway() throws Exception {
    window.clickCell(0, 2);
    window.pick("override-add", Property.ROUGHNESS);
    assertThat(overrides())
        .singleElement()
        .satisfies(o -> assertThat(o.property()).isEqualTo(Property.ROUGHNESS));
    window.enter("override-value-material-roughness", "0.25");
    assertThat(overrides().getFirst().at(1)).isEqualTo(new Value.Num(0.25));
    assertThat(window.text("override-after-material-roughness")).isEqualTo("→ 0.25");
    window.pick("override-verb-material-roughness", Property.Verb.SCALE);
    window.enter("override-value-material-roughness", "0.5");
    assertThat(overrides().getFirst().verb()).isEqualTo(Property.Verb.SCALE);
    window.enter("override-value-material-roughness", "1: 0.5; 2: 1");
    assertThat(overrides().getFirst().keys()).hasSize(2);
    window.enter("override-value-material-roughness", "x");
    assertThat(window.text("override-trouble")).contains("is not a number");
    window.click("override-on-material-roughness");
    assertThat(overrides().getFirst().on()).isFalse();
    window.click("override-remove-material-roughness");
    assertThat(overrides()).isEmpty();
    window.pick("override-add", Property.MATERIAL);
    window.pick("override-value-material", "white");
    assertThat(overrides().getFirst().at(1)).isEqualTo(new Value.Text("white"));
  }

  private List<CellOverride> overrides() throws Exception {
    return window.plan().layers().get(2).cell("Front").overrides();
  }

  @Test
  void cellsAreCopiedPastedAndFilledWithTheirOverrides() throws Exception {
    window.clickCell(0, 2);
    window.click("switch-shadow-casts");
    window.press(KeyCode.CONTROL, KeyCode.C);
    window.clickCell(1, 0);
    window.press(KeyCode.CONTROL, KeyCode.V);
    assertThat(window.cell(0, "Back")).isEqualTo(window.cell(2, "Front"));
    window.press(KeyCode.SHIFT, KeyCode.DOWN);
    window.press(KeyCode.CONTROL, KeyCode.D);
    assertThat(window.cell(0, "Floor")).isEqualTo(window.cell(2, "Front"));
    window.clickCell(1, 0);
    window.press(KeyCode.SHIFT, KeyCode.RIGHT);
    window.press(KeyCode.CONTROL, KeyCode.R);
    assertThat(window.cell(1, "Back")).isEqualTo(window.cell(2, "Front"));
    window.press(KeyCode.CONTROL, KeyCode.X);
    assertThat(window.cell(1, "Back")).isNull();
    window.press(KeyCode.CONTROL, KeyCode.V);
    assertThat(window.cell(1, "Back").role()).isEqualTo(Role.SEEN);
  }

  @Test
  void theBrowserFindsOverridesAndGoesToTheirCells() throws Exception {
    window.clickCell(0, 2);
    window.click("switch-shadow-casts");
    window.clickCell(1, 1);
    window.pick("override-add", Property.METAL);
    window.click("bar-overrides");
    assertThat(window.text("override-count")).isEqualTo("2 of 2 overrides");
    window.click("override-search");
    window.type("shadow front");
    assertThat(window.text("override-count")).isEqualTo("1 of 2 overrides");
    TableView<?> table = window.find("override-table", TableView.class);
    RealWindow.fx(() -> {
      table.getSelectionModel().select(0);
      return null;
    });
    window.settle();
    assertThat(sheet().row()).isZero();
    assertThat(sheet().column()).isEqualTo(2);
  }

  @Test
  void settingsOfALayerAreOverriddenAtTheOutputStation() throws Exception {
    window.click("station-output");
    window.clickCell(4, 1);
    assertThat(window.text("headline")).isEqualTo("Settings of layer Back — this layer only");
    window.pick("override-add", Property.SIZE);
    window.pick("override-verb-size", Property.Verb.SCALE);
    window.enter("override-value-size", "0.5");
    assertThat(window.plan().layers().get(1).setting(Property.SIZE).orElseThrow().at(1))
        .isEqualTo(new Value.Num(0.5));
    assertThat(told()).contains("bounces in layer Back");
    window.await(
        "half as large",
        () ->
            window.pictures().plan().equals(window.planNow())
                && window.pictures().layer(1).width() == 20);
  }

  // ---- findings, check row, explaining

  @Test
  void aFindingIsShownAndMendedByAClick() throws Exception {
    window.clickCell(0, 1);
    window.press(KeyCode.S);
    window.await("a finding", () -> !window.findings().isEmpty());
    window.settle();
    window.click("finding-show-0");
    assertThat(told()).contains("/front");
    window.click("finding-fix-0");
    window.await("mended", () -> window.findings().isEmpty());
    assertThat(window.text("save-state")).contains("fix: an object is seen in two layers");
    window.press(KeyCode.CONTROL, KeyCode.Z);
    window.await("the fix is undone", () -> !window.findings().isEmpty());
  }

  @Test
  void theCheckRowLeadsToWhatIsWrong() throws Exception {
    window.clickCell(0, 2);
    window.press(KeyCode.H);
    assertThat(sheet().rows().get(4).detail()).contains("1 missing");
    window.await("a finding", () -> !window.findings().isEmpty());
    window.clickCell(4, 0);
    assertThat(window.text("seen-1")).contains("frames 1 to 2: 1 missing");
    window.click("check-fix-0");
    assertThat(sheet().rows().get(4).detail()).isEqualTo("all");
  }

  @Test
  void anEntityIsExplained() throws Exception {
    window.click(sheet(), 10, RealWindow.fx(() -> sheet().centre(0, -1))[1]);
    window.clickCell(1, 1);
    assertThat(window.text("explain-role")).isEqualTo("Holdout in layer Back, decided by the rest");
    assertThat(window.text("explain")).contains("Front: no role", "shadow.casts: on");
  }

  @Test
  void aCatcherIsWeakenedAndBoundedByHandAndToldAsACause() throws Exception {
    window.clickCell(2, 0);
    window.press(KeyCode.C);
    window.enter("catcher-opacity", "0.5");
    window.enter("catcher-reflection", "much");
    window.enter("catcher-reach", "1.5 x 0.8");
    CatcherTuning t = window.cell(0, "Floor").catching().tuning();
    assertThat(t.opacity()).isEqualTo(0.5);
    assertThat(t.reflection()).as("what is no number changes nothing").isEqualTo(1);
    assertThat(t.reach().across()).isEqualTo(1.5);
    assertThat(t.reach().along()).isEqualTo(0.8);
    window.enter("catcher-opacity", "7");
    assertThat(window.text("catcher-trouble")).contains("'7': expected a number from 0 to 1");
    assertThat(window.cell(0, "Floor").catching().tuning().opacity()).isEqualTo(0.5);
    window.enter("catcher-opacity", "1");
    window.click("catcher-reach");
    window.press(KeyCode.CONTROL, KeyCode.A);
    window.press(KeyCode.BACK_SPACE);
    window.press(KeyCode.ENTER);
    assertThat(window.cell(0, "Floor").catching().tuning()).isEqualTo(CatcherTuning.USUAL);
    window.press(KeyCode.CONTROL, KeyCode.Z);
    assertThat(window.cell(0, "Floor").catching().tuning().reach()).isNotNull();
    window.click("catches-shadows");
    assertThat(window.cell(0, "Floor").catching().leftOut())
        .containsExactly(CatcherOptions.Part.SHADOWS);
  }
}
