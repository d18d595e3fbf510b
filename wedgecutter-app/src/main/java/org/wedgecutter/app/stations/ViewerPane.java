package org.wedgecutter.app.stations;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import javafx.scene.Node;
import javafx.scene.control.ChoiceBox;
import javafx.scene.control.ComboBox;
import javafx.scene.control.Control;
import javafx.scene.control.Label;
import javafx.scene.control.Labeled;
import javafx.scene.control.Slider;
import javafx.scene.control.ToggleButton;
import javafx.scene.control.ToggleGroup;
import javafx.scene.control.Tooltip;
import javafx.scene.image.Image;
import javafx.scene.layout.BorderPane;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.Region;
import javafx.scene.layout.VBox;
import javafx.scene.paint.Color;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.app.live.Pictures;
import org.wedgecutter.app.theme.Theme;
import org.wedgecutter.app.viewer.PassLook;
import org.wedgecutter.app.viewer.PictureCanvas;
import org.wedgecutter.app.viewer.ToScreen;
import org.wedgecutter.app.viewer.View;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.pass.PassPicture;

/** The viewer: which picture, how it is shown, a probe, and what it is compared with. */
final class ViewerPane extends BorderPane {
  /** Which picture is looked at. */
  enum Look {
    LAYER("Layer"),
    UNCUT("Uncut"),
    REJOINED("Rejoined"),
    RESIDUAL("Residual"),
    PLATE("Plate");

    final String word;

    Look(String word) {
      this.word = word;
    }
  }

  /** All that decides what is on the screen. */
  record Shown(Look look, Look against, boolean wipe, int layer, String pass, View view) {}

  /** Stands for the whole picture among its passes. */
  private static final String BEAUTY = "beauty";

  /** Images for the screen. */
  record Images(Image main, @Nullable Image other, @Nullable PassPicture pass) {}

  private final PictureCanvas canvas = new PictureCanvas();
  private final ToggleGroup looks = new ToggleGroup();
  private final ToggleButton wipe = new ToggleButton("Wipe");
  private final ChoiceBox<Look> against = new ChoiceBox<>();
  private final ComboBox<String> pass = new ComboBox<>();
  private final ChoiceBox<View.Channel> channel = new ChoiceBox<>();
  private final ChoiceBox<View.Backdrop> backdrop = new ChoiceBox<>();
  private final Slider exposure = new Slider(-6, 6, 0);
  private final Label exposureText = new Label();
  private final Label probe = new Label();
  private final Label status = new Label();
  private Runnable onChange = () -> {};
  private Theme theme = Theme.DARK;
  private int layer;
  private String layerName = "";
  private int hue;
  private boolean flipped;
  private @Nullable Pictures pictures;
  private PickListener onPick = (x, y) -> {};
  private EntityNames entityNames = i -> "";

  /** Is told the place in the present picture that was clicked. */
  interface PickListener {
    void picked(int x, int y);
  }

  /** Tells entities' names. */
  interface EntityNames {
    String name(int entity);
  }

  ViewerPane() {
    setCenter(canvas);
    setTop(new VBox(sourceBar(), viewBar()));
    HBox foot = new HBox(probe, spacer(), status);
    foot.getStyleClass().add("viewer-bar");
    foot.setMinHeight(28);
    foot.setPrefHeight(28);
    probe.getStyleClass().add("number");
    status.getStyleClass().addAll("number", "dim");
    setBottom(foot);
    // the probe's numbers take the room of the status while the pointer is on the picture
    status.visibleProperty().bind(probe.textProperty().isEmpty());
    status.managedProperty().bind(status.visibleProperty());
    canvas.setEmptyText("Open a plan or a scene to begin");
    canvas.setOnProbe(this::probed);
    canvas.setOnPick(this::picked);
    tellExposure();
  }

