package org.wedgecutter.core.rejoin;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.HashSet;
import java.util.IdentityHashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.stream.IntStream;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.image.DeepPicture;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.plan.Correction;
import org.wedgecutter.core.plan.Join;

/**
 * Makes the picture of an expression, in 32-bit float, by bands of lines on all cores; and beside
 * it the scale of each number's error: how much light can have been rounded on the way to it.
 *
 * <p>What occurs twice in an expression is evaluated once for each band. Effects, which look at
 * neighbours, and layers that merge by depth are made whole first. With a {@link Memo}, so is what
 * an expression has in common with the one before, and kept: while one value is dragged, all that
 * does not depend on it is made once. What is joined in front of it by plus and over is affine in
 * what is behind, so it is one picture and one factor for each pixel.
 */
public final class Evaluation {
  /** Passes that are not averaged when their size changes. */
  private static final Set<String> DATA = Set.of("uv", "albedo");

  /** About as many pixels are evaluated together: what they need stays in a core's cache. */
  private static final int BAND = 8192;

  private final int width;
  private final int height;
  private final boolean scaled;
  private final double pixelScale;
  private final Sized sized;
  private final Map<Expression, Node> equal = new LinkedHashMap<>();
  private final Map<Expression, Node> nodes = new IdentityHashMap<>();
  private final Map<String, Picture> images = new HashMap<>();
  private final Map<Correction, Grade> grades = new ConcurrentHashMap<>();

  /** What is known of an expression: all that are equal share it. */
  static final class Node {
    final int number;
    int uses;

    /** By how much more its light counts than that of 32-bit floats. */
    float weight = 1;

    @Nullable Picture whole;
    @Nullable Picture wholeScale;
    @Nullable Fold fold;
    @Nullable Expression behindFold;

    Node(int number) {
      this.number = number;
    }
  }

  /**
   * What several fronts do to what is behind them: {@code sum + through * behind}.
   *
   * @param sum their light and alpha
   * @param through how much of what is behind is left, for each pixel
   */
  record Fold(Picture sum, float[] through) {}

  /** Fronts, from the back to the front, and their joins. */
  private record Fronts(List<Expression> fronts, List<Join> joins) {}

  /** What was read of a source, at the size of the result. */
  private static final class Sized {
    final Map<Expression, Picture> pictures = new HashMap<>();
    final Map<String, LayerSource.Depth> depths = new HashMap<>();

    void retain(Set<Expression> used) {
      pictures.keySet().retainAll(used);
      Set<String> layers = new HashSet<>();
      used.forEach(e -> layers.addAll(e.depths()));
      depths.keySet().retainAll(layers);
    }
  }

  /** What expressions of one source and one size have in common, made for the last one. */
  public static final class Memo {
    private final Sized sized = new Sized();
    private final Map<Expression, Picture> kept = new HashMap<>();
    private final Map<Fronts, Fold> folds = new HashMap<>();
    private Set<Expression> last = Set.of();

    /** Returns how many pictures it keeps. */
    public synchronized int size() {
      return kept.size();
    }
  }

  /**
   * Returns what a correction multiplies colours by, nine numbers row by row: for programs that do
   * the same. Null if it is no such correction.
   */
  public static double @Nullable [] matrix(Correction correction) {
    return Grade.matrix(correction);
  }

  private Evaluation(int width, int height, boolean scaled, int shotWidth, Sized sized) {
    this.width = width;
    this.height = height;
    this.scaled = scaled;
    this.sized = sized;
    pixelScale = shotWidth > 0 ? (double) width / shotWidth : 1;
  }

  /**
   * Evaluates an expression, and the scale of its error. What it reads is asked for once; layers of
   * another size are resampled.
   *
   * @param width of the result in pixels
   * @param height of the result in lines
   */
  public static <X extends Exception> Rejoiner.Rejoined of(
      Expression expression, int width, int height, LayerSource<X> source) throws X {
    Evaluation all = new Evaluation(width, height, true, source.shotWidth(), new Sized());
    all.add(expression);
    all.read(source);
    all.prepare(expression);
    Picture scale = Picture.empty(width, height);
    return new Rejoiner.Rejoined(all.run(expression, scale), scale);
  }

