package org.wedgecutter.app.live;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.atomic.AtomicReferenceArray;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.fragment.CatchFit;
import org.wedgecutter.core.fragment.LayerPictures;
import org.wedgecutter.core.image.DeepPicture;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.load.NumberedPictures;
import org.wedgecutter.core.pass.IdMatteFile;
import org.wedgecutter.core.pass.PassPicture;
import org.wedgecutter.core.plan.Extra;
import org.wedgecutter.core.plan.FileNames;
import org.wedgecutter.core.plan.Join;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.Recipe;
import org.wedgecutter.core.proof.Cause;
import org.wedgecutter.core.proof.CauseFinder;
import org.wedgecutter.core.proof.EntityShares;
import org.wedgecutter.core.proof.FrameResidual;
import org.wedgecutter.core.proof.Residual;
import org.wedgecutter.core.proof.Tolerance;
import org.wedgecutter.core.rejoin.Evaluation;
import org.wedgecutter.core.rejoin.Expression;
import org.wedgecutter.core.rejoin.Rejoiner;
import org.wedgecutter.core.rejoin.TracedSource;
import org.wedgecutter.core.resolve.ResolvedLayer;
import org.wedgecutter.core.resolve.ResolvedShot;
import org.wedgecutter.core.survey.Noise;

/**
 * The pictures of one plan at one moment of the trace, each made when it is first asked for. Those
 * that are needed at once can be made first; {@link #complete} makes the rest. All must be made
 * while the trace is paused, so that they show the same state; afterwards any thread may read them.
 *
 * <p>Whoever makes pictures holds a lock; reading what is made takes none. The interface thread
 * reads by the methods named {@code …IfMade} and those that are there once complete, and never
 * waits.
 */
public final class Pictures {
  private final LoadedShot shot;
  private final int frame;
  private final Light light;
  private final LayerPictures source;
  private final int samples;

  /** Samples of the uncut frame, which may have more than layers that were begun later. */
  private final int uncutSamples;

  private final double seconds;
  private final Object making = new Object();
  private final AtomicReferenceArray<@Nullable Picture> layers;
  private final Made<Picture> uncut;
  private final Made<Rejoiner.Rejoined> joined = new Made<>(making, this::join);
  private final Made<Picture> corrected =
      new Made<>(making, () -> isCorrected() ? evaluated(1) : joined());
  private final Made<Residual> residual =
      new Made<>(making, () -> Residual.of(joined.get(), Tolerance.of(uncut())));
  private final Made<Picture> difference =
      new Made<>(making, () -> Residual.difference(joined(), uncut()));
  private final TraceFacts facts;
  private volatile List<Cause> causes = List.of();
  private volatile Map<String, CatchFit> catches = Map.of();
  private volatile @Nullable Picture plate;
  private final Made<List<IdMatteFile>> ids = new Made<>(making, this::readIds);
  private volatile @Nullable TracedSource traced;
  private Unread unread = new Unread();

  /** What could not be read, as long as the same pictures of the recipe are used. */
  private static final class Unread {
    volatile String what = "";
  }

  /** What recipes over these pictures have in common, by the divisor of the size. */
  private Map<Integer, Evaluation.Memo> memos = new ConcurrentHashMap<>();

  /**
   * What the pictures are made of.
   *
   * @param resolved what every layer is
   * @param source the sums
   * @param moment changes whenever the sums do
   */
  record Light(ResolvedShot resolved, LayerPictures source, long moment) {}

  /**
   * @param before earlier pictures; those that are still valid are reused
   */
  Pictures(
      LoadedShot shot,
      int frame,
      Light light,
      int samples,
      double seconds,
      @Nullable Pictures before) {
    this.shot = shot;
    this.frame = frame;
    this.light = light;
    this.source = light.source();
    this.samples = samples;
    uncutSamples = source.uncutSums().samples();
    this.seconds = seconds;
    uncut = new Made<>(making, source::uncut);
    facts = new TraceFacts(making, source);
    layers = new AtomicReferenceArray<>(shot.plan().layers().size());
    if (before != null
        && before.light.moment() == light.moment()
        && before.light.resolved().uncut().equals(light.resolved().uncut())) {
      takeOver(before);
    } else if (before != null
        && before.frame == frame
        && before.light.resolved().uncut().equals(light.resolved().uncut())) {
      if (before.noiseWidth >= width()) {
        // smaller pictures come between when a layer is traced later
        noise = before.noise;
        noiseWidth = before.noiseWidth;
      }
      if (before.width() == width() && before.uncutSamples < uncutSamples) {
        earlier = before.uncut.ifMade();
        earlierSamples = before.uncutSamples;
      }
    }
  }

