package org.wedgecutter.core.fragment;

import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.Function;
import java.util.function.Predicate;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.image.DeepPicture;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.image.Region;
import org.wedgecutter.core.pass.PassPicture;
import org.wedgecutter.core.plan.CatcherOutput;
import org.wedgecutter.core.plan.CatcherTuning;
import org.wedgecutter.core.resolve.CatcherSpec;
import org.wedgecutter.core.resolve.EntitySet;
import org.wedgecutter.core.resolve.ResolvedLayer;
import org.wedgecutter.core.resolve.ResolvedShot;
import org.wedgecutter.core.scene.Scene;
import org.wedgecutter.core.trace.LightSplit;
import org.wedgecutter.core.trace.TraceJob;

/** Makes the pictures of layers from the sums of traces. Cheap: nothing is traced. */
public final class LayerPictures implements TracedLayers {
  static final List<Integer> COLOURS = List.of(0, 1, 2);

  private final ResolvedShot shot;
  private final JobPlan jobs;
  private final List<TraceJob> planned;
  private final List<FragmentSums> sums;
  private final @Nullable Stage stage;
  private @Nullable Denoiser denoiser;

  /** What pictures show of what the sums hold; null for all of it. */
  private final @Nullable Part part;

  /** A part of a frame of a size, which the sums hold with a margin. */
  public record Part(Region region, int frameWidth, int frameHeight) {}

  /**
   * @param shot what every layer is
   * @param jobs where each finds its light
   * @param sums one for each job, which may hold more than the job asks for
   */
  public LayerPictures(ResolvedShot shot, JobPlan jobs, List<FragmentSums> sums) {
    this(shot, jobs, sums, null);
  }

  /**
   * @param stage names, plate and places; null where nothing asks for them
   */
  public LayerPictures(
      ResolvedShot shot, JobPlan jobs, List<FragmentSums> sums, @Nullable Stage stage) {
    this(shot, jobs, sums, stage, null);
  }

  /**
   * @param part what the pictures show; the sums may hold more, for a filter that looks at
   *     neighbours
   */
  public LayerPictures(
      ResolvedShot shot,
      JobPlan jobs,
      List<FragmentSums> sums,
      @Nullable Stage stage,
      @Nullable Part part) {
    this.part = part;
    this.shot = shot;
    this.jobs = jobs;
    this.planned = jobs.jobs();
    this.sums = List.copyOf(sums);
    this.stage = stage;
  }

  private Stage stage() {
    if (stage == null) {
      throw new IllegalStateException("a plate, a reach or names are asked for without a stage");
    }
    return stage;
  }

  /** Returns what names things in passes; null where nothing asks for that. */
  @Nullable Stage names() {
    return stage;
  }

  FragmentSums sumsOf(JobPlan.Source source) {
    return sums.get(source.job());
  }

  int viewOf(JobPlan.Source source) {
    return sumsOf(source).viewFor(planned.get(source.job()).views().get(source.view()));
  }

  private LightSplit splitOf(JobPlan.Source source) {
    return sumsOf(source).job().split();
  }

  /** The part of some sums that pictures show, in their own pixels. */
  private Region shown(FragmentSums of) {
    Region held = of.region();
    if (part == null) {
      return Region.whole(held.width(), held.height());
    }
    Region own =
        part.region.scaled(of.frameWidth(), of.frameHeight(), part.frameWidth, part.frameHeight);
    return new Region(own.x() - held.x(), own.y() - held.y(), own.width(), own.height());
  }

  private Picture shown(Picture p, JobPlan.Source source) {
    return p.cropped(shown(sumsOf(source)));
  }

  PassPicture shown(PassPicture p, FragmentSums of) {
    Region own = shown(of);
    if (own.width() == of.width() && own.height() == of.height()) {
      return p;
    }
    int stride = p.channels().size();
    float[] values = new float[stride * own.width() * own.height()];
    for (int y = 0; y < own.height(); y++) {
      System.arraycopy(
          p.values(),
          stride * ((own.y() + y) * of.width() + own.x()),
          values,
          stride * y * own.width(),
          stride * own.width());
    }
    return new PassPicture(p.name(), p.channels(), values, p.exact());
  }

  private Picture picture(JobPlan.Source source, EntitySet entities) {
    return sumsOf(source).picture(viewOf(source), entities);
  }

  private float[] light(JobPlan.Source source, EntitySet entities) {
    return sumsOf(source).passes(viewOf(source), entities);
  }

  // ---- the uncut frame

  /** Returns the uncut frame. */
  public Picture uncut() {
    Picture out = light(jobs.uncut(), shot.all(), plateCaught());
    Picture filtered = filtered(out, jobs.uncut(), shot.asked().denoise());
    return shown(withPlate(filtered, jobs.uncut(), shot.all()), jobs.uncut());
  }