  private HBox sourceBar() {
    HBox bar = new HBox();
    bar.getStyleClass().add("viewer-bar");
    for (Look look : Look.values()) {
      ToggleButton button = new ToggleButton(look.word);
      button.setId("look-" + look.name().toLowerCase(Locale.ROOT));
      button.setUserData(look);
      button.setToggleGroup(looks);
      button.setTooltip(new Tooltip("key " + (look.ordinal() + 1)));
      button.setOnAction(e -> {
        button.setSelected(true);
        flipped = false;
        changed();
      });
      bar.getChildren().add(button);
    }
    looks.selectToggle(looks.getToggles().get(Look.UNCUT.ordinal()));
    wipe.setId("wipe");
    wipe.setTooltip(new Tooltip("compare on either side of a line; F flips"));
    wipe.setOnAction(e -> changed());
    against.setId("against");
    against.getItems().setAll(Look.UNCUT, Look.REJOINED, Look.LAYER);
    against.setValue(Look.REJOINED);
    against.setConverter(Words.of(l -> "against " + l.word.toLowerCase(Locale.ROOT)));
    against.setOnAction(e -> changed());
    narrow(against, 138);
    ToggleButton fit = new ToggleButton("Fit");
    ToggleButton one = new ToggleButton("1:1");
    fit.setOnAction(e -> {
      fit.setSelected(false);
      canvas.fit();
    });
    one.setOnAction(e -> {
      one.setSelected(false);
      canvas.oneToOne();
    });
    bar.getChildren().addAll(spacer(), wipe, against, fit, one);
    keepWhole(bar);
    return bar;
  }

  private HBox viewBar() {
    pass.setId("pass");
    pass.getItems().setAll(BEAUTY);
    pass.setValue(BEAUTY);
    pass.setVisibleRowCount(16);
    pass.setMinHeight(27);
    pass.setPrefHeight(27);
    pass.setTooltip(new Tooltip("the whole picture, or a pass that the plan writes"));
    pass.setAccessibleText("pass");
    pass.setOnAction(e -> {
      if (!listing) {
        changed();
      }
    });
    narrow(pass, 138);
    channel.setId("channel");
    channel.getItems().setAll(View.Channel.values());
    channel.setValue(View.Channel.COLOUR);
    channel.setConverter(Words.of(ViewerPane::word));
    channel.setOnAction(e -> changed());
    backdrop.setId("backdrop");
    backdrop.getItems().setAll(View.Backdrop.values());
    backdrop.setValue(View.Backdrop.CHECKER);
    backdrop.setConverter(Words.of(b -> "over " + word(b)));
    backdrop.setOnAction(e -> changed());
    narrow(channel, 96);
    narrow(backdrop, 124);
    exposure.setId("exposure");
    exposure.setAccessibleText("exposure in stops");
    exposure.setTooltip(new Tooltip("exposure"));
    exposure.setMinWidth(70);
    exposure.setPrefWidth(120);
    exposure.valueProperty().addListener(o -> changed());
    exposureText.getStyleClass().add("number");
    exposureText.setMinWidth(64);
    ToggleButton reset = new ToggleButton("0");
    reset.setTooltip(new Tooltip("exposure back to 0"));
    reset.setOnAction(e -> {
      reset.setSelected(false);
      exposure.setValue(0);
    });
    HBox bar = new HBox(pass, channel, backdrop, spacer(), exposure, exposureText, reset);
    bar.getStyleClass().add("viewer-bar");
    keepWhole(bar);
    return bar;
  }

  private static void narrow(Control choice, double width) {
    choice.setMinWidth(width);
    choice.setPrefWidth(width);
  }

  /** Words on buttons are never cut. */
  private static void keepWhole(HBox bar) {
    for (Node node : bar.getChildren()) {
      if (node instanceof Labeled labeled) {
        labeled.setMinWidth(Region.USE_PREF_SIZE);
      }
    }
  }

  private static String word(Enum<?> value) {
    return value.name().toLowerCase(Locale.ROOT);
  }

  private static Node spacer() {
    Region space = new Region();
    HBox.setHgrow(space, Priority.ALWAYS);
    return space;
  }

  private void tellExposure() {
    exposureText.setText("%+.1f st".formatted(exposure.getValue()));
  }

  private void changed() {
    tellExposure();
    onChange.run();
  }

  // ---- for the window

  void setOnChange(Runnable action) {
    onChange = action;
  }

