package org.wedgecutter.core.image;

import com.fasterxml.jackson.databind.JsonNode;
import java.awt.image.Raster;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Iterator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.SortedMap;
import javax.imageio.ImageIO;
import javax.imageio.ImageReader;
import javax.imageio.stream.ImageInputStream;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.core.io.JsonText;
import org.wedgecutter.exr.Attribute;
import org.wedgecutter.exr.Box;
import org.wedgecutter.exr.Channel;
import org.wedgecutter.exr.ExrException;
import org.wedgecutter.exr.ExrHeader;
import org.wedgecutter.exr.ExrInput;
import org.wedgecutter.exr.ExrPart;
import org.wedgecutter.exr.Samples;

/**
 * What an image file holds: EXR of any kind, HDR, TIFF, PNG or JPEG.
 *
 * @param parts of a file of another format there is one
 */
public record ImageFacts(List<Part> parts) {
  private static final int BAND = 1 << 20;
  private static final long MAX_PIXELS = 1L << 28;

  /**
   * A part.
   *
   * @param type {@code scanlineimage}, {@code tiledimage}, {@code deepscanline} or {@code
   *     deeptile}; of other formats their name
   * @param compression in lower case; empty where it is not told
   * @param dataWindow least x and y, greatest x and y
   * @param displayWindow the same
   * @param attributes by name: texts, numbers, lists of them
   * @param channels in the order of the file
   * @param deep of a deep part, else null
   * @param mattes ID mattes
   */
  public record Part(
      String name,
      String type,
      String compression,
      List<Integer> dataWindow,
      List<Integer> displayWindow,
      Map<String, Object> attributes,
      List<ChannelFacts> channels,
      @Nullable Deep deep,
      List<Matte> mattes) {}

  /**
   * A channel. Least, greatest and mean are those of its finite numbers, null if there are none.
   *
   * @param type {@code half}, {@code float}, {@code uint}; of other formats {@code uint8}, {@code
   *     uint16} or {@code float}, whose numbers are as stored
   * @param nan how many are no numbers
   * @param infinite how many are infinite
   */
  public record ChannelFacts(
      String name,
      String type,
      @Nullable Double min,
      @Nullable Double max,
      @Nullable Double mean,
      long nan,
      long infinite) {}

  /**
   * Samples of a deep part.
   *
   * @param samples in all
   * @param most in one pixel
   */
  public record Deep(long samples, int most) {}

  /**
   * ID mattes of one kind.
   *
   * @param name what the file calls them
   * @param names the things of their manifest, in its order
   */
  public record Matte(String name, List<String> names) {}

  /** Sums over the numbers of a channel. */
  private static final class Sums {
    private double min = Double.POSITIVE_INFINITY;
    private double max = Double.NEGATIVE_INFINITY;
    private double sum;
    private long finite;
    private long nan;
    private long infinite;

    void add(double v) {
      if (Double.isNaN(v)) {
        nan++;
      } else if (Double.isInfinite(v)) {
        infinite++;
      } else {
        min = Math.min(min, v);
        max = Math.max(max, v);
        sum += v;
        finite++;
      }
    }

    void add(Samples samples) {
      switch (samples) {
        case Samples.Real real -> {
          for (float v : real.values()) {
            add(v);
          }
        }
        case Samples.Whole whole -> {
          for (int v : whole.values()) {
            add(v & 0xffffffffL);
          }
        }
      }
    }

    ChannelFacts told(String name, String type) {
      boolean any = finite > 0;
      return new ChannelFacts(
          name, type, any ? min : null, any ? max : null, any ? sum / finite : null, nan, infinite);
    }
  }

  /** Whether a file's name is that of an image. */
  public static boolean isImage(Path file) {
    return String.valueOf(file.getFileName())
        .toLowerCase(Locale.ROOT)
        .matches(".*\\.(exr|hdr|tif|tiff|png|jpg|jpeg)");
  }

