package org.wedgecutter.app.station.rejoin;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;
import static org.mockito.ArgumentMatchers.any;
import static org.mockito.ArgumentMatchers.anyString;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.when;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.Label;
import javafx.scene.control.Slider;
import javafx.scene.control.TextField;
import javafx.scene.input.KeyCode;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.wedgecutter.app.files.FileAsker;
import org.wedgecutter.app.panel.Typed;
import org.wedgecutter.app.testing.RealWindow;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.mistake.Sentence;
import org.wedgecutter.core.plan.Background;
import org.wedgecutter.core.plan.CellOverride;
import org.wedgecutter.core.plan.Correction;
import org.wedgecutter.core.plan.Join;
import org.wedgecutter.core.plan.MatteDef;
import org.wedgecutter.core.plan.Output;
import org.wedgecutter.core.plan.Property;
import org.wedgecutter.core.plan.Recipe;
import org.wedgecutter.core.plan.Shot;
import org.wedgecutter.core.plan.Value;
import org.wedgecutter.core.testing.Renders;
import org.wedgecutter.core.testing.ShotFolder;

/** Rejoining by hand: joins, corrections, levels of lights, mattes, and what is handed over. */
class RejoinWindowTest {
  private static final int FRONT = 2;

  @TempDir private Path dir;
  private final FileAsker asker = mock(FileAsker.class);
  private RealWindow window;
  private Path plan;

  @BeforeEach
  void open() throws Exception {
    window = new RealWindow();
    RealWindow.fx(() -> {
      window.setAsker(asker);
      return null;
    });
    plan = ShotFolder.make(dir);
    window.openWhole(plan);
    window.click("station-rejoin");
  }

  @AfterEach
  void close() throws Exception {
    window.close();
  }

  private Recipe recipe() throws Exception {
    return window.plan().recipe();
  }

  @Test
  void aSliderThatIsDraggedIsOneEditAndChangesTheRejoinedPictureAlone() throws Exception {
    int[] before = window.picture();
    window.goTo("exposure", FRONT);
    assertThat(window.text("headline")).isEqualTo("Exposure of layer Front — this layer only");
    Slider slider = window.find("correction-slider", Slider.class);
    double middle = RealWindow.fx(() -> slider.getWidth() / 2);
    window.drag(slider, new double[] {middle, 8}, new double[] {middle + 50, 8});
    assertThat(recipe().corrections()).hasSize(1);
    Correction made = recipe().corrections().getFirst();
    assertThat(made.layer()).isEqualTo("Front");
    assertThat(made.values().getFirst()).isGreaterThan(1);
    window.awaitPicture("the front is brighter", before, false);
    window.press(KeyCode.DIGIT6);
    window.awaitPicture("the joins alone are as they were", before, true);
    window.press(KeyCode.DIGIT3);
    assertThat(window.text("proof-chip")).isEqualTo("rejoins exactly");
    window.goTo("exposure", FRONT);
    window.press(KeyCode.SPACE);
    assertThat(recipe().corrections().getFirst().on()).isFalse();
    window.awaitPicture("off", before, true);
    window.press(KeyCode.CONTROL, KeyCode.Z);
    window.press(KeyCode.CONTROL, KeyCode.Z);
    assertThat(recipe().corrections()).as("the drag is one step").isEmpty();
  }

  @Test
  void aCorrectionIsKeyedAtTwoFramesAndFollowsThem() throws Exception {
    window.goTo("exposure", FRONT);
    window.enter("correction-value-0", "1");
    window.click("correction-key");
    assertThat(window.text("correction-keys")).isEqualTo("keys at 1");
    timeline(KeyCode.END);
    window.enter("correction-value-0", "-2");
    assertThat(window.text("correction-keys")).isEqualTo("keys at 1, 2");
    Correction made = recipe().corrections().getFirst();
    assertThat(made.at(1).values()).containsExactly(1.0);
    assertThat(made.at(2).values()).containsExactly(-2.0);
    window.await("traced", () -> window.whole() && window.pictures().frame() == 2);
    int[] second = window.picture();
    timeline(KeyCode.HOME);
    assertThat(window.find("correction-value-0", TextField.class).getText()).isEqualTo("1");
    timeline(KeyCode.END);
    window.await("traced", () -> window.whole() && window.pictures().frame() == 2);
    window.click("correction-key");
    assertThat(window.text("correction-keys")).isEqualTo("keys at 1");
    assertThat(window.find("correction-value-0", TextField.class).getText()).isEqualTo("1");
    window.awaitPicture("brighter at once", second, false);
    window.press(KeyCode.CONTROL, KeyCode.Z);
    window.awaitPicture("as it was", second, true);
  }

