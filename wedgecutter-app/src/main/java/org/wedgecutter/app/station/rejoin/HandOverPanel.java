package org.wedgecutter.app.station.rejoin;

import java.io.IOException;
import java.nio.file.Path;
import java.util.List;
import java.util.concurrent.atomic.AtomicBoolean;
import java.util.function.Supplier;
import javafx.application.Platform;
import javafx.geometry.Pos;
import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.CheckBox;
import javafx.scene.control.Label;
import javafx.scene.control.ProgressBar;
import javafx.scene.layout.HBox;
import javafx.scene.layout.VBox;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.wedgecutter.app.panel.DetailPanel;
import org.wedgecutter.core.deliver.Delivery;
import org.wedgecutter.core.export.HandOver;
import org.wedgecutter.core.plan.LayerDef;
import org.wedgecutter.core.plan.Recipe;

/** Writes what goes on from a delivery into it. */
final class HandOverPanel extends VBox {
  private static final Logger LOG = LoggerFactory.getLogger(HandOverPanel.class);

  private final DeliveryChoice deliveries;
  private final CheckBox own = new CheckBox("use the current recipe");
  private final Button start = new Button("Hand over");
  private final Button stop = new Button("Stop");
  private final ProgressBar progress = new ProgressBar(0);
  private final Label told = new Label();
  private final AtomicBoolean stopped = new AtomicBoolean();
  private final Supplier<Own> plan;

  /**
   * What is taken from the plan.
   *
   * @param folder to which the pictures of the recipe are relative
   */
  record Own(Recipe recipe, Path folder) {}

  /**
   * @param found finds deliveries beside the plan
   * @param ask asks for another one
   * @param plan tells what is taken from it now
   */
  HandOverPanel(Supplier<List<Path>> found, Supplier<@Nullable Path> ask, Supplier<Own> plan) {
    super(8);
    getStyleClass().add("drawer-body");
    setStyle("-fx-padding: 10 14 10 14;");
    this.plan = plan;
    deliveries = new DeliveryChoice("hand-over-delivery", found, 0);
    deliveries.valueProperty().addListener((o, before, now) -> told.setText(first(now)));
    told.setText(first(deliveries.getValue()));
    Button other = new Button("Other…");
    other.setId("hand-over-other");
    other.setOnAction(e -> {
      Path chosen = ask.get();
      if (chosen != null) {
        deliveries.add(chosen);
        deliveries.setValue(chosen);
      }
    });
    own.setId("hand-over-own");
    own.setSelected(true);
    start.setId("hand-over-start");
    start.setOnAction(e -> begin());
    stop.setId("hand-over-stop");
    stop.setDisable(true);
    stop.setOnAction(e -> stopped.set(true));
    told.setId("hand-over-told");
    told.setWrapText(true);
    progress.setPrefWidth(220);
    getChildren()
        .addAll(
            line(DetailPanel.dim("delivery"), deliveries, other),
            own,
            line(start, stop, progress),
            told,
            DetailPanel.note(
                "Writes to its %s folder: rejoined frames (EXR, PNG), layered files (OpenRaster), contact sheets, the recipe as JSON and as a script for oiiotool, and the page of the cut."
                    .formatted(HandOver.FOLDER)));
  }

  private static HBox line(Node... parts) {
    HBox out = new HBox(8, parts);
    out.setAlignment(Pos.CENTER_LEFT);
    return out;
  }

  private static String first(@Nullable Path chosen) {
    return chosen == null ? "No delivery yet: render one, or choose another." : "";
  }

  /** Looks for deliveries that have come since. */
  void refresh() {
    deliveries.refresh();
  }

  private void begin() {
    refresh();
    Path folder = deliveries.getValue();
    if (folder == null) {
      told.setText("Choose a delivery first.");
      return;
    }
    Own with = own.isSelected() ? plan.get() : null;
    stopped.set(false);
    start.setDisable(true);
    stop.setDisable(false);
    told.setText("Rejoining…");
    Thread.ofPlatform()
        .name("hand over")
        .daemon()
        .start(() -> {
          String text;
          try {
            text = written(folder, with);
          } catch (IOException | RuntimeException | Error e) {
            LOG.info("hand over", e);
            text = "Hand-over failed: " + (e instanceof IOException ? e.getMessage() : e);
          }
          String last = text;
          Platform.runLater(() -> {
            told.setText(last);
            start.setDisable(false);
            stop.setDisable(true);
          });
        });
  }

  private String written(Path folder, @Nullable Own with) throws IOException {
    Delivery delivery = Delivery.read(folder);
    if (with != null) {
      for (Recipe.Step step : with.recipe.joins()) {
        if (delivery.plan().layers().stream().map(LayerDef::name).noneMatch(step.layer()::equals)) {
          return "%s has no layer %s: it was rendered from a different cut."
              .formatted(folder, step.layer());
        }
      }
      delivery = delivery.withRecipe(with.recipe, with.folder);
    }
    HandOver made =
        HandOver.write(
            delivery,
            delivery.frames(),
            p -> Platform.runLater(() -> progress.setProgress(p)),
            stopped::get);
    String notes = made.notes().isEmpty() ? "" : "\n" + String.join("\n", made.notes());
    return "%s%d files in %s%s"
        .formatted(
            stopped.get() ? "Stopped: " : "",
            made.files().size(),
            folder.resolve(HandOver.FOLDER),
            notes);
  }

  /** Whether files are being written. */
  boolean isAtWork() {
    return start.isDisabled();
  }

  /** Stops what runs. */
  void stop() {
    stopped.set(true);
  }
}
