package org.wedgecutter.core.export;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.wedgecutter.core.deliver.Delivery;
import org.wedgecutter.core.deliver.file.DeliveryPictures;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.core.plan.FrameRange;
import org.wedgecutter.core.plan.Join;
import org.wedgecutter.core.plan.LayerDef;
import org.wedgecutter.core.plan.Property;
import org.wedgecutter.core.plan.Recipe;
import org.wedgecutter.core.rejoin.Expression;

/**
 * A shell script that rejoins the layers of a delivery by oiiotool, OpenImageIO's command line: the
 * same joins by a program that knows nothing of this one.
 *
 * <p>It is the recipe's expression, written in the tool's commands. What those cannot do has no
 * script.
 */
public final class JoinScript {
  private JoinScript() {}

  /**
   * Returns the script.
   *
   * @throws InputException if a layer that is joined has a size of its own, if there is no frame
   *     for which every joined layer has a file, or if the tool cannot do what the recipe asks for
   */
  public static String text(Delivery delivery) throws InputException {
    Path manifest = delivery.folder().resolve(Delivery.MANIFEST);
    List<Integer> all = delivery.frames();
    if (all.isEmpty()) {
      throw noFrame(manifest);
    }
    // layers that are disabled and have no files are not joined
    Recipe recipe = DeliveryPictures.joined(delivery, all.getFirst());
    List<Recipe.Step> steps = recipe.joins();
    for (Recipe.Step step : steps) {
      Optional<LayerDef> layer = delivery.plan().layer(step.layer());
      if (layer.isPresent() && layer.get().setting(Property.SIZE).isPresent()) {
        throw new InputException(
            manifest,
            "plan/layers/" + step.layer(),
            "has a size of its own, which the script does not join; expected the shot's");
      }
    }
    StringBuilder cases = new StringBuilder();
    List<Integer> frames = new ArrayList<>();
    for (int frame : all) {
      Optional<String> files = files(delivery, steps, frame);
      if (files.isPresent()) {
        frames.add(frame);
        cases.append("  %d)%n%s    ;;%n".formatted(frame, files.get()));
      }
    }
    if (frames.isEmpty()) {
      throw noFrame(manifest);
    }
    StringBuilder commands = new StringBuilder();
    if (recipe.corrections().stream().noneMatch(c -> c.on() && c.isKeyed())) {
      commands.append(command(delivery, recipe));
    } else {
      // values follow the frames: each has a command of its own
      commands.append("case \"$1\" in%n".formatted());
      for (int frame : frames) {
        commands.append("  %d)%n%s    ;;%n".formatted(frame, command(delivery, recipe.at(frame))));
      }
      commands.append("esac%n".formatted());
    }
    return """
    #!/bin/sh
    # Rejoins the layers of the delivery of %s, from the back to the front, by oiiotool.
    #
    # In the delivery's folder:  bash SCRIPT FRAME OUT.exr
    set -eu
    if [ $# -ne 2 ]; then
      echo "usage, in the delivery's folder: bash $0 FRAME OUT.exr" >&2
      exit 2
    fi
    case "$1" in
    %s  *)
        echo "frame $1 is not there; expected one of %s" >&2
        exit 2
        ;;
    esac
    %s\
    """
        .formatted(
            Quoting.comment(delivery.plan().requireShot().scene()),
            cases,
            FrameRange.of(frames).text(),
            commands);
  }

  /** Returns the command that joins the layers whose files are in variables. */
  private static String command(Delivery delivery, Recipe recipe) throws InputException {
    List<String> layers = recipe.joins().stream().map(Recipe.Step::layer).toList();
    try {
      return """
      oiiotool --wildcardoff --evaloff%s \\
        -d float -o "$2"
      """
          .formatted(
              new ToolCommands(
                      (layer, deep) ->
                          "\"$%s%d\"".formatted(deep ? "deep" : "layer", layers.indexOf(layer)),
                      delivery.plan().output(),
                      delivery.region())
                  .of(Expression.of(recipe)));
    } catch (ToolCommands.Missing e) {
      throw new InputException(
          delivery.folder().resolve(Delivery.MANIFEST),
          "plan/recipe",
          "the script has no command for %s; rejoin the frames by the command, or switch it off"
              .formatted(e.getMessage()),
          e);
    }
  }

  private static InputException noFrame(Path manifest) {
    return new InputException(manifest, "files", "no frame has a file of every joined layer");
  }

  private static Optional<String> files(Delivery delivery, List<Recipe.Step> steps, int frame)
      throws InputException {
    StringBuilder out = new StringBuilder();
    for (int k = 0; k < steps.size(); k++) {
      Optional<Delivery.Entry> file = delivery.held(steps.get(k).layer(), frame);
      if (file.isEmpty()) {
        return Optional.empty();
      }
      out.append("    layer%d=%s%n".formatted(k, file(delivery, file.get())));
      if (steps.get(k).join() == Join.DEEP) {
        Optional<Delivery.Entry> deep = delivery.deep(steps.get(k).layer(), frame);
        if (deep.isEmpty()) {
          return Optional.empty();
        }
        out.append("    deep%d=%s%n".formatted(k, file(delivery, deep.get())));
      }
    }
    return Optional.of(out.toString());
  }

  private static String file(Delivery delivery, Delivery.Entry entry) throws InputException {
    if (!Quoting.isImageFile(entry.path())) {
      throw new InputException(
          delivery.folder().resolve(Delivery.MANIFEST),
          "files",
          "the image tool cannot open a name with ? as '%s' has".formatted(entry.path()));
    }
    return Quoting.imageFile(entry.path());
  }
}