  private void timeline(KeyCode key) throws Exception {
    Node timeline = window.find("timeline", Node.class);
    RealWindow.fx(() -> {
      timeline.requestFocus();
      return null;
    });
    window.press(key);
  }

  @Test
  void whatIsDraggedComesAsSmallAsItIsShownAndWholeWhereItRests() throws Exception {
    window.goTo("exposure", FRONT);
    Node picture = window.find("viewer", Node.class).lookup(".canvas-of-pictures");
    RealWindow.fx(() -> {
      picture.requestFocus();
      return null;
    });
    for (int k = 0; k < 18; k++) {
      window.press(KeyCode.MINUS);
    }
    int[] before = window.picture();
    int drafts = RealWindow.fx(window::drafts);
    Slider slider = window.find("correction-slider", Slider.class);
    double middle = RealWindow.fx(() -> slider.getWidth() / 2);
    window.hold(slider, new double[] {middle, 8});
    window.mouseTo(slider, middle + 40, 8);
    window.await("a draft", () -> window.drafts() > drafts);
    window.awaitPicture("whole while the button is still down", before, false);
    String now = Typed.text(recipe().corrections().getFirst().values().getFirst());
    assertThat(window.find("correction-value-0", TextField.class).getText())
        .as("its number, too")
        .isEqualTo(now)
        .isNotEqualTo("0");
    int[] rested = window.picture();
    window.mouseTo(slider, middle + 50, 8);
    window.release();
    window.awaitPicture("brighter still", rested, false);
    int[] dragged = window.picture();
    double value = recipe().corrections().getFirst().values().getFirst();
    window.press(KeyCode.CONTROL, KeyCode.Z);
    window.goTo("exposure", FRONT);
    int typed = RealWindow.fx(window::drafts);
    window.enter("correction-value-0", String.valueOf(value));
    window.awaitPicture("the same as if it was typed", dragged, true);
    assertThat(RealWindow.fx(window::drafts)).as("nothing is dragged").isEqualTo(typed);
  }

  @Test
  void valuesAreTypedAndWhatIsWrongIsToldAndKept() throws Exception {
    window.goTo("contrast", 0);
    window.enter("correction-value-0", "0");
    assertThat(window.text("correction-trouble")).contains("expected");
    assertThat(recipe().corrections()).isEmpty();
    window.enter("correction-value-0", "1.4");
    assertThat(recipe().corrections().getFirst().values()).containsExactly(1.4, 0.18);
    window.press(KeyCode.ESCAPE);
    window.goTo("contrast", 0);
    window.press(KeyCode.DELETE);
    assertThat(recipe().corrections()).isEmpty();
    window.goTo("saturation", -1);
    assertThat(window.text("headline"))
        .isEqualTo("Saturation of the rejoined picture — all layers");
    window.enter("correction-value-0", "0");
    assertThat(recipe().corrections().getFirst().layer()).isEmpty();
    window.click("bar-switch");
    assertThat(recipe().corrections().getFirst().on()).isFalse();
  }

  @Test
  void theJoinThatFitsIsOfferedWithItsReason() throws Exception {
    window.goTo("join", FRONT);
    window.pick("join", "over");
    assertThat(window.plan().join("Front")).contains(Join.OVER);
    javafx.scene.control.Labeled chip =
        window.find("proof-chip", javafx.scene.control.Labeled.class);
    window.await("the proof sees it", () -> chip.getText().startsWith("max residual"));
    Button right = window.find("join-right", Button.class);
    assertThat(RealWindow.fx(right::getText)).isEqualTo("Join by plus");
    window.click("join-right");
    assertThat(window.plan().join("Front")).contains(Join.PLUS);
    window.enter("opacity", "40");
    assertThat(recipe().joins().get(FRONT).opacity()).isEqualTo(0.4);
    window.pick("join", "depth");
    assertThat(window.plan().output().more()).as("its pass is written").contains(Output.More.DEPTH);
    window.click("bar-joins");
    assertThat(recipe().joins().get(FRONT).join()).isEqualTo(Join.PLUS);
    assertThat(recipe().joins().get(FRONT).opacity()).isEqualTo(1);
  }

