package org.wedgecutter.app.stations;

import java.util.Locale;
import javafx.scene.Node;
import javafx.scene.control.ChoiceBox;
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
import org.wedgecutter.app.viewer.PictureCanvas;
import org.wedgecutter.app.viewer.ToScreen;
import org.wedgecutter.app.viewer.View;
import org.wedgecutter.core.image.Picture;

/** The viewer: which picture, how it is shown, a probe, and what it is compared with. */
final class ViewerPane extends BorderPane {
  /** Which picture is looked at. */
  enum Look {
    LAYER("Layer"),
    UNCUT("Uncut"),
    REJOINED("Rejoined"),
    RESIDUAL("Residual");

    final String word;

    Look(String word) {
      this.word = word;
    }
  }

  /** All that decides what is on the screen. */
  record Shown(Look look, Look against, boolean wipe, int layer, View view) {}

  /** Images for the screen. */
  record Images(Image main, @Nullable Image other) {}

  private final PictureCanvas canvas = new PictureCanvas();
  private final ToggleGroup looks = new ToggleGroup();
  private final ToggleButton wipe = new ToggleButton("Wipe");
  private final ChoiceBox<Look> against = new ChoiceBox<>();
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
    exposure.valueProperty().addListener(o -> changed());
    exposureText.getStyleClass().add("number");
    exposureText.setMinWidth(64);
    Label caption = new Label("exposure");
    caption.getStyleClass().add("dim");
    ToggleButton reset = new ToggleButton("0");
    reset.setTooltip(new Tooltip("exposure back to 0"));
    reset.setOnAction(e -> {
      reset.setSelected(false);
      exposure.setValue(0);
    });
    HBox bar = new HBox(channel, backdrop, spacer(), caption, exposure, exposureText, reset);
    bar.getStyleClass().add("viewer-bar");
    keepWhole(bar);
    return bar;
  }

  private static void narrow(ChoiceBox<?> choice, double width) {
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
    View view = new View(channel.getValue(), backdrop.getValue(), exposure.getValue(), true);
    return flipped
        ? new Shown(b, a, wipe.isSelected(), layer, view)
        : new Shown(a, b, wipe.isSelected(), layer, view);
  }

  /** Makes the images for the screen; for any thread. */
  static Images images(Pictures pictures, Shown shown) {
    Image main = image(pictures, shown.look(), shown);
    return new Images(main, shown.wipe() ? image(pictures, shown.against(), shown) : null);
  }

  private static Image image(Pictures pictures, Look look, Shown shown) {
    return look == Look.RESIDUAL
        ? ToScreen.heat(pictures.residual().difference(), shown.view().exposure())
        : ToScreen.image(picture(pictures, look, shown.layer()), shown.view());
  }

  private static Picture picture(Pictures pictures, Look look, int layer) {
    return switch (look) {
      case LAYER ->
          pictures.layer(Math.max(0, Math.min(layer, pictures.plan().layers().size() - 1)));
      case UNCUT -> pictures.uncut();
      case REJOINED -> pictures.rejoined();
      case RESIDUAL -> pictures.residual().difference();
    };
  }

  /** Puts images on the screen. */
  void show(Pictures pictures, Shown shown, Images images) {
    this.pictures = pictures;
    Color edge = shown.look() == Look.LAYER ? Theme.hue(hue) : theme.line;
    canvas.show(images.main(), images.other(), edge, name(shown.look()), name(shown.against()));
    boolean signed =
        shown.look() == Look.LAYER && ToScreen.signed(picture(pictures, Look.LAYER, shown.layer()));
    status.setText(
        "%s%s   %d × %d   %d %s   %.0f s"
            .formatted(
                name(shown.look()).toLowerCase(Locale.ROOT),
                signed ? " (signed, about grey)" : "",
                pictures.uncut().width(),
                pictures.uncut().height(),
                pictures.samples(),
                pictures.samples() == 1 ? "sample" : "samples",
                pictures.seconds()));
  }

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
    int i = 4 * (at[1] * picture.width() + at[0]);
    float[] v = picture.rgba();
    probe.setText(
        "%4d %4d   R %.4f  G %.4f  B %.4f  A %.3f   %s"
            .formatted(
                x,
                y,
                v[i],
                v[i + 1],
                v[i + 2],
                v[i + 3],
                entityNames.name(p.entityAt(at[0], at[1]))));
  }

  private void picked(int x, int y) {
    int[] at = inPicture(x, y);
    if (at[0] >= 0) {
      onPick.picked(at[0], at[1]);
    }
  }
}
