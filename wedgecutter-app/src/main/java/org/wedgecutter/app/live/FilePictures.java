package org.wedgecutter.app.live;

import java.io.IOException;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.wedgecutter.core.deliver.Delivery;
import org.wedgecutter.core.deliver.file.DeliveryFrame;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.core.plan.Recipe;

/**
 * The files of a delivery, put together by the recipe of the plan that is open: what downstream
 * gets, beside what is traced. Of a frame each file is read once.
 */
public final class FilePictures {
  private static final Logger LOG = LoggerFactory.getLogger(FilePictures.class);

  private final Delivery delivery;
  private @Nullable DeliveryFrame frame;
  private volatile @Nullable Made last;

  /**
   * What came of it.
   *
   * @param picture the rejoined picture; transparent if there is none
   * @param trouble why there is none; empty if there is
   */
  public record Made(Recipe recipe, int frame, Picture picture, String trouble) {}

  public FilePictures(Delivery delivery) {
    this.delivery = delivery;
  }

  /** Returns the delivery's name. */
  public String name() {
    return String.valueOf(delivery.folder().getFileName());
  }

  /** Puts the files together as other pictures are; it waits for files. */
  public synchronized Made of(Pictures as) {
    Recipe recipe = as.plan().enabledRecipe();
    Made made = last;
    if (made == null || made.frame != as.frame() || !made.recipe.equals(recipe)) {
      made = made(as, recipe);
      last = made;
    }
    return made;
  }

  private Made made(Pictures as, Recipe recipe) {
    try {
      return new Made(recipe, as.frame(), rejoined(as, 1), "");
    } catch (IOException | RuntimeException e) {
      LOG.info("the files of {}", delivery.folder(), e);
      String why = e instanceof InputException input ? input.reason() : e.getMessage();
      Picture none = Picture.empty(delivery.region().width(), delivery.region().height());
      return new Made(recipe, as.frame(), none, String.valueOf(why));
    }
  }

  /**
   * Returns the picture at a part of its size, sooner; it is not kept.
   *
   * @param divisor of width and height, at least 1
   */
  public synchronized Picture draft(Pictures as, int divisor) {
    try {
      return rejoined(as, divisor);
    } catch (IOException | RuntimeException e) {
      // the whole one tells why
      return Picture.empty(1, 1);
    }
  }

  private Picture rejoined(Pictures as, int divisor) throws IOException {
    DeliveryFrame now = frame;
    if (now == null || now.frame() != as.frame()) {
      now = new DeliveryFrame(delivery, as.frame());
      frame = now;
    }
    return now.rejoined(as.plan().enabledRecipe(), as.folder(), divisor);
  }

  /** Returns what was made last; null if nothing was. */
  public @Nullable Made last() {
    return last;
  }

  /** Returns what is known of the picture that was made last, in words. */
  public String told() {
    Made made = last;
    if (made == null) {
      return name();
    }
    return made.trouble.isEmpty()
        ? "%s   %d×%d   %d %s"
            .formatted(
                name(),
                made.picture.width(),
                made.picture.height(),
                delivery.samples(),
                delivery.samples() == 1 ? "sample" : "samples")
        : "%s: %s".formatted(name(), made.trouble);
  }
}
