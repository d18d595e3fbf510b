package org.wedgecutter.app.station.shot;

import java.util.Optional;
import java.util.function.BiConsumer;
import java.util.function.Consumer;
import java.util.function.IntConsumer;
import javafx.geometry.Insets;
import javafx.geometry.Pos;
import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.Label;
import javafx.scene.control.ScrollPane;
import javafx.scene.control.ToggleButton;
import javafx.scene.control.Tooltip;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.Region;
import javafx.scene.layout.VBox;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.app.live.LiveSurvey;
import org.wedgecutter.app.panel.DetailPanel;
import org.wedgecutter.app.panel.FactGrid;
import org.wedgecutter.app.panel.OneOf;
import org.wedgecutter.app.station.ShotForm;
import org.wedgecutter.app.theme.Theme;
import org.wedgecutter.core.propose.StillBut;
import org.wedgecutter.core.survey.SampleSpread;

/** Below the sheet of the Shot station: the shot, read in four tables. */
final class ShotPanel extends VBox {
  /** What is read. */
  enum Page {
    MOTION("Motion"),
    ORDER("In front"),
    LIGHT("Light"),
    COST("Cost"),
    PIXEL("This pixel"),
    SETTINGS("Settings"),
    MATCH("Camera");

    private final String title;

    Page(String title) {
      this.title = title;
    }
  }

  private final OneOf<Page> pages = new OneOf<>();
  private final Label state = new Label();
  private final Label legend = new Label();
  private final Label sentence = new Label();
  private final ScrollPane scroll = new ScrollPane();
  private final MotionStrips motion = new MotionStrips();
  private final FactGrid order = new FactGrid("order-grid");
  private final FactGrid light = new FactGrid("light-grid");
  private final FactGrid cost = new FactGrid("cost-grid");
  private Node pixel = new Label("Click in the picture to see what a pixel's light is made of.");
  private final Button picture = new Button("Show this light");
  private final ToggleButton oneFrame = new ToggleButton();
  private final SampleBar samples = new SampleBar();
  private final Button hold = new Button("Re-cut to hold this layer");
  private Consumer<StillBut> onHold = b -> {};
  private Consumer<SampleSpread.Spread> onSamples = s -> {};
  private BiConsumer<Integer, Integer> onPicture = (of, by) -> {};
  private Page page = Page.MOTION;
  private Theme theme = Theme.DARK;
  private @Nullable ShotFacts facts;
  private int frame = 1;

  ShotPanel() {
    getStyleClass().addAll("detail", "shot-panel");
    setSpacing(6);
    HBox bar = new HBox(8);
    for (Page p : Page.values()) {
      ToggleButton button = new ToggleButton(p.title);
      button.setId("shot-" + p.name().toLowerCase(java.util.Locale.ROOT));
      button.getStyleClass().add("foot-tab");
      // the state beside them gives way
      button.setMinWidth(USE_PREF_SIZE);
      pages.add(p, button, this::open);
      bar.getChildren().add(button);
    }
    Region gap = new Region();
    HBox.setHgrow(gap, Priority.ALWAYS);
    state.getStyleClass().add("dim");
    state.setId("survey-state");
    bar.getChildren().addAll(gap, state);
    pages.select(page);
    legend.getStyleClass().add("dim");
    legend.setId("shot-legend");
    legend.setWrapText(true);
    sentence.setId("shot-sentence");
    sentence.setWrapText(true);
    sentence.setMinHeight(USE_PREF_SIZE);
    scroll.setFitToWidth(true);
    scroll.getStyleClass().add("detail-scroll");
    scroll.setFocusTraversable(false);
    scroll.setPadding(new Insets(0));
    VBox.setVgrow(scroll, Priority.ALWAYS);
    for (FactGrid grid : new FactGrid[] {order, light, cost}) {
      grid.setOnSelect((r, c) -> {
        sentence.setText(grid.sentence());
        offerHold();
      });
    }
    picture.setId("light-picture");
    picture.setOnAction(e -> onPicture.accept(light.row(), light.column()));
    hold.setId("hold-still");
    hold.setMinWidth(USE_PREF_SIZE);
    picture.setMinWidth(USE_PREF_SIZE);
    hold.setOnAction(e -> {
      ShotFacts f = facts;
      if (f != null) {
        f.stillBut(cost.row()).ifPresent(onHold);
      }
    });
    oneFrame.setId("light-one-frame");
    oneFrame.setMinWidth(USE_PREF_SIZE);
    oneFrame.setTooltip(new Tooltip("the light of the traced frame nearest to the current one"));
    oneFrame.setOnAction(e -> show());
    samples.setOnAim(a -> show());
    samples.setOnUse(() -> spread().ifPresent(onSamples));
    foot.getChildren().setAll(sentence, picture, hold);
    HBox.setHgrow(sentence, Priority.ALWAYS);
    sentence.setMaxWidth(Double.MAX_VALUE);
    head.getChildren().setAll(legend, oneFrame);
    HBox.setHgrow(legend, Priority.ALWAYS);
    legend.setMaxWidth(Double.MAX_VALUE);
    head.setAlignment(Pos.CENTER_LEFT);
    getChildren().setAll(bar, head, samples, scroll, foot);
    show();
  }

  void setOnFrame(IntConsumer action) {
    motion.setOnFrame(action);
  }

  /** Sets what shows the light of a cell as a picture: row and column. */
  void setOnPicture(BiConsumer<Integer, Integer> action) {
    onPicture = action;
  }

  /** Sets what makes the cut in which a layer is held. */
  void setOnHold(Consumer<StillBut> action) {
    onHold = action;
  }

