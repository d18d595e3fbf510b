package org.wedgecutter.app.viewer;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.ChoiceBox;
import javafx.scene.control.ComboBox;
import javafx.scene.control.Control;
import javafx.scene.control.Label;
import javafx.scene.control.Labeled;
import javafx.scene.control.Slider;
import javafx.scene.control.ToggleButton;
import javafx.scene.control.Tooltip;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.Region;
import javafx.scene.layout.VBox;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.app.live.FilePictures;
import org.wedgecutter.app.panel.ByTab;
import org.wedgecutter.app.panel.OneOf;
import org.wedgecutter.app.panel.Words;

/** The two tool bars of the viewer: which picture, and how it is shown. */
final class ViewerBars extends VBox {
  private final OneOf<Look> looks = new OneOf<>();
  private final ToggleButton wipe = new ToggleButton("Wipe");
  private final ChoiceBox<Against> against = new ChoiceBox<>();

  /**
   * What a picture is compared with.
   *
   * @param layer name of the layer, for {@link Look#LAYER}; empty for the one that is selected
   */
  private record Against(Look look, String layer) {
    String words() {
      return layer.isEmpty() ? look.title().toLowerCase(Locale.ROOT) : layer;
    }
  }

  private List<String> layers = List.of();
  private final ComboBox<String> pass = new ComboBox<>();
  private final ChoiceBox<View.Channel> channel = new ChoiceBox<>();
  private final ChoiceBox<View.Backdrop> backdrop = new ChoiceBox<>();
  private final Slider exposure = new Slider(-6, 6, 0);
  private final Label exposureText = new Label();
  private final Runnable onChange;
  private boolean flipped;
  private @Nullable FilePictures files;
  private boolean listing;

  /**
   * @param onChange is run after anything was changed
   * @param fit fits the picture
   * @param oneToOne shows it pixel by pixel
   */
  ViewerBars(Runnable onChange, Runnable fit, Runnable oneToOne) {
    this.onChange = onChange;
    getChildren().addAll(sourceBar(fit, oneToOne), viewBar());
    tellExposure();
  }

  private HBox sourceBar(Runnable fit, Runnable oneToOne) {
    HBox bar = new HBox();
    bar.getStyleClass().add("viewer-bar");
    for (Look look : Look.values()) {
      ToggleButton button = new ToggleButton(look.title());
      button.setId("look-" + look.name().toLowerCase(Locale.ROOT));
      button.setTooltip(new Tooltip("key " + (look.ordinal() + 1)));
      looks.add(look, button, this::look);
      bar.getChildren().add(ByTab.only(button));
    }
    looks.select(Look.UNCUT);
    // buttons that are seldom there must not widen the bar before they are
    looks.show(Look.PLATE, false);
    looks.show(Look.JOINED, false);
    looks.show(Look.FILES, false);
    ByTab.only(wipe);
    wipe.setId("wipe");
    wipe.setTooltip(new Tooltip("compare two pictures on either side of a line (W); F flips them"));
    wipe.setOnAction(e -> changed());
    against.setId("against");
    against.setAccessibleText("compare with");
    listLayers(List.of());
    against.setTooltip(new Tooltip("compare with"));
    against.setConverter(Words.of(Against::words));
    against.setOnAction(e -> {
      if (!listing) {
        changed();
      }
    });
    narrow(against, 96);
    bar.getChildren()
        .addAll(
            spacer(),
            wipe,
            against,
            button("fit", "Fit", "fit the picture into the viewer", fit),
            button("one-to-one", "1:1", "one pixel of the picture per pixel", oneToOne));
    keepWhole(bar);
    return bar;
  }

  private static Button button(String id, String text, String hint, Runnable action) {
    Button out = new Button(text);
    out.setId(id);
    out.setTooltip(new Tooltip(hint));
    out.setOnAction(e -> action.run());
    return ByTab.only(out);
  }

  private HBox viewBar() {
    pass.setId("pass");
    pass.getItems().setAll(Shown.BEAUTY);
    pass.setValue(Shown.BEAUTY);
    pass.setVisibleRowCount(16);
    pass.setMinHeight(27);
    pass.setPrefHeight(27);
    pass.setTooltip(new Tooltip("beauty, or a pass that the plan writes"));
    pass.setAccessibleText("pass");
    pass.setOnAction(e -> {
      if (!listing) {
        changed();
      }
    });
    narrow(pass, 138);
    channel.setId("channel");
    channel.setAccessibleText("channel");
    channel.getItems().setAll(View.Channel.values());
    channel.setValue(View.Channel.COLOUR);
    channel.setConverter(Words.of(ViewerBars::word));
    channel.setOnAction(e -> changed());
    backdrop.setId("backdrop");
    backdrop.setAccessibleText("backdrop");
    backdrop.getItems().setAll(View.Backdrop.values());
    backdrop.setValue(View.Backdrop.CHECKER);
    backdrop.setConverter(Words.of(b -> "over " + word(b)));
    backdrop.setOnAction(e -> changed());
    narrow(channel, 96);
    narrow(backdrop, 124);
    exposure.setId("exposure");
    exposure.setAccessibleText("exposure in EV");
    exposure.setTooltip(new Tooltip("exposure of the view; files are not changed"));
    exposure.setMinWidth(70);
    exposure.setPrefWidth(120);
    exposure.valueProperty().addListener(o -> changed());
    exposureText.setId("exposure-text");
    exposureText.getStyleClass().add("number");
    exposureText.setMinWidth(64);
    Button reset =
        button("exposure-reset", "0", "reset the exposure to 0 EV", () -> exposure.setValue(0));
    HBox bar = new HBox(pass, channel, backdrop, spacer(), exposure, exposureText, reset);
    bar.getStyleClass().add("viewer-bar");
    keepWhole(bar);
    return bar;
  }

