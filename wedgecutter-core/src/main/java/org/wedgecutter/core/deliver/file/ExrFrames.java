package org.wedgecutter.core.deliver.file;

import java.io.IOException;
import java.io.OutputStream;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.SortedMap;
import java.util.function.Predicate;
import org.wedgecutter.core.fragment.LayerPictures;
import org.wedgecutter.core.image.DeepPicture;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.image.Region;
import org.wedgecutter.core.pass.PassPicture;
import org.wedgecutter.core.plan.Output;
import org.wedgecutter.core.plan.Shot;
import org.wedgecutter.exr.Attribute;
import org.wedgecutter.exr.Box;
import org.wedgecutter.exr.Channel;
import org.wedgecutter.exr.Compression;
import org.wedgecutter.exr.ExrException;
import org.wedgecutter.exr.ExrImage;
import org.wedgecutter.exr.ExrInput;
import org.wedgecutter.exr.ExrPart;
import org.wedgecutter.exr.ExrWriter;
import org.wedgecutter.exr.PixelType;
import org.wedgecutter.exr.Samples;

/** Layers as OpenEXR files: beauty as R, G, B, A, passes as channels named after them. */
public final class ExrFrames {
  private static final String[] COLORS = {"R", "G", "B", "A"};

  private ExrFrames() {}

  /**
   * Writes a layer whole, or not at all.
   *
   * @param frame the whole frame, which becomes the display window
   * @param window where in it the picture is, which becomes the data window
   */
  public static void write(
      Path file,
      Picture beauty,
      List<PassPicture> passes,
      Output output,
      Box frame,
      Box window,
      Map<String, Attribute> attributes)
      throws IOException {
    try (ExrFile writing = new ExrFile(file, output, frame, window, attributes)) {
      writing.write(channels(beauty, passes, output));
      writing.commit();
    }
  }

  /** Writes a layer as it is delivered, to a stream. */
  public static void write(
      OutputStream out, Picture beauty, List<PassPicture> passes, Output output)
      throws IOException {
    Box all = Box.ofSize(beauty.width(), beauty.height());
    ExrWriter.write(
        new ExrImage(
            List.of(
                new ExrPart(
                    "",
                    output.compression(),
                    all,
                    all,
                    Map.of(),
                    channels(beauty, passes, output)))),
        out);
  }

  /** Returns the channels of a picture, or of a band of one. */
  public static SortedMap<Channel, Samples> channels(
      Picture beauty, List<PassPicture> passes, Output output) {
    PixelType first = type(output, Output.BEAUTY, false);
    SortedMap<Channel, Samples> channels = ExrPart.newChannels();
    for (int c = 0; c < 4; c++) {
      channels.put(new Channel(COLORS[c], first), new Samples.Real(plane(beauty.rgba(), 4, c)));
    }
    for (PassPicture pass : passes) {
      PixelType own = type(output, pass.title(), pass.exact());
      int stride = pass.channels().size();
      for (int c = 0; c < stride; c++) {
        channels.put(
            new Channel(pass.channel(c), own), new Samples.Real(plane(pass.values(), stride, c)));
      }
    }
    return channels;
  }

  /** Returns the channels of a deep picture, or of a band of one. */
  public static SortedMap<Channel, Samples> channels(DeepPicture deep, Output output) {
    return deep.channels(type(output, Output.BEAUTY, false));
  }

  /** Returns how deep files are packed: as flat ones are, where the format allows that. */
  public static Compression deepCompression(Output output) {
    return output.compression().isForDeep() ? output.compression() : Compression.ZIPS;
  }

  /** The type of a pass's channels. */
  private static PixelType type(Output output, String pass, boolean exact) {
    Set<String> floats = output.floats();
    // components of the beauty have the beauty's word, which means R, G, B and A here
    String word = LayerPictures.passWord(pass);
    boolean asked = floats.contains(pass) || (!word.equals(Output.BEAUTY) && floats.contains(word));
    return output.half() && !exact && !asked ? PixelType.HALF : PixelType.FLOAT;
  }

  private static float[] plane(float[] interleaved, int stride, int offset) {
    float[] plane = new float[interleaved.length / stride];
    for (int p = 0; p < plane.length; p++) {
      plane[p] = interleaved[stride * p + offset];
    }
    return plane;
  }

  /** Reads the beauty of a file: the pixels of its data window. */
  public static Picture read(Path file) throws IOException {
    return picture(file, "");
  }

  /** Reads colours and alpha, and nothing else that the file holds. */
  private static Picture picture(Path file, String prefix) throws IOException {
    return picture(file, List.of(prefix + COLORS[0], prefix + COLORS[1], prefix + COLORS[2]));
  }

  /** Reads some channels in the place of colours, with alpha. */
  private static Picture picture(Path file, List<String> channels) throws IOException {
    ExrPart part = part(file, name -> name.equals(COLORS[3]) || channels.contains(name));
    Picture out = Picture.empty(part.dataWindow().width(), part.dataWindow().height());
    for (int c = 0; c <= channels.size(); c++) {
      boolean alpha = c == channels.size();
      float[] plane = part.real(alpha ? COLORS[3] : channels.get(c));
      for (int p = 0; p < plane.length; p++) {
        out.rgba()[4 * p + (alpha ? 3 : c)] = plane[p];
      }
    }
    return out;
  }

  /** Whether a channel is one of the beauty's. */
  static boolean isBeauty(Channel channel) {
    return List.of(COLORS).contains(channel.name());
  }

  /**
   * Reads some channels of a file, of its beauty's part and of what has the same window. The
   * message of an error begins with its name.
   */
  public static ExrPart part(Path file, Predicate<String> channels) throws IOException {
    return read(file, in -> in.flat(channels));
  }

  /** Reads something of an open file. */
  interface Reading<T> {
    T of(ExrInput in) throws IOException;
  }

  /** Reads something of a file. The message of an error begins with the file's name. */
  static <T> T read(Path file, Reading<T> reading) throws IOException {
    try (ExrInput in = ExrInput.open(file)) {
      return reading.of(in);
    } catch (ExrException e) {
      String message = String.valueOf(e.getMessage());
      throw message.startsWith(file + ": ")
          ? e
          : new ExrException("%s: %s".formatted(file, message));
    }
  }

  /**
   * Reads a pass of colours, or of texture coordinates in the place of red and green, with the
   * alpha of the beauty: the pixels of the data window.
   *
   * @throws ExrException if the file has no such pass
   */
  public static Picture readPass(Path file, String pass) throws IOException {
    return pass.equals("uv")
        ? picture(file, List.of(pass + ".U", pass + ".V"))
        : picture(file, pass + ".");
  }

  /** Returns a region as files tell it. */
  public static Box box(Region r) {
    return new Box(r.x(), r.y(), r.x() + r.width() - 1, r.y() + r.height() - 1);
  }

  /** Attributes that every file of a shot carries. */
  public static Map<String, Attribute> attributes(
      Shot shot, String layer, int frame, float[] worldToCamera) {
    Map<String, Attribute> out = new LinkedHashMap<>();
    out.put("chromaticities", Attribute.Chromaticities.BT709);
    out.put("framesPerSecond", new Attribute.Rational((int) Math.round(shot.fps() * 1000), 1000));
    out.put("imageCounter", new Attribute.Int(frame));
    out.put("layer", new Attribute.Text(layer));
    out.put("worldToCamera", new Attribute.Matrix(worldToCamera));
    return out;
  }
}