  /** The traced light of some entities, not of what shows the plate; with what is caught. */
  private Picture light(JobPlan.Source source, EntitySet entities, @Nullable Picture caught) {
    Picture out = picture(source, entities.minus(shot.platePart()));
    if (caught != null) {
      addColours(caught.rgba(), out.rgba());
    }
    return out;
  }

  /** What the objects inserted into the plate do to it: signed, or null without a plate. */
  private @Nullable Picture plateCaught() {
    CatcherSpec plate = shot.asked().plate();
    JobPlan.Source without = jobs.uncutWithout();
    return plate == null || without == null
        ? null
        : difference(jobs.uncut(), without, plate.surfaces());
  }

  /**
   * Adds the plate to a picture where some of the entities that show it are seen, to the extent
   * that nothing in front covers them. It has no noise, so it is added after the filter.
   */
  private Picture withPlate(Picture out, JobPlan.Source source, EntitySet entities) {
    EntitySet showing = entities.and(shot.platePart());
    if (showing.isEmpty()) {
      return out;
    }
    Picture cover = picture(source, showing);
    float[] light = plateLight(source, showing);
    for (int p = 0; p < out.width() * out.height(); p++) {
      for (int c = 0; c < 3; c++) {
        out.rgba()[4 * p + c] += light[3 * p + c];
      }
      out.rgba()[4 * p + 3] += cover.rgba()[4 * p + 3];
    }
    return out;
  }

  /**
   * Returns the plate's light where some entities show it, three numbers a pixel: what stands in
   * front dims each channel by its own transmittance.
   */
  float[] plateLight(JobPlan.Source source, EntitySet showing) {
    Picture plate = plate(sumsOf(source));
    LightSplit split = splitOf(source);
    float[] cover = light(source, showing);
    float[] rgb = new float[3 * plate.width() * plate.height()];
    for (int i = 0; i < rgb.length; i++) {
      rgb[i] =
          cover[split.numbers() * (i / 3) + split.coverageAt() + i % 3]
              * plate.rgba()[4 * (i / 3) + i % 3];
    }
    return rgb;
  }

  /** The plate where sums are. */
  private Picture plate(FragmentSums of) {
    Picture whole = stage().plate(of.frameWidth(), of.frameHeight());
    if (whole == null) {
      throw new IllegalStateException("the plate is missing");
    }
    return whole.cropped(of.region());
  }

  /** Returns the plate as it lies behind the uncut frame, or null if there is none. */
  public @Nullable Picture plate() {
    return shot.asked().plate() == null ? null : shown(plate(sumsOf(jobs.uncut())), jobs.uncut());
  }

  /** Returns the dominant entity of a pixel of the uncut frame, or -1. */
  public int dominant(int x, int y) {
    Region own = shown(sumsOf(jobs.uncut()));
    return sumsOf(jobs.uncut()).dominant(viewOf(jobs.uncut()), own.x() + x, own.y() + y);
  }

  /** Returns the dominant entity of each pixel of the uncut frame, or -1. */
  public int[] dominant() {
    return sumsOf(jobs.uncut()).dominant(viewOf(jobs.uncut()));
  }

  /** Returns the sums of the uncut frame. */
  public FragmentSums uncutSums() {
    return sumsOf(jobs.uncut());
  }

  /** Returns the number of invalid fragments: NaN, infinite or negative; they are left out. */
  public long invalidSamples() {
    return sums.stream().mapToLong(FragmentSums::invalidSamples).sum();
  }

  /** Returns how many volume paths were terminated, because they took too many steps. */
  public long cutShort() {
    return sums.stream().mapToLong(FragmentSums::cutShort).sum();
  }

  /** Returns the share of the uncut frame that each entity covers. */
  public double[] coverage() {
    return sumsOf(jobs.uncut()).coverage(viewOf(jobs.uncut()));
  }

  // ---- layers

  @Override
  public Picture layer(int index) {
    return shown(whole(index), jobs.layer(index));
  }

  private Picture whole(int index) {
    ResolvedLayer layer = shot.layers().get(index);
    Picture seen = light(jobs.layer(index), layer.seen(), null);
    CatcherSpec catcher = layer.catcher();
    double amount = shot.asked().denoise(index);
    if (catcher == null) {
      return withPlate(filtered(seen, jobs.layer(index), amount), jobs.layer(index), layer.seen());
    }
    Picture caught = caught(index, catcher);
    if (layer.shown().isEmpty()) {
      return filtered(caught, jobs.layer(index), amount);
    }
    for (int i = 0; i < seen.rgba().length; i++) {
      seen.rgba()[i] += caught.rgba()[i];
    }
    return withPlate(filtered(seen, jobs.layer(index), amount), jobs.layer(index), layer.seen());
  }

