package org.wedgecutter.core.deliver.check;

import java.io.IOException;
import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.deliver.Delivery;
import org.wedgecutter.core.deliver.file.DeliveryPictures;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.core.plan.FileNames;
import org.wedgecutter.core.plan.LayerDef;
import org.wedgecutter.core.proof.Residual;
import org.wedgecutter.core.proof.Tolerance;
import org.wedgecutter.core.rejoin.Precision;
import org.wedgecutter.core.rejoin.Rejoiner;

/**
 * Two deliveries of one shot at a frame, such as two versions: what differs, layer by layer, and
 * where they are rejoined.
 *
 * @param frame the frame
 * @param parts of each layer that either has, then the uncut frame, and last what is rejoined with
 *     corrections
 */
public record DeliveryComparison(int frame, List<Part> parts) {
  /** Names what is rejoined among layers. */
  public static final String REJOINED = "rejoined";

  /**
   * How far two pictures are apart.
   *
   * @param layer its name
   * @param there whether the first and the second delivery have it: {@code both}, {@code first},
   *     {@code second}
   * @param max largest difference in any channel; NaN where it is in one alone
   * @param rms root of the mean square
   * @param beyond share of pixels that differ by more than rounding, 0 to 1
   */
  public record Part(String layer, String there, double max, double rms, double beyond) {
    /** Whether both have it and it is the same but for rounding. */
    public boolean isSame() {
      return there.equals("both") && beyond == 0;
    }
  }

  public DeliveryComparison {
    parts = List.copyOf(parts);
  }

  /** Whether all is the same but for rounding. */
  public boolean isSame() {
    return parts.stream().allMatch(Part::isSame);
  }

  /**
   * Compares two deliveries from their files.
   *
   * @throws InputException if they are of different sizes
   */
  public static DeliveryComparison of(Delivery first, Delivery second, int frame)
      throws IOException {
    if (first.width() != second.width() || first.height() != second.height()) {
      throw new InputException(
          second.folder().resolve(Delivery.MANIFEST),
          "size",
          "%d x %d pixels, expected %d x %d as in %s"
              .formatted(
                  second.width(), second.height(), first.width(), first.height(), first.folder()));
    }
    List<String> layers = new ArrayList<>();
    first.plan().layers().stream().map(LayerDef::name).forEach(layers::add);
    second.plan().layers().stream()
        .map(LayerDef::name)
        .filter(n -> !layers.contains(n))
        .forEach(layers::add);
    List<Part> parts = new ArrayList<>();
    for (String layer : layers) {
      boolean one = first.held(layer, frame).isPresent();
      boolean two = second.held(layer, frame).isPresent();
      if (one && two) {
        parts.add(
            part(
                layer,
                DeliveryPictures.layer(first, layer, frame),
                DeliveryPictures.layer(second, layer, frame)));
      } else if (one || two) {
        parts.add(alone(layer, one));
      }
    }
    boolean one = first.uncut(frame).isPresent();
    boolean two = second.uncut(frame).isPresent();
    if (one && two) {
      parts.add(
          part(
              FileNames.UNCUT,
              DeliveryPictures.uncut(first, frame),
              DeliveryPictures.uncut(second, frame)));
    } else if (one || two) {
      parts.add(alone(FileNames.UNCUT, one));
    }
    parts.add(
        part(
            REJOINED,
            DeliveryPictures.corrected(first, frame),
            DeliveryPictures.corrected(second, frame)));
    return new DeliveryComparison(frame, parts);
  }

  /**
   * Reads what a part is of.
   *
   * @param part name of a layer, of the uncut frame, or {@link #REJOINED}
   * @return null if the delivery has none
   */
  public static @Nullable Picture picture(Delivery of, String part, int frame) throws IOException {
    if (part.equals(REJOINED)) {
      return DeliveryPictures.corrected(of, frame);
    }
    if (part.equals(FileNames.UNCUT)) {
      return of.uncut(frame).isPresent() ? DeliveryPictures.uncut(of, frame) : null;
    }
    return of.held(part, frame).isPresent() ? DeliveryPictures.layer(of, part, frame) : null;
  }

  /** What two files of one picture may differ by: both may have been rounded to halves. */
  static Tolerance tolerance(Picture of) {
    return Tolerance.of(of, Precision.HALF, 2);
  }

  private static Part alone(String layer, boolean isFirst) {
    return new Part(layer, isFirst ? "first" : "second", Double.NaN, Double.NaN, 1);
  }

  private static Part part(String layer, Picture first, Picture second) {
    Picture other = second.resized(first.width(), first.height());
    Residual r = Residual.of(new Rejoiner.Rejoined(other, first), tolerance(first));
    return new Part(layer, "both", r.max(), r.rms(), r.beyond());
  }
}
