package org.wedgecutter.app.station.render;

import java.io.IOException;
import java.nio.file.Path;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import javafx.application.Platform;
import javafx.scene.image.Image;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.wedgecutter.app.viewer.ShownImages;
import org.wedgecutter.core.deliver.Delivery;
import org.wedgecutter.core.deliver.UnitState;
import org.wedgecutter.core.deliver.file.ExrFrames;
import org.wedgecutter.core.deliver.unit.DeliveryStatus;

/** Small pictures of finished files, read in the background and kept while they are used. */
final class CellPictures {
  /** Pixels across: enough for the panel, and drawn smaller in cells. */
  static final int WIDTH = 192;

  private static final int KEPT = 400;
  private static final Logger LOG = LoggerFactory.getLogger(CellPictures.class);

  private final Runnable arrived;
  private final Set<String> asked = new HashSet<>();
  private final ExecutorService reading =
      Executors.newSingleThreadExecutor(
          work -> Thread.ofPlatform().name("small pictures").daemon().unstarted(work));
  private final Map<String, Image> known =
      new LinkedHashMap<>(16, 0.75f, true) {
        private static final long serialVersionUID = 1L;

        @Override
        protected boolean removeEldestEntry(Map.Entry<String, Image> eldest) {
          return size() > KEPT;
        }
      };

  /**
   * @param arrived is called on the interface thread after a picture was read
   */
  CellPictures(Runnable arrived) {
    this.arrived = arrived;
  }

  /** Returns the picture of a finished unit if it is there; else it is read, and told then. */
  @Nullable Image of(Path folder, DeliveryStatus.Cell cell) {
    if ((cell.state() != UnitState.DONE && cell.state() != UnitState.STALE)
        || cell.file() == null) {
      return null;
    }
    Delivery.Entry file = cell.file();
    String key = file.sha256();
    Image image = known.get(key);
    if (image == null && asked.add(key)) {
      reading.execute(() -> read(folder.resolve(file.path()), key));
    }
    return image;
  }

  private void read(Path file, String key) {
    try {
      Image image = ShownImages.small(ExrFrames.read(file), WIDTH);
      Platform.runLater(() -> {
        known.put(key, image);
        asked.remove(key);
        arrived.run();
      });
    } catch (IOException | RuntimeException e) {
      // it stays asked for, so that a broken file is not read again and again
      LOG.debug("no picture of {}", file, e);
    }
  }

  void close() {
    reading.shutdownNow();
  }
}