  private static void narrow(Control choice, double width) {
    choice.setMinWidth(width);
    choice.setPrefWidth(width);
  }

  /** Text on buttons is never cut. */
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

  static Node spacer() {
    Region space = new Region();
    HBox.setHgrow(space, Priority.ALWAYS);
    return space;
  }

  private void tellExposure() {
    exposureText.setText("%+.1f EV".formatted(exposure.getValue()));
  }

  private void changed() {
    tellExposure();
    onChange.run();
  }

  /** Shows a picture. */
  void look(Look look) {
    looks.select(look);
    flipped = false;
    changed();
  }

  /** Returns the picture that is shown. */
  Look look() {
    return looks.value();
  }

  /** Swaps the picture and what it is compared with. */
  void flip() {
    flipped = !flipped;
    changed();
  }

  /** Shows or removes the line between two pictures. */
  void toggleWipe() {
    wipe.setSelected(!wipe.isSelected());
    changed();
  }

  /** Returns the current choices. */
  Shown shown(int layer) {
    Against chosen = against.getValue();
    int other = chosen.layer.isEmpty() ? layer : Math.max(0, layers.indexOf(chosen.layer));
    Look a = flipped ? chosen.look : look();
    Look b = flipped ? look() : chosen.look;
    View view = new View(channel.getValue(), backdrop.getValue(), exposure.getValue(), true, false);
    return new Shown(
        a,
        b,
        wipe.isSelected(),
        flipped ? other : layer,
        flipped ? layer : other,
        pass.getValue(),
        view,
        files);
  }

  /** Offers layers to compare with; the choice stays if it is still there. */
  void listLayers(List<String> names) {
    if (!names.equals(layers) || against.getItems().isEmpty()) {
      layers = List.copyOf(names);
      listAgainst();
    }
  }

  private void listAgainst() {
    List<Against> next = new ArrayList<>();
    for (Look look : List.of(Look.UNCUT, Look.REJOINED, Look.JOINED, Look.LAYER, Look.PLATE)) {
      next.add(new Against(look, ""));
    }
    if (files != null) {
      next.add(new Against(Look.FILES, ""));
    }
    layers.forEach(n -> next.add(new Against(Look.LAYER, n)));
    Against before = against.getValue();
    listing = true;
    against.getItems().setAll(next);
    against.setValue(before != null && next.contains(before) ? before : next.get(1));
    listing = false;
  }

  /** Offers passes; the one that is chosen stays if it is still offered. */
  void listPasses(List<String> titles) {
    List<String> next = new ArrayList<>();
    next.add(Shown.BEAUTY);
    // of the ranks of ID mattes the first one tells what covers most; previews are empty
    titles.stream().filter(t -> !t.matches("Crypto.*(0[1-9]|[a-z])")).forEach(next::add);
    if (!next.equals(pass.getItems())) {
      String chosen = pass.getValue();
      listing = true;
      pass.getItems().setAll(next);
      pass.setValue(next.contains(chosen) ? chosen : Shown.BEAUTY);
      listing = false;
      if (!next.contains(chosen)) {
        changed();
      }
    }
  }

  /** Offers what is rejoined before corrections, or not: without any it is the same. */
  void setCorrected(boolean corrected) {
    looks.show(Look.JOINED, corrected);
    if (!corrected && look() == Look.JOINED) {
      look(Look.REJOINED);
    }
  }

  /** Whether a picture can be chosen. */
  boolean offers(Look look) {
    return looks.isShown(look);
  }

  /** Offers the files of a delivery, and shows them; null for none. */
  void setFiles(@Nullable FilePictures next) {
    files = next;
    looks.show(Look.FILES, next != null);
    listAgainst();
    if (next != null) {
      look(Look.FILES);
    } else if (look() == Look.FILES) {
      look(Look.REJOINED);
    } else {
      changed();
    }
  }

  /** Offers the plate, or not. */
  void setPlate(boolean there) {
    looks.show(Look.PLATE, there);
    if (!there && look() == Look.PLATE) {
      look(Look.UNCUT);
    }
  }
}
