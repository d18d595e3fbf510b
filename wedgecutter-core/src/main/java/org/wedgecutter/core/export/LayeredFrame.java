package org.wedgecutter.core.export;

import java.io.IOException;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.deliver.Delivery;
import org.wedgecutter.core.deliver.file.DeliveryPictures;
import org.wedgecutter.core.deliver.file.DeliverySource;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.image.ScreenPicture;
import org.wedgecutter.core.plan.Background;
import org.wedgecutter.core.plan.Correction;
import org.wedgecutter.core.plan.Join;
import org.wedgecutter.core.plan.Recipe;
import org.wedgecutter.core.rejoin.Evaluation;
import org.wedgecutter.core.rejoin.Expression;
import org.wedgecutter.core.rejoin.JoinRule;

/**
 * A frame of a delivery as layers for paint programs, which composite display values (sRGB) instead
 * of linear light.
 *
 * <p>A layer that covers something is exported as it is. A layer that only changes light behind it
 * (shadow, bounce, reflection, ratio, a correction of the layers behind) has no alpha to composite
 * with. It becomes two layers: one that darkens, by multiply, and one that lightens, by plus. They
 * are computed from the display values before and after the join, so that the stack reproduces
 * them. Joins by depth or by a matte are solved for the colour that src-over needs.
 */
final class LayeredFrame {
  private static final String MULTIPLY = "svg:multiply";
  private static final String PLUS = "svg:plus";
  private static final String OVER = "svg:src-over";

  /** Joins that change what is behind and cover nothing. */
  private static final Set<Join> CHANGES = Set.of(Join.LIGHT, Join.TIMES, Join.CATCH);

  /** Joins that ask for more than what is in front of what. */
  private static final Set<Join> BY_DEPTH = Set.of(Join.DEPTH, Join.DEEP, Join.MATTE);

  /** Less than half a step of sixteen bits. */
  private static final float NOTHING = 0.5f / 65535;

  private final Recipe recipe;
  private final int width;
  private final int height;
  private final DeliverySource source;
  private final List<Sheet> sheets = new ArrayList<>();

  /** The frame with the first {@link #lastJoins} joins: the next step starts from it. */
  private @Nullable ScreenPicture last;

  private int lastJoins = -1;

  /**
   * A layer of the file.
   *
   * @param operation of OpenRaster, by which it is put onto what is behind it
   * @param opacity 0 to 1
   */
  record Sheet(String name, String operation, double opacity, ScreenPicture picture) {}

  private LayeredFrame(Delivery delivery, int frame) {
    recipe = DeliveryPictures.joined(delivery, frame).at(frame);
    width = delivery.region().width();
    height = delivery.region().height();
    source = new DeliverySource(delivery, frame);
  }

  /** Returns the layers of a frame, from the back to the front. */
  static List<Sheet> of(Delivery delivery, int frame) throws IOException {
    LayeredFrame all = new LayeredFrame(delivery, frame);
    all.background();
    for (int k = 0; k < all.recipe.joins().size(); k++) {
      all.step(k);
    }
    all.whole();
    return all.sheets;
  }

  private void background() throws IOException {
    if (recipe.background().kind() != Background.Kind.NONE) {
      sheets.add(new Sheet("Background", OVER, 1, upTo(0)));
    }
  }

  private void step(int k) throws IOException {
    Recipe.Step step = recipe.joins().get(k);
    Join join = step.join();
    if (BY_DEPTH.contains(join) || !step.matte().isEmpty()) {
      ScreenPicture own = ScreenPicture.of(own(step.layer()));
      add(step.layer(), OVER, 1, shown(upTo(k), upTo(k + 1), own));
      return;
    }
    Picture own = own(step.layer());
    boolean changes = CHANGES.contains(join);
    boolean bare = join == Join.PLUS && ScreenPicture.hasBareLight(own);
    if (!changes) {
      ScreenPicture body = bare ? covering(own) : ScreenPicture.of(own);
      add(step.layer(), JoinRule.of(join).compositeOp(), step.opacity(), body);
    }
    if (changes || bare || changesBehind(step.layer())) {
      change(
          step.layer(),
          upTo(k),
          upTo(k + 1),
          // where it covers, it is there already
          changes ? null : own);
    }
  }

  /** What corrects the whole picture has no layer of its own. */
  private void whole() throws IOException {
    boolean any = recipe.corrections().stream().anyMatch(c -> c.on() && c.layer().isEmpty());
    if (any) {
      int all = recipe.joins().size();
      change("Corrections", upTo(all), ScreenPicture.of(evaluated(all, true)), null);
    }
  }

  private boolean changesBehind(String layer) {
    return recipe.corrections().stream()
        .anyMatch(c ->
            c.on()
                && c.layer().equals(layer)
                && (c.reach() == Correction.Reach.BEHIND || c.type() == Correction.Type.SHADOW));
  }

