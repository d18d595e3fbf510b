package org.wedgecutter.app.viewer;

/**
 * How a picture is displayed: for the screen only, never written to files.
 *
 * @param channel what is shown of it
 * @param backdrop what stands behind what is not covered
 * @param exposure stops
 * @param film whether bright light rolls off softly instead of being cut
 * @param signed whether light may be negative: then it is shown around middle grey
 */
public record View(
    Channel channel, Backdrop backdrop, double exposure, boolean film, boolean signed) {
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
  public static final View PLAIN = new View(Channel.COLOUR, Backdrop.CHECKER, 0, true, false);

  /** Returns the same view for data instead of light. */
  public View asData() {
    return new View(channel, backdrop, exposure, false, false);
  }

  /** Returns the same view for a picture that may be negative, or for one that cannot. */
  public View withSigned(boolean next) {
    return new View(channel, backdrop, exposure, film, next);
  }
}
