package org.wedgecutter.app.station.cut;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import javafx.scene.control.CheckBox;
import javafx.scene.control.Labeled;
import javafx.scene.control.TextField;
import javafx.scene.control.ToggleButton;
import javafx.scene.input.KeyCode;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.wedgecutter.app.testing.RealWindow;
import org.wedgecutter.app.theme.Theme;
import org.wedgecutter.app.viewer.ViewerPane;
import org.wedgecutter.core.plan.CatcherOutput;
import org.wedgecutter.core.plan.Join;
import org.wedgecutter.core.plan.LayerDef;
import org.wedgecutter.core.plan.PlanReader;
import org.wedgecutter.core.plan.Property;
import org.wedgecutter.core.plan.Role;
import org.wedgecutter.core.testing.ShotFolder;

/** The Cut station, by mouse and keyboard. Rows: Front, Back, Floor, the rest, the check row. */
class CutWindowTest {
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

  private void awaitChip(String text) throws Exception {
    Labeled chip = window.find("proof-chip", Labeled.class);
    window.await("the chip says " + text, () -> chip.getText().contains(text));
  }

  @Test
  void theDemoOfAWholePlanRejoinsExactly() throws Exception {
    awaitChip("rejoins exactly");
    assertThat(window.text("shot-name")).isEqualTo("set");
    assertThat(window.text("save-state")).isEqualTo("saved");
    assertThat(window.sheet().rows()).hasSize(6);
    assertThat(window.sheet().rows().get(4).detail()).isEqualTo("all");
  }

  @Test
  void oneLetterSetsARoleAndUndoTakesItBack() throws Exception {
    window.clickCell(0, 1);
    for (Role role : Role.values()) {
      window.press(KeyCode.valueOf(String.valueOf(role.key())));
      assertThat(window.cell(1, "Front").role()).isEqualTo(role);
      assertThat(window.text("save-state")).contains("modified", role.word());
    }
    window.press(KeyCode.CONTROL, KeyCode.Z);
    assertThat(window.cell(1, "Front").role()).isEqualTo(Role.UNSEEN);
    for (int k = 0; k < 4; k++) {
      window.press(KeyCode.CONTROL, KeyCode.Z);
    }
    assertThat(window.cell(1, "Front")).isNull();
    window.press(KeyCode.CONTROL, KeyCode.SHIFT, KeyCode.Z);
    assertThat(window.cell(1, "Front").role()).isEqualTo(Role.SEEN);
  }

  @Test
  void movingAThingChangesBothLayersWithoutTracingAnew() throws Exception {
    var before = RealWindow.fx(() -> window.pictures());
    window.clickCell(0, 1);
    RealWindow.fx(() -> {
      window.measureNextEdit();
      return null;
    });
    window.press(KeyCode.O);
    assertThat(window.cell(1, "Front").role()).isEqualTo(Role.SEEN);
    assertThat(window.cell(2, "Front").role()).isEqualTo(Role.HOLDOUT);
    window.await(
        "pictures of the new plan", () -> window.pictures().plan().equals(window.planNow()));
    var after = RealWindow.fx(() -> window.pictures());
    assertThat(after.uncut().rgba()).isEqualTo(before.uncut().rgba());
    assertThat(after.layer(1).rgba()).isNotEqualTo(before.layer(1).rgba());
    assertThat(after.layer(2).rgba()).isNotEqualTo(before.layer(2).rgba());
    assertThat(after.samples()).isEqualTo(before.samples());
    assertThat(window.editMillis()).isPositive();
    awaitChip("rejoins exactly");
  }

  @Test
  void aMistakeShowsInChipCheckRowFootAndResidual() throws Exception {
    var viewer = window.find("viewer", javafx.scene.layout.Region.class);
    window.press(KeyCode.DIGIT4);
    int[] dark = window.picture();
    window.clickCell(0, 1);
    window.press(KeyCode.S);
    awaitChip("residual");
    assertThat(window.sheet().rows().get(4).detail()).contains("1 twice");
    assertThat(foot()).contains("/front is seen in Back and Front");
    window.settle();
    window.awaitPicture("a residual", dark, false);
    window.press(KeyCode.DELETE);
    awaitChip("rejoins exactly");
    assertThat(foot()).contains("no findings");
  }

  private String foot() throws Exception {
    var bar = window.find("findings", javafx.scene.layout.VBox.class);
    return RealWindow.fx(() -> {
      StringBuilder out = new StringBuilder();
      bar.lookupAll("*").stream()
          .filter(Labeled.class::isInstance)
          .forEach(n -> out.append(((Labeled) n).getText()).append('\n'));
      return out.toString();
    });
  }