  void setOnPick(PickListener action) {
    onPick = action;
  }

  void setEntityNames(EntityNames names) {
    entityNames = names;
  }

  void setTheme(Theme next) {
    theme = next;
    canvas.setTheme(next);
  }

  /** Lays a mask over the picture; null takes it away. */
  void setHighlight(@Nullable Image mask) {
    canvas.setOverlay(mask);
  }

  /** Is told when a thing is dragged out of the picture. */
  void setOnDragOut(PictureCanvas.DragOut action) {
    canvas.setOnDragOut(action);
  }

  void setPictureSize(int width, int height) {
    canvas.setPictureSize(width, height);
  }

  void setEmptyText(String text) {
    canvas.setEmptyText(text);
  }

  void setLayer(int index, String name, int hue) {
    layer = index;
    layerName = name;
    this.hue = hue;
  }

  /** Looks at a picture. */
  void look(Look look) {
    looks.selectToggle(looks.getToggles().get(look.ordinal()));
    flipped = false;
    changed();
  }

  Look look() {
    return (Look) looks.getSelectedToggle().getUserData();
  }

  /** Swaps the picture and what it is compared with. */
  void flip() {
    flipped = !flipped;
    changed();
  }

  void toggleWipe() {
    wipe.setSelected(!wipe.isSelected());
    changed();
  }

  Shown shown() {
    Look a = look();
    Look b = against.getValue();
    View view = new View(channel.getValue(), backdrop.getValue(), exposure.getValue(), true, false);
    return flipped
        ? new Shown(b, a, wipe.isSelected(), layer, pass.getValue(), view)
        : new Shown(a, b, wipe.isSelected(), layer, pass.getValue(), view);
  }

  private boolean listing;

  /** Offers the passes that there are; what is chosen stays, if it is still there. */
  private void listPasses(List<String> titles) {
    List<String> next = new ArrayList<>();
    next.add(BEAUTY);
    // of ranks of ID mattes the first one tells what covers most
    titles.stream().filter(t -> !t.matches("Crypto.*0[1-9]")).forEach(next::add);
    if (!next.equals(pass.getItems())) {
      String chosen = pass.getValue();
      listing = true;
      pass.getItems().setAll(next);
      pass.setValue(next.contains(chosen) ? chosen : BEAUTY);
      listing = false;
      if (!next.contains(chosen)) {
        changed();
      }
    }
  }

  /** Offers the plate to look at, or not. */
  void setPlate(boolean there) {
    ToggleButton button = (ToggleButton) looks.getToggles().get(Look.PLATE.ordinal());
    button.setVisible(there);
    button.setManaged(there);
    if (!there && look() == Look.PLATE) {
      look(Look.UNCUT);
    }
  }

  /** Draws lines over the picture: x and y of the points of each, in the shot's pixels. */
  void setOutlines(List<double[]> lines) {
    canvas.setOutlines(lines);
  }

  /** Makes the images for the screen; for any thread. */
  static Images images(Pictures pictures, Shown shown) {
    Image main = image(pictures, shown.look(), shown);
    return new Images(
        main,
        shown.wipe() ? image(pictures, shown.against(), shown) : null,
        pass(pictures, shown.look(), shown));
  }

  private static Image image(Pictures pictures, Look look, Shown shown) {
    if (look == Look.RESIDUAL) {
      return ToScreen.heat(pictures.residual().difference(), shown.view().exposure());
    }
    View view = shown.view().withSigned(signed(pictures, look, shown));
    PassPicture pass = pass(pictures, look, shown);
    Picture whole = picture(pictures, look, shown.layer());
    if (pass == null) {
      return ToScreen.image(whole, view);
    }
    Picture made = PassLook.of(pass, whole.width(), whole.height(), pictures.plan().output());
    return ToScreen.image(made, pass.isLight() ? view : view.asData());
  }

  private static @Nullable PassPicture pass(Pictures pictures, Look look, Shown shown) {
    boolean has = look == Look.LAYER || look == Look.UNCUT;
    return !has || shown.pass().equals(BEAUTY)
        ? null
        : pictures.pass(look == Look.UNCUT ? -1 : at(pictures, shown.layer()), shown.pass());
  }

