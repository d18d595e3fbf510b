package org.wedgecutter.core.deliver.unit;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Comparator;
import java.util.List;
import java.util.concurrent.CancellationException;
import java.util.stream.Stream;
import org.wedgecutter.core.image.Region;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.render.FrameRenderer;

/** A delivery whose frames are rendered in bands of 32 lines, and that stops between them. */
public final class BandedDelivery {
  /** The band of a unit that is there when it has stopped. */
  public static final String BAND = "units/Back.0001.bands/0000.exr";

  private static final int WIDTH = 40;
  private static final int HEIGHT = 40;

  private final LoadedShot shot;
  private final Path folder;

  public BandedDelivery(LoadedShot shot, Path folder) {
    this.shot = shot;
    this.folder = folder;
  }

  private DeliveryRenderer renderer(boolean resume) throws IOException {
    Region all = Region.whole(WIDTH, HEIGHT);
    return new DeliveryRenderer(
        shot,
        new DeliveryOrder(
            folder,
            List.of("Back"),
            List.of(1),
            false,
            new FrameRenderer.Settings(WIDTH, HEIGHT, 1, 1, false, all),
            resume),
        32 * WIDTH);
  }

  /** Returns the folder of a delivery that has stopped after its first band. */
  public Path stopped() throws IOException {
    if (Files.exists(folder)) {
      try (Stream<Path> all = Files.walk(folder)) {
        for (Path file : all.sorted(Comparator.reverseOrder()).toList()) {
          Files.delete(file);
        }
      }
    }
    DeliveryRenderer renderer = renderer(false);
    try {
      renderer.run((frame, share, all) -> {
        if (Files.exists(folder.resolve(BAND))) {
          renderer.stop();
        }
      });
    } catch (CancellationException e) {
      return folder;
    }
    throw new AssertionError("was not stopped");
  }

  /** Returns the bytes of its first band. */
  public byte[] band() throws IOException {
    return Files.readAllBytes(stopped().resolve(BAND));
  }

  /** Renders what is missing. */
  public void resume() throws IOException {
    renderer(true).run((frame, share, all) -> {});
  }
}
