package org.wedgecutter.core.fuzz;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import org.wedgecutter.core.deliver.Delivery;
import org.wedgecutter.core.deliver.unit.DeliveryOrder;
import org.wedgecutter.core.deliver.unit.DeliveryRenderer;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.render.FrameRenderer;
import org.wedgecutter.core.testing.ShotFolder;

/**
 * What inputs are used with: a small shot and a delivery of it.
 *
 * @param folder holds all that is written
 * @param shot the shot
 * @param delivery folder of the delivery, whose manifest is replaced by others
 * @param manifest its own manifest
 */
record Ground(Path folder, LoadedShot shot, Path delivery, byte[] manifest) {
  static Ground make(Path folder) throws IOException {
    LoadedShot shot = ShotFolder.load(folder);
    Path delivery = folder.resolve("out");
    DeliveryOrder order =
        new DeliveryOrder(
            delivery,
            List.of(),
            List.of(1),
            true,
            FrameRenderer.Settings.of(shot, 0.25, 1, 1, false),
            false);
    new DeliveryRenderer(shot, order).run((frame, share, all) -> {});
    return new Ground(
        folder, shot, delivery, Files.readAllBytes(delivery.resolve(Delivery.MANIFEST)));
  }

  Path file(String name, byte[] bytes) throws IOException {
    return Files.write(folder.resolve(name), bytes);
  }
}
