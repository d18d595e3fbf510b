package org.wedgecutter.app.station.render;

import java.nio.file.Path;
import java.util.List;
import java.util.concurrent.CancellationException;
import javafx.application.Platform;
import javafx.geometry.Pos;
import javafx.scene.control.Button;
import javafx.scene.control.CheckBox;
import javafx.scene.control.Label;
import javafx.scene.control.ProgressBar;
import javafx.scene.control.TextField;
import javafx.scene.layout.FlowPane;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.VBox;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.wedgecutter.core.deliver.Delivery;
import org.wedgecutter.core.deliver.DeliveryProof;
import org.wedgecutter.core.deliver.DeliveryRenderer;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.plan.FileNames;
import org.wedgecutter.core.plan.FrameRange;
import org.wedgecutter.core.render.FrameRenderer;
import org.wedgecutter.core.render.RenderedFrame;

/** Starts a delivery, shows its progress, stops it, and proves it from its files. */
public final class RenderPanel extends VBox {
  /** Listener to the progress of frames. */
  interface Board {
    void begins(List<Integer> frames);

    void at(int frame, double share, boolean failed, double seconds);

    void ends(List<RenderedFrame.ClassTime> classes, int frames);
  }

  private static final Logger LOG = LoggerFactory.getLogger(RenderPanel.class);

  private final TextField frames = new TextField("1");
  private final TextField scale = new TextField("1");
  private final TextField samples = new TextField("");
  private final CheckBox uncut = new CheckBox("Also render the uncut frame");
  private final CheckBox spare = new CheckBox("Leave one core free");
  private final Button start = new Button("Render");
  private final Button stop = new Button("Stop");
  private final ProgressBar bar = new ProgressBar(0);
  private final Label tells = new Label();
  private final Label names = new Label();
  private final Board board;
  private @Nullable LoadedShot shot;
  private volatile @Nullable DeliveryRenderer running;
  private volatile @Nullable Path folder;
  private volatile boolean stopAsked;
  private boolean busy;

  /** What the fields were filled with from the plan; what differs from it was typed. */
  private String planFrames = "";

  private String planSamples = "";
  private @Nullable Path planFile;
  private long nameSerial;
  private String solo = "";

