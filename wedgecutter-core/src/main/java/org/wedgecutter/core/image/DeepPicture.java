package org.wedgecutter.core.image;

import java.util.Arrays;
import java.util.SortedMap;
import java.util.stream.IntStream;
import org.wedgecutter.exr.Channel;
import org.wedgecutter.exr.ExrException;
import org.wedgecutter.exr.ExrPart;
import org.wedgecutter.exr.Level;
import org.wedgecutter.exr.PixelType;
import org.wedgecutter.exr.Samples;

/**
 * A picture whose pixels have any number of samples along the camera's axis, scene-linear and
 * premultiplied. A sample stands at one depth, or fills the way from its front to its back, as haze
 * does.
 *
 * <p>A picture is tidy if the samples of each pixel ascend and none overlaps another; {@link #tidy}
 * makes it so. Rules for splitting samples and for putting those of the same stretch together: F.
 * Kainz, "Interpreting OpenEXR Deep Pixels", 2013.
 *
 * @param width pixels in a line
 * @param height lines
 * @param pixels line by line; of each its samples, {@link #NUMBERS} numbers each: front and back in
 *     metres, red, green, blue, alpha; the arrays are not copied
 */
public record DeepPicture(int width, int height, float[][] pixels) {
  /** Numbers of a sample. */
  public static final int NUMBERS = 6;

  /** Where in a sample its front stands. */
  public static final int FRONT = 0;

  /** Where in a sample its back stands. */
  public static final int BACK = 1;

  /** Where in a sample its colour begins. */
  public static final int COLOUR = 2;

  /** Where in a sample its alpha stands. */
  public static final int ALPHA = 5;

  /** A pixel without samples. */
  public static final float[] NOTHING = {};

  public DeepPicture {
    if (pixels.length != (long) width * height) {
      throw new IllegalArgumentException(
          "%d pixels, expected %d x %d".formatted(pixels.length, width, height));
    }
  }

  /** Returns the number of samples of all pixels. */
  public long samples() {
    return Arrays.stream(pixels).mapToLong(p -> p.length / NUMBERS).sum();
  }

  /** Returns the largest number of samples in a pixel. */
  public int most() {
    return Arrays.stream(pixels).mapToInt(p -> p.length / NUMBERS).max().orElse(0);
  }

  /**
   * Returns the part of the picture in a region.
   *
   * @throws IllegalArgumentException if it does not lie in the picture
   */
  public DeepPicture cropped(Region r) {
    if (!r.fits(width, height)) {
      throw new IllegalArgumentException("the region is not in the picture: " + r);
    }
    if (r.equals(Region.whole(width, height))) {
      return this;
    }
    float[][] out = new float[r.width() * r.height()][];
    for (int y = 0; y < r.height(); y++) {
      System.arraycopy(pixels, (r.y() + y) * width + r.x(), out, y * r.width(), r.width());
    }
    return new DeepPicture(r.width(), r.height(), out);
  }

  /**
   * Returns the picture at a place of another one's size, without samples where it has no pixel.
   *
   * @param x column at which it begins; may be negative
   * @param y its line
   */
  public DeepPicture placed(int x, int y, int toWidth, int toHeight) {
    if (x == 0 && y == 0 && toWidth == width && toHeight == height) {
      return this;
    }
    float[][] out = new float[toWidth * toHeight][];
    for (int p = 0; p < out.length; p++) {
      int column = p % toWidth - x;
      int line = p / toWidth - y;
      boolean inside = column >= 0 && line >= 0 && column < width && line < height;
      out[p] = inside ? pixels[line * width + column] : NOTHING;
    }
    return new DeepPicture(toWidth, toHeight, out);
  }

  /** Returns the picture with ascending samples that do not overlap. */
  public DeepPicture tidy() {
    float[][] out = new float[pixels.length][];
    IntStream.range(0, pixels.length).parallel().forEach(p -> out[p] = DeepPixel.tidy(pixels[p]));
    return new DeepPicture(width, height, out);
  }

