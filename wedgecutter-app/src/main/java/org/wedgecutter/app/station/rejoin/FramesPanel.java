package org.wedgecutter.app.station.rejoin;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CancellationException;
import java.util.function.Consumer;
import java.util.function.IntConsumer;
import java.util.function.Supplier;
import javafx.application.Platform;
import javafx.geometry.Pos;
import javafx.geometry.VPos;
import javafx.scene.canvas.Canvas;
import javafx.scene.canvas.GraphicsContext;
import javafx.scene.control.Button;
import javafx.scene.control.Label;
import javafx.scene.control.ProgressBar;
import javafx.scene.image.Image;
import javafx.scene.image.ImageView;
import javafx.scene.layout.HBox;
import javafx.scene.layout.VBox;
import javafx.scene.text.TextAlignment;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.wedgecutter.app.panel.DetailPanel;
import org.wedgecutter.app.panel.Entry;
import org.wedgecutter.app.panel.FactGrid;
import org.wedgecutter.app.theme.Theme;
import org.wedgecutter.app.viewer.ToScreen;
import org.wedgecutter.app.viewer.View;
import org.wedgecutter.core.image.ContactSheet;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.plan.FrameRange;
import org.wedgecutter.core.proof.FrameResidual;
import org.wedgecutter.core.render.FrameRenderer;

/**
 * The residual over frames, traced small: a bar for each frame, shares by layer and object; and the
 * frames side by side.
 */
final class FramesPanel extends VBox {
  private static final Logger LOG = LoggerFactory.getLogger(FramesPanel.class);
  private static final int ACROSS = 240;
  private static final int SAMPLES = 2;

  /** Frames that are looked at unless others are asked for. */
  private static final int FEW = 12;

  /** Objects that are listed. */
  private static final int OBJECTS = 6;

  /** Share of the residual below which nothing is listed. */
  private static final double LITTLE = 0.005;

  /** Frames that stand side by side, in lines of four. */
  private static final int PICTURED = 96;

  private static final int COLUMNS = 4;
  private static final int TILE = 127;

  private static final double WIDTH = 570;
  private static final double HEIGHT = 130;

  private final Supplier<LoadedShot> shot;
  private final Theme theme;
  private final Canvas chart = new Canvas(WIDTH, HEIGHT);
  private final FactGrid shares = new FactGrid("frames-shares");
  private final Label told = DetailPanel.dim("");
  private final Label trouble = Entry.trouble("frames-trouble");
  private final Button start = new Button("Prove these frames");
  private final Button stop = new Button("Stop");
  private final ProgressBar progress = new ProgressBar(0);
  private final List<FrameResidual> done = new ArrayList<>();
  private final ImageView pictures = new ImageView();
  private final Button save = new Button("Save frames as picture…");

  /** The frames that were traced, side by side for a file; empty before. */
  private List<ContactSheet.Tile> tiles = List.of();

  private FrameRange range;
  private int asked;
  private @Nullable FrameRenderer running;

