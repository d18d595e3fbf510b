package org.wedgecutter.app.viewer;

import java.util.List;
import java.util.function.IntUnaryOperator;
import javafx.scene.image.Image;
import javafx.scene.paint.Color;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.app.live.FilePictures;
import org.wedgecutter.app.live.Pictures;
import org.wedgecutter.app.theme.Theme;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.pass.PassPicture;
import org.wedgecutter.core.plan.LayerDef;

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
        image(pictures, shown.look(), shown.layer(), shown),
        shown.wipe() ? image(pictures, shown.against(), shown.otherLayer(), shown) : null,
        pass(pictures, shown.look(), shown.layer(), shown));
  }

  /** Returns what is on the screen alone, without the numbers of a pass. */
  ShownImages withoutPass() {
    return new ShownImages(main, other, null);
  }

  /**
   * Makes an image of the rejoined picture at a part of its size.
   *
   * @param divisor of width and height
   */
  static ShownImages draft(Pictures pictures, int divisor, Shown shown) {
    FilePictures files = shown.files();
    Picture made =
        shown.look() == Look.FILES && files != null
            ? files.draft(pictures, divisor)
            : pictures.draft(divisor);
    return new ShownImages(ToScreen.image(made, shown.view()), null, null);
  }

  /**
   * Makes a small image, at most so many pixels across, as the viewer shows pictures at first; one
   * that takes light away is shown around grey.
   */
  public static Image small(Picture picture, int width) {
    Picture small = Thumbnail.of(picture, width);
    return ToScreen.image(small, View.PLAIN.withSigned(small.takesLight()));
  }

  private static Image image(Pictures pictures, Look look, int layer, Shown shown) {
    if (look == Look.RESIDUAL) {
      Picture difference = pictures.difference();
      return ToScreen.heat(difference, shown.view().exposure(), hues(pictures));
    }
    View view = shown.view().withSigned(isSigned(pictures, look, layer));
    PassPicture pass = pass(pictures, look, layer, shown);
    Picture whole = picture(pictures, look, layer, shown.files());
    if (pass == null) {
      return ToScreen.image(whole, view);
    }
    Picture made = PassLook.of(pass, whole.width(), whole.height(), pictures.plan().output());
    return ToScreen.image(made, pass.isLight() ? view : view.asData());
  }

  /** The hue of the layer that shows most of a pixel. */
  private static IntUnaryOperator hues(Pictures pictures) {
    int[] layers = pictures.shownBy();
    List<LayerDef> all = pictures.plan().layers();
    int[] argb = new int[all.size()];
    for (int l = 0; l < argb.length; l++) {
      Color c = Theme.hue(all.get(l).hue());
      argb[l] =
          0xff000000 | eight(c.getRed()) << 16 | eight(c.getGreen()) << 8 | eight(c.getBlue());
    }
    int[] entities = pictures.facts().dominant();
    return p -> {
      int layer = entities[p] < 0 ? -1 : layers[entities[p]];
      return layer < 0 ? 0 : argb[layer];
    };
  }

  private static int eight(double share) {
    return (int) Math.round(share * 255);
  }

  private static @Nullable PassPicture pass(Pictures pictures, Look look, int layer, Shown shown) {
    boolean has = look == Look.LAYER || look == Look.UNCUT;
    return !has || shown.pass().equals(Shown.BEAUTY)
        ? null
        : pictures.pass(look == Look.UNCUT ? -1 : at(pictures, layer), shown.pass());
  }

  /** Whether a picture has values of either sign, so that it is shown around grey. */
  static boolean isSigned(Pictures pictures, Look look, int layer) {
    return look == Look.LAYER && pictures.isSigned(at(pictures, layer));
  }

  private static int at(Pictures pictures, int layer) {
    return Math.max(0, Math.min(layer, pictures.plan().layers().size() - 1));
  }

  /** Returns the picture that is looked at if it has been made; waits for nothing. */
  static @Nullable Picture pictureIfMade(
      Pictures pictures, Look look, int layer, @Nullable FilePictures files) {
    FilePictures.Made ofFiles = files == null ? null : files.last();
    Picture plate = pictures.plateIfMade();
    return switch (look) {
      case LAYER -> pictures.layerIfMade(at(pictures, layer));
      case UNCUT -> pictures.uncutIfMade();
      case REJOINED -> pictures.rejoinedIfMade();
      case JOINED -> pictures.joinedIfMade();
      case RESIDUAL -> pictures.differenceIfMade();
      case PLATE -> plate == null ? pictures.uncutIfMade() : plate;
      case FILES -> ofFiles == null ? pictures.rejoinedIfMade() : ofFiles.picture();
    };
  }

  /** Returns the picture that is looked at, in scene-linear light. */
  private static Picture picture(
      Pictures pictures, Look look, int layer, @Nullable FilePictures files) {
    return switch (look) {
      case LAYER -> pictures.layer(at(pictures, layer));
      case UNCUT -> pictures.uncut();
      case REJOINED -> pictures.rejoined();
      case JOINED -> pictures.joined();
      case RESIDUAL -> pictures.difference();
      case PLATE -> {
        Picture plate = pictures.plate();
        yield plate == null ? pictures.uncut() : plate;
      }
      case FILES -> files == null ? pictures.rejoined() : files.of(pictures).picture();
    };
  }
}
