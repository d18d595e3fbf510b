package org.wedgecutter.core.proof;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.function.UnaryOperator;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.image.Region;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.mistake.Message;
import org.wedgecutter.core.mistake.Mistake;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.Recipe;
import org.wedgecutter.core.rejoin.Rejoiner;
import org.wedgecutter.core.rejoin.TracedSource;
import org.wedgecutter.core.render.FrameRenderer;
import org.wedgecutter.core.render.RenderedFrame;
import org.wedgecutter.core.resolve.EntitySet;

/**
 * How much of a residual each cause explains, measured: the plan is mended and traced again, small
 * and with few samples, and what is gone of the residual is the cause's share.
 *
 * <p>Causes are put in order by what mending each of them alone removes. Then they are mended one
 * after another in that order, and the share of each is what is gone beyond those before it. So the
 * shares and what is unexplained add up to 1, and a cause that is left with nothing, since another
 * one explains the same light, is not named.
 */
public final class CauseMeasure {
  private static final int WIDTH = 160;
  private static final int SAMPLES = 2;

  /** Most causes that are measured; the others keep their place behind. */
  private static final int MOST = 16;

  /** Most causes that are tried two at a time. */
  private static final int MOST_PAIRED = 6;

  /** Share of the residual below which a cause explains nothing. */
  private static final double NOTHING = 0.02;

  private final LoadedShot shot;
  private final int frame;
  private final FrameRenderer renderer;
  private final FrameRenderer.Settings small;

  /** What plans that were mended look like, by cause without its share. */
  private final Map<Message, Picture> evidence = new HashMap<>();

  /** Plans that were traced: mending in turn begins with what was mended alone. */
  private final Map<Plan, Joined> known = new HashMap<>();

  private @Nullable Picture uncut;

  /**
   * Prepares to measure at a small size.
   *
   * @param renderer traced the proof; stopping it stops the measure
   */
  public CauseMeasure(LoadedShot shot, int frame, FrameRenderer renderer) {
    this(shot, frame, renderer, WIDTH, SAMPLES);
  }

  /**
   * Prepares to measure.
   *
   * @param renderer stopping it stops the measure
   * @param across most pixels in a line
   * @param samples most samples per pixel
   */
  public CauseMeasure(LoadedShot shot, int frame, FrameRenderer renderer, int across, int samples) {
    this.shot = shot;
    this.frame = frame;
    this.renderer = renderer;
    FrameRenderer.Settings s = renderer.settings();
    int width = Math.min(across, s.width());
    int height = Math.max(1, Math.round(s.height() * (float) width / s.width()));
    small =
        new FrameRenderer.Settings(
            width,
            height,
            Math.min(samples, s.samples()),
            s.threads(),
            false,
            Region.whole(width, height));
  }

  /**
   * Causes, and what they leave.
   *
   * @param causes the largest first
   * @param unexplained share of the residual that is left when all of them are mended together; NaN
   *     where nothing was measured
   * @param evidence what the frame looks like with each cause mended alone, where that was traced
   */
  public record Ranked(List<Cause> causes, double unexplained, Map<Message, Evidence> evidence) {
    public Ranked {
      causes = List.copyOf(causes);
      evidence = Map.copyOf(evidence);
    }
  }

  /**
   * Small pictures of a frame.
   *
   * @param uncut the uncut frame
   * @param before what the plan rejoins to
   * @param after what it rejoins to with one cause mended
   */
  public record Evidence(Picture uncut, Picture before, Picture after) {
    /** Returns a rejoined picture minus the uncut frame, per channel. */
    public Picture residual(Picture rejoined) {
      Picture out = rejoined.copy();
      for (int i = 0; i < out.rgba().length; i++) {
        out.rgba()[i] -= uncut.rgba()[i];
      }
      return out;
    }
  }

  /** A plan's rejoined picture, and the sum of its residual over pixels and channels. */
  private record Joined(Picture picture, double residual) {}

