package org.wedgecutter.core.fragment;

import java.util.concurrent.atomic.AtomicLong;
import java.util.concurrent.locks.ReentrantLock;
import java.util.stream.IntStream;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.image.DeepPicture;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.image.Region;
import org.wedgecutter.core.resolve.EntitySet;
import org.wedgecutter.core.trace.FragmentSink;
import org.wedgecutter.core.trace.Interplay;
import org.wedgecutter.core.trace.TraceJob;

/**
 * The result of one trace so far: the sums of all fragments per view, pixel and entity. The picture
 * of a layer is a sum over its entities, so that moving an entity from layer to layer traces
 * nothing again.
 *
 * <p>The picture is kept in square tiles, each with its own count of samples and its own lock:
 * pictures may be made while samples are still being added. A pixel's sums take its samples in
 * order, one after another, whatever thread brings them; so they are the same to the last bit for
 * any number of threads.
 */
public final class FragmentSums {
  /** Pixels along the side of a tile. */
  public static final int TILE = 16;

  /** Numbers of a pixel's data. */
  public static final int DATA = TileSums.DATA;

  private final TraceJob job;
  private final int frameWidth;
  private final int frameHeight;
  private final Region region;
  private final int width;
  private final int height;
  private final int across;
  private final Tile[] tiles;

  /** One tile of all views; its place is within the region. */
  static final class Tile {
    final int x;
    final int y;
    final int width;
    final int height;
    final TileSums[] views;

    /** Of views that keep fragments by depth. */
    final @Nullable DeepSums[] deep;

    final ReentrantLock lock = new ReentrantLock();
    int samples;

    Tile(int x, int y, int width, int height, TraceJob job) {
      this.x = x;
      this.y = y;
      this.width = width;
      this.height = height;
      int count = job.views().size();
      views = new TileSums[count];
      deep = new DeepSums[count];
      for (int v = 0; v < count; v++) {
        views[v] = new TileSums(width * height, job.split());
        EntitySet kept = job.views().get(v).deep();
        if (!kept.isEmpty()) {
          boolean[] entities = kept.toArray(job.transport().entities());
          deep[v] = new DeepSums(width * height, job.split(), entities);
        }
      }
    }

    FragmentSink sink() {
      return (view, pixel, fragment) -> {
        DeepSums byDepth = deep[view];
        if (views[view].add(pixel, fragment) && byDepth != null) {
          byDepth.add(pixel, fragment);
        }
      };
    }
  }

  /** Empty sums for a whole frame. */
  public FragmentSums(TraceJob job, int width, int height) {
    this(job, width, height, Region.whole(width, height));
  }

  /**
   * Empty sums for a region of a frame. Each pixel gets exactly the values that it has in the whole
   * frame.
   *
   * @param frameWidth width of the whole frame in pixels
   * @param frameHeight height of the whole frame in pixels
   * @param region which pixels; it must lie in the frame
   */
  public FragmentSums(TraceJob job, int frameWidth, int frameHeight, Region region) {
    if (!region.fits(frameWidth, frameHeight)) {
      throw new IllegalArgumentException("the region is not in the frame: " + region);
    }
    this.job = job;
    this.frameWidth = frameWidth;
    this.frameHeight = frameHeight;
    this.region = region;
    width = region.width();
    height = region.height();
    across = (width + TILE - 1) / TILE;
    int down = (height + TILE - 1) / TILE;
    tiles = new Tile[across * down];
    for (int t = 0; t < tiles.length; t++) {
      int x = t % across * TILE;
      int y = t / across * TILE;
      tiles[t] = new Tile(x, y, Math.min(TILE, width - x), Math.min(TILE, height - y), job);
    }
  }

  /** Returns the job. */
  public TraceJob job() {
    return job;
  }

  /** Returns the width of the region in pixels. */
  public int width() {
    return width;
  }

  /** Returns the height of the region in pixels. */
  public int height() {
    return height;
  }

  /** Returns the number of a view that shows at least what another job's view shows, or -1. */
  public int viewFor(TraceJob.View wanted) {
    for (int v = 0; v < job.views().size(); v++) {
      if (job.views().get(v).covers(wanted)) {
        return v;
      }
    }
    return -1;
  }

  /** Whether it holds all the light that another job asks for. */
  public boolean covers(TraceJob other) {
    return job.transport().equals(other.transport())
        && job.casters().equals(other.casters())
        && job.split().covers(other.split())
        && (job.interplay() || !other.interplay())
        && other.views().stream().allMatch(v -> viewFor(v) >= 0);
  }

  int frameWidth() {
    return frameWidth;
  }

  int frameHeight() {
    return frameHeight;
  }