  /**
   * @param shot tells the shot as it is now
   * @param toFrame shows a frame in the viewer
   * @param saver saves a sheet as a file
   */
  FramesPanel(
      Supplier<LoadedShot> shot,
      Theme theme,
      IntConsumer toFrame,
      Consumer<Supplier<Picture>> saver) {
    super(8);
    this.shot = shot;
    this.theme = theme;
    getStyleClass().add("drawer-body");
    setStyle("-fx-padding: 10 14 10 14;");
    range = few(shot.get().plan().requireShot().frames());
    Entry frames =
        new Entry(
            "frames-range",
            range.text(),
            12,
            "frames such as 1-48x4",
            trouble,
            text -> range = FrameRange.parse(text));
    start.setId("frames-start");
    start.setOnAction(e -> begin());
    stop.setId("frames-stop");
    stop.setDisable(true);
    stop.setOnAction(e -> halt());
    progress.setPrefWidth(150);
    told.setId("frames-told");
    chart.setOnMouseClicked(e -> {
      int k = (int) (e.getX() / WIDTH * slots());
      if (k >= 0 && k < done.size()) {
        toFrame.accept(done.get(k).frame());
      }
    });
    chart.setAccessibleText("residual by frame");
    pictures.setId("frames-pictures");
    save.setId("frames-save");
    save.setDisable(true);
    save.setOnAction(e -> {
      List<ContactSheet.Tile> now = tiles;
      saver.accept(() -> ContactSheet.of(now, COLUMNS, ACROSS));
    });
    HBox line = new HBox(8, Entry.named("frames", frames), start, stop, progress);
    line.setAlignment(Pos.CENTER_LEFT);
    getChildren()
        .addAll(
            line,
            trouble,
            told,
            chart,
            shares,
            pictures,
            save,
            DetailPanel.note(
                "%d pixels across, %d samples. Bars: largest residual, logarithmic from 0.0001 to 10; click one to go to its frame."
                    .formatted(ACROSS, SAMPLES)));
    // whoever closes the drawer does not wait for the rest
    sceneProperty()
        .addListener((o, before, now) -> {
          if (now == null) {
            halt();
          }
        });
    paint();
  }

  private static FrameRange few(FrameRange all) {
    List<Integer> frames = all.frames();
    int step = Math.max(1, (frames.size() + FEW - 1) / FEW);
    boolean even = frames.size() == all.last() - all.first() + 1;
    if (step == 1 || !even) {
      return all;
    }
    return FrameRange.parse("%d-%dx%d".formatted(all.first(), all.last(), step));
  }

  /** For how many frames there is room. */
  private int slots() {
    return Math.max(1, Math.max(asked, done.size()));
  }

  private void begin() {
    LoadedShot now = shot.get();
    List<Integer> frames =
        range.frames().stream()
            .filter(now.plan().requireShot().frames().frames()::contains)
            .toList();
    done.clear();
    asked = frames.size();
    paint();
    if (frames.isEmpty()) {
      told.setText("None of these frames is in the shot's range.");
      return;
    }
    FrameRenderer renderer = renderer(now);
    running = renderer;
    start.setDisable(true);
    save.setDisable(true);
    stop.setDisable(false);
    told.setText("Tracing…");
    Thread.ofPlatform()
        .name("residual by frame")
        .daemon()
        .start(() -> {
          String last = "";
          List<ContactSheet.Tile> made = new ArrayList<>();
          try {
            for (int frame : frames) {
              FrameResidual next = FrameResidual.of(now, frame, renderer);
              if (made.size() < PICTURED) {
                made.add(new ContactSheet.Tile(String.valueOf(frame), next.rejoined()));
              }
              Platform.runLater(() -> add(renderer, next, frames.size()));
            }
          } catch (CancellationException e) {
            last = "Stopped.";
          } catch (Throwable e) {
            LOG.error("residual by frame", e);
            last = "Failed: " + e.getMessage();
          }
          String text = last;
          Image sheet =
              made.isEmpty()
                  ? null
                  : ToScreen.image(ContactSheet.of(made, COLUMNS, TILE), View.PLAIN);
          Platform.runLater(() -> ended(renderer, text, made, sheet));
        });
  }

  private static FrameRenderer renderer(LoadedShot shot) {
    FrameRenderer.Settings whole = FrameRenderer.Settings.of(shot, 1, SAMPLES, 1, false);
    double scale = Math.min(1, (double) ACROSS / whole.width());
    return new FrameRenderer(shot, FrameRenderer.Settings.of(shot, scale, SAMPLES, 1, false));
  }

  private void add(FrameRenderer of, FrameResidual next, int all) {
    if (of.equals(running)) {
      done.add(next);
      progress.setProgress((double) done.size() / all);
      told.setText("Frame %d of %d".formatted(done.size(), all));
      paint();
    }
  }

  private void ended(
      FrameRenderer of, String text, List<ContactSheet.Tile> made, @Nullable Image sheet) {
    if (!of.equals(running)) {
      return;
    }
    tiles = made;
    pictures.setImage(sheet);
    save.setDisable(sheet == null);
    running = null;
    start.setDisable(false);
    stop.setDisable(true);
    long exact = done.stream().filter(f -> f.residual().exact()).count();
    told.setText(
        "%s%d of %d frames rejoin exactly"
            .formatted(text.isEmpty() ? "" : text + " ", exact, done.size()));
  }

