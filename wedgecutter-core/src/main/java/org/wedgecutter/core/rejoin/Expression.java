package org.wedgecutter.core.rejoin;

import java.util.EnumSet;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.Consumer;
import org.wedgecutter.core.plan.Background;
import org.wedgecutter.core.plan.Correction;
import org.wedgecutter.core.plan.Join;
import org.wedgecutter.core.plan.MatteDef;
import org.wedgecutter.core.plan.Output;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.Recipe;
import org.wedgecutter.core.plan.RecipeEdits;

/**
 * A picture as an expression over others: what a recipe means. Immutable; {@link Evaluation} makes
 * the picture. A matte is a picture too, with the same number in all four channels.
 */
public sealed interface Expression {
  /** Nothing: black without alpha. */
  record Black() implements Expression {}

  /**
   * A layer's picture, or the light of one of its passes with the layer's alpha.
   *
   * @param pass title of the pass; empty for the beauty
   */
  record Read(String layer, String pass) implements Expression {}

  /** What stands behind everything. */
  record Backdrop(Background background) implements Expression {}

  /** How much of each pixel what a matte picks covers in a layer, beside the layer's alpha. */
  record Cover(String layer, MatteDef matte) implements Expression {}

  /**
   * A front joined onto what is behind it.
   *
   * @param opacity strength of the join, 0 to 1
   */
  record Joined(Expression back, Expression front, Join join, double opacity)
      implements Expression {}

  /**
   * Of two pictures the one that is nearer.
   *
   * @param behind the layers whose depth that of the back is; the nearest counts
   * @param layer whose depth that of the front is
   */
  record Nearer(
      Expression back, List<String> behind, Expression front, String layer, double opacity)
      implements Expression {
    public Nearer {
      behind = List.copyOf(behind);
    }
  }

  /** Layers merged by depth, sample by sample, and flattened. */
  record Merged(List<Expression> layers) implements Expression {
    public Merged {
      layers = List.copyOf(layers);
    }
  }

  /** A picture with its colours corrected, pixel by pixel. */
  record Corrected(Expression of, Correction correction) implements Expression {}

  /**
   * A layer whose shadow has another density and tint.
   *
   * @param join by which the layer darkens what is behind it: a ratio below 1, a difference below
   *     0, or the alpha of a catch
   */
  record Shadowed(Expression of, Correction correction, Join join) implements Expression {}

  /**
   * A picture whose pixels depend on their neighbours.
   *
   * @param depth the layers whose depth it has, where the effect asks for that; the nearest counts
   */
  record Effect(Expression of, Correction correction, List<String> depth) implements Expression {
    public Effect {
      depth = List.copyOf(depth);
    }
  }

  /**
   * A layer on whose surfaces another picture is shown.
   *
   * @param of the layer
   * @param correction names the picture, and how it shines
   * @param passes of the layer: those of {@link Surface#PASSES}, in their order
   * @param matte which pixels are the surface's
   */
  record Surfaced(Expression of, Correction correction, List<Expression> passes, Expression matte)
      implements Expression {
    public Surfaced {
      passes = List.copyOf(passes);
    }
  }

  /** A picture in which one of the parts that add up to it stands in another form. */
  record Exchanged(Expression whole, Expression part, Expression by) implements Expression {}

  /**
   * A picture of which a part is in another form.
   *
   * @param share how much of it, 0 to 1
   */
  record Through(Expression of, Expression changed, Expression matte, double share)
      implements Expression {}

  /** Which share of what is in a pixel a cover is: that of a half-covered edge is whole. */
  record Share(Expression cover) implements Expression {}

  /** A matte of a picture's luminance. */
  record Keyed(Expression of, MatteDef matte) implements Expression {}

  /** A matte of the depth of some layers; the nearest counts. */
  record Ranged(List<String> layers, MatteDef matte) implements Expression {
    public Ranged {
      layers = List.copyOf(layers);
    }
  }

  /** A matte that is drawn. */
  record Drawn(MatteDef matte) implements Expression {}

  /**
   * A matte made of others.
   *
   * @param how the least, the largest, or the first without the others
   */
  record Combined(List<Expression> mattes, MatteDef.Source how) implements Expression {
    public Combined {
      mattes = List.copyOf(mattes);
    }
  }

  /** A matte that is grown and inverted as its definition says. */
  record Shaped(Expression matte, int grow, boolean invert) implements Expression {}

  // ---- what recipes mean

  /** The matte of a join without one: all that the layer shows. */
  MatteDef ALPHA = MatteDef.picked("alpha");

  /** Returns what a recipe makes, with its corrections and its background. */
  static Expression of(Recipe recipe) {
    return RecipeCompiler.of(recipe);
  }

