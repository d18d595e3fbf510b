package org.wedgecutter.app.viewer;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicLong;
import java.util.function.BiConsumer;
import java.util.function.Consumer;
import java.util.function.Function;
import java.util.stream.DoubleStream;
import javafx.application.Platform;
import javafx.scene.image.Image;
import javafx.scene.image.PixelFormat;
import javafx.scene.image.WritableImage;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.wedgecutter.app.live.FilePictures;
import org.wedgecutter.app.live.LiveTrace;
import org.wedgecutter.app.live.Pictures;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.pass.PassPicture;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.resolve.EntitySet;

/**
 * The pipe of pictures from the trace to the screen: first the one shown, then every layer's small
 * picture, then the proof. Images are made off the interface thread.
 */
public final class PicturePipe implements AutoCloseable {
  private static final Logger LOG = LoggerFactory.getLogger(PicturePipe.class);
  private static final int THUMB = 160;
  private static final int HIGHLIGHT = 0x8000E0C0;

  /** After so many milliseconds without a move, what is dragged is shown whole. */
  private static final int REST = 150;

  /** A draft's pixel takes at most 1.33 on the screen. */
  private static final double FINE = 0.75;

  /** The window; called on the interface thread. */
  public interface Host {
    /** Is given the small picture of each layer. */
    void smallPictures(Map<String, Image> byLayer);

    /**
     * Called when pictures are on the screen.
     *
     * @param editMillis time from the last edit to its first picture, or NaN if none was measured
     */
    void shown(Pictures pictures, double editMillis);

    void complete(Pictures pictures);

    /** Called when a picture was kept, or others were let go. */
    void kept();

    /** Says that tracing failed; it rests until the next edit or {@link #retry}. */
    void failed(Throwable why);
  }

  private final ViewerPane viewer;
  private final Host host;
  private final LiveTrace live = new LiveTrace(this::arrived, this::traceFailed);
  private final ExecutorService images =
      Executors.newSingleThreadExecutor(Thread.ofPlatform().name("images").daemon().factory());
  private volatile @Nullable Pictures latest;
  private volatile @Nullable Shown wanted;
  private volatile long editedAt;
  private volatile double editMillis = Double.NaN;
  private volatile @Nullable Plan editedPlan;
  private final AtomicLong outlineSerial = new AtomicLong();
  private final AtomicLong highlightSerial = new AtomicLong();
  private long imageSerial;

  /** Pixels that the picture takes on the screen while something is dragged; else 0. */
  private volatile int draggedAcross;

  /** The plan of which a draft is shown; null if the picture is whole. */
  private volatile @Nullable Plan drafted;

  /** The plan of which a whole picture is wanted though something is dragged: it rests there. */
  private volatile @Nullable Plan rests;

  /** Of which pictures of layers the window has small ones; for the tracing thread. */
  private final Map<String, Picture> smallOf = new ConcurrentHashMap<>();

  /** Memory for pictures of other frames. */
  private static final long KEPT_BYTES = 384L << 20;

  private final KeptFrames kept = new KeptFrames(KEPT_BYTES);

  /** Whether pictures that come are kept for playback and not shown. */
  private volatile boolean plays;

  private @Nullable Pictures picturesShown;
  private @Nullable Shown viewShown;

  public PicturePipe(ViewerPane viewer, Host host) {
    this.viewer = viewer;
    this.host = host;
  }

  /** Drops the pictures of the shot that was open. */
  public void forget() {
    latest = null;
    smallOf.clear();
    kept.clear();
    picturesShown = null;
    drafted = null;
    dragged(false);
  }

  /** Notes when an edit began. */
  public void editBegins() {
    editedAt = System.nanoTime();
    editMillis = Double.NaN;
  }

  /** Offers what the files of a delivery give, and shows it; null for none. */
  public void files(@Nullable FilePictures next) {
    viewer.setFiles(next);
  }

  /** Asks for pictures of a plan at a frame. */
  public void trace(LoadedShot shot, int frame) {
    editedPlan = shot.plan();
    live.show(shot, frame);
  }