  @Test
  void levelsOfLightsAreMixedAndWrittenBackIntoThePlan() throws Exception {
    float[] before = rejoined();
    window.click("bar-mixer");
    assertThat(window.text("headline")).isEqualTo("Levels — all joined layers");
    window.enter("mixer-level-environment", "1");
    assertThat(recipe().corrections())
        .hasSize(3)
        .allMatch(c -> c.pass().equals("light.environment"));
    assertThat(window.plan().output().more()).contains(Output.More.LIGHTS);
    window.await("the pictures are whole", window::whole);
    float[] relit = rejoined();
    window.click("mixer-write");
    assertThat(recipe().corrections()).isEmpty();
    List<CellOverride> written =
        window.plan().layers().stream()
            .flatMap(l -> l.cells().values().stream())
            .flatMap(c -> c.overrides().stream())
            .toList();
    assertThat(written)
        .hasSize(3)
        .allMatch(o -> o.property() == Property.LIGHT_INTENSITY)
        .allMatch(o -> o.keys().getFirst().value().equals(new Value.Num(2)));
    window.await("the pictures are whole", window::whole);
    // all light is the environment's: the same picture from brighter light, but for the clamp
    float[] bright = rejoined();
    assertThat(bright).containsExactly(relit, within(0.1f));
    assertThat(sum(bright)).isCloseTo(sum(relit), within(1e-3 * sum(relit)));
    assertThat(sum(bright)).isGreaterThan(1.8 * sum(before));
  }

  private float[] rejoined() throws Exception {
    return RealWindow.fx(
        () -> java.util.Objects.requireNonNull(window.pictures()).rejoined().rgba());
  }

  private static double sum(float[] rgba) {
    double out = 0;
    for (int i = 0; i < rgba.length; i++) {
      out += (i & 3) == 3 ? 0 : rgba[i];
    }
    return out;
  }

  @Test
  void aShapeIsDrawnInThePictureAndMattesAreMadeOfOthers() throws Exception {
    window.click("bar-matte");
    window.pick("matte-source", MatteDef.Source.SHAPE);
    window.drag(window.canvas(), window.onCanvas(0.5, 0.5), window.onCanvas(0.3, 0.4));
    MatteDef.Outline moved = recipe().mattes().getFirst().outline();
    assertThat(moved.right()).isCloseTo(0.3, within(0.02));
    assertThat(moved.down()).isCloseTo(0.4, within(0.02));
    // its right end turns and stretches it
    double w = window.plan().requireShot().width();
    double h = window.plan().requireShot().height();
    double end = moved.right() + moved.across() * h / w;
    window.drag(
        window.canvas(),
        window.onCanvas(end, moved.down()),
        window.onCanvas(moved.right(), moved.down() + 0.5));
    MatteDef.Outline turned = recipe().mattes().getFirst().outline();
    assertThat(turned.turn()).isCloseTo(90, within(3.0));
    assertThat(turned.across()).isCloseTo(0.5, within(0.03));
    window.press(KeyCode.CONTROL, KeyCode.Z);
    assertThat(recipe().mattes().getFirst().outline()).isEqualTo(moved);
    window.pick("matte-form", MatteDef.Outline.Form.RECTANGLE);
    window.enter("matte-soft", "2");
    assertThat(window.text("matte-trouble")).contains("0 to 1");
    window.press(KeyCode.ESCAPE);
    window.enter("matte-soft", "0.5");
    assertThat(recipe().mattes().getFirst().outline().soft()).isEqualTo(0.5);
    // another one, of which the first is a part
    window.click("bar-matte");
    window.pick("matte-source", MatteDef.Source.MINUS);
    window.click("matte-of-matte");
    MatteDef rest = recipe().mattes().getLast();
    assertThat(rest.picks()).containsExactly("matte");
    assertThat(window.text("matte-made-of")).isEqualTo("matte");
    assertThat(window.shows("matte-of-" + rest.name().replace(' ', '-')))
        .as("none refers to itself")
        .isFalse();
    window.goTo("matte", -1);
    window.pick("matte-source", MatteDef.Source.AND);
    assertThat(window.shows("matte-of-" + rest.name().replace(' ', '-')))
        .as("nor by way of another")
        .isFalse();
  }