  /** Sets what writes samples into the plan. */
  void setOnSamples(Consumer<SampleSpread.Spread> action) {
    onSamples = action;
  }

  private Optional<SampleSpread.Spread> spread() {
    ShotFacts f = facts;
    return f != null && f.hasCosts() ? f.spread(samples.aim()) : Optional.empty();
  }

  /** Returns what the selected cell of the light says. */
  String lightSentence() {
    return light.sentence();
  }

  /** Sets what is run when another page is opened. */
  void setOnPage(Consumer<Page> action) {
    onPage = action;
  }

  private Consumer<Page> onPage = p -> {};

  void open(Page next) {
    page = next;
    pages.select(next);
    show();
    onPage.accept(next);
  }

  /** Shows what was found. */
  void show(LiveSurvey.Result result, Theme colours) {
    theme = colours;
    facts = new ShotFacts(result);
    state.setText(
        result.doing().isEmpty()
            ? ""
            : "%s the frames that matter, %d done…"
                .formatted(result.doing(), result.survey().traced().size()));
    frames = result.survey().changes().frames();
    show();
  }

  private java.util.List<Integer> frames = java.util.List.of();

  /** Shows another frame. */
  void setFrame(int now, Theme colours) {
    frame = now;
    theme = colours;
    show();
  }

  private String cell = "";

  /** Shows a sentence about the sheet's cell, where no table says more. */
  void showText(String text) {
    cell = text;
    if (page == Page.MOTION) {
      sentence.setText(text);
    }
  }

  /** Says that a pixel is being traced. */
  void readingPixel() {
    pixel = new Label("Tracing the pixel…");
    open(Page.PIXEL);
  }

  /** Shows what a pixel's light is made of. */
  void showPixel(Node tree) {
    pixel = tree;
    if (page == Page.PIXEL) {
      show();
    }
  }

  /** Sets what the page of the camera match shows. */
  void setCamera(DetailPanel match) {
    camera = match;
  }

  private DetailPanel camera = new DetailPanel();

  /** Whether a page is in view. */
  boolean shows(Page which) {
    return page == which;
  }

  /** Shows the settings of the shot. */
  void showSettings(ShotForm form) {
    settings.show(null, "Settings — whole shot", form);
  }

  private final DetailPanel settings = new DetailPanel();
  private final HBox head = new HBox(8);
  private final HBox foot = new HBox(10);

  private void show() {
    ShotFacts f = facts;
    picture.setVisible(page == Page.LIGHT);
    picture.setManaged(page == Page.LIGHT);
    boolean isForm = page == Page.SETTINGS || page == Page.MATCH;
    scroll.setFitToHeight(page == Page.PIXEL || isForm);
    boolean costs = page == Page.COST && f != null && f.hasCosts();
    oneFrame.setVisible(page == Page.LIGHT && f != null && f.hasLight());
    oneFrame.setManaged(oneFrame.isVisible());
    samples.setVisible(costs);
    samples.setManaged(costs);
    offerHold();
    for (HBox line : new HBox[] {head, foot}) {
      line.setVisible(!isForm);
      line.setManaged(line.isVisible());
    }
    if (isForm) {
      legend.setText("");
      sentence.setText("");
      DetailPanel form = page == Page.SETTINGS ? settings : camera;
      if (!form.equals(scroll.getContent())) {
        scroll.setContent(form);
      }
      return;
    }
    if (page == Page.PIXEL) {
      legend.setText(
          "shares of the pixel's light · Enter or double-click goes to the object, the light or the layer");
      sentence.setText("");
      scroll.setContent(pixel);
      return;
    }
    if (f == null) {
      legend.setText("");
      scroll.setContent(new Label("Reading the shot…"));
      return;
    }
    switch (page) {
      case MOTION -> {
        legend.setText("");
        motion.show(f.motion(), frames, frame, theme);
        scroll.setContent(motion);
        sentence.setText(cell);
      }
      case ORDER -> {
        legend.setText("which is nearer to the camera where they overlap, over all frames");
        grid(order, f.order());
      }
      case LIGHT -> {
        legend.setText(
            "% of the light on the row that comes via the column · −% that the column blocks");
        if (f.hasLight()) {
          int near = f.nearestTraced(frame);
          oneFrame.setText("frame %d only".formatted(near));
          grid(light, f.light(oneFrame.isSelected() ? near : null));
        } else {
          wait("Preview tracing: interplay appears after the first frame.");
        }
      }
      case COST -> {
        legend.setText(
            "time on this machine, from quick traces · noise beside the light, at the plan's samples");
        if (f.hasCosts()) {
          Optional<SampleSpread.Spread> spread = spread();
          samples.show(spread.orElse(null), spread.map(f::changesSamples).orElse(false));
          grid(cost, f.cost(spread));
        } else {
          wait("Preview tracing: times and noise appear after the first frame.");
        }
      }
      case PIXEL, SETTINGS, MATCH -> throw new IllegalStateException("shown above");
    }
  }

  private void offerHold() {
    ShotFacts f = facts;
    boolean offered = page == Page.COST && f != null && f.stillBut(cost.row()).isPresent();
    hold.setVisible(offered);
    hold.setManaged(offered);
  }

  private void wait(String text) {
    scroll.setContent(new Label(text));
    sentence.setText("");
    picture.setVisible(false);
  }

  private void grid(FactGrid grid, FactGrid.Facts next) {
    grid.show(next, theme);
    scroll.setContent(grid);
    sentence.setText(grid.sentence());
    offerHold();
  }
}