  /**
   * Says that something of the recipe is dragged, or no longer. Meanwhile the rejoined picture
   * comes at about the size in which it is shown, which is sooner; the whole one comes when it
   * rests. The trace waits until it is let go.
   */
  public void dragged(boolean on) {
    draggedAcross = on ? viewer.pixelsAcross() : 0;
    rests = null;
    live.hold(on);
    if (!on && drafted != null) {
      live.again();
    }
  }

  /** By how much a draft is smaller; 1 if the whole picture is made. */
  private int divisor(Pictures pictures, Shown shown) {
    int across = draggedAcross;
    boolean isWhole =
        across <= 0
            || (shown.look() != Look.REJOINED && shown.look() != Look.FILES)
            || shown.wipe()
            || pictures.plan().equals(rests);
    return isWhole ? 1 : Math.max(1, (int) (pictures.width() / (FINE * across)));
  }

  private void wholeWhenAtRest(Plan plan) {
    drafted = plan;
    CompletableFuture.delayedExecutor(REST, TimeUnit.MILLISECONDS, images)
        .execute(() -> {
          if (plan.equals(drafted)) {
            rests = plan;
            live.again();
          }
        });
  }

  /** Pictures come from the trace, and from recipes that change while it goes on. */
  private synchronized void arrived(Pictures pictures) {
    Shown shown = wanted;
    if (plays && shown != null) {
      ShownImages made = ShownImages.of(pictures, shown);
      Platform.runLater(() -> {
        keep(pictures, shown, made);
      });
      return;
    }
    int divisor = shown == null ? 1 : divisor(pictures, shown);
    if (shown != null) {
      ShownImages made =
          divisor > 1
              ? ShownImages.draft(pictures, divisor, shown)
              : ShownImages.of(pictures, shown);
      if (pictures.plan().equals(editedPlan) && Double.isNaN(editMillis)) {
        editMillis = (System.nanoTime() - editedAt) / 1e6;
      }
      Platform.runLater(() -> {
        show(pictures, shown, made);
        if (divisor > 1) {
          // the whole one is still to come
          picturesShown = null;
        } else {
          keep(pictures, shown, made);
        }
        host.shown(pictures, editMillis);
      });
    }
    Map<String, Image> small = new HashMap<>();
    for (int l = 0; l < pictures.plan().layers().size(); l++) {
      String name = pictures.plan().layers().get(l).name();
      Picture layer = pictures.layer(l);
      // a correction that is dragged changes none of them
      if (!layer.equals(smallOf.put(name, layer))) {
        small.put(
            name,
            ToScreen.image(
                Thumbnail.of(layer, THUMB), View.PLAIN.withSigned(pictures.isSigned(l))));
      }
    }
    if (!small.isEmpty()) {
      Platform.runLater(() -> host.smallPictures(small));
    }
    if (divisor > 1) {
      wholeWhenAtRest(pictures.plan());
      latest = pictures;
      return;
    }
    drafted = null;
    if (!live.isLatest(pictures.plan())) {
      // something is dragged: a proof of what is over already would hold up the next picture
      latest = pictures;
      return;
    }
    pictures.complete();
    latest = pictures;
    Platform.runLater(() -> {
      if (pictures == picturesShown) {
        viewer.tellAgain();
      }
      host.complete(pictures);
    });
  }

  private void traceFailed(Throwable t) {
    LOG.error("tracing", t);
    Platform.runLater(() -> host.failed(t));
  }

  /**
   * Traces again what failed.
   *
   * @param less whether without the largest size
   */
  public void retry(boolean less) {
    live.retry(less);
  }

  /** Puts images on the screen; what the screen shows is noted here and nowhere else. */
  private void show(Pictures pictures, Shown shown, ShownImages made) {
    picturesShown = pictures;
    viewShown = shown;
    viewer.show(pictures, shown, made);
  }

  /**
   * Whether the viewer shows the newest complete pictures as they are asked for; on the interface
   * thread.
   */
  public boolean isUpToDate() {
    Pictures pictures = latest;
    return pictures != null && pictures == picturesShown && viewer.shown().equals(viewShown);
  }