  /**
   * Returns a layer by depth, without the noise filter; null for a layer that catches, whose light
   * is that of surfaces in other layers.
   *
   * @throws IllegalArgumentException if the sums do not keep it
   */
  @Override
  public @Nullable DeepPicture deep(int index) {
    ResolvedLayer layer = shot.layers().get(index);
    if (layer.catcher() != null) {
      return null;
    }
    JobPlan.Source source = jobs.layer(index);
    EntitySet showing = layer.seen().and(shot.platePart());
    Picture plate = showing.isEmpty() ? null : plate(sumsOf(source));
    return sumsOf(source)
        .deep(viewOf(source), layer.seen(), plate, showing)
        .cropped(shown(sumsOf(source)));
  }

  private Picture caught(int index, CatcherSpec catcher) {
    boolean plain =
        catcher.output() == CatcherOutput.DIFFERENCE
            && catcher.tuning().isUsual()
            && catcher.lights() == null;
    return plain
        ? difference(jobs.layer(index), jobs.without(index), catcher.surfaces())
        : arithmetic(index, catcher).picture(catcher.output());
  }

  private static void addColours(float[] from, float[] to) {
    for (int i = 0; i < to.length; i++) {
      to[i] += (i & 3) == 3 ? 0 : from[i];
    }
  }

  /**
   * With minus without. Of the same samples alpha is 0, since the surface itself is in another
   * layer; while one trace is ahead of the other, alpha mends what their edges differ by, as colour
   * does.
   */
  private Picture difference(JobPlan.Source with, JobPlan.Source without, EntitySet surfaces) {
    Picture out = picture(with, surfaces);
    Picture less = picture(without, surfaces);
    for (int i = 0; i < out.rgba().length; i++) {
      out.rgba()[i] -= less.rgba()[i];
    }
    return out;
  }

  private CatcherArithmetic arithmetic(int index, CatcherSpec catcher) {
    JobPlan.Source with = jobs.layer(index);
    JobPlan.Source without = jobs.without(index);
    CatcherTuning.Reach reach = catcher.tuning().reach();
    return new CatcherArithmetic(
        light(with, catcher.surfaces()),
        splitOf(with),
        light(without, catcher.surfaces()),
        splitOf(without),
        picture(with, catcher.surfaces()),
        catcher.tuning(),
        reach == null ? null : new ReachMask(stage(), catcher, reach).weights(sumsOf(with)),
        catcher.lights() == null ? null : places(catcher, catcher.lights(), splitOf(with)));
  }

  /**
   * Returns where the diffuse light of the lights whose shadows are caught stands: not that of
   * casters, which casts light, and not the environment's, which is occluded.
   */
  private int[] places(CatcherSpec catcher, EntitySet emitters, LightSplit split) {
    return java.util.Arrays.stream(emitters.indices())
        .filter(e -> !catcher.casters().contains(e) && e != shot.entities() - 1)
        .map(split::group)
        .filter(g -> g >= 0)
        .distinct()
        .map(split::diffuseAt)
        .toArray();
  }

  /**
   * Returns the ellipse that bounds a catcher layer's reach as it is seen, point by point: pixels
   * from the left and from the top of the layer's whole picture; empty for a layer without one.
   *
   * @param share of the radii, 1 for the edge; where fading begins it is 1 less the soft share
   */
  public List<double[]> reachOutline(int index, double share) {
    CatcherSpec catcher = shot.layers().get(index).catcher();
    CatcherTuning.Reach reach = catcher == null ? null : catcher.tuning().reach();
    if (catcher == null || reach == null) {
      return List.of();
    }
    return new ReachMask(stage(), catcher, reach).outline(sumsOf(jobs.layer(index)), share);
  }

  /**
   * Returns the light that a catcher's picture cannot hold, mean over pixels and channels; 0 for
   * other layers, and for differences, which hold all.
   */
  public double lostByClamping(int index) {
    CatcherSpec catcher = shot.layers().get(index).catcher();
    if (catcher == null || catcher.output() == CatcherOutput.DIFFERENCE) {
      return 0;
    }
    CatcherArithmetic arithmetic = arithmetic(index, catcher);
    arithmetic.picture(catcher.output());
    return arithmetic.lost();
  }

  /**
   * Measures how well a catch gives, over even backgrounds, what its surface gives on them: over
   * those that the plan names, or over a dark, a middle and a light one; null for other layers.
   */
  public @Nullable CatchFit catchFit(int index) {
    CatcherSpec catcher = shot.layers().get(index).catcher();
    return catcher == null || catcher.output() != CatcherOutput.CATCH
        ? null
        : arithmetic(index, catcher).fit();
  }

  // ---- noise

