package org.wedgecutter.app.station.render;

import java.io.IOException;
import java.nio.file.Path;
import java.nio.file.attribute.FileTime;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.Executors;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.ScheduledFuture;
import java.util.concurrent.TimeUnit;
import javafx.animation.PauseTransition;
import javafx.application.Platform;
import javafx.scene.Node;
import javafx.scene.image.Image;
import javafx.scene.image.ImageView;
import javafx.util.Duration;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.wedgecutter.app.live.Pictures;
import org.wedgecutter.app.model.Session;
import org.wedgecutter.app.panel.Banner;
import org.wedgecutter.app.sheet.SheetRows;
import org.wedgecutter.app.station.Station;
import org.wedgecutter.app.station.Workbench;
import org.wedgecutter.core.deliver.DeliveryFolders;
import org.wedgecutter.core.deliver.Unit;
import org.wedgecutter.core.deliver.UnitState;
import org.wedgecutter.core.deliver.unit.DeliveryStatus;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.plan.LayerDef;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.resolve.HeldFrames;

/**
 * The Render station: the frame board, and the queue of deliveries that fill it. Deliveries beside
 * the plan are followed by their folders, whoever renders into them.
 */
public final class RenderStation implements Station {
  private static final Logger LOG = LoggerFactory.getLogger(RenderStation.class);
  private static final long FOLLOWED_EVERY_MILLIS = 2000;

  private final Workbench bench;
  private final RenderRows rows;
  private final RenderPanel panel;
  private final DeliveryQueue queue;
  private final CellPictures pictures;
  private final ImageView picture = new ImageView();
  private final ScheduledFuture<?> rounds;
  private final Map<Path, Followed> known = new ConcurrentHashMap<>();
  private final ScheduledExecutorService following =
      Executors.newSingleThreadScheduledExecutor(
          work -> Thread.ofPlatform().name("deliveries").daemon().unstarted(work));

  /** A delivery rests no longer than this, whatever becomes of the picture that it gives way to. */
  private final PauseTransition patience = new PauseTransition(Duration.seconds(4));

  private @Nullable LoadedShot shot;
  private volatile @Nullable LoadedShot looked;
  private boolean isShown;

  public RenderStation(Workbench bench) {
    this.bench = bench;
    pictures =
        new CellPictures(() -> {
          bench.sheet().refresh();
          look();
        });
    rows = new RenderRows(bench::theme, this::small);
    queue = new DeliveryQueue(this::changed, this::ended);
    patience.setOnFinished(e -> queue.giveWay(false));
    picture.setFitWidth(CellPictures.WIDTH);
    picture.setFitHeight(CellPictures.WIDTH * 9 / 16.0);
    picture.setPreserveRatio(true);
    picture.setId("render-picture");
    panel = new RenderPanel(queue, new Board(), () -> picture);
    rounds =
        following.scheduleWithFixedDelay(
            this::follow, FOLLOWED_EVERY_MILLIS, FOLLOWED_EVERY_MILLIS, TimeUnit.MILLISECONDS);
  }

  private final class Board implements RenderPanel.Picked {
    @Override
    public void show(@Nullable DeliveryJob job) {
      if (job == null) {
        rows.setFrames(panel.frames());
      } else {
        rows.setJob(job);
      }
      bench.sheet().refresh();
      look();
    }

    @Override
    public Map<String, Set<Integer>> cells() {
      Session s = bench.session();
      Map<String, Set<Integer>> out = new LinkedHashMap<>();
      if (s != null) {
        List<LayerDef> layers = s.plan().layers();
        bench
            .sheet()
            .selection()
            .forEach((row, column) -> {
              if (column >= 0 && column < layers.size() && rows.frame(row) != 0) {
                out.computeIfAbsent(layers.get(column).name(), l -> new TreeSet<>())
                    .add(rows.frame(row));
              }
            });
      }
      return out;
    }

    @Override
    public Set<Unit.Key> units() {
      Set<Unit.Key> out = new HashSet<>();
      bench
          .sheet()
          .selection()
          .forEach((row, column) -> {
            DeliveryStatus.Cell cell = rows.cell(row, column);
            if (cell != null) {
              out.add(cell.unit().key());
            }
          });
      return out;
    }
  }