  private static boolean signed(Pictures pictures, Look look, Shown shown) {
    return look == Look.LAYER && pictures.isSigned(at(pictures, shown.layer()));
  }

  private static int at(Pictures pictures, int layer) {
    return Math.max(0, Math.min(layer, pictures.plan().layers().size() - 1));
  }

  private static Picture picture(Pictures pictures, Look look, int layer) {
    return switch (look) {
      case LAYER -> pictures.layer(at(pictures, layer));
      case UNCUT -> pictures.uncut();
      case REJOINED -> pictures.rejoined();
      case RESIDUAL -> pictures.residual().difference();
      case PLATE -> {
        Picture plate = pictures.plate();
        yield plate == null ? pictures.uncut() : plate;
      }
    };
  }

  /** Puts images on the screen. */
  void show(Pictures pictures, Shown shown, Images images) {
    this.pictures = pictures;
    listPasses(pictures.passTitles());
    probed = images.pass();
    Color edge = shown.look() == Look.LAYER ? Theme.hue(hue) : theme.line;
    canvas.show(images.main(), images.other(), edge, name(shown.look()), name(shown.against()));
    boolean signed = signed(pictures, shown.look(), shown);
    status.setText(
        "%s%s%s   %d × %d   %d %s   %.0f s   %d %s"
            .formatted(
                name(shown.look()).toLowerCase(Locale.ROOT),
                passText(shown, images),
                signed ? " (signed, about grey)" : "",
                pictures.uncut().width(),
                pictures.uncut().height(),
                pictures.samples(),
                pictures.samples() == 1 ? "sample" : "samples",
                pictures.seconds(),
                pictures.faults(),
                pictures.faults() == 1 ? "fault" : "faults"));
  }

  private static String passText(Shown shown, Images images) {
    if (shown.pass().equals(BEAUTY)) {
      return "";
    }
    return images.pass() == null ? ": no " + shown.pass() + " of it" : ": " + shown.pass();
  }

  private @Nullable PassPicture probed;

  private String name(Look look) {
    return look == Look.LAYER ? layerName : look.word;
  }

  // ---- probe

  private int[] inPicture(int x, int y) {
    Pictures p = pictures;
    if (p == null || x < 0) {
      return new int[] {-1, -1};
    }
    var shot = p.plan().requireShot();
    return new int[] {
      Math.min(p.uncut().width() - 1, x * p.uncut().width() / shot.width()),
      Math.min(p.uncut().height() - 1, y * p.uncut().height() / shot.height())
    };
  }

  private void probed(int x, int y) {
    Pictures p = pictures;
    int[] at = inPicture(x, y);
    if (p == null || at[0] < 0) {
      probe.setText("");
      return;
    }
    Shown s = shown();
    Picture picture = picture(p, s.look(), s.layer());
    int pixel = at[1] * picture.width() + at[0];
    probe.setText(
        "%4d %4d   %s   %s"
            .formatted(x, y, values(picture, pixel), entityNames.name(p.entityAt(at[0], at[1]))));
  }

  /** What is written at a pixel: of a pass its own numbers, whatever it looks like. */
  private String values(Picture picture, int pixel) {
    PassPicture of = probed;
    StringBuilder out = new StringBuilder();
    if (of != null && of.values().length == picture.rgba().length / 4 * of.channels().size()) {
      for (int c = 0; c < of.channels().size(); c++) {
        out.append(
            "%s %.4f  "
                .formatted(of.channels().get(c), of.values()[of.channels().size() * pixel + c]));
      }
      return out.toString().stripTrailing();
    }
    float[] v = picture.rgba();
    int i = 4 * pixel;
    return "R %.4f  G %.4f  B %.4f  A %.3f".formatted(v[i], v[i + 1], v[i + 2], v[i + 3]);
  }

  private void picked(int x, int y) {
    int[] at = inPicture(x, y);
    if (at[0] >= 0) {
      onPick.picked(at[0], at[1]);
    }
  }
}
