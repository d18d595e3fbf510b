package org.wedgecutter.app.station.render;

import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.Supplier;
import javafx.application.Platform;
import javafx.geometry.Pos;
import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.CheckBox;
import javafx.scene.control.Label;
import javafx.scene.control.ListCell;
import javafx.scene.control.ListView;
import javafx.scene.control.ProgressBar;
import javafx.scene.control.TextField;
import javafx.scene.layout.FlowPane;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.Region;
import javafx.scene.layout.VBox;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.deliver.DeliveryFolders;
import org.wedgecutter.core.deliver.Unit;
import org.wedgecutter.core.deliver.UnitState;
import org.wedgecutter.core.deliver.unit.DeliveryOrder;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.plan.FileNames;
import org.wedgecutter.core.plan.FrameRange;
import org.wedgecutter.core.render.FrameRenderer;

/** What to render, the queue of deliveries, and what can be done to the one that is shown. */
final class RenderPanel extends VBox {
  private static final double LIST = 76;
  private static final double LINE = 24;

  private final TextField frames = new TextField("1");
  private final TextField scale = new TextField("1");
  private final TextField samples = new TextField("");
  private final TextField spare = new TextField("0");
  private final CheckBox uncut = new CheckBox("Also render the uncut frame");
  private final CheckBox low = new CheckBox("Low priority");
  private final CheckBox only = new CheckBox("Selected cells only");
  private final Button start = new Button("Render");
  private final Button more = new Button("Continue");
  private final Button pause = new Button("Pause");
  private final Button stop = new Button("Stop");
  private final Button sooner = new Button("Move up");
  private final Button first = new Button("Render selected first");
  private final ListView<DeliveryJob> list = new ListView<>();
  private final ProgressBar bar = new ProgressBar(0);
  private final Label tells = new Label();
  private final Label names = new Label();
  private final Label cell = new Label();
  private final DeliveryQueue queue;
  private final Picked picked;
  private @Nullable LoadedShot shot;
  private @Nullable DeliveryJob told;
  private boolean filling;

  /** What the fields were filled with from the plan; what differs from it was typed. */
  private String planFrames = "";

  private String planSamples = "";
  private @Nullable Path planFile;
  private long nameSerial;
  private String solo = "";

  /** What is picked on the board. */
  interface Picked {
    /** Shows a delivery on the board; null shows what would be rendered. */
    void show(@Nullable DeliveryJob job);

    /** Returns the cells that are selected: frames by layer. */
    Map<String, Set<Integer>> cells();

    /** Returns the units that are selected. */
    Set<Unit.Key> units();
  }

  RenderPanel(DeliveryQueue queue, Picked picked, Supplier<Node> picture) {
    this.queue = queue;
    this.picked = picked;
    getStyleClass().add("render-bar");
    setSpacing(6);
    field(frames, "render-frames", 8);
    field(scale, "render-scale", 3);
    field(samples, "render-samples", 4);
    field(spare, "render-spare", 2);
    low.setId("render-low");
    low.setOnAction(e -> queue.lowPriority(low.isSelected()));
    uncut.setId("render-uncut");
    uncut.setSelected(true);
    only.setId("render-only");
    list.setId("render-list");
    list.setPrefHeight(LIST);
    list.setMinHeight(LIST);
    list.setFixedCellSize(LINE);
    list.setCellFactory(l -> new Line());
    list.setPlaceholder(dim("No delivery yet."));
    HBox.setHgrow(list, Priority.ALWAYS);
    button(start, "render-start", this::start);
    start.getStyleClass().add("go");
    button(more, "render-continue", this::goOn);
    button(pause, "render-pause", this::pause);
    button(stop, "render-stop", () -> chosen(queue::stop));
    button(sooner, "render-sooner", () -> chosen(queue::sooner));
    button(first, "render-first", () -> queue.prefer(picked.units()));
    tells.setId("render-tells");
    tells.setWrapText(true);
    tells.setMinHeight(USE_PREF_SIZE);
    names.getStyleClass().add("dim");
    names.setId("render-names");
    cell.setId("render-cell");
    cell.getStyleClass().add("dim");
    cell.setWrapText(true);
    bar.setMaxWidth(Double.MAX_VALUE);
    HBox.setHgrow(bar, Priority.ALWAYS);
    FlowPane fields =
        new FlowPane(
            8,
            6,
            dim("frames"),
            frames,
            dim("scale"),
            scale,
            dim("samples"),
            samples,
            dim("cores to keep free"),
            spare,
            low,
            uncut,
            only);
    fields.setAlignment(Pos.CENTER_LEFT);
    HBox line = new HBox(6, start, more, pause, stop, sooner, first, bar);
    line.setAlignment(Pos.CENTER_LEFT);
    VBox seen = new VBox(4, picture.get(), cell);
    seen.setPrefWidth(CellPictures.WIDTH);
    seen.setMinWidth(CellPictures.WIDTH);
    HBox.setHgrow(seen, Priority.NEVER);
    VBox left = new VBox(6, fields, names, line, list);
    HBox.setHgrow(left, Priority.ALWAYS);
    left.setMinWidth(0);
    getChildren().addAll(new HBox(10, left, seen), tells);
    frames.textProperty().addListener(o -> preview());
    list.getSelectionModel()
        .selectedItemProperty()
        .addListener((o, before, now) -> {
          if (!filling) {
            picked.show(now);
            changed();
          }
        });
    changed();
  }

