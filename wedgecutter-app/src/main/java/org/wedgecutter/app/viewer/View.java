package org.wedgecutter.app.viewer;

/**
 * How a picture is turned into what the screen shows. For looking only, never written.
 *
 * @param channel what is shown of it
 * @param backdrop what stands behind what is not covered
 * @param exposure stops
 * @param film whether bright light rolls off softly instead of being cut
 */
public record View(Channel channel, Backdrop backdrop, double exposure, boolean film) {
  /** What is shown of a picture. */
  public enum Channel {
    COLOUR,
    ALPHA,
    RED,
    GREEN,
    BLUE
  }

  /** What stands behind a picture. */
  public enum Backdrop {
    CHECKER,
    BLACK,
    GREY
  }

  /** Colour over checker, as bright as it is. */
  public static final View PLAIN = new View(Channel.COLOUR, Backdrop.CHECKER, 0, true);
}