  @Test
  void aRangeOfCellsIsSetAtOnceAndIsOneStep() throws Exception {
    double[] from = RealWindow.fx(() -> sheet().centre(0, 0));
    double[] to = RealWindow.fx(() -> sheet().centre(2, 1));
    window.drag(window.sheet(), from, to);
    window.press(KeyCode.U);
    for (String row : new String[] {"Front", "Back", "Floor"}) {
      assertThat(window.cell(0, row).role()).isEqualTo(Role.UNSEEN);
      assertThat(window.cell(1, row).role()).isEqualTo(Role.UNSEEN);
    }
    window.press(KeyCode.CONTROL, KeyCode.Z);
    assertThat(window.cell(0, "Floor").role()).isEqualTo(Role.SEEN);
    assertThat(window.cell(1, "Front")).isNull();
  }

  private org.wedgecutter.app.sheet.SheetView sheet() {
    return window.sheetNow();
  }

  @Test
  void arrowsMoveAndShiftExtends() throws Exception {
    window.clickCell(0, 0);
    window.press(KeyCode.DOWN);
    window.press(KeyCode.RIGHT);
    assertThat(sheet().row()).isEqualTo(1);
    assertThat(sheet().column()).isEqualTo(1);
    window.press(KeyCode.SHIFT, KeyCode.DOWN);
    window.press(KeyCode.H);
    assertThat(window.cell(1, "Back").role()).isEqualTo(Role.HOLDOUT);
    assertThat(window.cell(1, "Floor").role()).isEqualTo(Role.HOLDOUT);
    window.press(KeyCode.HOME);
    assertThat(sheet().column()).isZero();
    window.press(KeyCode.END);
    assertThat(sheet().column()).isEqualTo(2);
    window.press(KeyCode.PAGE_DOWN);
    assertThat(sheet().row()).isEqualTo(5);
    // every object is held out of all other layers
    assertThat(RealWindow.fx(() -> sheet().getAccessibleText()))
        .contains("layer Front without a hole: grade; Front is cut out of");
    window.press(KeyCode.UP);
    assertThat(RealWindow.fx(() -> sheet().getAccessibleText()))
        .contains("objects seen in layer Front");
  }

  @Test
  void theRestIsACellOfItsOwn() throws Exception {
    window.clickCell(3, 0);
    window.press(KeyCode.U);
    assertThat(window.plan().layers().getFirst().rest().role()).isEqualTo(Role.UNSEEN);
    window.press(KeyCode.DELETE);
    assertThat(window.plan().layers().getFirst().rest().role())
        .as("the rest always has a role")
        .isEqualTo(Role.UNSEEN);
  }

  @Test
  void thePanelSaysForWhichLayerAndItsButtonsWork() throws Exception {
    window.clickCell(0, 1);
    assertThat(window.text("headline")).isEqualTo("Front in layer Back — this layer only");
    window.click("role-Holdout");
    assertThat(window.cell(1, "Front").role()).isEqualTo(Role.HOLDOUT);
    assertThat(RealWindow.fx(find("role-Holdout", ToggleButton.class)::isSelected)).isTrue();
    window.click("switch-shadow-casts");
    assertThat(window.cell(1, "Front").overrides())
        .singleElement()
        .satisfies(o -> {
          assertThat(o.property()).isEqualTo(Property.SHADOW_CASTS);
          assertThat(o.at(1)).isEqualTo(new org.wedgecutter.core.plan.Value.Switch(false));
        });
    window.click("switch-shadow-casts");
    assertThat(window.cell(1, "Front").overrides()).isEmpty();
  }

  private <T extends javafx.scene.Node> T find(String id, Class<T> type) throws Exception {
    return window.find(id, type);
  }

  @SuppressWarnings("unchecked")
  private void deliver(CatcherOutput output) throws Exception {
    javafx.scene.control.ChoiceBox<CatcherOutput> box =
        find("catcher-output", javafx.scene.control.ChoiceBox.class);
    RealWindow.fx(() -> {
      box.setValue(output);
      return null;
    });
  }

  @Test
  void aCatcherHasAnOutputAndOthersCanBeCasters() throws Exception {
    window.clickCell(2, 1);
    window.press(KeyCode.C);
    assertThat(window.cell(1, "Floor").role()).isEqualTo(Role.CATCHER);
    assertThat(window.shows("catcher-output")).isTrue();
    deliver(CatcherOutput.RATIO);
    window.settle();
    assertThat(window.cell(1, "Floor").catcher().output()).isEqualTo(CatcherOutput.RATIO);
    window.clickCell(0, 1);
    window.press(KeyCode.H);
    assertThat(RealWindow.fx(find("caster", CheckBox.class)::isSelected))
        .as("a Holdout is part of the plate")
        .isFalse();
    window.click("caster");
    assertThat(window.cell(1, "Front").catcher().caster()).isTrue();
  }