  private static void field(TextField field, String id, int columns) {
    field.setId(id);
    field.setPrefColumnCount(columns);
  }

  private static void button(Button button, String id, Runnable action) {
    button.setId(id);
    button.setMinWidth(USE_PREF_SIZE);
    button.setOnAction(e -> action.run());
  }

  private static Label dim(String text) {
    Label label = new Label(text);
    label.getStyleClass().add("dim");
    return label;
  }

  /** A delivery in the list. */
  private static final class Line extends ListCell<DeliveryJob> {
    @Override
    protected void updateItem(@Nullable DeliveryJob job, boolean empty) {
      super.updateItem(job, empty);
      if (empty || job == null) {
        setText(null);
        setGraphic(null);
        return;
      }
      Label name = new Label(job.name());
      Region gap = new Region();
      HBox.setHgrow(gap, Priority.ALWAYS);
      Label state = dim(job.line());
      state.setMinWidth(0);
      setText(null);
      setGraphic(new HBox(8, name, gap, state));
      setPrefWidth(0);
    }
  }

  /** Shows the current plan: fields that nobody has typed in follow it. */
  void setShot(LoadedShot next) {
    boolean other = !next.file().equals(planFile);
    planFile = next.file();
    shot = next;
    String range = next.plan().requireShot().frames().text();
    String count = String.valueOf(next.plan().requireShot().samples());
    if (other || frames.getText().equals(planFrames)) {
      frames.setText(range);
    }
    if (other || samples.getText().equals(planSamples)) {
      samples.setText(count);
    }
    planFrames = range;
    planSamples = count;
    preview();
  }

  /** Renders one layer alone; the empty name renders all that the plan enables. */
  void setSolo(String layer) {
    solo = layer;
    start.setText(layer.isEmpty() ? "Render" : "Render " + layer + " only");
  }

  /** Returns the frames to render; empty while the text is no valid range. */
  List<Integer> frames() {
    try {
      return FrameRange.parse(frames.getText()).frames();
    } catch (IllegalArgumentException e) {
      return List.of();
    }
  }

  /** Returns the delivery that is shown; null while it is what would be rendered. */
  @Nullable DeliveryJob shown() {
    return list.getSelectionModel().getSelectedItem();
  }

  /** Shows a delivery; null shows what would be rendered. */
  void choose(@Nullable DeliveryJob job) {
    if (job == null) {
      list.getSelectionModel().clearSelection();
    } else {
      list.getSelectionModel().select(job);
    }
  }

  private void preview() {
    LoadedShot s = shot;
    if (s == null) {
      return;
    }
    if (shown() == null) {
      picked.show(null);
    } else if (frames.isFocused()) {
      // whoever types frames wants to see them
      choose(null);
    }
    showNames(s);
  }

  /** Shows a file's name; whether a folder is free is asked away from the interface thread. */
  private void showNames(LoadedShot s) {
    int frame = frames().isEmpty() ? 1 : frames().getFirst();
    Set<Path> taken = taken();
    long own = ++nameSerial;
    Thread.ofVirtual()
        .start(() -> {
          String text = example(s, frame, taken);
          Platform.runLater(() -> {
            if (own == nameSerial) {
              names.setText(text);
            }
          });
        });
  }

  private Set<Path> taken() {
    return Set.copyOf(queue.jobs().stream().map(DeliveryJob::folder).toList());
  }

  private static String example(LoadedShot s, int frame, Set<Path> taken) {
    Path target = DeliveryFolders.free(s, taken);
    try {
      FileNames made =
          new FileNames(
              s.plan().output().name(),
              s.name(),
              s.camera().name(),
              String.valueOf(target.getFileName()));
      String layer = s.plan().layers().isEmpty() ? "layer" : s.plan().layers().getFirst().name();
      return target.getFileName() + "/" + made.name(layer, frame, "exr") + " …";
    } catch (IllegalArgumentException e) {
      return String.valueOf(e.getMessage());
    }
  }