  /**
   * Makes new images for the viewer from the latest pictures, if they are of this plan; only the
   * last of several requests counts.
   *
   * <p>While a proof is made, the latest complete pictures are older than those on the screen. A
   * view chosen then is of the older ones until the proof is there, and is asked for once more.
   */
  public void redraw(@Nullable Plan plan) {
    Shown shown = viewer.shown();
    wanted = shown;
    // what was asked for before and is still being made would come too late
    long serial = ++imageSerial;
    Pictures pictures = latest;
    // images of the plan before the last edit are not worth making: new pictures follow soon; so
    // does the whole one after a draft
    if (pictures == null
        || plan == null
        || !pictures.plan().equals(plan)
        || plan.equals(drafted)
        || (pictures.equals(picturesShown) && shown.equals(viewShown))) {
      return;
    }
    images.execute(() -> {
      if (shown.equals(wanted) && !plays) {
        FilePictures files = shown.files();
        if (files != null && shown.look() == Look.FILES) {
          // they are read and put together once; afterwards they are there
          live.meanwhile(() -> files.of(pictures));
        }
        ShownImages made = ShownImages.of(pictures, shown);
        Platform.runLater(() -> {
          if (serial == imageSerial && !plays) {
            show(pictures, shown, made);
            keep(pictures, shown, made);
          }
        });
      }
    });
  }

  private void keep(Pictures pictures, Shown shown, ShownImages made) {
    kept.keep(pictures.plan(), shown, pictures.frame(), KeptFrames.Kept.of(pictures, made));
    host.kept();
  }

  /**
   * Says whether frames are played: then pictures that come are kept, and only kept ones are shown.
   */
  public void play(boolean on) {
    plays = on;
    if (on) {
      picturesShown = null;
    }
  }

  /** Shows what is kept of a frame, as it is asked for now; returns whether there is anything. */
  public boolean showKept(Plan plan, int frame) {
    Shown shown = viewer.shown();
    wanted = shown;
    KeptFrames.Kept of = kept.of(plan, shown, frame);
    if (of != null) {
      viewer.show(of, frame);
    }
    return of != null;
  }

  /** Returns how much is kept of a frame, as it is asked for now. */
  public KeptFrames.State kept(Plan plan, int frame) {
    return kept.state(plan, viewer.shown(), frame);
  }

  /**
   * Returns how good a picture of a frame is kept, as it is asked for now: 0 for none, ascending,
   * {@link Integer#MAX_VALUE} for one that has all samples.
   */
  public int quality(Plan plan, int frame) {
    return kept.quality(plan, viewer.shown(), frame);
  }

  /** Whether more pictures can be kept. */
  public boolean hasRoom() {
    return kept.hasRoom();
  }

  /** Shows where in the picture some entities are. */
  public void highlight(EntitySet entities) {
    long serial = highlightSerial.incrementAndGet();
    Pictures pictures = latest;
    if (entities.isEmpty() || pictures == null || pictures.facts().entities().length == 0) {
      viewer.setHighlight(null);
      return;
    }
    images.execute(() -> {
      if (serial == highlightSerial.get()) {
        Image made = mask(pictures, entities);
        Platform.runLater(() -> {
          if (serial == highlightSerial.get()) {
            viewer.setHighlight(made);
          }
        });
      }
    });
  }

  /**
   * Makes a picture of the latest ones off the interface thread, and its image as it is shown at
   * first; both are null if there are none yet.
   */
  public void make(
      Function<Pictures, @Nullable Picture> of,
      BiConsumer<@Nullable Picture, @Nullable Image> then) {
    Pictures pictures = latest;
    images.execute(() -> {
      Picture made = pictures == null ? null : of.apply(pictures);
      Image image = made == null ? null : ToScreen.image(made, View.PLAIN);
      Platform.runLater(() -> then.accept(made, image));
    });
  }

  /** Asks the latest pictures something off the interface thread; nothing if there are none. */
  public <T> void ask(Function<Pictures, T> question, Consumer<T> then) {
    Pictures pictures = latest;
    if (pictures != null) {
      images.execute(() -> {
        T answer = question.apply(pictures);
        Platform.runLater(() -> then.accept(answer));
      });
    }
  }