  /** Evaluates an expression without the scale of its error, which is quicker. */
  public static <X extends Exception> Picture picture(
      Expression expression, int width, int height, LayerSource<X> source) throws X {
    return picture(expression, width, height, source, new Memo());
  }

  /**
   * Evaluates an expression without the scale of its error.
   *
   * @param memo of expressions over the same pictures, which must not have changed, and of the same
   *     size
   */
  public static <X extends Exception> Picture picture(
      Expression expression, int width, int height, LayerSource<X> source, Memo memo) throws X {
    synchronized (memo) {
      Evaluation all = new Evaluation(width, height, false, source.shotWidth(), memo.sized);
      Set<Expression> common = new HashSet<>();
      common(expression, memo.last, common);
      memo.kept.keySet().retainAll(common);
      boolean isFirst = memo.last.isEmpty();
      memo.last = expression.all();
      memo.sized.retain(memo.last);
      for (Map.Entry<Expression, Picture> e : memo.kept.entrySet()) {
        Node node = new Node(all.equal.size());
        node.whole = e.getValue();
        all.equal.put(e.getKey(), node);
      }
      all.add(expression);
      all.read(source);
      all.keep(expression, common, memo.kept);
      Picture known = memo.kept.get(expression);
      if (known != null) {
        return known;
      }
      Set<Fronts> used = new HashSet<>();
      if (!isFirst) {
        all.fold(expression, common, memo.folds, used);
      }
      memo.folds.keySet().retainAll(used);
      all.prepare(expression);
      return all.run(expression, null);
    }
  }

  /** Folds what stands in front of what has changed, where that is more than one picture. */
  private void fold(
      Expression of, Set<Expression> common, Map<Fronts, Fold> known, Set<Fronts> used) {
    Node node = node(of);
    if (node.whole != null) {
      return;
    }
    List<Expression> fronts = new ArrayList<>();
    List<Join> joins = new ArrayList<>();
    Expression behind = of;
    while (behind instanceof Expression.Joined j
        && node(behind).whole == null
        && j.opacity() == 1
        && (j.join() == Join.PLUS || j.join() == Join.OVER)
        && (j.front() instanceof Expression.Read || common.contains(j.front()))) {
      fronts.addFirst(j.front());
      joins.addFirst(j.join());
      behind = j.back();
    }
    if (fronts.size() > 1) {
      Fronts key = new Fronts(fronts, joins);
      used.add(key);
      node.fold = known.computeIfAbsent(key, this::folded);
      node.behindFold = behind;
      fold(behind, common, known, used);
    } else {
      of.parts(p -> fold(p, common, known, used));
    }
  }

  private Fold folded(Fronts of) {
    Picture sum = Picture.empty(width, height);
    float[] through = new float[width * height];
    Arrays.fill(through, 1);
    for (int k = 0; k < of.fronts.size(); k++) {
      prepare(of.fronts.get(k));
      Picture front = node(of.fronts.get(k)).whole;
      Picture own = front == null ? run(of.fronts.get(k), null) : front;
      Rejoiner.join(sum, own, of.joins.get(k));
      for (int p = 0; p < through.length && of.joins.get(k) == Join.OVER; p++) {
        through[p] *= 1 - own.rgba()[4 * p + 3];
      }
    }
    return new Fold(sum, through);
  }

  /** The largest parts of an expression that another one had too, and that cost anything. */
  private static void common(Expression of, Set<Expression> before, Set<Expression> into) {
    boolean isRead =
        of instanceof Expression.Black
            || of instanceof Expression.Read
            || of instanceof Expression.Cover;
    if (!isRead && before.contains(of)) {
      into.add(of);
    } else {
      of.parts(p -> common(p, before, into));
    }
  }