  /** Reads the fields; null, and words that say why, if one is wrong. */
  private FrameRenderer.@Nullable Settings settings(LoadedShot s) {
    double size;
    int count;
    int free;
    try {
      size = Double.parseDouble(scale.getText().trim());
      count = Integer.parseInt(samples.getText().trim());
      free = Integer.parseInt(spare.getText().trim());
    } catch (NumberFormatException e) {
      say("Scale, samples and cores must be numbers.");
      return null;
    }
    if (frames().isEmpty() || !(size > 0 && size <= 8) || count < 1 || free < 0) {
      say(
          frames().isEmpty()
              ? "Frames: expected a range, for example 1-24x2,30."
              : "Scale must be above 0 and up to 8, samples 1 or more, cores 0 or more.");
      return null;
    }
    return FrameRenderer.Settings.of(s, size, count, -free, false);
  }

  private void say(String text) {
    told = null;
    tells.setText(text);
  }

  private void start() {
    LoadedShot s = shot;
    FrameRenderer.Settings settings = s == null ? null : settings(s);
    if (s == null || settings == null) {
      return;
    }
    Map<String, Set<Integer>> cells = only.isSelected() ? picked.cells() : Map.of();
    if (only.isSelected() && cells.isEmpty()) {
      say("No cells are selected on the board.");
      return;
    }
    List<String> layers = solo.isEmpty() ? List.of() : List.of(solo);
    List<Integer> wanted = frames();
    boolean whole = uncut.isSelected();
    Set<Path> taken = taken();
    start.setDisable(true);
    say("");
    Thread.ofVirtual()
        .start(() -> {
          Path target = DeliveryFolders.free(s, taken);
          DeliveryOrder order =
              new DeliveryOrder(target, layers, wanted, whole, settings, false).withCells(cells);
          Platform.runLater(() -> {
            start.setDisable(false);
            DeliveryJob job = new DeliveryJob(s, order);
            queue.add(job);
            choose(job);
          });
        });
  }

  /** Renders what is missing, failed or stale in the delivery that is shown. */
  private void goOn() {
    DeliveryJob job = shown();
    LoadedShot s = shot;
    if (job == null || s == null) {
      return;
    }
    if (job.state() == DeliveryJob.State.TROUBLE) {
      queue.decide(job, true);
      return;
    }
    int free;
    try {
      free = Math.max(0, Integer.parseInt(spare.getText().trim()));
    } catch (NumberFormatException e) {
      free = 0;
    }
    int threads = FrameRenderer.Settings.threads(-free);
    Thread.ofVirtual()
        .start(() -> {
          try {
            DeliveryOrder order = DeliveryOrder.rest(s, job.folder(), threads);
            Platform.runLater(() -> {
              // a second click comes while the order is made
              if (!job.isActive()) {
                job.order(s, order);
                queue.add(job);
              }
            });
          } catch (java.io.IOException e) {
            Platform.runLater(() -> say(String.valueOf(e.getMessage())));
          }
        });
  }

  private void pause() {
    chosen(job -> queue.pause(job, job.state() == DeliveryJob.State.RUNNING));
  }

  private void chosen(java.util.function.Consumer<DeliveryJob> action) {
    DeliveryJob job = shown();
    if (job != null) {
      action.accept(job);
    }
  }

  /** Shows the queue and the delivery that is chosen as they are now. */
  void changed() {
    List<DeliveryJob> jobs = queue.jobs();
    DeliveryJob job = shown();
    if (!list.getItems().equals(jobs)) {
      filling = true;
      list.getItems().setAll(jobs);
      if (job != null && jobs.contains(job)) {
        list.getSelectionModel().select(job);
      }
      filling = false;
      if (job != null && !jobs.contains(job)) {
        picked.show(null);
      }
      LoadedShot s = shot;
      if (s != null) {
        showNames(s);
      }
    } else {
      list.refresh();
    }
    job = shown();
    DeliveryJob.State state = job == null ? null : job.state();
    boolean active = job != null && job.isActive();
    boolean waits = state == DeliveryJob.State.WAITING;
    boolean trouble = state == DeliveryJob.State.TROUBLE;
    long open =
        job == null
            ? 0
            : job.cells().size() - job.count(UnitState.DONE) - job.count(UnitState.RUNNING);
    more.setText(
        trouble
            ? "Try again"
            : job != null && job.count(UnitState.STALE) > 0 ? "Render what changed" : "Continue");
    show(more, trouble || (job != null && !active && !waits && open > 0));
    pause.setText(state == DeliveryJob.State.PAUSED ? "Resume" : "Pause");
    show(pause, state == DeliveryJob.State.RUNNING || state == DeliveryJob.State.PAUSED);
    show(stop, active || waits);
    show(sooner, waits);
    show(first, state == DeliveryJob.State.RUNNING);
    bar.setVisible(active);
    bar.setProgress(job == null ? 0 : job.share());
    if (job != null) {
      told = job;
      tells.setText(job.says());
    } else if (told != null) {
      say("");
    }
    tells.setVisible(!tells.getText().isEmpty());
    tells.setManaged(tells.isVisible());
  }

  private static void show(Button button, boolean on) {
    button.setVisible(on);
    button.setManaged(on);
  }

  /** Says what the cell under the cursor is. */
  void cell(String text) {
    cell.setText(text);
  }
}