  private void halt() {
    FrameRenderer now = running;
    if (now != null) {
      now.stop();
    }
  }

  // ---- the chart

  private void paint() {
    GraphicsContext g = chart.getGraphicsContext2D();
    g.setFill(theme.panel);
    g.fillRect(0, 0, WIDTH, HEIGHT);
    double floor = HEIGHT - 20;
    double each = WIDTH / slots();
    g.setFont(Theme.mono(12));
    g.setTextAlign(TextAlignment.CENTER);
    g.setTextBaseline(VPos.BOTTOM);
    for (int k = 0; k < done.size(); k++) {
      FrameResidual f = done.get(k);
      boolean exact = f.residual().exact();
      double size = Math.max(1e-4, Math.min(10, f.residual().max()));
      double high = exact ? 3 : Math.max(6, Math.log10(size / 1e-4) / 5 * (floor - 8));
      g.setFill(exact ? theme.accent : theme.error);
      g.fillRect(k * each + 2, floor - high, Math.max(2, each - 4), high);
      g.setFill(theme.dim);
      if (each > 24 || k % (int) Math.ceil(24 / each) == 0) {
        g.fillText(String.valueOf(f.frame()), (k + 0.5) * each, HEIGHT - 2);
      }
    }
    shares.show(facts(), theme);
  }

  private FactGrid.Facts facts() {
    Map<String, double[]> rows = new LinkedHashMap<>();
    Map<String, Double> objects = new LinkedHashMap<>();
    for (FrameResidual f : done) {
      f.layers().forEach(s -> rows.merge(row(s.name()), one(f, s), FramesPanel::plus));
      f.entities()
          .forEach(s -> objects.merge(s.name(), s.share() * f.residual().excess(), Double::sum));
    }
    objects.entrySet().stream()
        .sorted(Map.Entry.<String, Double>comparingByValue().reversed())
        .limit(OBJECTS)
        .forEach(e ->
            done.forEach(f ->
                f.entities().stream()
                    .filter(s -> s.name().equals(e.getKey()))
                    .forEach(s -> rows.merge(tail(s.name()), one(f, s), FramesPanel::plus))));
    double all = done.stream().mapToDouble(f -> f.residual().excess()).sum();
    List<List<FactGrid.Cell>> cells = new ArrayList<>();
    rows.values().removeIf(v -> v[0] < LITTLE * all);
    rows.forEach((name, v) -> {
      double share = all > 0 ? v[0] / all : 0;
      cells.add(
          List.of(
              new FactGrid.Cell(
                  "%.1f %%".formatted(share * 100),
                  share,
                  "%s holds %.1f %% of the residual of these frames".formatted(name, share * 100)),
              new FactGrid.Cell(
                  "%.0f".formatted(v[1]), 0, "most of it at frame %.0f".formatted(v[1]))));
    });
    return rows.isEmpty()
        ? FactGrid.Facts.NONE
        : new FactGrid.Facts(
            "residual by", List.copyOf(rows.keySet()), List.of("share", "worst frame"), cells);
  }

  private static String row(String layer) {
    return layer.isEmpty() ? "in no layer" : layer;
  }

  /** The end of a path. */
  private static String tail(String path) {
    int last = path.lastIndexOf('/');
    int before = path.lastIndexOf('/', last - 1);
    return before < 0 ? path : "…" + path.substring(before);
  }

  /** A share of one frame: its size, the frame, and its size there. */
  private static double[] one(FrameResidual f, FrameResidual.Share s) {
    double size = s.share() * f.residual().excess();
    return new double[] {size, f.frame(), size};
  }

  private static double[] plus(double[] a, double[] b) {
    return new double[] {a[0] + b[0], b[2] > a[2] ? b[1] : a[1], Math.max(a[2], b[2])};
  }
}
