package org.wedgecutter.core.rejoin;

import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.image.DeepPicture;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.plan.MatteDef;

/** Where the pictures of layers come from: a trace, or files. */
public interface LayerSource<X extends Exception> {
  /** Returns the picture of a layer. */
  Picture picture(String layer) throws X;

  /**
   * Returns the numbers of a layer's pass in the place of red, green and blue, with the layer's
   * alpha: of light its colours, of texture coordinates u and v.
   */
  Picture pass(String layer, String pass) throws X;

  /**
   * Returns how much of each pixel what a matte picks covers in a layer: the cover in red, green
   * and blue, and the layer's alpha.
   */
  Picture cover(String layer, MatteDef matte) throws X;

  /** Returns the distance of what a layer shows. */
  Depth depth(String layer) throws X;

  /** Returns a layer by depth; null where it has none, as a catcher has not. */
  @Nullable DeepPicture deep(String layer) throws X;

  /**
   * Returns a picture that the recipe names by its path, premultiplied and scene-linear.
   *
   * @throws IllegalStateException if the source is for recipes without pictures
   */
  default Picture image(String path) throws X {
    throw new IllegalStateException("no pictures are at hand: " + path);
  }

  /**
   * Returns how finely a layer's numbers are kept, for the scale of their errors.
   *
   * @param pass title of a pass; empty for the beauty
   * @param deep whether those of the layer by depth are meant
   */
  default Precision precision(String layer, String pass, boolean deep) throws X {
    return Precision.FLOAT;
  }

  /** Returns the width of the shot in pixels, to which lengths in a recipe relate. */
  int shotWidth();

  /**
   * Distances from the camera along its axis.
   *
   * @param width pixels in a line
   * @param height lines
   * @param metres line by line; infinite where nothing is; not copied
   */
  record Depth(int width, int height, float[] metres) {
    public Depth {
      if (metres.length != width * height) {
        throw new IllegalArgumentException(
            "%d x %d pixels with %d numbers".formatted(width, height, metres.length));
      }
    }

    /** Returns it at another size: each pixel has the value of the one that it lies in. */
    Depth resized(int toWidth, int toHeight) {
      if (toWidth == width && toHeight == height) {
        return this;
      }
      float[] out = new float[toWidth * toHeight];
      for (int y = 0; y < toHeight; y++) {
        int line = (int) ((y + 0.5) * height / toHeight) * width;
        for (int x = 0; x < toWidth; x++) {
          out[y * toWidth + x] = metres[line + (int) ((x + 0.5) * width / toWidth)];
        }
      }
      return new Depth(toWidth, toHeight, out);
    }
  }
}
