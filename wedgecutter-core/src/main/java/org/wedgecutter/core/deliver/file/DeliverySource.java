package org.wedgecutter.core.deliver.file;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.wedgecutter.core.deliver.Delivery;
import org.wedgecutter.core.image.DeepPicture;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.image.Region;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.core.load.NumberedPictures;
import org.wedgecutter.core.pass.IdMatteFile;
import org.wedgecutter.core.plan.MatteDef;
import org.wedgecutter.core.rejoin.IdCover;
import org.wedgecutter.core.rejoin.LayerSource;
import org.wedgecutter.core.rejoin.Precision;
import org.wedgecutter.exr.Box;
import org.wedgecutter.exr.ExrException;
import org.wedgecutter.exr.ExrPart;
import org.wedgecutter.exr.ExrReader;

/** The layers of a frame from the files of a delivery; of each file only what is asked for. */
public final class DeliverySource implements LayerSource<IOException> {
  private final Delivery delivery;
  private final Region part;
  private final int frame;
  private final Map<String, Picture> pictures = new HashMap<>();
  private final Map<String, Precision> precisions = new HashMap<>();
  private final Map<String, List<IdMatteFile>> mattes = new HashMap<>();

  public DeliverySource(Delivery delivery, int frame) {
    this(delivery, delivery.region(), frame, Map.of(), Map.of());
  }

  @Override
  public Picture image(String path) throws IOException {
    return new NumberedPictures(delivery.pictures()).picture(path, frame);
  }

  /**
   * @param part of the delivery's region: all pictures are of its size
   * @param known pictures that were read already
   * @param kept how finely their files keep them
   */
  public DeliverySource(
      Delivery delivery,
      Region part,
      int frame,
      Map<String, Picture> known,
      Map<String, Precision> kept) {
    this.part = part;
    pictures.putAll(known);
    precisions.putAll(kept);
    this.delivery = delivery;
    this.frame = frame;
  }

  @Override
  public Picture picture(String layer) throws IOException {
    Picture known = pictures.get(layer);
    if (known == null) {
      known = DeliveryPictures.picture(delivery, part, layer, false, frame);
      pictures.put(layer, known);
    }
    return known;
  }

  @Override
  public Picture pass(String layer, String pass) throws IOException {
    Path file = DeliveryPictures.file(delivery, layer, false, frame);
    try {
      return FilePicture.read(delivery, part, layer, file, channels(pass)).picture();
    } catch (ExrException e) {
      throw missing(file, "pass '" + pass + "'", e);
    }
  }

  /** The channels of a pass in the place of colours. */
  private static List<String> channels(String pass) {
    return pass.isEmpty()
        ? FilePicture.COLOURS
        : pass.equals("uv")
            ? List.of(pass + ".U", pass + ".V")
            : FilePicture.COLOURS.stream().map(c -> pass + "." + c).toList();
  }

  @Override
  public Precision precision(String layer, String pass, boolean deep) throws IOException {
    Delivery.Entry entry =
        (deep ? delivery.deep(layer, frame) : delivery.held(layer, frame)).orElse(null);
    Path file = entry == null ? null : delivery.path(entry);
    Precision known = precisions.get(layer);
    if (file == null || !Files.isRegularFile(file)) {
      return Precision.FLOAT;
    }
    return pass.isEmpty() && !deep && known != null
        ? known
        : FilePicture.precision(file, channels(pass));
  }

  private static InputException missing(Path file, String what, IOException cause) {
    return new InputException(file, "", "has no %s, which the recipe reads".formatted(what), cause);
  }

  @Override
  public Picture cover(String layer, MatteDef matte) throws IOException {
    List<IdMatteFile> own = mattes.get(layer);
    boolean reads = !matte.picks().isEmpty();
    if (own == null && reads) {
      Path file = DeliveryPictures.file(delivery, layer, false, frame);
      own =
          IdMatteFile.of(
              FilePicture.part(delivery, part, file, n -> n.startsWith("Crypto"), 0), file);
      if (own.isEmpty()) {
        throw new InputException(
            file, "", "has no ID mattes, which the matte '%s' reads".formatted(matte.name()));
      }
      mattes.put(layer, own);
    }
    return IdCover.of(own == null ? List.of() : own, matte, picture(layer));
  }

  @Override
  public Depth depth(String layer) throws IOException {
    Path file = DeliveryPictures.file(delivery, layer, false, frame);
    try {
      ExrPart read = FilePicture.part(delivery, part, file, "Z"::equals, Float.POSITIVE_INFINITY);
      return new Depth(read.dataWindow().width(), read.dataWindow().height(), read.real("Z"));
    } catch (ExrException e) {
      throw missing(file, "pass 'Z'", e);
    }
  }

  @Override
  public DeepPicture deep(String layer) throws IOException {
    Delivery.Entry entry = delivery.deep(layer, frame).orElse(null);
    if (entry != null) {
      Path file = delivery.path(entry);
      ExrPart read = ExrReader.read(file).parts().getFirst();
      if (read.counts() == null) {
        throw new InputException(file, "", "is flat, expected a deep file");
      }
      Box own = read.dataWindow();
      Box frame = read.displayWindow();
      boolean isFrame = frame.width() == delivery.width() && frame.height() == delivery.height();
      DeepPicture picture = DeepPicture.of(read);
      return isFrame
          ? picture.placed(
              own.minX() - frame.minX() - part.x(),
              own.minY() - frame.minY() - part.y(),
              part.width(),
              part.height())
          : picture;
    }
    throw new InputException(
        delivery.folder(),
        "",
        "holds no deep file of layer '%s' at frame %d, which the recipe merges"
            .formatted(layer, frame));
  }

  @Override
  public int shotWidth() {
    return delivery.plan().requireShot().width();
  }
}
