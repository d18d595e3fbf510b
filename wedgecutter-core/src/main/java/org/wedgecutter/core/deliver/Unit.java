package org.wedgecutter.core.deliver;

import java.util.List;
import org.wedgecutter.core.plan.FileNames;

/**
 * A unit of work: a layer, or the uncut frame, at one frame.
 *
 * @param layer name of the layer; {@link FileNames#UNCUT} for the uncut frame
 * @param uncut whether it is the uncut frame
 * @param frame the frame
 * @param digest of everything that it depends on, hexadecimal
 * @param heldAt other frames at which it is held, ascending
 */
public record Unit(String layer, boolean uncut, int frame, String digest, List<Integer> heldAt) {
  public Unit {
    heldAt = List.copyOf(heldAt);
  }

  /**
   * What a unit is of.
   *
   * @param layer name of the layer
   * @param uncut whether it is the uncut frame
   * @param frame the frame
   */
  public record Key(String layer, boolean uncut, int frame) {
    /** Returns the name under which what is known of it is kept. */
    public String name() {
      return "%s.%04d".formatted(FileNames.safe(layer), frame);
    }
  }

  /** Returns what it is of. */
  public Key key() {
    return new Key(layer, uncut, frame);
  }

  /** Returns the unit held at other frames. */
  public Unit withHeldAt(List<Integer> frames) {
    return new Unit(layer, uncut, frame, digest, frames);
  }
}
