package org.wedgecutter.core.deliver.check;

import java.io.IOException;
import java.util.EnumSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.CancellationException;
import java.util.function.BooleanSupplier;
import org.wedgecutter.core.deliver.Delivery;
import org.wedgecutter.core.mistake.Mistake;
import org.wedgecutter.core.proof.BeforeAfter;
import org.wedgecutter.core.proof.Cause;
import org.wedgecutter.core.proof.Residual;

/**
 * Rejoining and proving a delivery from its files alone, as a stranger would.
 *
 * @param frame the frame
 * @param residual rejoined minus uncut
 * @param causes what explains the residual, the largest measured share first, then what is
 *     suspected; and files that are not those of the record
 * @param unexplained share of the residual that is left when all files are put right; NaN where
 *     that is not known
 * @param evidence by cause, what putting a file right does to the frame; not of every cause
 */
public record DeliveryProof(
    int frame,
    Residual residual,
    List<Cause> causes,
    double unexplained,
    Map<Cause, BeforeAfter> evidence) {
  /** Pixels of a band, about: a frame of HD is compared at once. */
  private static final int BAND_PIXELS = 1 << 21;

  private static final Set<Mistake> FILES =
      EnumSet.of(Mistake.FILE_CHANGED, Mistake.FILE_MISSING, Mistake.FILE_ALTERED);

  public DeliveryProof {
    causes = List.copyOf(causes);
    evidence = Map.copyOf(evidence);
  }

  /** Whether the layers rejoin and every file of the frame is the one that was rendered. */
  public boolean exact() {
    return residual.exact() && causes.stream().noneMatch(c -> FILES.contains(c.kind()));
  }

  /** Compares the rejoined frame with the uncut one, and every file with its record. */
  public static DeliveryProof prove(Delivery delivery, int frame) throws IOException {
    return prove(delivery, frame, () -> false);
  }

  /**
   * Judges a frame without tracing its plan: what the plan says of it is suspected, not measured.
   * For many frames.
   */
  public static DeliveryProof judge(Delivery delivery, int frame) throws IOException {
    return FrameSearch.proof(delivery, frame, false, BAND_PIXELS, () -> false);
  }

  /**
   * Compares, and measures what explains a residual by tracing the plan that was delivered, and by
   * looking for what was done to files; this can take a minute.
   *
   * @param stopped whether it is not wanted any more; asked by several threads
   * @throws CancellationException if it was stopped
   */
  public static DeliveryProof prove(Delivery delivery, int frame, BooleanSupplier stopped)
      throws IOException {
    return FrameSearch.proof(delivery, frame, true, BAND_PIXELS, stopped);
  }
}
