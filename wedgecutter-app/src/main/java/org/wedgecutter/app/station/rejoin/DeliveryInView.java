package org.wedgecutter.app.station.rejoin;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.FileTime;
import java.util.List;
import java.util.concurrent.CancellationException;
import java.util.concurrent.atomic.AtomicBoolean;
import java.util.function.Consumer;
import java.util.function.Supplier;
import javafx.application.Platform;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.wedgecutter.app.live.FilePictures;
import org.wedgecutter.app.panel.Words;
import org.wedgecutter.core.deliver.Delivery;
import org.wedgecutter.core.deliver.check.DeliveryProof;
import org.wedgecutter.core.deliver.file.DeliveryFrame;
import org.wedgecutter.core.plan.Extra;
import org.wedgecutter.core.plan.FrameRange;
import org.wedgecutter.core.plan.Recipe;

/**
 * The delivery whose files the viewer shows. It is read, and proved, in the background; what is
 * known of it changes on the interface thread alone.
 */
final class DeliveryInView {
  private static final Logger LOG = LoggerFactory.getLogger(DeliveryInView.class);

  private static final int WARM_LAYERS = 4;

  private final Consumer<@Nullable FilePictures> viewer;
  private final Runnable changed;
  private @Nullable Path folder;
  private @Nullable Delivery delivery;
  private @Nullable FileTime written;
  private String told = "";
  private String said = "";
  private @Nullable DeliveryProof proof;
  private @Nullable AtomicBoolean proving;
  private boolean isWarm;

  /**
   * @param viewer shows files, or none
   * @param changed is run whenever there is something new
   */
  DeliveryInView(Consumer<@Nullable FilePictures> viewer, Runnable changed) {
    this.viewer = viewer;
    this.changed = changed;
  }

  /** Returns where it is; null if none is shown. */
  @Nullable Path folder() {
    return folder;
  }

  /** Returns its name; empty if none is shown. */
  String name() {
    Path now = folder;
    return now == null ? "" : String.valueOf(now.getFileName());
  }

  /** Returns what is known of it, in words. */
  String told() {
    return told;
  }

  /** Returns what is said of the proof; empty if none was asked for. */
  String said() {
    return said;
  }

  /** Returns the last proof; null if there is none. */
  @Nullable DeliveryProof proof() {
    return proof;
  }

  /** Whether a proof is being made. */
  boolean isProving() {
    return proving != null;
  }

  /** Whether it can be proved. */
  boolean isThere() {
    return delivery != null;
  }

  /** Shows another one; null for none. */
  void show(@Nullable Path next) {
    stop();
    proving = null;
    folder = next;
    delivery = null;
    proof = null;
    said = "";
    written = next == null ? null : written(next);
    told = next == null ? "" : "Reading…";
    if (next == null) {
      viewer.accept(null);
    } else {
      read(next);
    }
    changed.run();
  }

  /**
   * Reads some layers of one of some deliveries, once, while the TD looks for the right one: the
   * code that reads files is compiled by then.
   */
  void warmUp(Supplier<List<Path>> found) {
    if (isWarm) {
      return;
    }
    isWarm = true;
    Thread.ofPlatform()
        .name("warm up")
        .daemon()
        .start(() -> {
          try {
            List<Path> all = found.get();
            if (!all.isEmpty()) {
              warmUp(all.getLast());
            }
          } catch (IOException | RuntimeException e) {
            // an error is shown when the delivery is chosen
            LOG.debug("warming up", e);
          }
        });
  }

  private static void warmUp(Path folder) throws IOException {
    Delivery read = Delivery.read(folder);
    List<Recipe.Step> joins = read.plan().recipe().joins();
    if (!read.frames().isEmpty() && !joins.isEmpty()) {
      int few = Math.min(WARM_LAYERS, joins.size());
      Recipe some = new Recipe(joins.subList(0, few), Extra.NONE);
      new DeliveryFrame(read, read.frames().getFirst()).rejoined(some, folder, 1);
    }
  }

  /** Reads it again if it was written since. */
  void refresh() {
    Path now = folder;
    if (now != null && !String.valueOf(written(now)).equals(String.valueOf(written))) {
      show(now);
    }
  }

  private static @Nullable FileTime written(Path folder) {
    try {
      return Files.getLastModifiedTime(folder.resolve(Delivery.MANIFEST));
    } catch (IOException e) {
      return null;
    }
  }

  private void read(Path from) {
    Thread.ofPlatform()
        .name("read delivery")
        .daemon()
        .start(() -> {
          Delivery read;
          String text;
          try {
            read = Delivery.read(from);
            text =
                "%s, %d × %d, %s"
                    .formatted(
                        read.frames().isEmpty()
                            ? "no frames"
                            : (read.frames().size() == 1 ? "frame " : "frames ")
                                + FrameRange.of(read.frames()).text(),
                        read.region().width(),
                        read.region().height(),
                        Words.counted(read.samples(), "sample"));
          } catch (IOException | RuntimeException e) {
            LOG.info("reading {}", from, e);
            read = null;
            text = "Cannot read the delivery: " + e.getMessage();
          }
          Delivery of = read;
          String words = text;
          Platform.runLater(() -> {
            if (from.equals(folder) && delivery == null) {
              delivery = of;
              told = words;
              viewer.accept(of == null ? null : new FilePictures(of));
              changed.run();
            }
          });
        });
  }

  /** Proves a frame of the files alone, with the recipe that they were delivered with. */
  void prove(int frame) {
    Delivery now = delivery;
    if (now == null || proving != null) {
      return;
    }
    AtomicBoolean stopped = new AtomicBoolean();
    proving = stopped;
    proof = null;
    said = "Proving frame %d…".formatted(frame);
    changed.run();
    Thread.ofPlatform()
        .name("prove files")
        .daemon()
        .start(() -> {
          DeliveryProof made = null;
          String text;
          try {
            made = DeliveryProof.prove(now, frame, stopped::get);
            text =
                made.exact()
                    ? "Frame %d rejoins exactly.".formatted(frame)
                    : made.residual().invalid() > 0
                        ? "Frame %d: %d values not finite."
                            .formatted(frame, made.residual().invalid())
                        : "Frame %d: max residual %.2g.".formatted(frame, made.residual().max());
          } catch (CancellationException e) {
            text = "Stopped.";
          } catch (IOException | RuntimeException e) {
            LOG.info("proving {}", now.folder(), e);
            text = "Cannot verify the delivery: " + e.getMessage();
          }
          DeliveryProof last = made;
          String words = text;
          Platform.runLater(() -> {
            if (stopped.equals(proving)) {
              proving = null;
              proof = last;
              said = words;
              changed.run();
            }
          });
        });
  }

  /** Stops the proof. */
  void stop() {
    AtomicBoolean now = proving;
    if (now != null) {
      now.set(true);
    }
  }
}
