package org.wedgecutter.core.deliver.file;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.stream.Stream;
import org.wedgecutter.core.deliver.Delivery;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.image.PictureWriter;
import org.wedgecutter.core.image.Region;
import org.wedgecutter.core.io.AtomicFile;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.core.plan.CatcherOutput;
import org.wedgecutter.core.plan.FileNames;
import org.wedgecutter.core.plan.Join;
import org.wedgecutter.core.plan.LayerDef;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.Recipe;
import org.wedgecutter.core.plan.Role;
import org.wedgecutter.core.rejoin.Evaluation;
import org.wedgecutter.core.rejoin.Expression;
import org.wedgecutter.core.rejoin.Rejoiner;
import org.wedgecutter.exr.Box;

/**
 * The pictures of a delivery, read from its files: layers, the uncut frame, and what is rejoined.
 */
public final class DeliveryPictures {
  private DeliveryPictures() {}

  /** Puts the layers of a frame together by the recipe, with its corrections. */
  public static Picture corrected(Delivery delivery, int frame) throws IOException {
    return evaluated(delivery, frame, Expression.of(joined(delivery, frame).at(frame)));
  }

  /** Returns a layer of a frame as the recipe corrects it. */
  public static Picture corrected(Delivery delivery, int frame, String layer) throws IOException {
    return evaluated(delivery, frame, Expression.layer(delivery.plan().recipe().at(frame), layer));
  }

  private static Picture evaluated(Delivery delivery, int frame, Expression expression)
      throws IOException {
    return Evaluation.picture(
        expression,
        delivery.region().width(),
        delivery.region().height(),
        new DeliverySource(delivery, frame));
  }

  /** Puts the layers of a frame together by the joins of the recipe, as they are. */
  public static Rejoiner.Rejoined rejoin(Delivery delivery, int frame) throws IOException {
    return Rejoiner.rejoin(
        joined(delivery, frame),
        delivery.region().width(),
        delivery.region().height(),
        new DeliverySource(delivery, frame));
  }

  /**
   * Puts some layers together into one picture that is transparent where they show nothing, for any
   * background: laid over it, it gives what the recipe gives on it. A catcher's one picture darkens
   * the background by its alpha.
   *
   * @throws InputException if a layer has no file, or is such that no transparent picture does what
   *     it does: a ratio, or a difference that takes light away
   */
  public static Picture transparent(Delivery delivery, int frame, List<String> layers)
      throws IOException {
    Picture out = Picture.empty(delivery.region().width(), delivery.region().height());
    Path manifest = delivery.folder().resolve(Delivery.MANIFEST);
    for (String layer : layers) {
      if (delivery.plan().join(layer).isEmpty()) {
        throw new InputException(manifest, "plan/recipe", "does not join a layer '" + layer + "'");
      }
    }
    for (Recipe.Step step : delivery.plan().recipe().joins()) {
      if (!layers.contains(step.layer())) {
        continue;
      }
      Picture picture = layer(delivery, step.layer(), frame);
      boolean takes = picture.takesLight();
      if (step.join() == Join.TIMES || takes) {
        throw new InputException(
            manifest,
            "plan/recipe",
            "layer '%s' is %s, which no transparent picture can be; let it deliver a catch"
                .formatted(step.layer(), form(delivery.plan(), step)));
      }
      Rejoiner.join(out, picture, step.join() == Join.CATCH ? Join.OVER : step.join());
    }
    return out;
  }

  /** What a layer delivers that takes light away or scales it, in words. */
  private static String form(Plan plan, Recipe.Step step) {
    return plan.layer(step.layer()).stream()
        .flatMap(l -> Stream.concat(l.cells().values().stream(), Stream.of(l.rest())))
        .filter(c -> c.role() == Role.CATCHER)
        .map(c -> c.catching().output())
        .findFirst()
        .map(o -> (o == CatcherOutput.OCCLUSION ? "an " : "a ") + o.word())
        .orElse(step.join() == Join.TIMES ? "a ratio" : "a difference");
  }

  /** The recipe without layers that are disabled and were not rendered either. */
  public static Recipe joined(Delivery delivery, int frame) {
    Recipe recipe = delivery.plan().recipe();
    return recipe.withJoins(
        recipe.joins().stream()
            .filter(s ->
                delivery.held(s.layer(), frame).isPresent()
                    || delivery.plan().layer(s.layer()).map(LayerDef::render).orElse(true))
            .toList());
  }

  /** Returns the picture of a layer at a frame, from its file. */
  public static Picture layer(Delivery delivery, String layer, int frame) throws IOException {
    return picture(delivery, delivery.region(), layer, false, frame);
  }

  /** Returns the uncut frame, from its file. */
  public static Picture uncut(Delivery delivery, int frame) throws IOException {
    return picture(delivery, delivery.region(), FileNames.UNCUT, true, frame);
  }

  /** Returns where a layer or the uncut frame is, which must be there. */
  public static Path file(Delivery delivery, String layer, boolean uncut, int frame)
      throws InputException {
    var entry = uncut ? delivery.uncut(frame) : delivery.held(layer, frame);
    if (entry.isEmpty()) {
      throw new InputException(
          delivery.folder(),
          "",
          uncut
              ? "holds no uncut frame %d to compare with; render it with --uncut".formatted(frame)
              : "holds no file of layer '%s' at frame %d, which the recipe joins"
                  .formatted(layer, frame));
    }
    Path file = delivery.path(entry.get());
    if (!Files.isRegularFile(file)) {
      throw new InputException(file, "", "no such file, though the delivery lists it");
    }
    return file;
  }

  /**
   * Returns a part of a layer or of the uncut frame, from its file.
   *
   * @param part of the delivery's region
   */
  public static Picture picture(
      Delivery delivery, Region part, String layer, boolean uncut, int frame) throws IOException {
    Path file = file(delivery, layer, uncut, frame);
    FilePicture read =
        FilePicture.read(delivery, part, uncut ? null : layer, file, FilePicture.COLOURS);
    if (!read.hasAlpha()) {
      throw new InputException(file, "A", "no alpha; expected R, G, B and A");
    }
    if (!read.fits()) {
      throw new InputException(
          file,
          "",
          "%d x %d pixels, expected %d x %d"
              .formatted(
                  read.picture().width(),
                  read.picture().height(),
                  delivery.region().width(),
                  delivery.region().height()));
    }
    return read.picture();
  }

  /** Writes a picture of a delivery's size, in the format that the file's name tells. */
  public static void write(Delivery delivery, Picture picture, Path file) throws IOException {
    if (PictureWriter.isFor(file)) {
      AtomicFile.write(file, out -> PictureWriter.write(picture, file, out));
      return;
    }
    ExrFrames.write(
        file,
        picture,
        List.of(),
        delivery.plan().output(),
        Box.ofSize(delivery.width(), delivery.height()),
        ExrFrames.box(delivery.region()),
        Map.of());
  }
}
