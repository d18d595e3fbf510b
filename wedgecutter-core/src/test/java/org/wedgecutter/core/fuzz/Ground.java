package org.wedgecutter.core.fuzz;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.stream.Stream;
import org.wedgecutter.core.deliver.Delivery;
import org.wedgecutter.core.deliver.unit.DeliveryOrder;
import org.wedgecutter.core.deliver.unit.DeliveryRenderer;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.render.FrameRenderer;
import org.wedgecutter.core.survey.SurveyStore;
import org.wedgecutter.core.survey.Surveyor;
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
    render(shot, delivery, false);
    return new Ground(
        folder, shot, delivery, Files.readAllBytes(delivery.resolve(Delivery.MANIFEST)));
  }

  Path file(String name, byte[] bytes) throws IOException {
    return Files.write(folder.resolve(name), bytes);
  }

  private static void render(LoadedShot shot, Path delivery, boolean resume) throws IOException {
    DeliveryOrder order =
        new DeliveryOrder(
            delivery,
            List.of(),
            List.of(1),
            true,
            FrameRenderer.Settings.of(shot, 0.25, 1, 1, false),
            resume);
    new DeliveryRenderer(shot, order).run((frame, share, all) -> {});
  }

  /** Renders what is missing of a delivery. */
  void resume(Path of) throws IOException {
    render(shot, of, true);
  }

  /** Returns the file of what a quick trace of frame 1 told. */
  Path survey() throws IOException {
    Path store = SurveyStore.folder(shot.file());
    if (!Files.isDirectory(store)) {
      new Surveyor(shot, Surveyor.quick(shot, 1), new SurveyStore(shot))
          .survey(List.of(1), 1, p -> {});
    }
    try (Stream<Path> all = Files.list(store)) {
      return all.sorted().findFirst().orElseThrow();
    }
  }
}
