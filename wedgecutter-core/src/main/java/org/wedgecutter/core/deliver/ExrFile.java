package org.wedgecutter.core.deliver;

import java.io.Closeable;
import java.io.IOException;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.SortedMap;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.io.AtomicFile;
import org.wedgecutter.core.pass.PassPicture;
import org.wedgecutter.core.plan.Output;
import org.wedgecutter.exr.Attribute;
import org.wedgecutter.exr.Box;
import org.wedgecutter.exr.Channel;
import org.wedgecutter.exr.ExrBands;
import org.wedgecutter.exr.Samples;

/** A layer's file that is written band by band, from the top; it appears whole or not at all. */
final class ExrFile implements Closeable {
  private final AtomicFile file;
  private final Output output;
  private final Box frame;
  private final Box window;
  private final Map<String, Attribute> attributes;
  private @Nullable ExrBands bands;

  /**
   * Begins a file.
   *
   * @param frame the whole frame, which becomes the display window
   * @param window where in it the picture is, which becomes the data window
   */
  ExrFile(Path file, Output output, Box frame, Box window, Map<String, Attribute> attributes)
      throws IOException {
    this.file = new AtomicFile(file);
    this.output = output;
    this.frame = frame;
    this.window = window;
    this.attributes = attributes;
  }

  /** Writes the next lines. */
  void write(Picture beauty, List<PassPicture> passes) throws IOException {
    write(ExrFrames.channels(beauty, passes, output));
  }

  /** Writes the next lines, of channels as they are in files. */
  void write(SortedMap<Channel, Samples> channels) throws IOException {
    if (bands == null) {
      bands =
          new ExrBands(
              file.channel(), output.compression(), window, frame, attributes, channels.keySet());
    }
    bands.write(channels);
  }

  /** Ends the file and moves it to its name. */
  void commit() throws IOException {
    if (bands == null) {
      throw new IOException("nothing was written");
    }
    bands.close();
    file.commit();
  }

  @Override
  public void close() throws IOException {
    file.close();
  }
}
