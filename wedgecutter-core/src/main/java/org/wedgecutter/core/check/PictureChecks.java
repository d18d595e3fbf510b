package org.wedgecutter.core.check;

import java.util.List;
import org.wedgecutter.core.load.NumberedPictures;
import org.wedgecutter.core.mistake.Message;
import org.wedgecutter.core.mistake.Sentence;
import org.wedgecutter.core.plan.Background;
import org.wedgecutter.core.plan.Correction;
import org.wedgecutter.core.plan.FrameRange;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.Recipe;
import org.wedgecutter.core.plan.RecipeEdits;

/**
 * Pictures that the recipe shows: each is to be there at every frame. Of a sequence the first is
 * read, the others when they are shown.
 */
final class PictureChecks {
  private PictureChecks() {}

  static void run(Checked c, NumberedPictures pictures) {
    if (c.shot.plate().isNumbered()) {
      plate(c, pictures, c.shot.plate().image());
    }
    for (String picture : c.plan.recipe().pictures()) {
      List<Integer> missing =
          c.shot.frames().frames().stream().filter(f -> !pictures.exists(picture, f)).toList();
      if (!missing.isEmpty()) {
        c.add(
            Message.of(
                Sentence.PICTURE_MISSING,
                "picture",
                picture,
                "range",
                FrameRange.of(missing).text()),
            "",
            "",
            p -> without(p, picture));
      }
      c.shot.frames().frames().stream()
          .filter(f -> !missing.contains(f))
          .findFirst()
          .ifPresent(f -> read(c, pictures, picture, f));
    }
  }

  private static void plate(Checked c, NumberedPictures pictures, String picture) {
    List<Integer> missing =
        c.shot.frames().frames().stream().filter(f -> !pictures.exists(picture, f)).toList();
    if (!missing.isEmpty()) {
      c.add(
          Message.of(
              Sentence.PLATE_MISSING, "picture", picture, "range", FrameRange.of(missing).text()),
          "",
          "",
          null);
    }
  }

  private static void read(Checked c, NumberedPictures pictures, String picture, int frame) {
    String why = pictures.trouble(picture, frame);
    if (!why.isEmpty()) {
      c.add(
          Message.of(
              Sentence.PICTURE_UNREADABLE,
              "picture",
              picture,
              "frame",
              String.valueOf(frame),
              "why",
              why),
          "",
          "",
          p -> without(p, picture));
    }
  }

  private static Plan without(Plan plan, String picture) {
    Recipe recipe = plan.recipe();
    Plan out = plan;
    if (recipe.background().picture().equals(picture)) {
      out = RecipeEdits.background(out, Background.NONE);
    }
    for (int k = 0; k < recipe.corrections().size(); k++) {
      Correction each = recipe.corrections().get(k);
      if (each.picture().equals(picture)) {
        out = out.withRecipe(out.recipe().withCorrection(k, each.switched(false)));
      }
    }
    return out;
  }
}
