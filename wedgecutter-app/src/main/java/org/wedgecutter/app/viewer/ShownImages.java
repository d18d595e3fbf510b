package org.wedgecutter.app.viewer;

import javafx.scene.image.Image;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.app.live.Pictures;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.pass.PassPicture;
import org.wedgecutter.core.proof.Residual;

/**
 * Images for the screen, made from traced pictures; on any thread.
 *
 * @param main the picture that is looked at
 * @param other the picture that it is compared with, or null
 * @param pass the pass whose own values the probe shows, or null
 */
public record ShownImages(Image main, @Nullable Image other, @Nullable PassPicture pass) {
  /** Makes the images. */
  static ShownImages of(Pictures pictures, Shown shown) {
    return new ShownImages(
        image(pictures, shown.look(), shown),
        shown.wipe() ? image(pictures, shown.against(), shown) : null,
        pass(pictures, shown.look(), shown));
  }

  /**
   * Makes a small image, at most so many pixels across, as the viewer shows pictures at first; one
   * that takes light away is shown around grey.
   */
  public static Image small(Picture picture, int width) {
    Picture small = Thumbnail.of(picture, width);
    return ToScreen.image(small, View.PLAIN.withSigned(small.hasNegative()));
  }

  private static Image image(Pictures pictures, Look look, Shown shown) {
    if (look == Look.RESIDUAL) {
      return ToScreen.heat(pictures.residual().difference(), shown.view().exposure());
    }
    View view = shown.view().withSigned(isSigned(pictures, look, shown.layer()));
    PassPicture pass = pass(pictures, look, shown);
    Picture whole = picture(pictures, look, shown.layer());
    if (pass == null) {
      return ToScreen.image(whole, view);
    }
    Picture made = PassLook.of(pass, whole.width(), whole.height(), pictures.plan().output());
    return ToScreen.image(made, pass.isLight() ? view : view.asData());
  }

  private static @Nullable PassPicture pass(Pictures pictures, Look look, Shown shown) {
    boolean has = look == Look.LAYER || look == Look.UNCUT;
    return !has || shown.pass().equals(Shown.BEAUTY)
        ? null
        : pictures.pass(look == Look.UNCUT ? -1 : at(pictures, shown.layer()), shown.pass());
  }

  /** Whether a picture has values of either sign, so that it is shown around grey. */
  static boolean isSigned(Pictures pictures, Look look, int layer) {
    return look == Look.LAYER && pictures.isSigned(at(pictures, layer));
  }

  private static int at(Pictures pictures, int layer) {
    return Math.max(0, Math.min(layer, pictures.plan().layers().size() - 1));
  }

  /** Returns the picture that is looked at if it has been made; waits for nothing. */
  static @Nullable Picture pictureIfMade(Pictures pictures, Look look, int layer) {
    Residual residual = pictures.residualIfMade();
    Picture plate = pictures.plateIfMade();
    return switch (look) {
      case LAYER -> pictures.layerIfMade(at(pictures, layer));
      case UNCUT -> pictures.uncutIfMade();
      case REJOINED -> pictures.rejoinedIfMade();
      case RESIDUAL -> residual == null ? null : residual.difference();
      case PLATE -> plate == null ? pictures.uncutIfMade() : plate;
    };
  }

  /** Returns the picture that is looked at, in scene-linear light. */
  static Picture picture(Pictures pictures, Look look, int layer) {
    return switch (look) {
      case LAYER -> pictures.layer(at(pictures, layer));
      case UNCUT -> pictures.uncut();
      case REJOINED -> pictures.rejoined();
      case RESIDUAL -> pictures.residual().difference();
      case PLATE -> {
        Picture plate = pictures.plate();
        yield plate == null ? pictures.uncut() : plate;
      }
    };
  }
}