  private @Nullable Image small(DeliveryStatus.Cell cell) {
    DeliveryJob job = panel.shown();
    return job == null ? null : pictures.of(job.folder(), cell);
  }

  /** Shows the cell under the cursor: its picture, and what is known of it. */
  private void look() {
    int row = bench.sheet().row();
    int column = bench.sheet().column();
    DeliveryStatus.Cell cell = rows.cell(row, column);
    picture.setImage(cell == null ? null : small(cell));
    panel.cell(isShown ? rows.describe(row, column) : "");
  }

  private void changed() {
    DeliveryJob job = panel.shown();
    panel.changed();
    if (job != null) {
      rows.setJob(job);
    }
    if (isShown) {
      bench.sheet().refresh();
      look();
    }
  }

  private void ended(DeliveryJob job) {
    if (!isShown) {
      bench.offer(
          job.name() + ": " + job.says().lines().reduce((a, b) -> b).orElse(""),
          new Banner.Choice(
              "render-show",
              "Show",
              () -> {
                bench.goTo(id());
                panel.choose(job);
              }),
          new Banner.Choice("render-shown", "Close", () -> {}));
    }
  }

  /** Of what a delivery's state was read: nothing is read again until either changes. */
  private record Followed(Plan plan, FileTime changed) {}

  /** Looks after the deliveries beside the plan; on a thread of its own. */
  private void follow() {
    LoadedShot s = looked;
    if (s == null) {
      return;
    }
    for (Path folder : DeliveryFolders.of(s)) {
      try {
        Followed now = new Followed(s.plan(), DeliveryStatus.changed(folder));
        if (queue.isRendering(folder) || now.equals(known.put(folder, now))) {
          continue;
        }
        DeliveryStatus status = DeliveryStatus.read(folder, s);
        Platform.runLater(() -> followed(s, folder, status));
      } catch (IOException | RuntimeException e) {
        LOG.debug("{} cannot be followed", folder, e);
      }
    }
  }

  private void followed(LoadedShot of, Path folder, DeliveryStatus status) {
    LoadedShot now = shot;
    if (now == null || !now.file().equals(of.file())) {
      return;
    }
    if (status.count(UnitState.RUNNING) > 0) {
      // whoever renders there may fall silent, which changes nothing in the folder
      known.remove(folder);
    }
    DeliveryJob job = queue.find(folder);
    if (job == null) {
      job = new DeliveryJob(folder);
      job.show(status.cells());
      queue.add(job);
    } else if (!job.isActive() && !job.cells().equals(status.cells())) {
      job.show(status.cells());
      changed();
    }
  }

  @Override
  public String id() {
    return "render";
  }

  @Override
  public String title() {
    return "Render";
  }

  @Override
  public SheetRows rows() {
    return rows;
  }

  @Override
  public Node below() {
    return panel;
  }

  @Override
  public void held(HeldFrames frames) {
    rows.setHeld(frames);
  }

  @Override
  public void planChanged(Session s) {
    LoadedShot before = shot;
    shot = s.shot();
    looked = isShown ? shot : null;
    queue.giveWay(true);
    patience.playFromStart();
    rows.setLayers(s.plan().layers());
    panel.setShot(s.shot());
    if (before != null && !before.file().equals(s.shot().file())) {
      queue.forgetIdle();
    }
  }

  @Override
  public void picturesComplete(Session s, Pictures arrived) {
    if (arrived.plan().equals(s.plan())) {
      patience.stop();
      queue.giveWay(false);
    }
  }

  @Override
  public void solo(String layer) {
    panel.setSolo(layer);
  }

  @Override
  public void shown() {
    isShown = true;
    looked = shot;
    following.execute(this::follow);
    DeliveryJob job = panel.shown();
    if (job == null) {
      rows.setFrames(panel.frames());
    }
    bench.sheet().refresh();
    look();
  }

  @Override
  public void left() {
    isShown = false;
    looked = null;
  }

  @Override
  public void selected(Session s, int row, @Nullable LayerDef layer) {
    look();
  }

  @Override
  public String atWork() {
    boolean any = queue.jobs().stream().anyMatch(DeliveryJob::isActive);
    return any ? "A render is in progress; closing stops it. Finished files are kept." : "";
  }

  @Override
  public void close() {
    queue.stopAll();
    rounds.cancel(true);
    following.shutdownNow();
    pictures.close();
  }
}