  public RenderPanel(Board board) {
    this.board = board;
    getStyleClass().add("render-bar");
    setSpacing(7);
    frames.setId("render-frames");
    frames.setPrefColumnCount(8);
    scale.setId("render-scale");
    scale.setPrefColumnCount(3);
    samples.setId("render-samples");
    samples.setPrefColumnCount(4);
    uncut.setId("render-uncut");
    uncut.setSelected(true);
    start.setId("render-start");
    start.getStyleClass().add("go");
    stop.setId("render-stop");
    stop.setDisable(true);
    tells.setId("render-tells");
    tells.getStyleClass().add("number");
    names.getStyleClass().add("dim");
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
            uncut,
            spare);
    fields.setAlignment(Pos.CENTER_LEFT);
    HBox line = new HBox(8, start, stop, bar);
    line.setAlignment(Pos.CENTER_LEFT);
    getChildren().addAll(fields, names, line, tells);
    start.setOnAction(e -> start());
    stop.setOnAction(e -> stop());
    frames.textProperty().addListener(o -> preview());
  }

  private static Label dim(String text) {
    Label label = new Label(text);
    label.getStyleClass().add("dim");
    return label;
  }

  /** Shows the current plan: fields that nobody has typed in follow it. */
  public void setShot(LoadedShot next) {
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
  public void setSolo(String layer) {
    solo = layer;
    start.setText(layer.isEmpty() ? "Render" : "Render " + layer + " only");
  }

  /** Returns the frames to render; empty while the text is no valid range. */
  public List<Integer> frames() {
    try {
      return FrameRange.parse(frames.getText()).frames();
    } catch (IllegalArgumentException e) {
      return List.of();
    }
  }

  private void preview() {
    LoadedShot s = shot;
    if (s == null) {
      return;
    }
    if (!busy) {
      board.begins(frames());
    }
    showNames(s);
  }

  /** Shows a file's name; whether a folder is free is asked away from the interface thread. */
  private void showNames(LoadedShot s) {
    int frame = frames().isEmpty() ? 1 : frames().getFirst();
    long own = ++nameSerial;
    Thread.ofVirtual()
        .start(() -> {
          String text = example(s, frame);
          Platform.runLater(() -> {
            if (own == nameSerial) {
              names.setText(text);
            }
          });
        });
  }

  private static String example(LoadedShot s, int frame) {
    Path target = DeliveryRenderer.freeFolder(s);
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

  private void start() {
    LoadedShot s = shot;
    if (s == null || busy) {
      return;
    }
    List<Integer> wanted = frames();
    double size;
    int count;
    try {
      size = Double.parseDouble(scale.getText());
      count = Integer.parseInt(samples.getText().trim());
    } catch (NumberFormatException e) {
      tells.setText("Scale and samples must be numbers.");
      return;
    }
    if (wanted.isEmpty() || !(size > 0 && size <= 8) || count < 1) {
      tells.setText(
          wanted.isEmpty()
              ? "Frames: expected a range, for example 1-24x2,30."
              : "Scale must be above 0 and up to 8, samples 1 or more.");
      return;
    }
    List<String> only = solo.isEmpty() ? List.of() : List.of(solo);
    boolean whole = uncut.isSelected();
    FrameRenderer.Settings settings =
        FrameRenderer.Settings.of(s, size, count, spare.isSelected() ? -1 : 0, false);
    busy = true;
    stopAsked = false;
    board.begins(wanted);
    start.setDisable(true);
    stop.setDisable(false);
    tells.setText("");
    Thread.ofPlatform()
        .name("delivery")
        .daemon()
        .start(() -> render(s, only, wanted, whole, settings));
  }

  private void render(
      LoadedShot s,
      List<String> only,
      List<Integer> wanted,
      boolean whole,
      FrameRenderer.Settings settings) {
    try {
      Path target = DeliveryRenderer.freeFolder(s);
      DeliveryRenderer renderer =
          new DeliveryRenderer(
              s, new DeliveryRenderer.Order(target, only, wanted, whole, settings, false));
      folder = target;
      running = renderer;
      if (stopAsked) {
        renderer.stop();
      }
      run(renderer);
    } catch (InputException e) {
      Platform.runLater(() -> ended(String.valueOf(e.getMessage()), null));
    } catch (Throwable e) {
      LOG.error("rendering", e);
      Platform.runLater(() -> ended("Failed: " + e, null));
    }
  }

  private void run(DeliveryRenderer renderer) {
    long begun = System.nanoTime();
    long[] told = {0};
    int[] last = {-1};
    try {
      Delivery delivery =
          renderer.run((frame, part, share) -> {
            long now = System.nanoTime();
            synchronized (told) {
              if (now - told[0] < 60_000_000L && part < 1 && last[0] == frame) {
                return;
              }
              told[0] = now;
              last[0] = frame;
            }
            double left = share <= 0 ? Double.NaN : (now - begun) / 1e9 / share * (1 - share);
            Platform.runLater(() -> progress(frame, part, share, left));
          });
      Platform.runLater(() -> finished(delivery));
    } catch (CancellationException e) {
      Platform.runLater(() -> ended("Stopped. Finished files stay valid in " + folder, null));
    } catch (Throwable e) {
      LOG.error("rendering", e);
      Platform.runLater(() -> {
        if (last[0] >= 0) {
          board.at(last[0], 0, true, Double.NaN);
        }
        String why = e instanceof java.io.IOException ? e.getMessage() : String.valueOf(e);
        ended("Failed: " + why + " Finished files stay valid in " + folder, null);
      });
    }
  }

  private void progress(int frame, double part, double share, double left) {
    if (busy) {
      bar.setProgress(share);
      board.at(frame, part, false, Double.NaN);
      tells.setText(
          "frame %d, %.0f %% done%s"
              .formatted(
                  frame,
                  share * 100,
                  Double.isFinite(left) ? ", %.0f s left".formatted(left) : ""));
    }
  }

  private void finished(Delivery delivery) {
    for (Delivery.Entry e : delivery.files()) {
      board.at(e.frame(), 1, false, e.seconds());
    }
    bar.setProgress(1);
    ended("%d files in %s".formatted(delivery.files().size(), delivery.folder()), delivery);
    if (delivery.files().stream().anyMatch(Delivery.Entry::uncut)) {
      Thread.ofPlatform().name("delivery proof").daemon().start(() -> prove(delivery));
    }
  }

  private void prove(Delivery delivery) {
    StringBuilder text = new StringBuilder();
    try {
      int exact = 0;
      double worst = 0;
      for (int frame : delivery.frames()) {
        DeliveryProof proof = DeliveryProof.prove(delivery, frame);
        exact += proof.exact() ? 1 : 0;
        worst = Math.max(worst, proof.residual().max());
      }
      text.append(
          "Verified on disk: %d of %d frames rejoin within %s rounding, max residual %.2g."
              .formatted(
                  exact,
                  delivery.frames().size(),
                  delivery.plan().output().half() ? "half" : "float",
                  worst));
    } catch (Throwable e) {
      LOG.error("proving", e);
      String why = e instanceof java.io.IOException ? e.getMessage() : String.valueOf(e);
      text.append("The files could not be proved: ").append(why);
    }
    Platform.runLater(() -> tells.setText(tells.getText() + "\n" + text));
  }

  private void ended(String text, @Nullable Delivery delivery) {
    DeliveryRenderer done = running;
    running = null;
    busy = false;
    start.setDisable(false);
    stop.setDisable(true);
    tells.setText(text);
    LoadedShot s = shot;
    if (s != null) {
      showNames(s);
    }
    if (delivery != null && done != null) {
      board.ends(done.classes(), delivery.frames().size());
    }
  }

  /** Stops what is running. */
  public void stop() {
    if (!busy) {
      return;
    }
    stopAsked = true;
    tells.setText("Stopping…");
    DeliveryRenderer r = running;
    if (r != null) {
      r.stop();
    }
  }

  /** Whether a delivery is being rendered. */
  public boolean busy() {
    return busy;
  }
}