  @Test
  void aMatteIsPickedInThePictureAndCorrectedThrough() throws Exception {
    int[] before = window.picture();
    window.click("bar-matte");
    assertThat(recipe().mattes()).hasSize(1);
    assertThat(window.plan().output().more()).contains(Output.More.IDS);
    window.await("the pictures are whole", window::whole);
    Node canvas = window.find("viewer", Node.class).lookup(".canvas-of-pictures");
    var box = RealWindow.fx(canvas::getBoundsInLocal);
    window.click(canvas, box.getCenterX(), box.getCenterY());
    window.await(
        "something is picked",
        () -> !window.planNow().recipe().mattes().getFirst().picks().isEmpty());
    String picked = recipe().mattes().getFirst().picks().getFirst();
    assertThat(picked).startsWith("/");
    int[] overlaid = window.look(canvas);
    assertThat(overlaid).isNotEqualTo(before);
    window.click(canvas, box.getCenterX(), box.getCenterY());
    window.await(
        "a second click removes it",
        () -> window.planNow().recipe().mattes().getFirst().picks().isEmpty());
    window.set("matte-picks", "/front, /ba*");
    window.click("matte-picks");
    window.press(KeyCode.ENTER);
    assertThat(recipe().mattes().getFirst().picks()).containsExactly("/front", "/ba*");
    window.enter("matte-grow", "2");
    window.click("matte-invert");
    assertThat(recipe().mattes().getFirst().invert()).isTrue();
    assertThat(recipe().mattes().getFirst().grow()).isEqualTo(2);
    window.goTo("exposure", -1);
    window.enter("correction-value-0", "2");
    window.pick("correction-matte", "matte");
    assertThat(recipe().corrections().getFirst().matte()).isEqualTo("matte");
    window.await("the pictures are whole", window::whole);
    window.awaitPicture("the floor is brighter", before, false);
    window.goTo("matte", -1);
    window.pick("matte-source", MatteDef.Source.LUMA);
    assertThat(recipe().mattes().getFirst().source()).isEqualTo(MatteDef.Source.LUMA);
    window.goTo("matte", -1);
    window.press(KeyCode.DELETE);
    assertThat(recipe().mattes()).isEmpty();
    assertThat(recipe().corrections().getFirst().matte()).isEmpty();
  }

  @Test
  void anEffectIsOfALayerOrOfAllBehindIt() throws Exception {
    int[] before = window.picture();
    window.goTo("blur", 1);
    window.enter("correction-value-0", "3");
    window.awaitPicture("the back is blurred", before, false);
    int[] back = window.picture();
    window.pick("correction-reach", Correction.Reach.BEHIND);
    window.awaitPicture("the floor, too", back, false);
    window.goTo("defocus", 0);
    window.click("correction-on");
    assertThat(window.plan().output().more()).contains(Output.More.DEPTH);
    assertThat(window.findings())
        .extracting(f -> f.message().sentence())
        .as("said, and nothing else")
        .containsOnly(Sentence.CORRECTION_ON, Sentence.CORRECTION_HOLE);
  }

  @Test
  void aContactSheetIsShownAndSaved() throws Exception {
    Path file = dir.resolve("contact.png");
    when(asker.toSave(anyString(), any(), anyString())).thenReturn(file);
    window.click("bar-compare");
    Button save = window.find("sheet-save", Button.class);
    window.await("the sheet is there", () -> !save.isDisabled());
    window.click("sheet-save");
    window.await("the file is there", () -> Files.isRegularFile(file));
    // larger than beside the viewer: two tiles and three gaps
    assertThat(javax.imageio.ImageIO.read(file.toFile()).getWidth()).isEqualTo(2 * 640 + 3 * 12);
  }

  private boolean saved() {
    return window.stage().getScene().getRoot().lookup("#save-state") instanceof Label l
        && l.getText().equals("saved");
  }