  /**
   * Returns causes with the share of the residual that each explains, the largest first. Those that
   * explain nothing are left out, unless none explains anything.
   *
   * @param found with shares of the residual by entity
   */
  public Ranked ranked(List<Cause> found) {
    Joined now = joined(shot.plan());
    double before = now.residual;
    if (!(before > 0)) {
      return new Ranked(found, Double.NaN, Map.of());
    }
    CauseFixes fixes = new CauseFixes(shot.plan(), shot.members(), shot.resolve(frame));
    List<Cause> measured = new ArrayList<>();
    List<Cause> hidden = new ArrayList<>();
    List<Cause> open = new ArrayList<>();
    for (int c = 0; c < found.size(); c++) {
      Cause cause = found.get(c);
      Plan mended = c < MOST ? mended(shot.plan(), fixes.without(cause)) : null;
      if (mended == null) {
        open.add(cause);
        continue;
      }
      Joined alone = joined(mended);
      evidence.put(cause.message(), alone.picture);
      double explained = 1 - alone.residual / before;
      if (explained >= NOTHING) {
        measured.add(cause.withShare(explained));
      } else {
        hidden.add(cause);
      }
    }
    measured.sort(
        Comparator.comparingInt((Cause c) -> -(int) Math.round(c.share() * 50))
            .thenComparingInt(CauseMeasure::breadth));
    finerFirst(measured);
    Ranked inTurn = inTurn(measured, hidden, open, new Mending(fixes, before));
    List<Cause> all = inTurn.causes.isEmpty() ? found : inTurn.causes;
    return new Ranked(all, inTurn.unexplained, evidence(all, now));
  }

  /**
   * Moves missing light before what counts light twice, of the same things in the same layer:
   * holding them out mends both, and would leave the missing light unnamed.
   */
  private static void finerFirst(List<Cause> causes) {
    for (int a = 0; a < causes.size(); a++) {
      Cause coarse = causes.get(a);
      for (int b = a + 1; b < causes.size() && coarse.kind() == Mistake.PLUS_ON_COMPLETE; b++) {
        Cause fine = causes.get(b);
        if (fine.kind() == Mistake.LIGHT_DIFFERS
            && fine.layer().equals(coarse.layer())
            && EntitySet.of(fine.entities()).meets(EntitySet.of(coarse.entities()))) {
          causes.add(a, causes.remove(b));
          a++;
        }
      }
    }
  }

  /** A plan that is mended step by step, and what is left of its residual. */
  private final class Mending {
    private final CauseFixes fixes;
    private final double before;
    private final List<Cause> mended = new ArrayList<>();
    private Plan plan = shot.plan();
    private double left = 1;

    Mending(CauseFixes fixes, double before) {
      this.fixes = fixes;
      this.before = before;
    }

    /** What is left when a cause is mended too; what is left now if there is no way. */
    double without(Plan of, Cause cause) {
      Plan next = CauseMeasure.mended(of, fixes.without(cause));
      return next == null ? left : joined(next).residual / before;
    }

    /** Mends a cause if that explains anything. */
    boolean mend(Cause cause) {
      double next = without(plan, cause);
      if (left - next < NOTHING) {
        return false;
      }
      mended.add(cause.withShare(left - next));
      plan = Objects.requireNonNull(CauseMeasure.mended(plan, fixes.without(cause)));
      left = next;
      return true;
    }

    /** Mends two causes that explain something only together, in equal shares. */
    void mendPair(List<Cause> causes) {
      double least = left - NOTHING;
      List<Cause> best = List.of();
      for (int a = 0; a < Math.min(causes.size(), MOST_PAIRED); a++) {
        Plan first = CauseMeasure.mended(plan, fixes.without(causes.get(a)));
        for (int b = a + 1; first != null && b < Math.min(causes.size(), MOST_PAIRED); b++) {
          double next = without(first, causes.get(b));
          if (next <= least) {
            least = next;
            best = List.of(causes.get(a), causes.get(b));
          }
        }
      }
      for (Cause c : best) {
        mended.add(c.withShare((left - least) / 2));
        plan = Objects.requireNonNull(CauseMeasure.mended(plan, fixes.without(c)));
      }
      left = best.isEmpty() ? left : least;
    }
  }

