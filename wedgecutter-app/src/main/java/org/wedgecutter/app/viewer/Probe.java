package org.wedgecutter.app.viewer;

import java.util.function.IntFunction;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.app.live.Pictures;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.pass.PassPicture;

/** Reads the values at a pixel: linear light, and the dominant entity. */
final class Probe {
  private final IntFunction<String> entityNames;
  private @Nullable Pictures pictures;
  private @Nullable PassPicture pass;

  /**
   * @param entityNames tells an entity and the layers that show it
   */
  Probe(IntFunction<String> entityNames) {
    this.entityNames = entityNames;
  }

  /**
   * Sets the pictures.
   *
   * @param shownPass the pass that is shown, or null
   */
  void take(Pictures next, @Nullable PassPicture shownPass) {
    pictures = next;
    pass = shownPass;
  }

  /**
   * Returns the pixel of the traced picture under a pixel of the shot, which may be larger.
   *
   * @return x and y, or null if there is no picture
   */
  int @Nullable [] inPicture(int x, int y) {
    Pictures p = pictures;
    if (p == null || x < 0) {
      return null;
    }
    var shot = p.plan().requireShot();
    return new int[] {
      Math.min(p.width() - 1, x * p.width() / shot.width()),
      Math.min(p.height() - 1, y * p.height() / shot.height())
    };
  }

  /** Returns the values at a pixel of the shot in words; empty if there is no picture. */
  String read(int x, int y, Shown shown) {
    Pictures p = pictures;
    int[] at = inPicture(x, y);
    if (p == null || at == null) {
      return "";
    }
    Picture picture = ShownImages.pictureIfMade(p, shown.look(), shown.layer(), shown.files());
    if (picture == null) {
      return "";
    }
    var shot = p.plan().requireShot();
    // files may be of another size than what is traced
    int column = Math.min(picture.width() - 1, x * picture.width() / shot.width());
    int line = Math.min(picture.height() - 1, y * picture.height() / shot.height());
    int pixel = line * picture.width() + column;
    return "%4d %4d   %s   %s"
        .formatted(
            x, y, values(picture, pixel), entityNames.apply(p.facts().entityAt(at[0], at[1])));
  }

  /** A pass shows its stored values, however it is displayed. */
  private String values(Picture picture, int pixel) {
    PassPicture of = pass;
    StringBuilder out = new StringBuilder();
    if (of != null && of.values().length == picture.rgba().length / 4 * of.channels().size()) {
      for (int c = 0; c < of.channels().size(); c++) {
        out.append(
            "%s %.4f  "
                .formatted(of.channels().get(c), of.values()[of.channels().size() * pixel + c]));
      }
      return out.toString().stripTrailing();
    }
    float[] v = picture.rgba();
    int i = 4 * pixel;
    return "R %.4f  G %.4f  B %.4f  A %.3f".formatted(v[i], v[i + 1], v[i + 2], v[i + 3]);
  }
}