  @Test
  void aCatchIsFittedToBackgroundsAndTellsHowNearItComes() throws Exception {
    window.clickCell(2, 1);
    window.press(KeyCode.C);
    assertThat(window.shows("catcher-backgrounds")).as("of a catch alone").isFalse();
    deliver(CatcherOutput.CATCH);
    window.await("it is measured", () -> fit().contains("over 0.18 ("));
    window.enter("catcher-backgrounds", "0.05 bright");
    assertThat(window.text("catcher-trouble")).contains("expected a number");
    assertThat(window.cell(1, "Floor").catcher().tuning().backgrounds()).isEmpty();
    window.enter("catcher-backgrounds", "0.05 0.5");
    assertThat(window.cell(1, "Floor").catcher().tuning().backgrounds()).containsExactly(0.05, 0.5);
    window.await("it is measured again", () -> fit().contains("over 0.5 ("));
    assertThat(fit()).contains("over 0.05 (").doesNotContain("over 0.18");
    window.click("catcher-backgrounds");
    window.press(KeyCode.CONTROL, KeyCode.A);
    window.press(KeyCode.BACK_SPACE);
    window.press(KeyCode.ENTER);
    assertThat(window.cell(1, "Floor").catcher().tuning().backgrounds()).isEmpty();
  }

  private String fit() {
    return window.stage().getScene().getRoot().lookup("#catcher-fit")
            instanceof javafx.scene.control.Label label
        ? label.getText()
        : "";
  }

  @Test
  void aRuleIsJudgedWhileTypingAndTakenOnEnter() throws Exception {
    window.clickCell(0, -1);
    assertThat(window.text("headline")).contains("whole shot");
    assertThat(window.text("rule-count")).isEqualTo("1 of 4");
    TextField rule = find("rule", TextField.class);
    window.click("rule");
    RealWindow.fx(() -> {
      rule.setText("front | back &");
      return null;
    });
    window.settle();
    assertThat(window.text("rule-count")).contains("at character 15");
    window.press(KeyCode.ENTER);
    assertThat(window.plan().collections().getFirst().rule().text()).isEqualTo("front");
    RealWindow.fx(() -> {
      rule.setText("front | back");
      return null;
    });
    window.settle();
    assertThat(window.text("rule-count")).startsWith("2 of 4");
    window.press(KeyCode.ENTER);
    assertThat(window.plan().collections().getFirst().rule().text()).isEqualTo("front | back");
  }

  @Test
  void aRowOpensToItsMembersWhichCanBePutElsewhereByHand() throws Exception {
    window.clickCell(0, -1);
    window.click(sheet(), 10, RealWindow.fx(() -> sheet().centre(0, -1))[1]);
    assertThat(sheet().rows()).hasSize(7);
    assertThat(sheet().rows().get(1).label()).isEqualTo("/front");
    window.clickCell(1, 0);
    assertThat(window.text("headline")).contains("/front");
    window.click("pick-Floor");
    assertThat(window.plan().collections().get(0).removed()).containsExactly("/front");
    assertThat(window.plan().collections().get(2).added()).containsExactly("/front");
  }

  @Test
  void aJoinIsChosenFromThePlateBetweenTwoHeaders() throws Exception {
    double[] head = RealWindow.fx(() -> sheet().centre(-1, 1));
    double[] before = RealWindow.fx(() -> sheet().centre(-1, 0));
    double line = (head[0] + before[0]) / 2;
    window.click(sheet(), line + 4, org.wedgecutter.app.sheet.SheetView.HEAD - 12);
    // the menu opens on its first line, plus; the next is over
    window.press(KeyCode.DOWN);
    window.press(KeyCode.ENTER);
    assertThat(window.plan().join("Back")).contains(Join.OVER);
    awaitChip("residual");
  }

  @Test
  void aLayerIsSwitchedOffByItsMark() throws Exception {
    double[] head = RealWindow.fx(() -> sheet().centre(-1, 2));
    double[] before = RealWindow.fx(() -> sheet().centre(-1, 1));
    double right = head[0] + (head[0] - before[0]) / 2;
    window.click(sheet(), right - 14, org.wedgecutter.app.sheet.SheetView.HEAD - 33);
    assertThat(window.plan().layers().get(2).render()).isFalse();
    assertThat(foot()).contains("joined but disabled");
  }

  @Test
  void clickingThePictureFindsTheRow() throws Exception {
    var viewer = window.find("viewer", javafx.scene.layout.Region.class);
    var canvas =
        RealWindow.fx(() ->
            viewer.lookupAll(".window").isEmpty() ? ((ViewerPane) viewer).getCenter() : viewer);
    var box = RealWindow.fx(canvas::getBoundsInLocal);
    window.click(canvas, box.getCenterX(), box.getCenterY() + box.getWidth() * 0.2);
    String label = RealWindow.fx(() -> sheet().rows().get(sheet().row()).label());
    assertThat(label).startsWith("/");
    window.mouseTo(canvas, box.getCenterX() + 3, box.getCenterY());
    assertThat(RealWindow.fx(() -> text((javafx.scene.Parent) viewer))).contains("R ", "A ");
  }

