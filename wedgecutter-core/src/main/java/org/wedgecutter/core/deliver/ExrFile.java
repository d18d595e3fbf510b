package org.wedgecutter.core.deliver;

import java.io.Closeable;
import java.io.IOException;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.SortedMap;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.image.DeepPicture;
import org.wedgecutter.core.io.AtomicFile;
import org.wedgecutter.core.plan.Output;
import org.wedgecutter.exr.Attribute;
import org.wedgecutter.exr.Box;
import org.wedgecutter.exr.Channel;
import org.wedgecutter.exr.Compression;
import org.wedgecutter.exr.ExrBands;
import org.wedgecutter.exr.ExrHeader;
import org.wedgecutter.exr.Samples;

/** A layer's file that is written band by band, from the top; it appears whole or not at all. */
final class ExrFile implements Closeable {
  private final Path name;
  private final Output output;
  private final Box frame;
  private final Box window;
  private final Map<String, Attribute> attributes;
  private @Nullable AtomicFile file;
  private @Nullable ExrBands bands;

  /**
   * Prepares a file; nothing is written before its first lines.
   *
   * @param frame the whole frame, which becomes the display window
   * @param window where in it the picture is, which becomes the data window
   */
  ExrFile(Path name, Output output, Box frame, Box window, Map<String, Attribute> attributes) {
    this.name = name;
    this.output = output;
    this.frame = frame;
    this.window = window;
    this.attributes = attributes;
  }

  /** Writes the next lines, of channels as they are in files. */
  void write(SortedMap<Channel, Samples> channels) throws IOException {
    begun(channels, false).write(channels);
  }

  /** Writes the next lines of a deep file. */
  void write(DeepPicture deep) throws IOException {
    SortedMap<Channel, Samples> channels = ExrFrames.channels(deep, output);
    begun(channels, true).write(deep.counts(), channels);
  }

  private ExrBands begun(SortedMap<Channel, Samples> channels, boolean deep) throws IOException {
    ExrBands now = bands;
    if (now == null) {
      Compression own = deep ? ExrFrames.deepCompression(output) : output.compression();
      ExrHeader head =
          ExrHeader.of(
              deep ? Output.More.DEEP.word() : "",
              own,
              window,
              frame,
              attributes,
              List.copyOf(channels.keySet()));
      AtomicFile writing = new AtomicFile(name);
      file = writing;
      now = new ExrBands(writing.channel(), deep ? head.asDeep() : head);
      bands = now;
    }
    return now;
  }

  /** Ends the file and moves it to its name. */
  void commit() throws IOException {
    if (bands == null || file == null) {
      throw new IOException("nothing was written");
    }
    bands.close();
    file.commit();
  }

  @Override
  public void close() throws IOException {
    if (file != null) {
      file.close();
    }
  }
}
