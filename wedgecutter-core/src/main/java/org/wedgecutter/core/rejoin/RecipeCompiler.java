package org.wedgecutter.core.rejoin;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.wedgecutter.core.plan.Correction;
import org.wedgecutter.core.plan.Join;
import org.wedgecutter.core.plan.MatteDef;
import org.wedgecutter.core.plan.Output;
import org.wedgecutter.core.plan.Recipe;
import org.wedgecutter.core.rejoin.Expression.Backdrop;
import org.wedgecutter.core.rejoin.Expression.Black;
import org.wedgecutter.core.rejoin.Expression.Combined;
import org.wedgecutter.core.rejoin.Expression.Corrected;
import org.wedgecutter.core.rejoin.Expression.Cover;
import org.wedgecutter.core.rejoin.Expression.Drawn;
import org.wedgecutter.core.rejoin.Expression.Effect;
import org.wedgecutter.core.rejoin.Expression.Exchanged;
import org.wedgecutter.core.rejoin.Expression.Joined;
import org.wedgecutter.core.rejoin.Expression.Keyed;
import org.wedgecutter.core.rejoin.Expression.Merged;
import org.wedgecutter.core.rejoin.Expression.Nearer;
import org.wedgecutter.core.rejoin.Expression.Ranged;
import org.wedgecutter.core.rejoin.Expression.Read;
import org.wedgecutter.core.rejoin.Expression.Shadowed;
import org.wedgecutter.core.rejoin.Expression.Shaped;
import org.wedgecutter.core.rejoin.Expression.Share;
import org.wedgecutter.core.rejoin.Expression.Surfaced;
import org.wedgecutter.core.rejoin.Expression.Through;

/** Makes expressions of recipes: what their joins, corrections, mattes and backgrounds mean. */
final class RecipeCompiler {
  private RecipeCompiler() {}

  /** Returns what a recipe makes, with its corrections and its background. */
  static Expression of(Recipe recipe) {
    Expression front = whole(recipe, joined(recipe, true));
    return recipe.background().exists()
        ? new Joined(new Backdrop(recipe.background()), front, Join.OVER, 1)
        : front;
  }

  /** Returns what a recipe's joins make of the layers as they are. */
  static Expression joins(Recipe recipe) {
    return joined(recipe, false);
  }

  private static Expression joined(Recipe recipe, boolean corrected) {
    Expression out = new Black();
    List<Recipe.Step> joins = recipe.joins();
    int k = 0;
    while (k < joins.size()) {
      int next = group(joins, k);
      out = step(recipe, out, joins.subList(0, k), joins.subList(k, next), corrected);
      if (corrected) {
        for (Recipe.Step s : joins.subList(k, next)) {
          out = behind(recipe, out, s.layer());
        }
      }
      k = next;
    }
    return out;
  }

  /** Where the group of steps ends that are done together: layers that merge by depth. */
  private static int group(List<Recipe.Step> joins, int from) {
    int next = from + 1;
    while (joins.get(from).join() == Join.DEEP
        && next < joins.size()
        && joins.get(next).join() == Join.DEEP
        && joins.get(next).opacity() == joins.get(from).opacity()) {
      next++;
    }
    return next;
  }

  private static Expression step(
      Recipe recipe,
      Expression back,
      List<Recipe.Step> before,
      List<Recipe.Step> own,
      boolean corrected) {
    Recipe.Step s = own.getFirst();
    Expression front = corrected ? layer(recipe, s.layer()) : new Read(s.layer(), "");
    return switch (s.join()) {
      case MATTE -> {
        Expression matte =
            s.matte().isEmpty()
                ? new Share(new Cover(s.layer(), Expression.ALPHA))
                : matte(recipe, s.matte(), List.of(s), front);
        yield new Through(back, front, matte, s.opacity());
      }
      case DEPTH -> new Nearer(back, names(before), front, s.layer(), s.opacity());
      case DEEP -> {
        List<Expression> all = new ArrayList<>();
        for (Recipe.Step each : own) {
          all.add(corrected ? layer(recipe, each.layer()) : new Read(each.layer(), ""));
        }
        yield new Joined(back, new Merged(all), Join.OVER, s.opacity());
      }
      case TIMES -> {
        if (s.light() == Recipe.Light.ALL) {
          yield new Joined(back, front, Join.TIMES, s.opacity());
        }
        Expression part = light(recipe, before, s.light(), corrected);
        yield new Exchanged(back, part, new Joined(part, front, Join.TIMES, s.opacity()));
      }
      default -> new Joined(back, front, s.join(), s.opacity());
    };
  }

