package org.wedgecutter.core.deliver.file;

import java.io.IOException;
import java.nio.file.Path;
import java.util.HashMap;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.deliver.Delivery;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.plan.Recipe;
import org.wedgecutter.core.rejoin.Evaluation;
import org.wedgecutter.core.rejoin.Expression;

/**
 * A frame of a delivery that is put together again and again, by one recipe after another. Each
 * file is read once, and of it only what recipes ask for.
 */
public final class DeliveryFrame {
  private final Delivery delivery;
  private final int frame;
  private @Nullable DeliverySource source;
  private @Nullable Path sourceFolder;

  /** What recipes have in common, by the divisor of the size. */
  private final Map<Integer, Evaluation.Memo> memos = new HashMap<>();

  public DeliveryFrame(Delivery delivery, int frame) {
    this.delivery = delivery;
    this.frame = frame;
  }

  /** Returns the number of the frame. */
  public int frame() {
    return frame;
  }

  /**
   * Puts the layers together with all corrections. It waits for files; any thread may call it.
   *
   * @param folder to which the pictures that the recipe names are relative, before the delivery's
   * @param divisor of width and height, at least 1: smaller pictures are made sooner
   * @throws IOException if a file is missing or cannot be read, or lacks what the recipe reads
   */
  public synchronized Picture rejoined(Recipe recipe, Path folder, int divisor) throws IOException {
    Delivery own = delivery.withRecipe(recipe, folder);
    DeliverySource now = source;
    if (now == null || !folder.equals(sourceFolder)) {
      now = new DeliverySource(own, frame);
      source = now;
      sourceFolder = folder;
      memos.clear();
    }
    try {
      return Evaluation.picture(
          Expression.of(DeliveryPictures.joined(own, frame).at(frame)),
          Math.max(1, delivery.region().width() / divisor),
          Math.max(1, delivery.region().height() / divisor),
          now,
          memos.computeIfAbsent(divisor, d -> new Evaluation.Memo()));
    } catch (IOException | RuntimeException e) {
      // files may be mended meanwhile: what was read of them is not kept
      source = null;
      throw e;
    }
  }
}
