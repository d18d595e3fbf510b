package org.wedgecutter.core.rejoin;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.stream.Collectors;
import org.wedgecutter.core.plan.Correction;
import org.wedgecutter.core.plan.Join;
import org.wedgecutter.core.plan.Recipe;

/**
 * A picture as an expression over others: what a recipe means. Immutable; {@link Evaluation} makes
 * the picture.
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

  /**
   * A front joined onto what is behind it.
   *
   * @param opacity how much of the join is taken, 0 to 1
   */
  record Joined(Expression back, Expression front, Join join, double opacity)
      implements Expression {}

  /** A picture with its colours corrected. */
  record Corrected(Expression of, Correction correction) implements Expression {}

  /** A picture in which one of the parts that add up to it stands in another form. */
  record Exchanged(Expression whole, Expression part, Expression by) implements Expression {}

  /** Returns what a recipe makes, with its corrections. */
  static Expression of(Recipe recipe) {
    Expression out = joins(recipe, true);
    for (Correction c : recipe.corrections()) {
      out = c.on() && c.layer().isEmpty() ? new Corrected(out, c) : out;
    }
    return out;
  }

  /** Returns what a recipe's joins make of the layers as they are. */
  static Expression joins(Recipe recipe) {
    return joins(recipe, false);
  }

  private static Expression joins(Recipe recipe, boolean corrected) {
    Expression out = new Black();
    for (Recipe.Step s : recipe.joins()) {
      Expression layer = corrected ? layer(recipe, s.layer()) : new Read(s.layer(), "");
      out = new Joined(out, layer, s.join(), s.opacity());
    }
    return out;
  }

  /**
   * Returns a layer as a recipe corrects it: first its passes, which change it by as much as they
   * change, then its beauty.
   */
  static Expression layer(Recipe recipe, String layer) {
    Map<String, Expression> passes = new LinkedHashMap<>();
    List<Correction> whole = new ArrayList<>();
    for (Correction c : recipe.corrections()) {
      if (!c.on() || !c.layer().equals(layer) || layer.isEmpty()) {
        continue;
      }
      if (c.pass().isEmpty()) {
        whole.add(c);
      } else {
        Expression before = passes.getOrDefault(c.pass(), new Read(layer, c.pass()));
        passes.put(c.pass(), new Corrected(before, c));
      }
    }
    Expression out = new Read(layer, "");
    for (Map.Entry<String, Expression> e : passes.entrySet()) {
      out = new Exchanged(out, new Read(layer, e.getKey()), e.getValue());
    }
    for (Correction c : whole) {
      out = new Corrected(out, c);
    }
    return out;
  }

  /** Returns what is read, each once. */
  default Set<Read> reads() {
    Set<Read> out = new LinkedHashSet<>();
    collect(out);
    return out;
  }

  private void collect(Set<Read> into) {
    switch (this) {
      case Black b -> {}
      case Read r -> into.add(r);
      case Joined j -> {
        j.back.collect(into);
        j.front.collect(into);
      }
      case Corrected c -> c.of.collect(into);
      case Exchanged e -> {
        e.whole.collect(into);
        e.part.collect(into);
        e.by.collect(into);
      }
    }
  }

  /**
   * Returns what a recipe means, step by step: {@code R1} is the first layer, {@code R2} what the
   * next join makes of it, and so on; {@code R} the result.
   */
  static List<String> equations(Recipe recipe) {
    List<String> out = new ArrayList<>();
    Expression before = new Black();
    for (int k = 0; k < recipe.joins().size(); k++) {
      Recipe.Step s = recipe.joins().get(k);
      Expression step = new Joined(before, layer(recipe, s.layer()), s.join(), s.opacity());
      out.add("R%d = %s".formatted(k + 1, step.line()));
      before = new Read("R" + (k + 1), "");
    }
    for (Correction c : recipe.corrections()) {
      before = c.on() && c.layer().isEmpty() ? new Corrected(before, c) : before;
    }
    out.add("R = " + before.line());
    return out;
  }

  /** Returns the expression as one readable line. */
  default String line() {
    return switch (this) {
      case Black b -> "black";
      case Read r -> r.pass.isEmpty() ? r.layer : r.layer + "." + r.pass;
      case Joined j when j.back instanceof Black && j.join == Join.PLUS && j.opacity == 1 ->
          j.front.line();
      case Joined j -> {
        String share = j.opacity == 1 ? "" : " at %s".formatted(number(j.opacity));
        String back = j.back.line();
        String front = j.front.line();
        yield switch (j.join) {
          case PLUS -> "%s + %s%s".formatted(back, front, share);
          case OVER -> "%s over%s (%s)".formatted(front, share, back);
          case TIMES -> "(%s) × %s%s".formatted(back, front, share);
          case CATCH -> "%s catches%s on (%s)".formatted(front, share, back);
          case SCREEN, MIN, MAX, DIFFERENCE ->
              "%s(%s, %s)%s".formatted(j.join.word(), back, front, share);
        };
      }
      case Corrected c -> "%s[%s]".formatted(bracketed(c.of), words(c.correction));
      case Exchanged e -> "%s with %s".formatted(e.whole.line(), e.by.line());
    };
  }

  private static String bracketed(Expression of) {
    return of instanceof Joined || of instanceof Exchanged ? "(" + of.line() + ")" : of.line();
  }

  private static String words(Correction c) {
    return c.type().word()
        + c.values().stream().map(Expression::number).collect(Collectors.joining(" ", " ", ""));
  }

  private static String number(double value) {
    return value == Math.rint(value) && Math.abs(value) < 1e9
        ? Long.toString((long) value)
        : String.format(Locale.ROOT, "%.4g", value);
  }
}