  Region region() {
    return region;
  }

  int tileCount() {
    return tiles.length;
  }

  Tile tile(int number) {
    return tiles[number];
  }

  /** Returns the least number of samples that any pixel has. */
  public int samples() {
    int least = Integer.MAX_VALUE;
    for (Tile tile : tiles) {
      least = Math.min(least, tile.samples);
    }
    return least;
  }

  /**
   * Returns how many of a frame's samples the sums are worth: the least number that any pixel has,
   * by the proportion of the class.
   *
   * @param asked samples of the frame that are wanted, which is what they are worth at least once
   *     all are there
   */
  public int samplesOf(int asked) {
    int have = samples();
    var settings = job.transport().settings();
    int worth = (int) (have / settings.samples());
    return have >= settings.samples(asked) ? Math.max(asked, worth) : Math.min(asked - 1, worth);
  }

  /** Returns the memory that the sums take, in bytes. */
  public long bytes() {
    long sum = 0;
    for (Tile tile : tiles) {
      for (TileSums view : tile.views) {
        sum += view.bytes();
      }
      for (DeepSums view : tile.deep) {
        sum += view == null ? 0 : view.bytes();
      }
    }
    return sum;
  }

  /**
   * Returns the picture of some entities: premultiplied, the mean over samples; zeros where there
   * is none yet.
   */
  public Picture picture(int view, EntitySet entities) {
    Picture out = Picture.empty(width, height);
    boolean[] chosen = entities.toArray(job.transport().entities());
    forEachTile(tile -> {
      float[] sum = new float[4];
      float inverse = tile.samples == 0 ? 0 : 1f / tile.samples;
      for (int p = 0; p < tile.width * tile.height; p++) {
        sum[0] = sum[1] = sum[2] = sum[3] = 0;
        tile.views[view].gatherBeauty(p, chosen, sum);
        int at = 4 * pixel(tile, p);
        out.rgba()[at] = sum[1] * inverse;
        out.rgba()[at + 1] = sum[2] * inverse;
        out.rgba()[at + 2] = sum[3] * inverse;
        out.rgba()[at + 3] = sum[0] * inverse;
      }
    });
    return out;
  }

  /**
   * Returns the light of some entities split as the job asks: {@link LightSplit#numbers} numbers a
   * pixel, line by line, the mean over samples.
   */
  public float[] passes(int view, EntitySet entities) {
    int n = job.split().numbers();
    float[] out = new float[n * width * height];
    boolean[] chosen = entities.toArray(job.transport().entities());
    forEachTile(tile -> {
      float inverse = tile.samples == 0 ? 0 : 1f / tile.samples;
      for (int p = 0; p < tile.width * tile.height; p++) {
        int at = n * pixel(tile, p);
        tile.views[view].gatherLight(p, chosen, out, at);
        for (int k = 0; k < n; k++) {
          out[at + k] *= inverse;
        }
      }
    });
    return out;
  }

  /**
   * Returns data of places: for each pixel, those of the nearest sample of the dominant entity
   * among some, {@link #DATA} numbers line by line: depth, normal, position, u and v, motion, base
   * colour. Where nothing is: depth infinite, all else 0.
   */
  public float[] data(int view, EntitySet entities) {
    float[] out = new float[DATA * width * height];
    boolean[] chosen = entities.toArray(job.transport().entities());
    forEachTile(tile -> {
      for (int p = 0; p < tile.width * tile.height; p++) {
        int at = DATA * pixel(tile, p);
        if (!tile.views[view].nearest(p, chosen, out, at)) {
          out[at] = Float.POSITIVE_INFINITY;
        }
      }
    });
    return out;
  }

  /**
   * Returns the picture of some entities by depth. Put over black from the front, it is their
   * {@link #picture}.
   *
   * @param plate what the entities of {@code showing} show instead of their light, or null
   * @throws IllegalArgumentException if the view does not keep these entities by depth
   */
  public DeepPicture deep(
      int view, EntitySet entities, @Nullable Picture plate, EntitySet showing) {
    if (!job.views().get(view).deep().containsAll(entities)) {
      throw new IllegalArgumentException("not all of the entities are kept by depth");
    }
    int count = job.transport().entities();
    boolean[] chosen = entities.toArray(count);
    boolean[] shows = plate == null ? new boolean[count] : showing.toArray(count);
    float[][] out = new float[width * height][];
    forEachTile(tile -> {
      DeepSums sums = tile.deep[view];
      for (int p = 0; p < tile.width * tile.height; p++) {
        int at = pixel(tile, p);
        out[at] =
            sums == null || tile.samples == 0
                ? DeepPicture.NOTHING
                : sums.pixel(
                    p, chosen, shows, plate == null ? null : plate.rgba(), 4 * at, tile.samples);
      }
    });
    return new DeepPicture(width, height, out);
  }

