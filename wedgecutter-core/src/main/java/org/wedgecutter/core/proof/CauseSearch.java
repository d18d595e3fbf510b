package org.wedgecutter.core.proof;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.mistake.Message;
import org.wedgecutter.core.mistake.Mistake;
import org.wedgecutter.core.resolve.EntitySet;

/**
 * The one search for causes: which of the suspected ones explain a residual, and how much each.
 *
 * <p>Suspects are undone each alone, for their order. Then they are undone one after another in
 * that order, and the share of each is what goes beyond those before it; so shares and what is
 * unexplained add up to 1, and a suspect that is left with nothing, since another one explains the
 * same light, is not named. What a suspect explains may show only when another one is undone, so
 * the rest is tried again while that helps, then two at a time, and at last all together: of those,
 * what is not needed is left out.
 *
 * <p>What cannot be undone has no share: it is suspected, and named only while something is left to
 * explain. If nothing explains anything, all suspects are named so.
 */
public final class CauseSearch {
  /** Most causes that are tried; the others are suspected. */
  private static final int MOST = 16;

  /** Most causes that are tried two at a time. */
  private static final int MOST_PAIRED = 6;

  /** Share of the residual below which a cause explains nothing. */
  static final double NOTHING = 2e-3;

  /** Number of steps to which shares are rounded for the order. */
  private static final int STEPS = 50;

  private final double before;
  private final List<Cause> named = new ArrayList<>();
  private Evidence now;
  private double left = 1;

  private CauseSearch(Evidence begin) {
    now = begin;
    before = begin.residual();
  }

  /**
   * Causes, and what they leave.
   *
   * @param causes the largest measured share first, then what is suspected
   * @param unexplained share of the residual that is left when all measured causes are undone; NaN
   *     where nothing was measured
   * @param evidence what the frame looks like with each cause undone alone, where that was tried
   */
  public record Ranked(List<Cause> causes, double unexplained, Map<Message, BeforeAfter> evidence) {
    /** Nothing is named, and nothing was measured. */
    public static final Ranked NONE = new Ranked(List.of(), Double.NaN, Map.of());

    public Ranked {
      causes = List.copyOf(causes);
      evidence = Map.copyOf(evidence);
    }
  }

  /**
   * Searches.
   *
   * @param begin the frame as it is
   * @param uncut what it should be, for the pictures
   * @param found what is suspected, the likeliest first
   */
  public static Ranked ranked(Evidence begin, Picture uncut, List<Cause> found) {
    List<Cause> suspects = found.stream().map(c -> c.withShare(Double.NaN)).toList();
    if (!(begin.residual() > 0)) {
      return new Ranked(suspects, Double.NaN, Map.of());
    }
    return new CauseSearch(begin).search(uncut, suspects);
  }

  private Ranked search(Picture uncut, List<Cause> suspects) {
    Picture whole = now.rejoined();
    Map<Message, BeforeAfter> evidence = new HashMap<>();
    List<Cause> alone = new ArrayList<>();
    List<Cause> hidden = new ArrayList<>();
    List<Cause> open = new ArrayList<>();
    for (int k = 0; k < suspects.size(); k++) {
      Cause cause = suspects.get(k);
      Evidence next = k < MOST ? now.without(cause) : null;
      if (next == null) {
        open.add(cause);
        continue;
      }
      evidence.put(cause.message(), new BeforeAfter(uncut, whole, next.rejoined()));
      double explained = 1 - next.residual() / before;
      if (explained >= NOTHING) {
        alone.add(cause.withShare(explained));
      } else {
        hidden.add(cause);
      }
    }
    alone.sort(byShare().thenComparingInt(CauseSearch::breadth));
    finerFirst(alone);
    List<Cause> waiting = new ArrayList<>(alone);
    waiting.addAll(hidden);
    boolean helps = true;
    while (helps && left > 0) {
      int count = waiting.size();
      waiting.removeIf(this::undoes);
      helps = waiting.size() < count;
    }
    if (left >= NOTHING) {
      undoPair(waiting);
    }
    if (left >= NOTHING) {
      undoAll(waiting);
    }
    List<Cause> out = new ArrayList<>(named);
    out.sort(byShare());
    if (left >= NOTHING) {
      out.addAll(open);
      if (named.isEmpty()) {
        out.addAll(hidden);
      }
    }
    evidence.keySet().retainAll(out.stream().map(Cause::message).toList());
    return new Ranked(out, Math.max(0, left), evidence);
  }