  /**
   * A part of the diffuse light of what is joined so far: passes of the layers, joined as the
   * layers are.
   */
  private static Expression light(
      Recipe recipe, List<Recipe.Step> steps, Recipe.Light light, boolean corrected) {
    Expression out = new Black();
    int next;
    for (int k = 0; k < steps.size(); k = next) {
      next = group(steps, k);
      Recipe.Step s = steps.get(k);
      Expression own = light(recipe, s.layer(), light, corrected);
      Expression front = corrected ? layer(recipe, s.layer()) : new Read(s.layer(), "");
      out =
          switch (s.join()) {
            case TIMES ->
                s.light() == Recipe.Light.ALL || s.light() == light
                    ? new Joined(out, front, Join.TIMES, s.opacity())
                    : out;
            case CATCH ->
                new Joined(
                    out,
                    new Corrected(
                        front, Correction.of("", "", Correction.Type.GAIN, 0.0, 0.0, 0.0)),
                    Join.CATCH,
                    s.opacity());
            case OVER, MATTE -> new Joined(out, own, Join.OVER, s.opacity());
            case DEEP ->
                new Joined(
                    out,
                    new Merged(
                        steps.subList(k, next).stream()
                            .map(each -> light(recipe, each.layer(), light, corrected))
                            .toList()),
                    Join.OVER,
                    s.opacity());
            case PLUS, LIGHT, SCREEN, MIN, MAX, DIFFERENCE ->
                new Joined(out, own, Join.PLUS, s.opacity());
            case DEPTH -> new Nearer(out, names(steps.subList(0, k)), own, s.layer(), s.opacity());
          };
    }
    return out;
  }

  /** A part of the diffuse light of a layer, with the corrections of the layer that are linear. */
  private static Expression light(
      Recipe recipe, String layer, Recipe.Light light, boolean corrected) {
    Expression environment = new Read(layer, Output.More.ENVIRONMENT.word());
    Expression out =
        light == Recipe.Light.DIRECT
            ? new Exchanged(new Read(layer, "diffuse.direct"), environment, new Black())
            : new Exchanged(new Read(layer, "diffuse.indirect"), new Black(), environment);
    for (Correction c : recipe.corrections()) {
      if (corrected
          && c.on()
          && c.layer().equals(layer)
          && c.pass().isEmpty()
          && c.matte().isEmpty()
          && Grade.matrix(c) != null) {
        out = new Corrected(out, c);
      }
    }
    return out;
  }

  private static List<String> names(List<Recipe.Step> steps) {
    return steps.stream().map(Recipe.Step::layer).toList();
  }

  /** What is done to a layer and all behind it. */
  private static Expression behind(Recipe recipe, Expression joined, String layer) {
    Expression out = joined;
    int last = names(recipe.joins()).indexOf(layer);
    List<Recipe.Step> steps = recipe.joins().subList(0, last + 1);
    for (Correction c : recipe.corrections()) {
      if (c.on() && c.reach() == Correction.Reach.BEHIND && c.layer().equals(layer)) {
        out = changed(recipe, out, c, steps);
      }
    }
    return out;
  }