  @Test
  void aDeliveryIsHandedOverWithTheRecipeOfTheWindow() throws Exception {
    window.click("bar-hand-over");
    assertThat(window.text("hand-over-told")).startsWith("No delivery yet");
    // both come after the drawer was opened
    Renders.delivery(LoadedShot.load(plan), dir.resolve("set-v001"), 1, false);
    window.goTo("gain", -1);
    window.enter("correction-value-0", "0.5");
    window.click("station-render");
    window.click("station-rejoin");
    assertThat(window.text("hand-over-told")).isEmpty();
    assertThat(window.mayClose(() -> {})).as("only the plan is unsaved").isFalse();
    window.click("banner-close");
    window.press(KeyCode.CONTROL, KeyCode.S);
    window.await("saved", () -> saved());
    window.click("hand-over-start");
    if (window.find("hand-over-start", Button.class).isDisabled()) {
      // it takes a few seconds
      assertThat(window.mayClose(() -> {})).isFalse();
      window.click("banner-close");
      window.click("bar-hand-over");
      assertThat(window.find("hand-over-stop", Button.class).isDisabled())
          .as("the same panel")
          .isFalse();
    }
    Label told = window.find("hand-over-told", Label.class);
    window.await("it is done", () -> told.getText().contains("files in"));
    Path out = dir.resolve("set-v001/handover");
    assertThat(out.resolve("rejoined/rejoined.0002.exr")).isRegularFile();
    assertThat(out.resolve("layered/layered.0001.ora")).isRegularFile();
    assertThat(out.resolve("contact/layers.png")).isRegularFile();
    assertThat(Files.readString(out.resolve("recipe.json"))).contains("gain 0.5000 1 1");
    assertThat(Files.readString(out.resolve("rejoin.sh"))).contains("oiiotool");
    assertThat(out.resolve("cut.html")).isRegularFile();
  }

  @Test
  void aRecipeIsCarriedToAnotherPlanAsAFile() throws Exception {
    window.goTo("gamma", FRONT);
    window.enter("correction-value-0", "1.5");
    Path file = dir.resolve("recipe.json");
    when(asker.toSave(anyString(), any(), anyString())).thenReturn(file);
    window.click("plan-menu");
    window.choose("Export recipe");
    window.await("the file is there", () -> Files.isRegularFile(file));
    window.press(KeyCode.CONTROL, KeyCode.Z);
    assertThat(recipe().corrections()).isEmpty();
    when(asker.toOpen(anyString(), any(String[].class))).thenReturn(file);
    window.menu(-1, 0, "Import layer");
    window.await("it is imported", () -> window.planNow().recipe().corrections().size() == 1);
    assertThat(recipe().corrections().getFirst().layer()).isEqualTo("Front");
  }

  private List<Integer> size() {
    Shot shot = window.planNow().requireShot();
    return List.of(shot.width(), shot.height());
  }

  private Path picture(String name, int rgb) throws Exception {
    var image = new java.awt.image.BufferedImage(8, 8, java.awt.image.BufferedImage.TYPE_INT_RGB);
    for (int p = 0; p < 64; p++) {
      image.setRGB(p % 8, p / 8, rgb);
    }
    Path file = dir.resolve(name);
    try (var out = Files.newOutputStream(file)) {
      javax.imageio.ImageIO.write(image, "png", out);
    }
    return file;
  }

  @Test
  void aBackgroundIsSeenWhereLayersLeaveItAndIsNotProven() throws Exception {
    window.goTo("opacity", 0);
    window.enter("opacity", "0");
    int[] open = window.picture();
    window.goTo("background", -1);
    window.click("background-checker");
    window.awaitPicture("the checker shows", open, false);
    assertThat(recipe().background()).isEqualTo(Background.checker(0.18));
    int[] checker = window.picture();

    Path sky = picture("sky.0001.png", 0x3060c0);
    Path next = picture("sky.0002.png", 0x3060c0);
    when(asker.toOpen(anyString(), any(String[].class))).thenReturn(sky);
    window.click("background-picture");
    window.awaitPicture("the picture shows", checker, false);
    assertThat(recipe().background()).isEqualTo(Background.picture("sky.{frame:4}.png"));
    window.pick("background-fit", Background.Fit.STRETCH);
    assertThat(recipe().background().fit()).isEqualTo(Background.Fit.STRETCH);
    window.press(KeyCode.DIGIT6);
    window.awaitPicture("the joins alone have none", open, true);
    window.press(KeyCode.DIGIT3);

    window.click("background-size");
    window.await("the shot has the picture's size", () -> size().equals(List.of(8, 8)));
    window.press(KeyCode.CONTROL, KeyCode.Z);
    window.await("and its own again", () -> !size().equals(List.of(8, 8)));
    window.goTo("background", -1);
    window.click("background-none");
    assertThat(recipe().background().exists()).isFalse();
    window.awaitPicture("transparent again", open, true);
    Files.delete(next);
    window.click("background-picture");
    window.await(
        "a missing frame is found",
        () ->
            window.findings().stream().anyMatch(f -> f.text().endsWith("missing at the frames 2")));
    Files.writeString(next, "no picture");
    window.click("timeline");
    window.press(KeyCode.END);
    window.await("the rest is seen", () -> window.pictures().frame() == 2 && window.whole());
    assertThat(window.shows("banner")).as("a banner names what cannot be read").isTrue();
  }