  private static Comparator<Cause> byShare() {
    return Comparator.comparingInt(c -> -(int) Math.round(c.share() * STEPS));
  }

  /** Undoes a cause too, if that explains anything. */
  private boolean undoes(Cause cause) {
    Evidence next = left > 0 ? now.without(cause) : null;
    double rest = next == null ? left : next.residual() / before;
    if (next == null || left - rest < NOTHING) {
      return false;
    }
    named.add(cause.withShare(left - rest));
    now = next;
    left = rest;
    return true;
  }

  /** Undoes two causes that explain something only together, in equal shares. */
  private void undoPair(List<Cause> causes) {
    double least = left - NOTHING;
    List<Cause> best = List.of();
    int count = Math.min(causes.size(), MOST_PAIRED);
    for (int a = 0; a < count; a++) {
      Evidence first = now.without(causes.get(a));
      for (int b = a + 1; first != null && b < count; b++) {
        Evidence both = first.without(causes.get(b));
        double rest = both == null ? left : both.residual() / before;
        if (rest <= least) {
          least = rest;
          best = List.of(causes.get(a), causes.get(b));
        }
      }
    }
    take(best, causes);
  }

  /** Undoes all that is left together, and leaves out what is not needed for that. */
  private void undoAll(List<Cause> waiting) {
    List<Cause> needed = new ArrayList<>(waiting);
    double rest = residual(needed);
    if (needed.size() < 3 || left - rest < NOTHING) {
      return;
    }
    for (Cause c : waiting) {
      List<Cause> fewer = new ArrayList<>(needed);
      fewer.remove(c);
      if (residual(fewer) <= rest + NOTHING / 2) {
        needed = fewer;
      }
    }
    take(needed, waiting);
  }

  private double residual(List<Cause> undone) {
    return undone(undone).residual() / before;
  }

  private Evidence undone(List<Cause> causes) {
    Evidence all = now;
    for (Cause c : causes) {
      Evidence next = all.without(c);
      all = next == null ? all : next;
    }
    return all;
  }

  private void take(List<Cause> causes, List<Cause> waiting) {
    if (causes.isEmpty()) {
      return;
    }
    now = undone(causes);
    double rest = now.residual() / before;
    causes.forEach(c -> named.add(c.withShare((left - rest) / causes.size())));
    waiting.removeAll(causes);
    left = rest;
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

  /** Of causes that explain alike, one that is about a whole layer says it more simply. */
  private static int breadth(Cause cause) {
    Mistake kind = cause.kind();
    return switch (kind) {
      case LAYER_NOT_RENDERED, LAYER_NOT_JOINED, CATCHER_IDLE, NOT_CAUGHT, SEEN_IN_RATIO -> 0;
      default -> 1;
    };
  }

  /** Returns the causes with what another search says of what these leave. */
  public static Ranked then(Ranked first, @Nullable Ranked second) {
    if (second == null) {
      return first;
    }
    double left = Double.isNaN(first.unexplained) ? 1 : first.unexplained;
    List<Cause> all = new ArrayList<>(first.causes);
    second.causes.forEach(c -> all.add(c.withShare(left * c.share())));
    all.sort(Comparator.comparingDouble(c -> Double.isNaN(c.share()) ? 1 : -c.share()));
    Map<Message, BeforeAfter> evidence = new HashMap<>(first.evidence);
    second.evidence.forEach(evidence::putIfAbsent);
    double rest = Double.isNaN(second.unexplained) ? left : left * second.unexplained;
    return new Ranked(all, rest, evidence);
  }
}
