package org.wedgecutter.core.deliver;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.core.plan.Correction;
import org.wedgecutter.core.plan.FrameRange;
import org.wedgecutter.core.plan.Join;
import org.wedgecutter.core.plan.LayerDef;
import org.wedgecutter.core.plan.Property;
import org.wedgecutter.core.plan.Recipe;
import org.wedgecutter.core.rejoin.Evaluation;

/**
 * A shell script that rejoins the layers of a delivery by oiiotool, OpenImageIO's command line: the
 * same joins by a program that knows nothing of this one.
 *
 * <p>Each join leaves one picture on the tool's stack. Over wants the front first, so the two are
 * swapped. A ratio leaves alpha alone, so its own is set to 1. A catcher's one picture is {@code c
 * + (1 - a) r} for colours and leaves alpha alone: {@code r} is multiplied by 1 minus its alpha in
 * all colours, and then its colours are added.
 *
 * <p>Corrections of whole layers are done where the tool has the like. Its gamma knows no negative
 * light, which layers of differences have.
 */
public final class JoinScript {
  private JoinScript() {}

  /**
   * Returns the script.
   *
   * @throws InputException if a layer that is joined has a size of its own, or if there is no frame
   *     for which every joined layer has a file
   */
  public static String text(Delivery delivery) throws InputException {
    Path manifest = delivery.folder().resolve(Delivery.MANIFEST);
    List<Integer> all = delivery.frames();
    // layers that are disabled and have no files are not joined
    List<Recipe.Step> steps =
        all.isEmpty() ? List.of() : DeliveryProof.joined(delivery, all.getFirst()).joins();
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
      throw new InputException(manifest, "files", "no frame has a file of every joined layer");
    }
    for (int k = 0; k < steps.size(); k++) {
      Join join = steps.get(k).join();
      if (steps.get(k).light() != Recipe.Light.ALL) {
        throw new InputException(
            manifest,
            "plan/recipe/joins/" + k,
            "a ratio of %s light alone is not in the script; rejoin the frames by the command"
                .formatted(steps.get(k).light().word()));
      }
      if (join == Join.MATTE || join == Join.DEPTH || join == Join.DEEP) {
        throw new InputException(
            manifest,
            "plan/recipe/joins/" + k,
            "a join by %s is not in the script; rejoin the frames by the command"
                .formatted(join.word()));
      }
    }
    if (delivery.plan().recipe().background().exists()) {
      throw new InputException(
          manifest,
          "plan/recipe/background",
          "a background is not in the script; rejoin the frames by the command");
    }
    StringBuilder joins = new StringBuilder();
    for (int k = 0; k < steps.size(); k++) {
      joins.append(
          " \\\n  \"$layer%d\" --ch R,G,B,A%s%s"
              .formatted(
                  k,
                  corrections(delivery, manifest, steps.get(k).layer()),
                  join(steps.get(k), k == 0)));
    }
    joins.append(corrections(delivery, manifest, ""));
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
    oiiotool%s \\
      -d float -o "$2"
    """
        .formatted(
            delivery.plan().requireShot().scene(), cases, FrameRange.of(frames).text(), joins);
  }

  private static Optional<String> files(Delivery delivery, List<Recipe.Step> steps, int frame) {
    StringBuilder out = new StringBuilder();
    for (int k = 0; k < steps.size(); k++) {
      Optional<Delivery.Entry> file = delivery.held(steps.get(k).layer(), frame);
      if (file.isEmpty()) {
        return Optional.empty();
      }
      out.append("    layer%d=%s%n".formatted(k, quoted(file.get().path())));
    }
    return Optional.of(out.toString());
  }

  private static String quoted(String path) {
    return "'" + path.replace("'", "'\\''") + "'";
  }

  /** The corrections of a layer, or of what is rejoined. */
  private static String corrections(Delivery delivery, Path manifest, String layer)
      throws InputException {
    StringBuilder out = new StringBuilder();
    for (Correction c : delivery.plan().recipe().corrections()) {
      if (!c.on() || !c.layer().equals(layer)) {
        continue;
      }
      boolean whole =
          c.pass().isEmpty() && c.matte().isEmpty() && c.reach() == Correction.Reach.LAYER;
      String command = whole ? command(c) : null;
      if (command == null) {
        String of =
            !c.pass().isEmpty()
                ? " of the pass " + c.pass()
                : !c.matte().isEmpty()
                    ? " through the matte " + c.matte()
                    : whole ? "" : " of a layer and all behind it";
        throw new InputException(
            manifest,
            "plan/recipe/corrections",
            "a %s%s is not in the script; expected %s of a whole layer, or switch it off"
                .formatted(
                    c.type().word(),
                    of,
                    "exposure, gain, offset, gamma, saturation, hue, temperature or fade"));
      }
      out.append(command);
    }
    return out.toString();
  }

  private static @Nullable String command(Correction c) {
    if (c.type() == Correction.Type.FADE) {
      return " --mulc " + c.values().getFirst();
    }
    double[] m = Evaluation.matrix(c);
    if (m != null) {
      // the tool multiplies from the left: its rows are our columns
      return " --ccmatrix:unpremult=0 %s,%s,%s,0,%s,%s,%s,0,%s,%s,%s,0,0,0,0,1"
          .formatted(m[0], m[3], m[6], m[1], m[4], m[7], m[2], m[5], m[8]);
    }
    List<Double> v = c.values();
    return switch (c.type()) {
      case OFFSET ->
          " --label o --ch R=A,G=A,B=A,A=0 --mulc %s,%s,%s,0 o --add"
              .formatted(v.get(0), v.get(1), v.get(2));
      // light without alpha would be lost with it, so that is taken by itself and added
      case GAMMA ->
          (" --label g --unpremult --powc %1$s,%1$s,%1$s,1 --premult --label h --pop"
                  + " g --powc %1$s,%1$s,%1$s,1 g --ch R=A,G=A,B=A,A=A --mulc 1e30 --minc 1"
                  + " --mulc -1 --addc 1 --mul h --add")
              .formatted(1 / v.get(0));
      default -> null;
    };
  }

  /** What follows a layer, which is on the stack above what is behind it. */
  private static String join(Recipe.Step step, boolean first) {
    if (first) {
      return onto(step.join()) + (step.opacity() == 1 ? "" : " --mulc " + step.opacity());
    }
    if (step.opacity() == 1) {
      return whole(step.join());
    }
    // what is behind is kept, and mixed with what the join makes of it
    return " --label f --pop --label r f%s --mulc %s r --mulc %s --add"
        .formatted(whole(step.join()), step.opacity(), 1 - step.opacity());
  }

  /** The join onto black. */
  private static String onto(Join join) {
    return switch (join) {
      case PLUS, OVER, SCREEN -> "";
      case MATTE, DEPTH, DEEP -> throw new IllegalArgumentException(join.word());
      case TIMES -> " --mulc 0";
      // there is nothing behind to darken, and alpha is left alone
      case CATCH -> " --ch R,G,B,A=0";
      case MIN -> " --minc 0";
      case MAX -> " --maxc 0";
      case DIFFERENCE -> " --abs";
    };
  }

  private static String whole(Join join) {
    return switch (join) {
      case PLUS -> " --add";
      case OVER -> " --swap --over";
      case MATTE, DEPTH, DEEP -> throw new IllegalArgumentException(join.word());
      case TIMES -> " --ch R,G,B,A=1 --mul";
      case CATCH ->
          " --label c --pop c --ch R=A,G=A,B=A,A=0 --mulc -1 --addc 1 --mul c --ch R,G,B,A=0 --add";
      // r + c - r c is 1 - (1 - r)(1 - c)
      case SCREEN -> " --mulc -1 --addc 1 --swap --mulc -1 --addc 1 --mul --mulc -1 --addc 1";
      case MIN -> " --min";
      case MAX -> " --max";
      case DIFFERENCE -> " --absdiff";
    };
  }
}
