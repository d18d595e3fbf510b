package org.wedgecutter.app.station.shot;

import java.util.concurrent.CancellationException;
import javafx.application.Platform;
import javafx.scene.control.Label;
import javafx.scene.image.ImageView;
import javafx.scene.image.PixelFormat;
import javafx.scene.image.WritableImage;
import javafx.scene.layout.VBox;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.survey.LightPicture;
import org.wedgecutter.core.survey.Parts;

/**
 * What one part does to the light of another, as a picture: brighter than grey where light comes by
 * way of it, darker where it blocks light.
 */
final class LightView extends VBox {
  private static final Logger LOG = LoggerFactory.getLogger(LightView.class);
  private static final int WIDTH = 240;

  /** Shown after so many samples each. */
  private static final int[] SAMPLES = {1, 4, 12, 32};

  private final ImageView view = new ImageView();
  private final Label state = new Label("Tracing…");
  private final LoadedShot shot;
  private final int frame;
  private final Parts.Part of;
  private final Parts.Part by;
  private volatile @Nullable LightPicture running;
  private volatile boolean closed;

  LightView(LoadedShot shot, int frame, Parts.Part of, Parts.Part by, String sentence) {
    this.shot = shot;
    this.frame = frame;
    this.of = of;
    this.by = by;
    setSpacing(10);
    getStyleClass().add("drawer-body");
    Label said = new Label(sentence);
    said.setWrapText(true);
    state.setId("light-view-state");
    state.setWrapText(true);
    view.setId("light-view");
    view.setPreserveRatio(true);
    view.fitWidthProperty().bind(widthProperty().subtract(28));
    getChildren().addAll(said, view, state);
    sceneProperty()
        .addListener((o, before, now) -> {
          if (now == null) {
            stop();
          }
        });
  }

  private void stop() {
    closed = true;
    LightPicture picture = running;
    if (picture != null) {
      picture.stop();
    }
  }

  /** Places the scene and traces it, in the background. */
  void begin() {
    Thread.ofPlatform().name("light picture").daemon().start(this::trace);
  }

  private void trace() {
    try {
      var s = shot.plan().requireShot();
      int height = Math.max(1, WIDTH * s.height() / s.width());
      LightPicture picture =
          new LightPicture(shot, frame, of.entities(), by.entities(), WIDTH, height);
      running = picture;
      if (closed) {
        // it was closed before there was anything to stop
        picture.stop();
      }
      for (int samples : SAMPLES) {
        show(picture.trace(samples, 1));
      }
    } catch (CancellationException e) {
      Platform.runLater(() -> state.setText("Stopped."));
    } catch (Throwable e) {
      LOG.error("tracing a light picture", e);
      Platform.runLater(() -> state.setText("No picture: " + e));
    }
  }

  private void show(Picture made) {
    double most = most(made);
    WritableImage image = image(made, most);
    String text =
        most > 0
            ? "Frame %d. Brighter than grey: light on %s via %s. Darker: light that %s blocks. Full scale: %.3g."
                .formatted(frame, of.name(), by.name(), by.name(), most)
            : "%s has no effect on the light of %s here.".formatted(by.name(), of.name());
    Platform.runLater(() -> {
      view.setImage(image);
      state.setText(text);
    });
  }

  /** The size of the light in all but the brightest hundredth of the numbers. */
  private static double most(Picture p) {
    double[] sizes = new double[p.rgba().length / 4];
    int used = 0;
    for (int i = 0; i < p.rgba().length; i += 4) {
      double size =
          Math.max(
              Math.abs(p.rgba()[i]),
              Math.max(Math.abs(p.rgba()[i + 1]), Math.abs(p.rgba()[i + 2])));
      if (size > 0) {
        sizes[used++] = size;
      }
    }
    java.util.Arrays.sort(sizes, 0, used);
    return used == 0 ? 0 : sizes[(int) (0.99 * (used - 1))];
  }

  private static WritableImage image(Picture p, double most) {
    WritableImage out = new WritableImage(p.width(), p.height());
    int[] argb = new int[p.width() * p.height()];
    for (int k = 0; k < argb.length; k++) {
      int value = 0xff;
      for (int c = 0; c < 3; c++) {
        double part = most > 0 ? p.rgba()[4 * k + c] / most : 0;
        double shown = 0.5 + 0.5 * Math.signum(part) * Math.pow(Math.min(1, Math.abs(part)), 0.6);
        value = value << 8 | (int) Math.round(255 * shown);
      }
      argb[k] = value;
    }
    out.getPixelWriter()
        .setPixels(
            0, 0, p.width(), p.height(), PixelFormat.getIntArgbInstance(), argb, 0, p.width());
    return out;
  }
}
