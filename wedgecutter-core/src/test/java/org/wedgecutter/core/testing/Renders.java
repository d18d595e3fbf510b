package org.wedgecutter.core.testing;

import java.io.IOException;
import java.nio.file.Path;
import java.util.List;
import org.wedgecutter.core.deliver.Delivery;
import org.wedgecutter.core.deliver.unit.DeliveryOrder;
import org.wedgecutter.core.deliver.unit.DeliveryRenderer;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.render.FrameRenderer;

/** Deliveries rendered for tests. */
public final class Renders {
  private Renders() {}

  /**
   * Makes a layer's file one and a half times as bright by another program.
   *
   * @return its path in the delivery
   */
  public static String brighten(Delivery delivery, String layer, int frame) throws IOException {
    String file = delivery.held(layer, frame).orElseThrow().path();
    String factors = "1.5,1.5,1.5,1";
    Path in = delivery.folder();
    Programs.run(in, "oiiotool", file, "--ch", "R,G,B,A", "--mulc", factors, "-o", file);
    return file;
  }

  /**
   * Renders frames 1 and 2 of all layers and of the uncut frame.
   *
   * @param scale of the plan's size
   * @param resume whether what is there may stay
   */
  public static Delivery delivery(LoadedShot shot, Path out, double scale, boolean resume)
      throws IOException {
    return delivery(shot, out, scale, resume, 1, 2);
  }

  /** Renders some frames of all layers and of the uncut frame. */
  public static Delivery delivery(
      LoadedShot shot, Path out, double scale, boolean resume, Integer... frames)
      throws IOException {
    return new DeliveryRenderer(
            shot,
            new DeliveryOrder(
                out,
                List.of(),
                List.of(frames),
                true,
                FrameRenderer.Settings.of(shot, scale, 0, 2, false),
                resume))
        .run((f, p, s) -> {});
  }

  /** Renders into a delivery what a change of plan or scene touches. */
  public static Delivery changed(LoadedShot shot, Path out, double scale) throws IOException {
    FrameRenderer.Settings settings = FrameRenderer.Settings.of(shot, scale, 0, 2, false);
    return new DeliveryRenderer(
            shot,
            new DeliveryOrder(out, List.of(), List.of(1, 2), true, settings, true).changing(true))
        .run((f, p, s) -> {});
  }
}