  /**
   * Returns this and another picture as one: what is nearer hides what is behind it. The result is
   * tidy.
   *
   * @throws IllegalArgumentException if they are not of the same size
   */
  public DeepPicture merged(DeepPicture other) {
    if (width != other.width || height != other.height) {
      throw new IllegalArgumentException(
          "%d x %d pixels cannot be merged with %d x %d"
              .formatted(other.width, other.height, width, height));
    }
    float[][] out = new float[pixels.length][];
    IntStream.range(0, pixels.length)
        .parallel()
        .forEach(p -> {
          float[] a = pixels[p];
          float[] both = Arrays.copyOf(a, a.length + other.pixels[p].length);
          System.arraycopy(other.pixels[p], 0, both, a.length, other.pixels[p].length);
          out[p] = DeepPixel.tidy(both);
        });
    return new DeepPicture(width, height, out);
  }

  /** Returns the flat picture: the samples of each pixel over one another, over black. */
  public Picture flattened() {
    Picture out = Picture.empty(width, height);
    IntStream.range(0, pixels.length)
        .parallel()
        .forEach(p -> DeepPixel.flatten(DeepPixel.tidy(pixels[p]), out.rgba(), 4 * p));
    return out;
  }

  // ---- files

  /**
   * Reads a deep part's channels {@code Z}, {@code ZBack}, {@code R}, {@code G}, {@code B} and
   * {@code A}. What is missing counts as 0, alpha as 1, {@code ZBack} as {@code Z}; samples without
   * {@code Z} stand in the order of the file.
   *
   * @throws ExrException if one of the channels holds whole numbers
   * @throws IllegalArgumentException if the part is flat
   */
  public static DeepPicture of(ExrPart part) throws ExrException {
    int[] counts = part.counts();
    if (counts == null) {
      throw new IllegalArgumentException("a flat part");
    }
    String[] names = {"Z", "ZBack", "R", "G", "B", "A"};
    float[][] from = new float[NUMBERS][];
    for (int k = 0; k < NUMBERS; k++) {
      from[k] = part.has(names[k]) ? part.real(names[k]) : NOTHING;
    }
    float[][] pixels = new float[counts.length][];
    int at = 0;
    for (int p = 0; p < counts.length; p++) {
      float[] own = new float[NUMBERS * counts[p]];
      for (int s = 0; s < counts[p]; s++, at++) {
        float front = from[FRONT].length == 0 ? s : from[FRONT][at];
        own[NUMBERS * s + FRONT] = front;
        own[NUMBERS * s + BACK] = from[BACK].length == 0 ? front : Math.max(front, from[BACK][at]);
        for (int k = COLOUR; k < NUMBERS; k++) {
          own[NUMBERS * s + k] = from[k].length == 0 ? (k == ALPHA ? 1 : 0) : from[k][at];
        }
      }
      pixels[p] = own;
    }
    return new DeepPicture(part.dataWindow().width(), part.dataWindow().height(), pixels);
  }

  /** Returns how many samples each pixel has, line by line. */
  public int[] counts() {
    return Arrays.stream(pixels).mapToInt(p -> p.length / NUMBERS).toArray();
  }

  /**
   * Returns the channels of a deep part, as {@link Level} takes them.
   *
   * @param colours type of colours and alpha; depths are 32-bit floats
   */
  public SortedMap<Channel, Samples> channels(PixelType colours) {
    String[] names = {"Z", "ZBack", "R", "G", "B", "A"};
    SortedMap<Channel, Samples> out = ExrPart.newChannels();
    int all = Math.toIntExact(samples());
    for (int k = 0; k < NUMBERS; k++) {
      float[] plane = new float[all];
      int at = 0;
      for (float[] pixel : pixels) {
        for (int s = k; s < pixel.length; s += NUMBERS) {
          plane[at++] = pixel[s];
        }
      }
      out.put(
          new Channel(names[k], k < COLOUR ? PixelType.FLOAT : colours), new Samples.Real(plane));
    }
    return out;
  }
}
