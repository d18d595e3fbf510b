package org.wedgecutter.core.trace;

import org.wedgecutter.core.image.Picture;

/**
 * The environment: light from an image all around.
 *
 * @param image scene-linear light in latitude and longitude, twice as wide as high for an
 *     undistorted sphere
 * @param rotation counter-clockwise seen from above, degrees
 * @param level factor on its light, 0 or more
 */
public record Environment(Picture image, double rotation, double level) {
  /** No light. */
  public static final Environment DARK = new Environment(Picture.empty(1, 1), 0, 0);
}
