package org.wedgecutter.app.live;

import java.util.List;
import java.util.Objects;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.fragment.LayerPictures;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.measure.InterplayTable;
import org.wedgecutter.core.pass.PassPicture;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.proof.Cause;
import org.wedgecutter.core.proof.CauseFinder;
import org.wedgecutter.core.proof.Residual;
import org.wedgecutter.core.proof.Tolerance;
import org.wedgecutter.core.rejoin.Rejoiner;
import org.wedgecutter.core.resolve.ResolvedLayer;
import org.wedgecutter.core.resolve.ResolvedShot;

/**
 * The pictures of one plan at one moment of the trace, each made when it is first asked for. Those
 * that are needed at once can be made first; {@link #complete} makes the rest. All must be made
 * while the trace is paused, so that they show the same state; afterwards any thread may read them.
 */
public final class Pictures {
  private final LoadedShot shot;
  private final int frame;
  private final Light light;
  private final LayerPictures source;
  private final int samples;
  private final double seconds;
  private final @Nullable Picture[] layers;
  private @Nullable Picture uncut;
  private Rejoiner.@Nullable Rejoined rejoined;
  private @Nullable Residual residual;
  private List<Cause> causes = List.of();
  private double[] coverage = new double[0];
  private int[] entities = new int[0];
  private InterplayTable interplay = InterplayTable.NONE;
  private long invalidSamples;

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
    this.seconds = seconds;
    layers = new Picture[shot.plan().layers().size()];
    if (before != null
        && before.light.moment() == light.moment()
        && before.light.resolved().uncut().equals(light.resolved().uncut())) {
      takeOver(before);
    }
  }

  private synchronized void takeOver(Pictures before) {
    synchronized (before) {
      uncut = before.uncut;
      entities = before.entities;
      coverage = before.coverage;
      interplay = before.interplay;
      for (int l = 0; l < layers.length; l++) {
        ResolvedLayer own = light.resolved().layers().get(l);
        int was = before.light.resolved().layers().indexOf(own);
        layers[l] = was < 0 ? null : before.layers[was];
      }
    }
  }

  /** Returns the plan they belong to. */
  public Plan plan() {
    return shot.plan();
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

  /** Makes all pictures that have not been made yet. */
  public synchronized void complete() {
    for (int l = 0; l < layers.length; l++) {
      layer(l);
    }
    invalidSamples = source.invalidSamples();
    Residual r = residual();
    Picture u = uncut();
    if (entities.length == 0) {
      entities = source.dominant();
      coverage = source.coverage();
      interplay = InterplayTable.of(source.uncutSums());
    }
    if (!r.exact()) {
      double[] by = CauseFinder.byEntity(r, coverage.length, (x, y) -> entities[y * u.width() + x]);
      causes = CauseFinder.find(plan(), shot.scene(), light.resolved(), by);
    }
  }

  /** Returns a layer's picture. */
  public synchronized Picture layer(int index) {
    Picture made = layers[index];
    if (made == null) {
      made = source.layer(index);
      layers[index] = made;
    }
    return made;
  }

  /** Returns the uncut frame. */
  public synchronized Picture uncut() {
    if (uncut == null) {
      uncut = source.uncut();
    }
    return Objects.requireNonNull(uncut);
  }

  /** Returns the layers put together by the recipe. */
  public Picture rejoined() {
    return join().picture();
  }

  private synchronized Rejoiner.Rejoined join() {
    if (rejoined == null) {
      Picture u = uncut();
      rejoined =
          Rejoiner.<RuntimeException>rejoin(
              plan().enabledRecipe(), u.width(), u.height(), l -> layer(plan().layerIndex(l)));
    }
    return Objects.requireNonNull(rejoined);
  }

  /** Returns rejoined minus uncut. */
  public synchronized Residual residual() {
    if (residual == null) {
      residual = Residual.of(join(), uncut(), Tolerance.FLOAT);
    }
    return Objects.requireNonNull(residual);
  }

  /** Returns why the layers do not rejoin, once complete; empty if they do. */
  public synchronized List<Cause> causes() {
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
    return source.plate();
  }

  /** Returns the outline of a catcher's reach, in pixels of the layer's picture. */
  public List<double[]> reachOutline(int layer, double share) {
    return source.reachOutline(layer, share);
  }

  /** Returns how entities change one another's light, once complete. */
  public synchronized InterplayTable interplay() {
    return interplay;
  }

  /** Returns the number of invalid fragments (NaN, infinite or negative), once complete. */
  public synchronized long invalidSamples() {
    return invalidSamples;
  }

  /** Returns the share of the uncut frame that each entity covers, once complete. */
  public synchronized double[] coverage() {
    return coverage;
  }

  /**
   * Returns the dominant entity of each pixel of the uncut frame, line by line, once complete;
   * empty before. Must not be changed.
   */
  public synchronized int[] entities() {
    return entities;
  }

  /** Returns the dominant entity of a pixel, or -1; once complete. */
  public synchronized int entityAt(int x, int y) {
    int at = y * uncut().width() + x;
    return at < entities.length ? entities[at] : -1;
  }
}
