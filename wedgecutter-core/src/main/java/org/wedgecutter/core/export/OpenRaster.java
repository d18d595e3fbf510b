package org.wedgecutter.core.export;

import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.zip.CRC32;
import java.util.zip.ZipEntry;
import java.util.zip.ZipOutputStream;
import org.wedgecutter.core.deliver.Delivery;
import org.wedgecutter.core.deliver.file.DeliveryPictures;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.image.PictureWriter;
import org.wedgecutter.core.image.ScreenPicture;
import org.wedgecutter.core.io.InputException;

/**
 * A frame of a delivery as one layered file for painters: OpenRaster, a zip archive of PNG pictures
 * with a list of layers, the front first.
 *
 * <p>Layers are those of {@link LayeredFrame}, in display values. The merged picture, which is
 * stored with them, is joined in linear light and is the exact one; {@link LayeredProof} measures
 * the difference.
 */
public final class OpenRaster {
  static final String STACK = "stack.xml";
  static final String MERGED = "mergedimage.png";
  private static final int THUMBNAIL = 256;

  private OpenRaster() {}

  /** Whether a file's name tells this format. */
  public static boolean isFor(Path file) {
    return String.valueOf(file.getFileName()).toLowerCase(Locale.ROOT).endsWith(".ora");
  }

  /**
   * Writes a frame.
   *
   * @throws InputException if a layer that is joined has no file
   */
  public static void write(Delivery delivery, int frame, OutputStream out) throws IOException {
    write(delivery, frame, DeliveryPictures.corrected(delivery, frame), out);
  }

  /**
   * Writes a frame.
   *
   * @param merged the frame as its recipe rejoins it
   */
  static void write(Delivery delivery, int frame, Picture merged, OutputStream out)
      throws IOException {
    ZipOutputStream zip = new ZipOutputStream(out, StandardCharsets.UTF_8);
    stored(zip, "mimetype", "image/openraster".getBytes(StandardCharsets.US_ASCII));
    List<String> lines = new ArrayList<>();
    List<LayeredFrame.Sheet> sheets = LayeredFrame.of(delivery, frame);
    for (int k = 0; k < sheets.size(); k++) {
      LayeredFrame.Sheet sheet = sheets.get(k);
      String name = "data/layer%02d.png".formatted(k);
      entry(zip, name, png(sheet.picture()));
      lines.addFirst(
          "    <layer name=\"%s\" src=\"%s\" x=\"0\" y=\"0\" opacity=\"%s\" visibility=\"visible\" composite-op=\"%s\"/>%n"
              .formatted(Quoting.xml(sheet.name()), name, sheet.opacity(), sheet.operation()));
    }
    String stack =
        """
        <?xml version="1.0" encoding="UTF-8"?>
        <image version="0.0.3" w="%d" h="%d">
          <stack>
        %s  </stack>
        </image>
        """
            .formatted(merged.width(), merged.height(), String.join("", lines));
    entry(zip, STACK, stack.getBytes(StandardCharsets.UTF_8));
    entry(zip, MERGED, png(ScreenPicture.of(merged)));
    double scale = Math.min(1, (double) THUMBNAIL / Math.max(merged.width(), merged.height()));
    entry(
        zip,
        "Thumbnails/thumbnail.png",
        png(
            ScreenPicture.of(
                merged.resized(
                    Math.max(1, (int) (merged.width() * scale)),
                    Math.max(1, (int) (merged.height() * scale))))));
    zip.finish();
  }

  private static byte[] png(ScreenPicture p) throws IOException {
    ByteArrayOutputStream out = new ByteArrayOutputStream();
    PictureWriter.png(p, out);
    return out.toByteArray();
  }

  private static void entry(ZipOutputStream zip, String name, byte[] bytes) throws IOException {
    zip.putNextEntry(new ZipEntry(name));
    zip.write(bytes);
    zip.closeEntry();
  }

  /** The kind of the file stands first and as it is, so that it can be told by its bytes. */
  private static void stored(ZipOutputStream zip, String name, byte[] bytes) throws IOException {
    CRC32 crc = new CRC32();
    crc.update(bytes);
    ZipEntry entry = new ZipEntry(name);
    entry.setMethod(ZipEntry.STORED);
    entry.setSize(bytes.length);
    entry.setCrc(crc.getValue());
    zip.putNextEntry(entry);
    zip.write(bytes);
    zip.closeEntry();
  }
}