  private void keep(Expression of, Set<Expression> common, Map<Expression, Picture> kept) {
    Node node = node(of);
    if (common.contains(of)) {
      if (node.whole == null) {
        prepare(of);
        node.whole = node.whole == null ? run(of, null) : node.whole;
        kept.put(of, node.whole);
      }
    } else {
      of.parts(p -> keep(p, common, kept));
    }
  }

  Node node(Expression of) {
    Node node = nodes.get(of);
    if (node == null) {
      throw new IllegalStateException("not a part of this expression: " + of);
    }
    return node;
  }

  /** Adds an expression and its parts; below what is made already nothing is looked at. */
  private void add(Expression of) {
    Node node = equal.computeIfAbsent(of, k -> new Node(equal.size()));
    node.uses++;
    boolean isNew = nodes.put(of, node) == null;
    if (isNew && node.whole == null) {
      of.parts(this::add);
    }
  }

  private <X extends Exception> void read(LayerSource<X> source) throws X {
    for (Map.Entry<Expression, Node> e : equal.entrySet()) {
      Node node = e.getValue();
      if (node.whole != null) {
        continue;
      }
      switch (e.getKey()) {
        case Expression.Read r -> {
          Picture known = sized.pictures.get(r);
          if (known == null) {
            Picture p =
                r.pass().isEmpty() ? source.picture(r.layer()) : source.pass(r.layer(), r.pass());
            known = DATA.contains(r.pass()) ? p.nearest(width, height) : p.resized(width, height);
            if (!known.sameSize(p)) {
              sized.pictures.put(r, known);
            }
          }
          node.weight = scaled ? source.precision(r.layer(), r.pass(), false).weight() : 1;
          node.whole = known;
        }
        case Expression.Backdrop b -> {
          String path = b.background().picture();
          Picture shown = path.isEmpty() ? null : source.image(path);
          node.whole = Backdrops.of(b.background(), shown, width, height, pixelScale);
        }
        case Expression.Surfaced s -> {
          String path = s.correction().picture();
          images.put(path, path.isEmpty() ? Picture.empty(1, 1) : source.image(path));
        }
        case Expression.Cover c ->
            node.whole = source.cover(c.layer(), c.matte()).resized(width, height);
        case Expression.Drawn d -> node.whole = MatteShape.of(d.matte().outline(), width, height);
        case Expression.Merged m -> merge(m, source);
        default -> {}
      }
    }
    for (Map.Entry<Expression, Node> e : equal.entrySet()) {
      if (e.getValue().whole == null) {
        for (String layer : e.getKey().depths()) {
          if (!sized.depths.containsKey(layer)) {
            sized.depths.put(layer, source.depth(layer).resized(width, height));
          }
        }
      }
    }
  }

  int width() {
    return width;
  }

  /** Whether the scale of errors is wanted. */
  boolean isScaled() {
    return scaled;
  }

  /** Returns how many expressions differ. */
  int nodes() {
    return equal.size();
  }

  Grade grade(Correction of) {
    return grades.computeIfAbsent(of, Grade::of);
  }

  // ---- what is made whole