  @Test
  void aSurfaceShowsAPictureThatIsBesideThePlan() throws Exception {
    int[] before = window.picture();
    window.goTo("surface", FRONT);
    when(asker.toOpen(anyString(), any(String[].class))).thenReturn(Path.of("/elsewhere/x.png"));
    window.click("correction-picture");
    window.await("the banner names the plan's folder", () -> bannerSays("Copy it there first"));
    assertThat(recipe().corrections()).isEmpty();

    Path label = picture("label.png", 0xff0000);
    when(asker.toOpen(anyString(), any(String[].class))).thenReturn(label);
    window.click("correction-picture");
    window.await("the picture is in the recipe", () -> showsLabel());
    assertThat(window.plan().output().more("Front")).contains(Output.More.UV, Output.More.ALBEDO);
    window.awaitPicture("the surface is red", before, false);
    window.goTo("surface", -1);
    assertThat(window.shows("correction-picture")).isFalse();
  }

  private boolean showsLabel() {
    return window.planNow().recipe().corrections().stream()
        .anyMatch(c -> c.picture().equals("label.png") && c.layer().equals("Front"));
  }

  private boolean bannerSays(String text) {
    var banner = window.stage().getScene().getRoot().lookup("#banner-text");
    return banner instanceof Label l && l.getText().contains(text);
  }

  @Test
  void theDeepSamplesUnderThePointerAreDrawnAndTold() throws Exception {
    for (int column = 0; column < 3; column++) {
      window.goTo("join", column);
      window.pick("join", "deep");
    }
    window.await("traced by depth", () -> window.whole());
    window.goTo("join", FRONT);
    assertThat(RealWindow.fx(() -> plot().told())).startsWith("Hover over the picture");
    int[] empty = window.look(plot());
    Node viewer = window.find("viewer", Node.class).lookup(".canvas-of-pictures");
    double[] middle =
        RealWindow.fx(() ->
            new double[] {
              viewer.getBoundsInLocal().getWidth() / 2, viewer.getBoundsInLocal().getHeight() / 2
            });
    window.mouseTo(viewer, middle[0] - 20, middle[1]);
    window.mouseTo(viewer, middle[0], middle[1]);
    window.await(
        "the plot counts the samples",
        () -> plot().told().matches("[1-9]\\d* samples? in [123] layers?, from .* m"));
    assertThat(window.look(plot())).isNotEqualTo(empty);
  }

  private DeepPlot plot() {
    return (DeepPlot) window.stage().getScene().getRoot().lookup("#deep-plot");
  }

  @Test
  void aRatioIsJoinedToTheLightThatItIsOf() throws Exception {
    window.goTo("join", FRONT);
    window.pick("join", "times");
    window.pick("join-light", Recipe.Light.DIRECT);
    Recipe.Step step = recipe().joins().getLast();
    assertThat(step.layer()).isEqualTo("Front");
    assertThat(step.light()).isEqualTo(Recipe.Light.DIRECT);
    assertThat(window.plan().output().more("Floor")).contains(Output.More.ENVIRONMENT);
    window.press(KeyCode.CONTROL, KeyCode.Z);
    assertThat(recipe().joins().getLast().light()).isEqualTo(Recipe.Light.ALL);
    assertThat(window.plan().output().more("Floor")).doesNotContain(Output.More.ENVIRONMENT);
  }
}