  private static Expression whole(Recipe recipe, Expression joined) {
    Expression out = joined;
    for (Correction c : recipe.corrections()) {
      if (c.on() && c.isOfWhole()) {
        out = changed(recipe, out, c, recipe.joins());
      }
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
    List<Recipe.Step> own = List.of(new Recipe.Step(layer, Join.PLUS, recipe.extra()));
    for (Correction c : recipe.corrections()) {
      if (!c.on()
          || !c.layer().equals(layer)
          || layer.isEmpty()
          || c.reach() == Correction.Reach.BEHIND) {
        continue;
      }
      if (c.pass().isEmpty()) {
        whole.add(c);
      } else {
        Expression before = passes.getOrDefault(c.pass(), new Read(layer, c.pass()));
        passes.put(c.pass(), changed(recipe, before, c, own));
      }
    }
    Expression out = new Read(layer, "");
    for (Map.Entry<String, Expression> e : passes.entrySet()) {
      out = new Exchanged(out, new Read(layer, e.getKey()), e.getValue());
    }
    for (Correction c : whole) {
      out = changed(recipe, out, c, own);
    }
    return out;
  }

  /**
   * A picture with a correction or effect, through its matte.
   *
   * @param steps what it was joined of
   */
  private static Expression changed(
      Recipe recipe, Expression of, Correction c, List<Recipe.Step> steps) {
    Expression matte = c.matte().isEmpty() ? null : matte(recipe, c.matte(), steps, of);
    Expression changed;
    if (c.type() == Correction.Type.SURFACE) {
      changed =
          new Surfaced(
              of,
              c,
              Surface.PASSES.stream().map(p -> (Expression) new Read(c.layer(), p)).toList(),
              matte == null ? new Share(new Cover(c.layer(), Expression.ALPHA)) : matte);
    } else if (c.type() == Correction.Type.SHADOW) {
      Join join =
          recipe.joins().stream()
              .filter(s -> s.layer().equals(c.layer()))
              .map(Recipe.Step::join)
              .findFirst()
              .orElse(Join.PLUS);
      changed = new Shadowed(of, c, join);
    } else if (c.type().isSpatial()) {
      changed = new Effect(of, c, c.type().needsDepth() ? names(steps) : List.of());
    } else {
      changed = new Corrected(of, c);
    }
    return matte == null ? changed : new Through(of, changed, matte, 1);
  }

  /** Returns a matte of one picture alone. */
  static Expression matte(Recipe recipe, String name, String layer) {
    Recipe.Step one = new Recipe.Step(layer, Join.PLUS, recipe.extra());
    return matte(recipe, name, List.of(one), new Read(layer, ""));
  }

  /**
   * Returns a matte of a picture. The covers of ID mattes are joined as the layers are, so that one
   * matte goes on across layers.
   *
   * @param steps what the picture was joined of
   * @param of the picture, for its luminance
   */
  static Expression matte(Recipe recipe, String name, List<Recipe.Step> steps, Expression of) {
    int parts = recipe.matteParts().getOrDefault(name, 1);
    if (parts == 0 || parts > Recipe.MOST_PARTS) {
      // refused in files and in the window: there is no such matte
      return new Black();
    }
    return made(recipe, name, steps, of);
  }

  private static Expression made(
      Recipe recipe, String name, List<Recipe.Step> steps, Expression of) {
    MatteDef def = recipe.matte(name).orElse(Expression.ALPHA);
    Expression made =
        switch (def.source()) {
          case IDS -> new Share(covers(def, steps));
          case DEPTH -> new Ranged(names(steps), def);
          case LUMA -> new Keyed(def.by().isEmpty() ? of : new Read(def.by(), ""), def);
          case SHAPE -> new Drawn(def);
          case AND, OR, MINUS ->
              def.picks().isEmpty()
                  ? new Black()
                  : new Combined(
                      def.picks().stream().map(p -> made(recipe, p, steps, of)).toList(),
                      def.source());
        };
    return def.grow() == 0 && !def.invert() ? made : new Shaped(made, def.grow(), def.invert());
  }

  private static Expression covers(MatteDef def, List<Recipe.Step> steps) {
    Expression out = new Black();
    int k = 0;
    while (k < steps.size()) {
      int next = group(steps, k);
      Recipe.Step s = steps.get(k);
      Expression own = new Cover(s.layer(), def);
      out =
          switch (JoinRule.of(s.join()).cover()) {
            case NONE -> out;
            case OVER -> new Joined(out, own, Join.OVER, s.opacity());
            case ADDED -> new Joined(out, own, Join.PLUS, s.opacity());
            case NEAREST ->
                new Nearer(out, names(steps.subList(0, k)), own, s.layer(), s.opacity());
            case MERGED ->
                new Joined(
                    out,
                    new Merged(
                        steps.subList(k, next).stream()
                            .map(each -> (Expression) new Cover(each.layer(), def))
                            .toList()),
                    Join.OVER,
                    s.opacity());
          };
      k = next;
    }
    return out;
  }

  /**
   * Returns what a recipe means, step by step: {@code R1} is the first layer, {@code R2} what the
   * next join makes of it, and so on; {@code R} the result.
   */
  static List<String> equations(Recipe recipe) {
    List<String> out = new ArrayList<>();
    Expression before = new Black();
    List<Recipe.Step> joins = recipe.joins();
    int k = 0;
    while (k < joins.size()) {
      int next = group(joins, k);
      Expression step = step(recipe, before, joins.subList(0, k), joins.subList(k, next), true);
      for (Recipe.Step s : joins.subList(k, next)) {
        step = behind(recipe, step, s.layer());
      }
      out.add("R%d = %s".formatted(next, step.line()));
      before = new Read("R" + next, "");
      k = next;
    }
    Expression all = whole(recipe, before);
    out.add(
        "R = "
            + (recipe.background().exists()
                    ? new Joined(new Backdrop(recipe.background()), all, Join.OVER, 1)
                    : all)
                .line());
    return out;
  }
}