  /** Returns what a recipe's joins make of the layers as they are. */
  static Expression joins(Recipe recipe) {
    return RecipeCompiler.joins(recipe);
  }

  /** Returns a layer as a recipe corrects it. */
  static Expression layer(Recipe recipe, String layer) {
    return RecipeCompiler.layer(recipe, layer);
  }

  /** Returns a matte of one picture alone. */
  static Expression matte(Recipe recipe, String name, String layer) {
    return RecipeCompiler.matte(recipe, name, layer);
  }

  /**
   * Returns what a recipe means, step by step: {@code R1} is the first layer, {@code R2} what the
   * next join makes of it, and so on; {@code R} the result.
   */
  static List<String> equations(Recipe recipe) {
    return RecipeCompiler.equations(recipe);
  }

  /** Returns what is left of a shadow in red, green, blue and alpha. */
  static double[] shadowFactors(Shadowed of) {
    return Shadow.factors(of);
  }

  // ---- the tree

  /** Calls back with what an expression is made of. */
  default void parts(Consumer<Expression> each) {
    switch (this) {
      case Black b -> {}
      case Backdrop b -> {}
      case Read r -> {}
      case Cover c -> {}
      case Ranged r -> {}
      case Drawn d -> {}
      case Combined c -> c.mattes.forEach(each);
      case Joined j -> {
        each.accept(j.back);
        each.accept(j.front);
      }
      case Nearer n -> {
        each.accept(n.back);
        each.accept(n.front);
      }
      case Merged m -> m.layers.forEach(each);
      case Corrected c -> each.accept(c.of);
      case Shadowed s -> each.accept(s.of);
      case Effect e -> each.accept(e.of);
      case Surfaced s -> {
        each.accept(s.of);
        s.passes.forEach(each);
        each.accept(s.matte);
      }
      case Exchanged e -> {
        each.accept(e.whole);
        each.accept(e.part);
        each.accept(e.by);
      }
      case Through t -> {
        each.accept(t.of);
        each.accept(t.changed);
        each.accept(t.matte);
      }
      case Share s -> each.accept(s.cover);
      case Keyed k -> each.accept(k.of);
      case Shaped s -> each.accept(s.matte);
    }
  }

  /** Returns the expression and all that it is made of, each once, the parts first. */
  default Set<Expression> all() {
    Set<Expression> out = new LinkedHashSet<>();
    collect(out);
    return out;
  }

  private void collect(Set<Expression> into) {
    if (!into.contains(this)) {
      parts(p -> p.collect(into));
      into.add(this);
    }
  }

  /** Returns the layers whose depth it asks for itself, not by its parts. */
  default Set<String> depths() {
    return switch (this) {
      case Nearer n -> {
        Set<String> out = new LinkedHashSet<>(n.behind);
        out.add(n.layer);
        yield out;
      }
      case Effect f -> new LinkedHashSet<>(f.depth);
      case Ranged r -> new LinkedHashSet<>(r.layers);
      default -> Set.of();
    };
  }

  /** Returns the passes that it reads of each layer besides beauties and passes of light. */
  default Map<String, Set<Output.More>> needs() {
    Map<String, Set<Output.More>> out = new LinkedHashMap<>();
    for (Expression e : all()) {
      e.depths().forEach(l -> need(out, l, Output.More.DEPTH));
      switch (e) {
        case Cover c when !c.matte.picks().isEmpty() && !c.matte.equals(ALPHA) ->
            need(out, c.layer, Output.More.IDS);
        case Read r when r.pass.equals(Output.More.ENVIRONMENT.word()) ->
            need(out, r.layer, Output.More.ENVIRONMENT);
        case Surfaced s -> {
          need(out, s.correction.layer(), Output.More.UV);
          need(out, s.correction.layer(), Output.More.ALBEDO);
        }
        case Merged m ->
            m.all().stream()
                .filter(Read.class::isInstance)
                .forEach(r -> need(out, ((Read) r).layer, Output.More.DEEP));
        default -> {}
      }
    }
    return out;
  }

  /** Returns a plan that writes with each layer what its recipe reads of it. */
  static Plan written(Plan plan) {
    Plan out = plan;
    for (Map.Entry<String, Set<Output.More>> e : of(plan.recipe()).needs().entrySet()) {
      out = RecipeEdits.written(out, List.of(e.getKey()), e.getValue());
    }
    return out;
  }

  private static void need(Map<String, Set<Output.More>> into, String layer, Output.More pass) {
    into.computeIfAbsent(layer, l -> EnumSet.noneOf(Output.More.class)).add(pass);
  }

  /** Returns the expression as one readable line. */
  default String line() {
    return ExpressionText.line(this);
  }
}
