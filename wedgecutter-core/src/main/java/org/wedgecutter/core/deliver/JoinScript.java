package org.wedgecutter.core.deliver;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.core.plan.FrameRange;
import org.wedgecutter.core.plan.Join;
import org.wedgecutter.core.plan.LayerDef;
import org.wedgecutter.core.plan.Property;
import org.wedgecutter.core.plan.Recipe;

/**
 * A shell script that rejoins the layers of a delivery by oiiotool, OpenImageIO's command line: the
 * same joins by a program that knows nothing of this one.
 *
 * <p>Each join leaves one picture on the tool's stack. Over wants the front first, so the two are
 * swapped. A ratio leaves alpha alone, so its own is set to 1. A catcher's one picture is {@code c
 * + (1 - a) r} for colours and leaves alpha alone: {@code r} is multiplied by 1 minus its alpha in
 * all colours, and then its colours are added.
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
    StringBuilder joins = new StringBuilder();
    for (int k = 0; k < steps.size(); k++) {
      joins.append(" \\\n  \"$layer%d\" --ch R,G,B,A%s".formatted(k, join(steps.get(k), k == 0)));
    }
    return """
    #!/bin/sh
    # Rejoins the layers of the delivery of %s, from the back to the front, by oiiotool.
    #
    #   sh SCRIPT DELIVERY FRAME OUT.exr
    set -eu
    if [ $# -ne 3 ]; then
      echo "usage: sh $0 DELIVERY FRAME OUT.exr" >&2
      exit 2
    fi
    case "$3" in
      /*) out=$3 ;;
      *) out=$(pwd)/$3 ;;
    esac
    cd "$1"
    case "$2" in
    %s  *)
        echo "frame $2 is not there; expected one of %s" >&2
        exit 2
        ;;
    esac
    oiiotool%s \\
      -d float -o "$out"
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