  /**
   * Returns the same pictures with another recipe. What its passes need beyond them is made while
   * the trace may go on, of a few more samples.
   */
  Pictures with(LoadedShot next) {
    Pictures out = new Pictures(next, frame, light, samples, seconds, this);
    out.facts.takeOverFaults(facts);
    return out;
  }

  /** The uncut frame of the first samples of this trace, until noise is estimated from it. */
  private volatile @Nullable Picture earlier;

  private int earlierSamples;
  private volatile double noise = Double.NaN;

  /** Width of the pictures that the noise was estimated from. */
  private volatile int noiseWidth;

  /**
   * Returns the noise of the uncut frame beside its light, as a share; NaN while there is only one
   * part of its samples; once complete.
   */
  public double noise() {
    return noise;
  }

  private void takeOver(Pictures before) {
    boolean sameLayers = light.resolved().layers().equals(before.light.resolved().layers());
    if (sameLayers && plan().output().equals(before.plan().output())) {
      memos = before.memos;
      traced = before.traced;
      unread = before.unread;
    }
    uncut.takeOver(before.uncut);
    if (plan().output().equals(before.plan().output())) {
      ids.takeOver(before.ids);
    }
    boolean sameJoins =
        sameLayers
            && plan().enabledRecipe().joins().equals(before.plan().enabledRecipe().joins())
            && plan().recipe().mattes().equals(before.plan().recipe().mattes());
    if (sameJoins) {
      joined.takeOver(before.joined);
      residual.takeOver(before.residual);
      causes = before.causes;
    }
    noise = before.noise;
    noiseWidth = before.noiseWidth;
    facts.takeOver(before.facts);
    for (int l = 0; l < layers.length(); l++) {
      ResolvedLayer own = light.resolved().layers().get(l);
      int was = before.light.resolved().layers().indexOf(own);
      layers.set(l, was < 0 ? null : before.layers.get(was));
    }
  }

  /** Returns the plan they belong to. */
  public Plan plan() {
    return shot.plan();
  }

  /** Returns the folder to which the pictures of the plan are relative. */
  Path folder() {
    return shot.folder();
  }

  /** Returns the frame. */
  public int frame() {
    return frame;
  }

  /** Returns how many samples every pixel has. */
  public int samples() {
    return samples;
  }

  /** Returns how long the frame has been traced, in seconds. */
  public double seconds() {
    return seconds;
  }

  /** Returns the width of the uncut frame in pixels. */
  public int width() {
    return source.uncutSums().width();
  }

  /** Returns the height of the uncut frame in pixels. */
  public int height() {
    return source.uncutSums().height();
  }

  /** Makes all pictures that have not been made yet. */
  public void complete() {
    synchronized (making) {
      for (int l = 0; l < layers.length(); l++) {
        layer(l);
      }
      facts.complete(source);
      catches = fits();
      Picture first = earlier;
      if (first != null) {
        noise = Noise.of(first, uncut(), uncut(), earlierSamples, uncutSamples).relative();
        noiseWidth = width();
        earlier = null;
      }
      Residual r = residual();
      Picture u = uncut();
      if (!r.exact() && causes.isEmpty()) {
        int[] of = facts.entities();
        double[] by =
            new EntityShares(facts.coverage().length)
                .add(joined(), u, (x, y) -> of[y * u.width() + x])
                .shares();
        causes = CauseFinder.find(plan(), shot.scene(), light.resolved(), by);
      }
    }
  }