  /**
   * Mends causes one after another, again and again while that explains anything: what a cause
   * explains of a pixel may show only when another one is mended. What cannot be mended shares in
   * what is left, as far as the residual lies on its entities.
   */
  private static Ranked inTurn(
      List<Cause> measured, List<Cause> hidden, List<Cause> open, Mending mending) {
    List<Cause> waiting = new ArrayList<>(measured);
    waiting.addAll(hidden);
    boolean goesOn = true;
    while (goesOn && mending.left >= NOTHING) {
      int before = waiting.size();
      waiting.removeIf(c -> mending.left >= NOTHING && mending.mend(c));
      goesOn = waiting.size() < before;
    }
    if (mending.left >= NOTHING) {
      mending.mendPair(waiting);
    }
    List<Cause> out = new ArrayList<>(mending.mended);
    out.sort(Comparator.comparingInt((Cause c) -> -(int) Math.round(c.share() * 50)));
    double rest = mending.left;
    double left = rest;
    double claimed = open.stream().mapToDouble(Cause::share).filter(v -> !Double.isNaN(v)).sum();
    for (Cause c : open) {
      double share = Double.isNaN(c.share()) ? 0 : rest * c.share() / Math.max(1, claimed);
      if (rest >= NOTHING) {
        out.add(Double.isNaN(c.share()) ? c : c.withShare(share));
        left -= share;
      }
    }
    return new Ranked(out, Math.max(0, Math.min(1, left)), Map.of());
  }

  private Map<Message, Evidence> evidence(List<Cause> causes, Joined now) {
    Map<Message, Evidence> out = new HashMap<>();
    for (Cause c : causes) {
      Picture after = evidence.get(c.message());
      if (after != null && uncut != null) {
        out.put(c.message(), new Evidence(uncut, now.picture, after));
      }
    }
    return out;
  }

  private static @Nullable Plan mended(Plan plan, @Nullable UnaryOperator<Plan> fix) {
    Plan next = fix == null ? null : fix.apply(plan);
    return next == null || next.equals(plan) ? null : next;
  }

  /** Of causes that explain alike, one that is about a whole layer says it more simply. */
  private static int breadth(Cause cause) {
    Mistake kind = cause.kind();
    return kind == Mistake.LAYER_NOT_RENDERED || kind == Mistake.LAYER_NOT_JOINED ? 0 : 1;
  }

  private Joined joined(Plan plan) {
    Joined before = known.get(plan);
    if (before == null) {
      before = traced(plan);
      known.put(plan, before);
    }
    return before;
  }

  private Joined traced(Plan plan) {
    Recipe recipe = plan.enabledRecipe();
    List<Integer> joined = recipe.joins().stream().map(s -> plan.layerIndex(s.layer())).toList();
    RenderedFrame rendered =
        renderer.of(plan, small).render(frame, joined::contains, true, p -> {});
    Picture whole = rendered.uncut();
    if (uncut == null) {
      uncut = whole;
    }
    Picture rejoined =
        Rejoiner.rejoin(recipe, whole.width(), whole.height(), new TracedSource(plan, rendered))
            .picture();
    double sum = 0;
    for (int i = 0; i < whole.rgba().length; i++) {
      double d = rejoined.rgba()[i] - (double) whole.rgba()[i];
      double allowed = Tolerance.FLOAT.absolute();
      double size = Double.isFinite(d) ? Math.abs(d) : 1e6;
      sum += size > allowed ? size : 0;
    }
    return new Joined(rejoined, sum);
  }
}