  private Picture own(String layer) throws IOException {
    return Evaluation.picture(Expression.layer(recipe, layer), width, height, source)
        .resized(width, height);
  }

  /** Returns the frame with the first joins, without corrections of the whole. */
  private ScreenPicture upTo(int joins) throws IOException {
    ScreenPicture known = last;
    if (known == null || lastJoins != joins) {
      known = ScreenPicture.of(evaluated(joins, false));
      last = known;
      lastJoins = joins;
    }
    return known;
  }

  /** Evaluates the first joins, with corrections of the whole or without. */
  private Picture evaluated(int joins, boolean whole) throws IOException {
    if (joins == 0 && recipe.background().kind() == Background.Kind.NONE) {
      return Picture.empty(width, height);
    }
    List<Recipe.Step> steps = recipe.joins().subList(0, joins);
    Recipe first =
        recipe
            .withJoins(steps)
            .withCorrections(
                recipe.corrections().stream()
                    .filter(c ->
                        c.layer().isEmpty()
                            ? whole
                            : steps.stream().anyMatch(s -> s.layer().equals(c.layer())))
                    .toList());
    return Evaluation.picture(Expression.of(first), width, height, source);
  }

  private void add(String name, String operation, double opacity, ScreenPicture picture) {
    float[] p = picture.rgba();
    for (int i = 3; i < p.length; i += 4) {
      if (p[i] > NOTHING) {
        sheets.add(new Sheet(name, operation, opacity, picture));
        return;
      }
    }
  }

  /** A picture without its light where it has no alpha. */
  private static ScreenPicture covering(Picture own) {
    float[] light = own.rgba().clone();
    for (int p = 0; p < light.length; p += 4) {
      if (ScreenPicture.isBare(light[p + 3])) {
        Arrays.fill(light, p, p + 4, 0);
      }
    }
    return ScreenPicture.of(new Picture(own.width(), own.height(), light));
  }

  /**
   * Adds what takes one picture to another.
   *
   * @param cover what is left alone where it has alpha
   */
  private void change(String name, ScreenPicture from, ScreenPicture to, @Nullable Picture cover) {
    float[] dark = new float[4 * width * height];
    float[] bright = new float[dark.length];
    for (int p = 0; p < dark.length; p += 4) {
      if (cover == null || ScreenPicture.isBare(cover.rgba()[p + 3])) {
        change(from.rgba(), to.rgba(), p, dark, bright);
      }
    }
    add(name + " darkens", MULTIPLY, 1, new ScreenPicture(width, height, dark));
    add(name + " lightens", PLUS, 1, new ScreenPicture(width, height, bright));
  }

  private static void change(float[] from, float[] to, int p, float[] dark, float[] bright) {
    float most = 0;
    float least = 1;
    for (int c = p; c < p + 3; c++) {
      float was = from[c] * from[p + 3];
      float is = to[c] * to[p + 3];
      if (is < was) {
        least = Math.min(least, is / was);
      } else {
        most = Math.max(most, is - was);
      }
    }
    for (int c = p; c < p + 3; c++) {
      float was = from[c] * from[p + 3];
      float is = to[c] * to[p + 3];
      if (is < was && least < 1) {
        // B (1 - a (1 - c)) is what is to be left of B
        dark[c] = 1 - (1 - is / was) / (1 - least);
      } else {
        dark[c] = least < 1 ? 1 : 0;
      }
      bright[c] = is > was && most > NOTHING ? (is - was) / most : 0;
    }
    dark[p + 3] = 1 - least > NOTHING ? 1 - least : 0;
    bright[p + 3] = most > NOTHING ? most : 0;
  }

  /** What has to be laid over one picture to give another: a layer's alpha where it shows. */
  private static ScreenPicture shown(ScreenPicture from, ScreenPicture to, ScreenPicture own) {
    float[] out = new float[from.rgba().length];
    float[] b = from.rgba();
    float[] t = to.rgba();
    for (int p = 0; p < out.length; p += 4) {
      float alpha = own.rgba()[p + 3];
      if (alpha <= NOTHING) {
        continue;
      }
      boolean changed = Math.abs(t[p + 3] - b[p + 3]) > NOTHING;
      float[] colour = new float[3];
      for (int c = 0; c < 3; c++) {
        float was = b[p + c] * b[p + 3];
        float is = t[p + c] * t[p + 3];
        changed |= Math.abs(is - was) > NOTHING;
        colour[c] = Math.clamp((is - (1 - alpha) * was) / alpha, 0, 1);
      }
      if (changed) {
        System.arraycopy(colour, 0, out, p, 3);
        out[p + 3] = alpha;
      }
    }
    return new ScreenPicture(from.width(), from.height(), out);
  }
}