  /** Receives the coverage of parts of pixels. */
  @FunctionalInterface
  public interface Covers {
    /**
     * Receives the coverage of one part; called tile by tile, from several threads, but one after
     * another for the parts of a pixel.
     */
    void part(int pixel, int entity, int material, float cover);
  }

  /** Reports the coverage of each part of each pixel, 0 to 1, the mean over samples. */
  public void covers(int view, EntitySet entities, Covers covers) {
    boolean[] chosen = entities.toArray(job.transport().entities());
    forEachTile(tile -> {
      float inverse = tile.samples == 0 ? 0 : 1f / tile.samples;
      for (int p = 0; p < tile.width * tile.height; p++) {
        int at = pixel(tile, p);
        tile.views[view].parts(
            p,
            chosen,
            (entity, material, cover) -> covers.part(at, entity, material, cover * inverse));
      }
    });
  }

  /** Returns the number of invalid fragments: NaN, infinite or negative; they are left out. */
  public long invalidSamples() {
    long sum = 0;
    for (Tile tile : tiles) {
      for (TileSums view : tile.views) {
        sum += view.invalidSamples();
      }
    }
    return sum;
  }

  private final Interplay interplay = new Interplay();
  private final AtomicLong cutShort = new AtomicLong();

  /** Returns how many volume paths were terminated, because they took too many steps. */
  public long cutShort() {
    return cutShort.get();
  }

  /** Adds the interplay found by one thread, and the walks that it cut short. */
  void found(@Nullable Interplay part, long walks) {
    cutShort.addAndGet(walks);
    if (part != null) {
      synchronized (interplay) {
        interplay.add(part);
      }
    }
  }

  /** Reports the interplay of pairs of entities, summed over pixels and samples. */
  public void interplay(Interplay.Pairs pairs) {
    synchronized (interplay) {
      interplay.each(pairs);
    }
  }

  /** Returns the luminance of each entity, by index, summed over pixels. */
  public double[] luminance(int view) {
    double[] byEntity = new double[job.transport().entities()];
    for (Tile tile : tiles) {
      tile.lock.lock();
      try {
        if (tile.samples > 0) {
          tile.views[view].luminance(byEntity, 1.0 / tile.samples);
        }
      } finally {
        tile.lock.unlock();
      }
    }
    return byEntity;
  }

  /** Returns the share of the picture that each entity covers, by index. */
  public double[] coverage(int view) {
    double[] byEntity = new double[job.transport().entities()];
    for (Tile tile : tiles) {
      tile.lock.lock();
      try {
        if (tile.samples > 0) {
          tile.views[view].coverage(byEntity, 1.0 / tile.samples / ((double) width * height));
        }
      } finally {
        tile.lock.unlock();
      }
    }
    return byEntity;
  }

  /** Returns the dominant entity of each pixel, line by line, or -1 where nothing was found. */
  public int[] dominant(int view) {
    int[] out = new int[width * height];
    forEachTile(tile -> {
      for (int p = 0; p < tile.width * tile.height; p++) {
        out[pixel(tile, p)] = tile.views[view].dominant(p);
      }
    });
    return out;
  }

  /** Returns the coverage of the dominant entity of each pixel, 0 to 1. */
  public float[] foremostCover(int view) {
    float[] out = new float[width * height];
    forEachTile(tile -> {
      float inverse = tile.samples == 0 ? 0 : 1f / tile.samples;
      for (int p = 0; p < tile.width * tile.height; p++) {
        out[pixel(tile, p)] = tile.views[view].foremostCover(p) * inverse;
      }
    });
    return out;
  }

  /** Returns the dominant entity of a pixel, or -1 if nothing was found there. */
  public int dominant(int view, int x, int y) {
    Tile tile = tiles[y / TILE * across + x / TILE];
    tile.lock.lock();
    try {
      return tile.views[view].dominant((y - tile.y) * tile.width + x - tile.x);
    } finally {
      tile.lock.unlock();
    }
  }

  private int pixel(Tile tile, int p) {
    return (tile.y + p / tile.width) * width + tile.x + p % tile.width;
  }

  private void forEachTile(java.util.function.Consumer<Tile> work) {
    IntStream.range(0, tiles.length)
        .parallel()
        .forEach(t -> {
          Tile tile = tiles[t];
          tile.lock.lock();
          try {
            work.accept(tile);
          } finally {
            tile.lock.unlock();
          }
        });
  }
}
