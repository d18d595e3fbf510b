package org.wedgecutter.core.rejoin;

import java.util.Arrays;
import java.util.Objects;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.plan.Join;
import org.wedgecutter.core.plan.MatteDef;

/** The evaluation of some lines of an expression whose whole pictures are made. */
final class EvaluatedLines {
  private final Evaluation all;
  private final int from;
  private final int lines;
  private final int count;
  private final Scratch scratch;

  /** What is used more than once, by number. */
  private final @Nullable Band[] shared;

  EvaluatedLines(Evaluation all, int from, int lines, Scratch scratch) {
    this.all = all;
    shared = new Band[all.nodes()];
    this.scratch = scratch;
    this.from = from;
    this.lines = lines;
    count = 4 * all.width() * lines;
  }

  Band of(Expression expression) {
    Evaluation.Node node = all.node(expression);
    Picture whole = node.whole;
    if (whole != null) {
      return part(node, whole, isMatte(expression));
    }
    Band known = shared[node.number];
    if (known != null) {
      return known;
    }
    Band made = made(expression);
    if (node.uses > 1) {
      made = made.shared();
      shared[node.number] = made;
    }
    return made;
  }

  private Band part(Evaluation.Node node, Picture whole, boolean sure) {
    int at = 4 * all.width() * from;
    Picture wholeScale = node.wholeScale;
    float[] scale = null;
    if (all.isScaled()) {
      scale = new float[count];
      for (int i = 0; i < count && !sure; i++) {
        scale[i] =
            wholeScale == null
                ? node.weight * Math.abs(whole.rgba()[at + i])
                : wholeScale.rgba()[at + i];
      }
    }
    return new Band(whole.rgba(), at, count, scale, false);
  }

  private Band made(Expression expression) {
    return switch (expression) {
      case Expression.Black b -> empty();
      case Expression.Joined j when isFirst(j) -> of(j.front());
      case Expression.Joined j when all.node(j).fold != null -> inFront(all.node(j));
      case Expression.Joined j -> {
        Band back = of(j.back()).own(scratch);
        Rejoiner.join(back, of(j.front()), j.join(), (float) j.opacity());
        yield back;
      }
      case Expression.Nearer n -> nearer(n);
      case Expression.Corrected c -> {
        Band own = of(c.of()).own(scratch);
        all.grade(c.correction()).apply(own.light(), own.scale());
        yield own;
      }
      case Expression.Shadowed s -> {
        Band own = of(s.of()).own(scratch);
        Shadow.of(s).apply(own.light(), own.scale());
        yield own;
      }
      case Expression.Exchanged e -> {
        Band whole = of(e.whole()).own(scratch);
        BandMath.add(whole, of(e.by()), 1);
        BandMath.add(whole, of(e.part()), -1);
        yield whole;
      }
      case Expression.Through t -> {
        Band back = of(t.of()).own(scratch);
        BandMath.mix(back, of(t.changed()), of(t.matte()), (float) t.share());
        yield back;
      }
      case Expression.Share s -> BandMath.share(of(s.cover()).own(scratch));
      case Expression.Keyed k -> BandMath.keyed(of(k.of()).own(scratch), k.matte().range());
      case Expression.Ranged r -> ranged(r);
      case Expression.Combined c -> {
        Band own = of(c.mattes().getFirst()).own(scratch);
        for (Expression other : c.mattes().subList(1, c.mattes().size())) {
          BandMath.combine(own, of(other), c.how());
        }
        yield own;
      }
      case Expression.Drawn d -> throw new IllegalStateException("not drawn: " + d);
      case Expression.Shaped s -> {
        Band own = of(s.matte()).own(scratch);
        if (s.invert()) {
          BandMath.invert(own.light());
        }
        yield own;
      }
      case Expression.Read r -> throw new IllegalStateException("not read: " + r);
      case Expression.Backdrop b -> throw new IllegalStateException("not read: " + b);
      case Expression.Surfaced s -> throw new IllegalStateException("not made: " + s);
      case Expression.Cover c -> throw new IllegalStateException("not read: " + c);
      case Expression.Merged m -> throw new IllegalStateException("not merged");
      case Expression.Effect e -> throw new IllegalStateException("not made: " + e);
    };
  }

  /** What is behind, and what its fronts make of it. */
  private Band inFront(Evaluation.Node node) {
    Evaluation.Fold fold = Objects.requireNonNull(node.fold);
    Band back = of(Objects.requireNonNull(node.behindFold)).own(scratch);
    BandMath.inFront(back, fold.sum().rgba(), fold.through(), 4 * all.width() * from);
    return back;
  }

  private Band empty() {
    float[] light = scratch.take(count);
    Arrays.fill(light, 0);
    return new Band(light, 0, count, all.isScaled() ? new float[count] : null, true);
  }

  private Band nearer(Expression.Nearer n) {
    Band back = of(n.back()).own(scratch);
    Band front = of(n.front());
    float[] behind = all.depth(n.behind(), from, lines);
    float[] ahead = all.depth(Set.of(n.layer()), from, lines);
    BandMath.nearer(back, front, behind, ahead, (float) n.opacity());
    return back;
  }

  private Band ranged(Expression.Ranged of) {
    Band out = empty();
    float[] metres = all.depth(of.layers(), from, lines);
    MatteDef.Range range = of.matte().range();
    for (int i = 0; i < count; i++) {
      out.light()[i] = (float) range.at(metres[i / 4]);
    }
    return out;
  }

  /** Whether a join onto nothing is the front itself. */
  private static boolean isFirst(Expression.Joined j) {
    return j.back() instanceof Expression.Black
        && j.opacity() == 1
        && (j.join() == Join.PLUS || j.join() == Join.OVER);
  }

  private static boolean isMatte(Expression of) {
    return of instanceof Expression.Cover
        || of instanceof Expression.Share
        || of instanceof Expression.Keyed
        || of instanceof Expression.Ranged
        || of instanceof Expression.Drawn
        || of instanceof Expression.Combined
        || of instanceof Expression.Shaped;
  }
}
