package org.wedgecutter.core.deliver;

import java.util.Arrays;
import java.util.List;
import org.wedgecutter.core.image.Picture;

/**
 * The layers of a frame joined, and how far the result is from the uncut frame: in all pixels, in a
 * layer's own, and with another picture in a layer's place.
 *
 * @param layers from the back to the front; their pictures may change
 * @param uncut what they should rejoin to
 * @param scale how much light can have been rounded in each number on the way to the rejoined one
 */
record FrameJoins(List<LayerFile> layers, Picture uncut, Picture scale) {
  /** Coverage that counts as none. */
  private static final float BARE = 0.02f;

  /** What a half float may be off, relative to the light that was rounded. */
  private static final float HALF = 4e-3f;

  private static final float SMALL = 1e-4f;

  private Picture rejoined() {
    Picture out = Picture.empty(uncut.width(), uncut.height());
    for (LayerFile l : layers) {
      l.joinOnto(out);
    }
    return out;
  }

  /** Returns the sum of what is beyond rounding, over pixels and channels. */
  double residual() {
    return residual(all());
  }

  boolean[] all() {
    boolean[] out = new boolean[uncut.width() * uncut.height()];
    Arrays.fill(out, true);
    return out;
  }

  /** Returns the same of some pixels. */
  double residual(boolean[] within) {
    return residual(rejoined().rgba(), within);
  }

  /** Returns the same of another rejoined picture. */
  double residual(float[] rejoined, boolean[] within) {
    double out = 0;
    for (int i = 0; i < rejoined.length; i++) {
      float u = uncut.rgba()[i];
      float d = Math.abs(rejoined[i] - u);
      float light = Math.abs(u);
      float more = scale.rgba()[i];
      light = Float.isFinite(more) ? Math.max(light, more) : light;
      if (within[i / 4] && !(d <= SMALL + HALF * light)) {
        out += Float.isFinite(d) ? d : 1e6;
      }
    }
    return out;
  }

  /** Which pixels of a layer are looked at. */
  enum Where {
    /** Those that it covers whole: nothing else shows there. */
    SOLID,
    /** Those in which it shows anything. */
    SHOWN,
    /** Also those in which it shows nothing: it may have been cut off, or moved. */
    ANY
  }

  /** Where no other suspect that is still wrong shows anything: what is wrong is this one's. */
  boolean[] own(LayerFile layer, List<LayerFile> suspects, Where where) {
    boolean[] out = new boolean[uncut.width() * uncut.height()];
    int count = 0;
    for (int p = 0; p < out.length; p++) {
      out[p] =
          switch (where) {
            case SOLID -> layer.picture.rgba()[4 * p + 3] > 1 - BARE;
            case SHOWN -> shows(layer, p);
            case ANY -> true;
          };
      for (LayerFile other : suspects) {
        out[p] &= other == layer || other.isMended || !shows(other, p);
      }
      count += out[p] ? 1 : 0;
    }
    return count > 0 ? out : where == Where.SOLID ? out : all();
  }

  private static boolean shows(LayerFile layer, int pixel) {
    float[] c = layer.picture.rgba();
    int i = 4 * pixel;
    return c[i + 3] > BARE || c[i] != 0 || c[i + 1] != 0 || c[i + 2] != 0;
  }

  /**
   * What all other layers make of one: what is behind it, and how what is in front changes what it
   * makes, {@code none + slope * joined} for each number. What is in front is affine in what is
   * behind.
   */
  record Place(LayerFile layer, Picture behind, Picture none, float[] slope) {
    /** Returns the rejoined picture with another one in the layer's place. */
    float[] rejoined(Picture own) {
      Picture out = behind.copy();
      layer.joinOnto(out, own);
      float[] r = out.rgba();
      for (int i = 0; i < r.length; i++) {
        r[i] = none.rgba()[i] + slope[i] * r[i];
      }
      return r;
    }
  }

  Place place(LayerFile layer) {
    int at = layers.indexOf(layer);
    Picture behind = Picture.empty(uncut.width(), uncut.height());
    for (LayerFile l : layers.subList(0, at)) {
      l.joinOnto(behind);
    }
    Picture none = Picture.empty(uncut.width(), uncut.height());
    Picture one = Picture.empty(uncut.width(), uncut.height());
    Arrays.fill(one.rgba(), 1);
    for (LayerFile l : layers.subList(at + 1, layers.size())) {
      l.joinOnto(none);
      l.joinOnto(one);
    }
    for (int i = 0; i < one.rgba().length; i++) {
      one.rgba()[i] -= none.rgba()[i];
    }
    return new Place(layer, behind, none, one.rgba());
  }

  /**
   * Returns what a layer must be for all to rejoin: joins are undone from the front, down to it.
   */
  Picture expected(LayerFile layer) {
    return expected(place(layer));
  }

  Picture expected(Place place) {
    LayerFile layer = place.layer;
    Picture out = layer.picture.copy();
    for (int i = 0; i < out.rgba().length; i++) {
      if (Math.abs(place.slope[i]) > BARE) {
        float target = (uncut.rgba()[i] - place.none.rgba()[i]) / place.slope[i];
        out.rgba()[i] = before(layer, i, target, place.behind.rgba()[i]);
      }
    }
    return out;
  }

  /** What is joined, from what it makes of what is behind. */
  private static float before(LayerFile layer, int i, float target, float behind) {
    float through = 1 - layer.picture.rgba()[i | 3];
    boolean alpha = (i & 3) == 3;
    return switch (layer.step.join()) {
      case OVER ->
          alpha
              ? behind < 1 - BARE ? (target - behind) / (1 - behind) : layer.picture.rgba()[i]
              : target - through * behind;
      case CATCH -> alpha ? layer.picture.rgba()[i] : target - through * behind;
      case TIMES -> alpha || Math.abs(behind) < BARE ? layer.picture.rgba()[i] : target / behind;
      default -> target - behind;
    };
  }

  /** Those pixels that another picture covers whole, too. */
  static boolean[] solid(Picture p, boolean[] own) {
    boolean[] out = own.clone();
    for (int i = 0; i < out.length; i++) {
      out[i] &= p.rgba()[4 * i + 3] > 1 - BARE;
    }
    return out;
  }

  /** Whether two pictures differ by no more than rounding. */
  static boolean isSame(Picture a, Picture b) {
    for (int i = 0; i < a.rgba().length; i++) {
      if (Math.abs(a.rgba()[i] - b.rgba()[i]) > SMALL + HALF * Math.abs(a.rgba()[i])) {
        return false;
      }
    }
    return true;
  }
}