  /**
   * Reads a file.
   *
   * @throws InputException with file and expectation if it cannot be read
   */
  public static ImageFacts of(Path file) throws InputException {
    String name = String.valueOf(file.getFileName()).toLowerCase(Locale.ROOT);
    try {
      if (name.endsWith(".exr")) {
        return exr(file);
      }
      return new ImageFacts(List.of(name.endsWith(".hdr") ? hdr(file) : coded(file)));
    } catch (NoSuchFileException e) {
      throw new InputException(file, "", "no such file", e);
    } catch (InputException e) {
      throw e;
    } catch (ExrException e) {
      throw new InputException(file, "", bare(file, e), e);
    } catch (IOException | RuntimeException e) {
      throw InputException.unreadable(file, "", "cannot be read", e);
    }
  }

  /** The message without the file's name, which comes before it anyhow. */
  static String bare(Path file, ExrException e) {
    String message = String.valueOf(e.getMessage());
    String name = file + ": ";
    return message.startsWith(name) ? message.substring(name.length()) : message;
  }

  // ---- EXR

  private static ImageFacts exr(Path file) throws IOException {
    List<Part> out = new ArrayList<>();
    try (ExrInput in = ExrInput.open(file)) {
      for (int p = 0; p < in.headers().size(); p++) {
        out.add(part(in, p));
      }
    }
    return new ImageFacts(out);
  }

  private static Part part(ExrInput in, int number) throws IOException {
    ExrHeader h = in.headers().get(number);
    Map<Channel, Sums> sums = new LinkedHashMap<>();
    h.channels().forEach(c -> sums.put(c, new Sums()));
    Deep deep = null;
    if (h.deep()) {
      ExrPart part = in.part(number);
      int[] counts = part.counts();
      long all = 0;
      int most = 0;
      for (int count : counts == null ? new int[0] : counts) {
        all += count;
        most = Math.max(most, count);
      }
      deep = new Deep(all, most);
      part.channels().forEach((c, s) -> at(sums, c).add(s));
    } else {
      Box box = h.dataWindow();
      int down = Math.max(256, BAND / box.width() / 256 * 256);
      for (int y = 0; y < box.height(); y += down) {
        SortedMap<Channel, Samples> lines =
            in.lines(number, box.minY() + y, Math.min(down, box.height() - y));
        lines.forEach((c, s) -> at(sums, c).add(s));
      }
    }
    Map<String, Object> attributes = new LinkedHashMap<>();
    h.attributes().forEach((name, value) -> attributes.put(name, value(value)));
    List<ChannelFacts> channels = new ArrayList<>();
    sums.forEach(
        (c, s) -> channels.add(s.told(c.name(), c.type().name().toLowerCase(Locale.ROOT))));
    return new Part(
        h.name(),
        h.type(),
        h.compression().name().toLowerCase(Locale.ROOT),
        corners(h.dataWindow()),
        corners(h.displayWindow()),
        attributes,
        channels,
        deep,
        mattes(h.attributes()));
  }

  private static Sums at(Map<Channel, Sums> sums, Channel channel) {
    return sums.computeIfAbsent(channel, c -> new Sums());
  }

  private static List<Integer> corners(Box b) {
    return List.of(b.minX(), b.minY(), b.maxX(), b.maxY());
  }

  private static Object value(Attribute value) {
    return switch (value) {
      case Attribute.Text t -> t.value();
      case Attribute.Int i -> i.value();
      case Attribute.Real r -> r.value();
      case Attribute.Double d -> d.value();
      case Attribute.Rational r -> r.numerator() + "/" + r.denominator();
      case Attribute.Chromaticities c -> c.xy();
      case Attribute.Matrix m -> m.rows();
      case Attribute.Ints i -> i.values();
      case Attribute.Reals r -> r.values();
      case Attribute.Doubles d -> d.values();
      case Attribute.Texts t -> t.values();
      case Attribute.Preview p -> "%d x %d pixels".formatted(p.width(), p.height());
      case Attribute.Code c -> c.code();
      case Attribute.Raw r -> "%d bytes of type %s".formatted(r.encode().length, r.type());
    };
  }