  private Map<String, CatchFit> fits() {
    Map<String, CatchFit> out = new HashMap<>();
    for (int l = 0; l < layers.length(); l++) {
      CatchFit fit = source.catchFit(l);
      if (fit != null) {
        out.put(plan().layers().get(l).name(), fit);
      }
    }
    return Map.copyOf(out);
  }

  /** Returns how well each catch fits even backgrounds, by layer; once complete. */
  public Map<String, CatchFit> catches() {
    return catches;
  }

  /** Returns a layer's picture. */
  public Picture layer(int index) {
    Picture made = layers.get(index);
    if (made == null) {
      synchronized (making) {
        made = layers.get(index);
        if (made == null) {
          made = source.layer(index);
          layers.set(index, made);
        }
      }
    }
    return made;
  }

  /** Returns a layer's picture if it has been made. */
  public @Nullable Picture layerIfMade(int index) {
    return layers.get(index);
  }

  /** Returns the uncut frame. */
  public Picture uncut() {
    return uncut.get();
  }

  /** Returns the uncut frame if it has been made. */
  public @Nullable Picture uncutIfMade() {
    return uncut.ifMade();
  }

  /**
   * Returns the layers put together by the recipe, with its corrections. The residual is of the
   * joins alone.
   */
  public Picture rejoined() {
    return corrected.get();
  }

  /**
   * Returns the same picture as {@link #rejoined} at a part of its size, sooner; it is not kept.
   *
   * @param divisor of width and height, at least 1
   */
  public Picture draft(int divisor) {
    synchronized (making) {
      return evaluated(divisor);
    }
  }

  private Picture evaluated(int divisor) {
    return Evaluation.picture(
        Expression.of(plan().enabledRecipe().at(frame)),
        Math.max(1, width() / divisor),
        Math.max(1, height() / divisor),
        layers(),
        memos.computeIfAbsent(divisor, d -> new Evaluation.Memo()));
  }

  /**
   * The samples of a pixel in a layer that is joined by depth.
   *
   * @param layer its name
   * @param hue its hue's number
   * @param samples as in {@link DeepPicture}
   */
  public record DeepPixel(String layer, int hue, float[] samples) {}

  /** Returns the samples of a pixel in all layers that are joined by depth, from the back. */
  public List<DeepPixel> deepAt(int x, int y) {
    List<DeepPixel> out = new ArrayList<>();
    for (Recipe.Step step : plan().enabledRecipe().joins()) {
      DeepPicture deep = step.join() == Join.DEEP ? layers().deep(step.layer()) : null;
      if (deep != null && width() > 0) {
        int across = Math.min(deep.width() - 1, x * deep.width() / width());
        int down = Math.min(deep.height() - 1, y * deep.height() / height());
        out.add(
            new DeepPixel(
                step.layer(),
                plan().layer(step.layer()).orElseThrow().hue(),
                deep.pixels()[down * deep.width() + across]));
      }
    }
    return out;
  }

  /** The layers as recipes read them. */
  private TracedSource layers() {
    TracedSource made = traced;
    if (made == null) {
      NumberedPictures pictures = shot.numberedPictures();
      Function<String, Picture> read = shot.numberedPicturesAt(frame);
      made =
          new TracedSource(
              plan(),
              source.with(this::layer),
              name -> {
                // what else there is can be seen without it
                String why = pictures.trouble(name, frame);
                if (!why.isEmpty() && pictures.exists(name, frame)) {
                  unread.what = name + ": " + why;
                }
                return why.isEmpty() ? read.apply(name) : Picture.empty(1, 1);
              });
      traced = made;
    }
    return made;
  }

  /** Returns which picture of the recipe is there but cannot be read, and why; empty if none. */
  public String unread() {
    return unread.what;
  }

  /** Returns the rejoined picture if it has been made. */
  public @Nullable Picture rejoinedIfMade() {
    Picture made = corrected.ifMade();
    return made != null || isCorrected() ? made : joinedIfMade();
  }

  private boolean isCorrected() {
    return plan().recipe().changesJoined();
  }

  private Rejoiner.Rejoined join() {
    return Rejoiner.rejoin(plan().enabledRecipe(), width(), height(), layers());
  }