  private static String text(javafx.scene.Parent of) {
    StringBuilder out = new StringBuilder();
    of.lookupAll(".label").forEach(n -> out.append(((Labeled) n).getText()).append('\n'));
    return out.toString();
  }

  @Test
  void viewsChannelsExposureWipeAndFlipChangeThePicture() throws Exception {
    var viewer = window.find("viewer", javafx.scene.layout.Region.class);
    window.press(KeyCode.DIGIT2);
    int[] uncut = window.picture();
    window.press(KeyCode.DIGIT1);
    window.awaitPicture("a layer", uncut, false);
    int[] layer = window.picture();
    window.press(KeyCode.W);
    window.awaitPicture("a wipe", layer, false);
    window.press(KeyCode.W);
    window.awaitPicture("no wipe", layer, true);
    window.press(KeyCode.F);
    window.awaitPicture("flipped", uncut, true);
    window.press(KeyCode.F);
    window.awaitPicture("flipped back", layer, true);
    var slider = find("exposure", javafx.scene.control.Slider.class);
    RealWindow.fx(() -> {
      slider.setValue(3);
      return null;
    });
    window.awaitPicture("brighter", layer, false);
    RealWindow.fx(() -> {
      slider.setValue(0);
      return null;
    });
    window.awaitPicture("as before", layer, true);
    var channel = find("channel", javafx.scene.control.ChoiceBox.class);
    RealWindow.fx(() -> {
      @SuppressWarnings("unchecked")
      javafx.scene.control.ChoiceBox<org.wedgecutter.app.viewer.View.Channel> box = channel;
      box.setValue(org.wedgecutter.app.viewer.View.Channel.ALPHA);
      return null;
    });
    window.awaitPicture("alpha", layer, false);
  }

  @Test
  void aViewComesBackAfterAnother() throws Exception {
    int[] uncut = window.picture();
    window.press(KeyCode.DIGIT1);
    window.awaitPicture("a layer", uncut, false);
    window.press(KeyCode.DIGIT2);
    window.awaitPicture("uncut again", uncut, true);
  }

  @Test
  void savingWritesTheFile() throws Exception {
    window.clickCell(0, 1);
    window.press(KeyCode.U);
    window.press(KeyCode.CONTROL, KeyCode.S);
    assertThat(window.text("save-state")).isEqualTo("saved");
    assertThat(
            PlanReader.read(dir.resolve("set.wedge")).layers().get(1).cells().get("Front").role())
        .isEqualTo(Role.UNSEEN);
  }

  @Test
  void badInputIsABannerAndNothingIsLost() throws Exception {
    window.clickCell(0, 1);
    window.press(KeyCode.U);
    byte[] glb = Files.readAllBytes(dir.resolve("set.glb"));
    Path cut = dir.resolve("cut.glb");
    Files.write(cut, Arrays.copyOf(glb, glb.length / 3));
    window.open(cut);
    window.click("open-discard");
    window.await("a banner", () -> window.stage().getScene().getRoot().lookup("#banner") != null);
    assertThat(window.text("banner-text")).contains("cut.glb", "the file is cut off");
    assertThat(window.cell(1, "Front").role()).isEqualTo(Role.UNSEEN);
    Path bad = dir.resolve("bad.wedge");
    Files.writeString(
        bad, ShotFolder.PLAN.replace("{\"layer\": \"Front\"", "{\"layer\": \"Ghost\""));
    window.open(bad);
    window.click("open-discard");
    Labeled text = find("banner-text", Labeled.class);
    window.await(
        "the other banner",
        () -> {
          Labeled now = (Labeled) window.stage().getScene().getRoot().lookup("#banner-text");
          return now != null && now.getText().contains("there is no layer 'Ghost'");
        });
    assertThat(text).isNotNull();
    assertThat(window.plan().layers().stream().map(LayerDef::name))
        .containsExactly("Floor", "Back", "Front");
  }

  @Test
  void theLightThemeIsLight() throws Exception {
    int[] dark = window.look(window.sheet());
    RealWindow.fx(() -> {
      window.setTheme(Theme.LIGHT);
      return null;
    });
    window.settle();
    int[] light = window.look(window.sheet());
    assertThat(brightness(light)).isGreaterThan(brightness(dark) + 60);
  }

  private static double brightness(int[] argb) {
    return Arrays.stream(argb).map(p -> p >> 8 & 255).average().orElse(0);
  }
}