  /** Mattes by the open convention: attributes of their layer with a name and a manifest. */
  private static List<Matte> mattes(Map<String, Attribute> attributes) {
    List<Matte> out = new ArrayList<>();
    attributes.forEach((key, value) -> {
      if (key.startsWith("cryptomatte/")
          && key.endsWith("/name")
          && value instanceof Attribute.Text name) {
        String own = key.substring(0, key.length() - "name".length());
        List<String> names = new ArrayList<>();
        if (attributes.get(own + "manifest") instanceof Attribute.Text manifest) {
          try {
            JsonNode tree = JsonText.read(manifest.value(), Path.of("manifest"));
            tree.fieldNames().forEachRemaining(names::add);
          } catch (InputException e) {
            names.add("a manifest that is not JSON");
          }
        }
        out.add(new Matte(name.value(), names));
      }
    });
    return out;
  }

  // ---- others

  private static Part hdr(Path file) throws InputException {
    Picture p = RadianceHdr.read(file);
    List<ChannelFacts> channels = new ArrayList<>();
    for (int c = 0; c < 3; c++) {
      Sums sums = new Sums();
      for (int i = c; i < p.rgba().length; i += 4) {
        sums.add(p.rgba()[i]);
      }
      channels.add(sums.told("RGB".substring(c, c + 1), "float"));
    }
    return plain("hdr", p.width(), p.height(), channels);
  }

  private static Part coded(Path file) throws IOException {
    try (ImageInputStream in = ImageIO.createImageInputStream(file.toFile())) {
      if (in == null || !Files.isRegularFile(file)) {
        throw new NoSuchFileException(file.toString());
      }
      Iterator<ImageReader> readers = ImageIO.getImageReaders(in);
      if (!readers.hasNext()) {
        throw new InputException(file, "", "not a TIFF, PNG or JPEG image");
      }
      ImageReader reader = readers.next();
      try {
        reader.setInput(in, true, true);
        long pixels = (long) reader.getWidth(0) * reader.getHeight(0);
        if (pixels > MAX_PIXELS) {
          throw new InputException(
              file, "", "%d pixels, at most %d are read".formatted(pixels, MAX_PIXELS));
        }
        Raster raster =
            reader.canReadRaster() ? reader.readRaster(0, null) : reader.read(0).getRaster();
        String format = reader.getFormatName().toLowerCase(Locale.ROOT);
        return plain(
            format.equals("tif") ? "tiff" : format,
            raster.getWidth(),
            raster.getHeight(),
            channels(raster));
      } finally {
        reader.dispose();
      }
    }
  }

  private static List<ChannelFacts> channels(Raster raster) {
    int bands = raster.getNumBands();
    String[] names = bands < 3 ? new String[] {"Y", "A"} : new String[] {"R", "G", "B", "A"};
    String type =
        switch (raster.getDataBuffer().getDataType()) {
          case java.awt.image.DataBuffer.TYPE_FLOAT, java.awt.image.DataBuffer.TYPE_DOUBLE ->
              "float";
          case java.awt.image.DataBuffer.TYPE_BYTE -> "uint8";
          default -> "uint16";
        };
    List<ChannelFacts> out = new ArrayList<>();
    float[] line = new float[raster.getWidth()];
    for (int b = 0; b < bands; b++) {
      Sums sums = new Sums();
      for (int y = 0; y < raster.getHeight(); y++) {
        raster.getSamples(raster.getMinX(), raster.getMinY() + y, line.length, 1, b, line);
        for (float v : line) {
          sums.add(v);
        }
      }
      out.add(sums.told(b < names.length ? names[b] : "channel " + b, type));
    }
    return out;
  }

  private static Part plain(String type, int width, int height, List<ChannelFacts> channels) {
    List<Integer> window = List.of(0, 0, width - 1, height - 1);
    return new Part("", type, "", window, window, Map.of(), channels, null, List.of());
  }
}