  private Picture filtered(Picture p, JobPlan.Source source, double amount) {
    if (amount > 0) {
      denoiser(sumsOf(source)).filter(p.rgba(), 4, COLOURS, amount);
    }
    return p;
  }

  /** The filter for pictures of some sums: that of the uncut frame, or one of another size. */
  synchronized Denoiser denoiser(FragmentSums of) {
    Denoiser made = denoiser;
    if (made == null || !made.is(of.width(), of.height())) {
      made =
          Denoiser.of(
              sumsOf(jobs.uncut()),
              viewOf(jobs.uncut()),
              shot.all(),
              of.frameWidth(),
              of.frameHeight(),
              of.region());
      denoiser = made;
    }
    return made;
  }

  // ---- passes

  /**
   * Returns the passes of a layer. Those of light add up to its beauty; a layer that catches in
   * another form than a difference has none of them.
   */
  public List<PassPicture> passes(int index) {
    return passes(index, title -> true);
  }

  /** Returns the titles of the passes that are asked for, in order. */
  public List<String> passTitles() {
    return passTitles(shot);
  }

  /** Returns the names that ID mattes of a scene have, by the name of the layer of mattes. */
  public static Map<String, Set<String>> idNames(Scene scene, List<String> collections) {
    return PassPictures.names(scene, collections);
  }

  /**
   * Returns the word by which plans name the sort of a pass, such as {@code depth} for {@code Z};
   * empty for one that is always written.
   *
   * @param title the pass's title
   */
  public static String passWord(String title) {
    return PassPictures.word(title);
  }

  /** Returns the titles of the passes that a shot asks for, in order. */
  public static List<String> passTitles(ResolvedShot shot) {
    return PassPictures.titles(shot.asked(), shot.asked().plate() != null);
  }

  @Override
  public List<PassPicture> passes(int index, Predicate<String> chosen) {
    ResolvedLayer layer = shot.layers().get(index);
    CatcherSpec catcher = layer.catcher();
    EntitySet shown = catcher == null ? layer.seen() : layer.seen().or(catcher.surfaces());
    boolean adds =
        catcher == null
            || (catcher.output() == CatcherOutput.DIFFERENCE
                && catcher.tuning().isUsual()
                && catcher.lights() == null);
    if (!adds) {
      return List.of();
    }
    JobPlan.Source source = jobs.layer(index);
    EntitySet showing = layer.seen().and(shot.platePart());
    Function<EntitySet, float[]> lightOf =
        of -> {
          float[] light = light(source, shown.minus(showing).and(of));
          if (catcher != null) {
            less(light, splitOf(source), jobs.without(index), catcher.surfaces().and(of));
          }
          return light;
        };
    return new ChosenPasses(this, shot, source, shown, chosen)
        .all(lightOf, showing, shot.asked().denoise(index));
  }

  private void less(float[] light, LightSplit split, JobPlan.Source without, EntitySet surfaces) {
    float[] less = light(without, surfaces);
    int numbers = split.numbers();
    int other = splitOf(without).numbers();
    // one of them may keep light via casters apart, which stands last
    int common = Math.min(numbers, other);
    for (int p = 0; p < light.length / numbers; p++) {
      for (int k = 0; k < common; k++) {
        light[numbers * p + k] -= less[other * p + k];
      }
    }
  }

  /** Returns the passes of the uncut frame. */
  public List<PassPicture> uncutPasses() {
    return uncutPasses(title -> true);
  }

  /** Returns some of the passes of the uncut frame, by their titles. */
  public List<PassPicture> uncutPasses(Predicate<String> chosen) {
    EntitySet showing = shot.platePart();
    CatcherSpec plate = shot.asked().plate();
    JobPlan.Source without = jobs.uncutWithout();
    Function<EntitySet, float[]> lightOf =
        of -> {
          float[] light = light(jobs.uncut(), shot.all().minus(showing).and(of));
          if (plate != null && without != null) {
            EntitySet surfaces = plate.surfaces().and(of);
            float[] own = light(jobs.uncut(), surfaces);
            less(own, splitOf(jobs.uncut()), without, surfaces);
            for (int i = 0; i < light.length; i++) {
              light[i] += own[i];
            }
          }
          return light;
        };
    return new ChosenPasses(this, shot, jobs.uncut(), shot.all(), chosen)
        .all(lightOf, showing, shot.asked().denoise());
  }

  @Override
  public Map<String, String> idHeader(int index) {
    ResolvedLayer layer = shot.layers().get(index);
    return new ChosenPasses(this, shot, jobs.layer(index), layer.seen(), title -> true).idHeader();
  }

  /** Returns the header attributes of the uncut frame's ID mattes. */
  public Map<String, String> uncutIdHeader() {
    return new ChosenPasses(this, shot, jobs.uncut(), shot.all(), title -> true).idHeader();
  }
}
