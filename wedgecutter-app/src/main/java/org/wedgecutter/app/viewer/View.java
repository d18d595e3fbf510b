package org.wedgecutter.app.viewer;

/**
 * How a picture is turned into what the screen shows. For looking only, never written.
 *
 * @param channel what is shown of it
 * @param backdrop what stands behind what is not covered
 * @param exposure stops
 * @param film whether bright light rolls off softly instead of being cut
 * @param signed whether light may be taken away: then it is shown about a middle grey
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

  /** Returns the same for numbers that are no light. */
  public View asData() {
    return new View(channel, backdrop, exposure, false, false);
  }

  /** Returns the same for a picture that may take light away, or for one that cannot. */
  public View withSigned(boolean next) {
    return new View(channel, backdrop, exposure, film, next);
  }
}
