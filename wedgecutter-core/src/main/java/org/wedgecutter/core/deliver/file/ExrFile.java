package org.wedgecutter.core.deliver.file;

import java.io.Closeable;
import java.io.IOException;
import java.nio.file.Path;
import java.util.ArrayList;
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
import org.wedgecutter.exr.ExrPart;
import org.wedgecutter.exr.Samples;

/**
 * A layer's file that is written band by band, from the top; it appears whole or not at all. It has
 * one part, or the beauty in a part before that of the passes.
 */
public final class ExrFile implements Closeable {
  /** Name of the part of passes. */
  private static final String PASSES = "passes";

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
  public ExrFile(
      Path name, Output output, Box frame, Box window, Map<String, Attribute> attributes) {
    this.name = name;
    this.output = output;
    this.frame = frame;
    this.window = window;
    this.attributes = attributes;
  }

  /** Writes the next lines, of channels as they are in files. */
  public void write(SortedMap<Channel, Samples> channels) throws IOException {
    List<SortedMap<Channel, Samples>> parts = parts(channels);
    ExrBands now = bands;
    if (now == null) {
      List<ExrHeader> heads = new ArrayList<>();
      for (int k = 0; k < parts.size(); k++) {
        String part = k > 0 ? PASSES : parts.size() > 1 ? Output.BEAUTY : "";
        heads.add(head(part, output.compression(), parts.get(k)));
      }
      now = begin(heads);
    }
    for (int k = 0; k < parts.size(); k++) {
      now.write(k, null, parts.get(k));
    }
  }

  private List<SortedMap<Channel, Samples>> parts(SortedMap<Channel, Samples> channels) {
    SortedMap<Channel, Samples> beauty = ExrPart.newChannels();
    SortedMap<Channel, Samples> passes = ExrPart.newChannels();
    channels.forEach((channel, samples) ->
        (ExrFrames.isBeauty(channel) ? beauty : passes).put(channel, samples));
    return output.beautyApart() && !passes.isEmpty() ? List.of(beauty, passes) : List.of(channels);
  }

  /** Writes the next lines of a deep file. */
  public void write(DeepPicture deep) throws IOException {
    SortedMap<Channel, Samples> channels = ExrFrames.channels(deep, output);
    ExrBands now = bands;
    if (now == null) {
      Compression own = ExrFrames.deepCompression(output);
      now = begin(List.of(head(Output.More.DEEP.word(), own, channels).asDeep()));
    }
    now.write(0, deep.counts(), channels);
  }

  private ExrHeader head(
      String part, Compression compression, SortedMap<Channel, Samples> channels) {
    return ExrHeader.of(
        part, compression, window, frame, attributes, List.copyOf(channels.keySet()));
  }

  private ExrBands begin(List<ExrHeader> heads) throws IOException {
    AtomicFile writing = new AtomicFile(name);
    file = writing;
    ExrBands begun = new ExrBands(writing.channel(), heads);
    bands = begun;
    return begun;
  }

  /** Ends the file and moves it to its name. */
  public void commit() throws IOException {
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
