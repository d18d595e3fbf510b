package org.wedgecutter.core.render;

import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.function.Predicate;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.fragment.CatchFit;
import org.wedgecutter.core.fragment.LayerPictures;
import org.wedgecutter.core.fragment.TracedLayers;
import org.wedgecutter.core.image.DeepPicture;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.measure.InterplayTable;
import org.wedgecutter.core.pass.PassPicture;

/** The pictures of one frame's layers, however they were traced. */
public final class RenderedFrame implements TracedLayers {
  private final @Nullable LayerPictures[] layers;
  private final @Nullable LayerPictures uncut;
  private final List<ClassTime> classes;
  private final long rays;
  private final long bytes;
  private final long invalidSamples;
  private final long cutShort;
  private final InterplayTable interplay;
  private final @Nullable HalfFrame half;
  private final Map<Integer, PictureNoise> noise;

  /** Pictures that were made to find their noise, by number as there. */
  private final Map<Integer, Picture> made;

  /**
   * The cost of one trace.
   *
   * @param layers names of the layers that it served; "uncut" stands for the uncut frame
   * @param seconds wall time
   * @param rays rays cast
   * @param cpuSeconds processor time of all its threads
   */
  public record ClassTime(List<String> layers, double seconds, long rays, double cpuSeconds) {
    public ClassTime {
      layers = List.copyOf(layers);
    }

    /** Returns the cost of this and another trace for the same layers. */
    public ClassTime plus(ClassTime other) {
      return new ClassTime(
          layers, seconds + other.seconds, rays + other.rays, cpuSeconds + other.cpuSeconds);
    }
  }

  RenderedFrame(
      @Nullable LayerPictures[] layers,
      @Nullable LayerPictures uncut,
      List<ClassTime> classes,
      long rays,
      long bytes,
      long invalidSamples,
      long cutShort,
      InterplayTable interplay,
      @Nullable HalfFrame half,
      Map<Integer, PictureNoise> noise,
      Map<Integer, Picture> made) {
    this.made = Map.copyOf(made);
    this.layers = layers;
    this.uncut = uncut;
    this.classes = List.copyOf(classes);
    this.rays = rays;
    this.bytes = bytes;
    this.invalidSamples = invalidSamples;
    this.cutShort = cutShort;
    this.interplay = interplay;
    this.half = half;
    this.noise = Map.copyOf(noise);
  }

  private LayerPictures of(int layer) {
    return Objects.requireNonNull(layers[layer], "this layer was not rendered");
  }

  /** Returns the picture of a rendered layer. */
  @Override
  public Picture layer(int index) {
    Picture known = made.get(index);
    return known == null ? of(index).layer(index) : known;
  }

  @Override
  public @Nullable DeepPicture deep(int index) {
    return of(index).deep(index);
  }

  /**
   * Returns the noise of a picture.
   *
   * @param index number of the layer; their number for the uncut frame
   */
  public PictureNoise noise(int index) {
    return noise.getOrDefault(index, PictureNoise.UNKNOWN);
  }

  /** Returns the passes of a rendered layer. */
  public List<PassPicture> passes(int index) {
    return passes(index, title -> true);
  }

  @Override
  public List<PassPicture> passes(int index, Predicate<String> chosen) {
    return of(index).passes(index, chosen);
  }

  /** See {@link LayerPictures#catchFit}. */
  public @Nullable CatchFit catchFit(int index) {
    return of(index).catchFit(index);
  }

  /** Returns the light that clamping removed from a layer. */
  public double lostByClamping(int index) {
    return of(index).lostByClamping(index);
  }

  private LayerPictures whole() {
    return Objects.requireNonNull(uncut, "the uncut frame was not rendered");
  }

  /** Returns the uncut frame. */
  public Picture uncut() {
    Picture known = made.get(layers.length);
    return known == null ? whole().uncut() : known;
  }

  /** Returns the passes of the uncut frame. */
  public List<PassPicture> uncutPasses() {
    return uncutPasses(title -> true);
  }

  /** Returns some of the passes of the uncut frame, by their titles. */
  public List<PassPicture> uncutPasses(Predicate<String> chosen) {
    return whole().uncutPasses(chosen);
  }

  /** Returns the header attributes of the ID mattes of a layer, or with -1 of the uncut frame. */
  @Override
  public Map<String, String> idHeader(int index) {
    return index < 0 ? whole().uncutIdHeader() : of(index).idHeader(index);
  }

  /** Returns the number of invalid fragments: NaN, infinite or negative; they are left out. */
  public long invalidSamples() {
    return invalidSamples;
  }

  /** Returns how many volume paths were terminated, because they took too many steps. */
  public long cutShort() {
    return cutShort;
  }

  /** Returns how entities change one another's light, as far as the uncut class was traced. */
  public InterplayTable interplay() {
    return interplay;
  }

  /** Returns the pictures of the first half of the samples, of a frame that was measured. */
  public HalfFrame half() {
    return Objects.requireNonNull(half, "this frame was not measured");
  }

  /** Returns the share of the uncut frame that each entity covers, by index. */
  public double[] coverage() {
    return whole().coverage();
  }

  /** Returns the dominant entity of a pixel of the uncut frame, or -1. */
  public int dominant(int x, int y) {
    return whole().dominant(x, y);
  }

  /** Returns the cost of each trace. */
  public List<ClassTime> classes() {
    return classes;
  }

  /** Returns the number of rays cast. */
  public long rays() {
    return rays;
  }

  /** Returns the memory of all sums in bytes. */
  public long bytes() {
    return bytes;
  }
}