  private <X extends Exception> void merge(Expression.Merged of, LayerSource<X> source) throws X {
    DeepPicture all = null;
    DeepPicture sizes = null;
    for (Expression layer : of.layers()) {
      String name = DeepGrade.layer(layer);
      DeepPicture deep = source.deep(name);
      if (deep == null) {
        continue;
      }
      if (layer instanceof Expression.Cover c) {
        deep = DeepGrade.covered(deep, source.cover(name, c.matte()));
      } else if (!(layer instanceof Expression.Read)) {
        Picture before = deep.flattened();
        Expression.Read read = new Expression.Read(name, "");
        Evaluation own =
            new Evaluation(deep.width(), deep.height(), false, source.shotWidth(), new Sized());
        own.add(layer);
        own.read(source);
        Node flat = own.equal.get(read);
        if (flat != null) {
          flat.whole = before;
        }
        own.prepare(layer);
        deep = DeepGrade.corrected(deep, layer, before, own.run(layer, null));
      }
      all = all == null ? deep : all.merged(deep);
      if (scaled) {
        DeepPicture own = DeepGrade.sizes(deep, source.precision(name, "", true).weight());
        sizes = sizes == null ? own : sizes.merged(own);
      }
    }
    Node node = node(of);
    node.whole =
        all == null ? Picture.empty(width, height) : all.flattened().resized(width, height);
    // light that is hidden by what is in front of it leaves no error either
    node.wholeScale = sizes == null ? null : sizes.flattened().resized(width, height);
  }

  private static void addSizes(Picture from, Picture to) {
    for (int i = 0; i < to.rgba().length; i++) {
      to.rgba()[i] += Math.abs(from.rgba()[i]);
    }
  }

  /** Makes whole what bands cannot make, the parts first. */
  private void prepare(Expression of) {
    Node node = node(of);
    if (node.whole != null) {
      return;
    }
    Expression behind = node.behindFold;
    if (behind != null) {
      prepare(behind);
    } else {
      of.parts(this::prepare);
    }
    if (of instanceof Expression.Effect e) {
      Picture scale = scaled ? Picture.empty(width, height) : null;
      Picture in = run(e.of(), scale);
      float[] metres = e.depth().isEmpty() ? null : depth(e.depth(), 0, height);
      Effects effects = new Effects(e.correction(), pixelScale, metres);
      node.whole = effects.of(in);
      node.wholeScale = scale == null ? null : effects.scale(in, scale);
    } else if (of instanceof Expression.Surfaced s) {
      Picture scale = scaled ? Picture.empty(width, height) : null;
      Picture in = run(s.of(), scale);
      List<Picture> passes = s.passes().stream().map(p -> run(p, null)).toList();
      Picture shown = Objects.requireNonNull(images.get(s.correction().picture()));
      node.whole = new Surface(passes, run(s.matte(), null), shown, s.correction()).of(in);
      if (scale != null) {
        addSizes(node.whole, scale);
        node.wholeScale = scale;
      }
    } else if (of instanceof Expression.Shaped s && s.grow() != 0) {
      Picture grown = MatteShape.grown(run(s.matte(), null), s.grow() * pixelScale);
      if (s.invert()) {
        BandMath.invert(grown.rgba());
      }
      node.whole = grown;
    }
  }

  float[] depth(Iterable<String> layers, int from, int lines) {
    float[] out = new float[width * lines];
    Arrays.fill(out, Float.POSITIVE_INFINITY);
    for (String layer : layers) {
      LayerSource.Depth own = sized.depths.get(layer);
      if (own != null) {
        for (int p = 0; p < out.length; p++) {
          out[p] = Math.min(out[p], own.metres()[from * width + p]);
        }
      }
    }
    return out;
  }

  // ---- bands

  private Picture run(Expression expression, @Nullable Picture scale) {
    Picture out = Picture.empty(width, height);
    int most = Math.max(1, BAND / width);
    IntStream.range(0, (height + most - 1) / most)
        .parallel()
        .forEach(b -> {
          int from = b * most;
          int lines = Math.min(most, height - from);
          Scratch scratch = Scratch.ofThread();
          try {
            Band band = new EvaluatedLines(this, from, lines, scratch).of(expression);
            int at = 4 * width * from;
            System.arraycopy(band.light(), band.at(), out.rgba(), at, band.count());
            if (scale != null && band.scale() != null) {
              System.arraycopy(band.scale(), 0, scale.rgba(), at, band.count());
            }
          } finally {
            scratch.giveBack();
          }
        });
    return out;
  }
}
