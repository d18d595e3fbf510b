package org.wedgecutter.core.export;

import java.io.IOException;
import java.nio.file.Path;
import org.wedgecutter.core.deliver.Delivery;
import org.wedgecutter.core.deliver.file.DeliveryPictures;
import org.wedgecutter.core.io.AtomicFile;

/** A rejoined frame as a file of its own. */
public final class RejoinedFile {
  private RejoinedFile() {}

  /** Writes a rejoined frame as a file of its own, in the format that its name tells. */
  public static void write(Delivery delivery, int frame, Path file) throws IOException {
    if (OpenRaster.isFor(file)) {
      AtomicFile.write(file, out -> OpenRaster.write(delivery, frame, out));
    } else {
      DeliveryPictures.write(delivery, DeliveryPictures.corrected(delivery, frame), file);
    }
  }
}