  /** Lays over the picture how much of each pixel is meant: what a function makes, 0 to 1. */
  public void cover(Function<Pictures, Picture> of) {
    long serial = highlightSerial.incrementAndGet();
    Pictures pictures = latest;
    if (pictures == null) {
      return;
    }
    images.execute(() -> {
      if (serial == highlightSerial.get()) {
        Picture made = of.apply(pictures);
        int[] argb = new int[made.width() * made.height()];
        for (int p = 0; p < argb.length; p++) {
          int alpha = Math.round(0.6f * 255 * Math.max(0, Math.min(1, made.rgba()[4 * p + 3])));
          argb[p] = alpha << 24 | (HIGHLIGHT & 0xFFFFFF);
        }
        Image image = image(argb, made.width());
        Platform.runLater(() -> {
          if (serial == highlightSerial.get()) {
            viewer.setHighlight(image);
          }
        });
      }
    });
  }

  /**
   * Draws over the picture how far a catcher reaches, and where it begins to fade.
   *
   * @param layer the layer that catches, or -1 for nothing
   * @param soft share of the radius over which it fades
   */
  public void reach(int layer, double soft) {
    Pictures pictures = latest;
    long serial = outlineSerial.incrementAndGet();
    if (layer < 0 || pictures == null || layer >= pictures.plan().layers().size()) {
      viewer.setOutlines(List.of());
      return;
    }
    images.execute(() -> {
      List<double[]> lines = new ArrayList<>();
      lines.add(outline(pictures, layer, 1));
      if (soft > 0 && soft < 1) {
        lines.add(outline(pictures, layer, 1 - soft));
      }
      Platform.runLater(() -> {
        if (serial == outlineSerial.get()) {
          viewer.setOutlines(lines);
        }
      });
    });
  }

  /**
   * Draws lines and handles over the picture, until others are.
   *
   * @param hand receives drags of the handles
   */
  public void draw(Drawing drawing, Drawing.Hand hand) {
    viewer.setDrawing(drawing, hand);
  }

  private static double[] outline(Pictures pictures, int layer, double share) {
    double scale = (double) pictures.plan().requireShot().width() / pictures.layer(layer).width();
    return pictures.reachOutline(layer, share).stream()
        .flatMapToDouble(p -> DoubleStream.of(p[0] * scale, p[1] * scale))
        .toArray();
  }

  /** Hatches what lies before the near or beyond the far end of the depth ramp. */
  public void depthRange() {
    long serial = highlightSerial.incrementAndGet();
    Pictures pictures = latest;
    if (pictures == null) {
      return;
    }
    images.execute(() -> {
      PassPicture ramp = pictures.pass(-1, "depth-ramp");
      Image made = ramp == null ? null : range(ramp.values(), pictures.uncut().width());
      Platform.runLater(() -> {
        if (serial == highlightSerial.get()) {
          viewer.setHighlight(made);
        }
      });
    });
  }

  private static Image range(float[] ramp, int width) {
    int[] argb = new int[ramp.length];
    for (int p = 0; p < ramp.length; p++) {
      int stripe = p % width + (ramp[p] <= 0 ? p / width : -(p / width)) & 7;
      boolean out = ramp[p] <= 0 || ramp[p] >= 1;
      argb[p] = out && stripe < 3 ? HIGHLIGHT : 0;
    }
    return image(argb, width);
  }

  private static Image image(int[] argb, int width) {
    int height = argb.length / width;
    WritableImage image = new WritableImage(width, height);
    image
        .getPixelWriter()
        .setPixels(0, 0, width, height, PixelFormat.getIntArgbInstance(), argb, 0, width);
    return image;
  }

  private static Image mask(Pictures pictures, EntitySet entities) {
    int[] of = pictures.facts().entities();
    int width = pictures.uncut().width();
    int[] argb = new int[of.length];
    for (int p = 0; p < of.length; p++) {
      // every other diagonal stays free, so that the picture shows through
      boolean line = ((p % width + p / width) & 3) != 0;
      argb[p] = of[p] >= 0 && entities.contains(of[p]) && line ? HIGHLIGHT : 0;
    }
    return image(argb, width);
  }

  /** Returns the pictures that were last complete, or null. */
  public @Nullable Pictures latest() {
    return latest;
  }

  @Override
  public void close() {
    latest = null;
    live.close();
    images.shutdownNow();
  }
}