  /** Returns the layers put together by the joins alone, before corrections. */
  public Picture joined() {
    return joined.get().picture();
  }

  /** Returns the picture of {@link #joined} if it has been made. */
  public @Nullable Picture joinedIfMade() {
    Rejoiner.Rejoined made = joined.ifMade();
    return made == null ? null : made.picture();
  }

  /**
   * Returns how much of each pixel of the uncut frame a matte means, 0 to 1 in all channels.
   *
   * @param recipe as it is now; the pictures may be older
   */
  public Picture matte(Recipe recipe, String matte) {
    Recipe own = new Recipe(List.of(), Extra.NONE).withMattes(recipe.mattes());
    return Evaluation.picture(
        Expression.matte(own, matte, FileNames.UNCUT),
        width(),
        height(),
        new UncutSource(
            uncut(),
            name -> {
              int index = plan().layerIndex(name);
              return index < 0 ? null : layer(index);
            },
            source,
            ids.get(),
            plan().requireShot().width()));
  }

  /**
   * Returns what covers most of a pixel of the uncut frame.
   *
   * @param by {@code object}, {@code material} or {@code collection}
   * @return its name among ID mattes; empty if nothing is there or the plan asks for none
   */
  public String nameAt(int x, int y, String by) {
    if (x < 0 || y < 0 || x >= width() || y >= height()) {
      return "";
    }
    return ids.get().stream()
        .filter(m -> m.layer().toLowerCase(Locale.ROOT).contains(by))
        .flatMap(m -> m.at(x, y).stream())
        .map(IdMatteFile.Covered::name)
        .findFirst()
        .orElse("");
  }

  private List<IdMatteFile> readIds() {
    List<PassPicture> ranks = source.uncutPasses(t -> t.startsWith("Crypto"));
    return ranks.isEmpty() ? List.of() : IdMatteFile.of(ranks, source.uncutIdHeader(), width());
  }

  /** Returns how far the layers are from the uncut frame. */
  public Residual residual() {
    return residual.get();
  }

  /** Returns rejoined minus uncut, per pixel. */
  public Picture difference() {
    return difference.get();
  }

  /** Returns the same if it has been made. */
  public @Nullable Picture differenceIfMade() {
    return difference.ifMade();
  }

  /** Returns why the layers do not rejoin, once complete; empty if they do. */
  public List<Cause> causes() {
    return causes;
  }

  /** Returns the titles of the passes that the plan asks for. */
  public List<String> passTitles() {
    return source.passTitles();
  }

  /**
   * Returns a pass as it is now, or null if there is none of that title, as for layers that catch
   * in another form than a difference.
   *
   * @param layer its index, or -1 for the uncut frame
   */
  public @Nullable PassPicture pass(int layer, String title) {
    List<PassPicture> found =
        layer < 0 ? source.uncutPasses(title::equals) : source.passes(layer, title::equals);
    return found.isEmpty() ? null : found.getFirst();
  }

  /** Whether a layer holds negative light: it is the difference of a catcher. */
  public boolean isSigned(int layer) {
    ResolvedLayer own = light.resolved().layers().get(layer);
    var catcher = own.catcher();
    return catcher != null && own.seen().isEmpty() && catcher.output().signed();
  }

  /** Returns the plate at the pictures' size, or null. */
  public @Nullable Picture plate() {
    Picture made = plate;
    if (made == null) {
      made = source.plate();
      plate = made;
    }
    return made;
  }

  /** Returns the plate if it has been made and there is one. */
  public @Nullable Picture plateIfMade() {
    return plate;
  }

  /** Returns the outline of a catcher's reach, in pixels of the layer's picture. */
  public List<double[]> reachOutline(int layer, double share) {
    return source.reachOutline(layer, share);
  }

  /** Returns what the trace tells beside its picture. */
  public TraceFacts facts() {
    return facts;
  }

  /**
   * Returns for each entity the foremost joined layer that shows it, by index; -1 where none does.
   */
  public int[] shownBy() {
    return FrameResidual.shownBy(plan(), light.resolved(), shot.scene().entities().size());
  }
}
