package org.wedgecutter.core.deliver.unit;

import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.wedgecutter.core.deliver.Unit;
import org.wedgecutter.core.fragment.LayerPictures;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.plan.Output;
import org.wedgecutter.exr.ExrWriter;

/** Reports what would go wrong with a delivery's files before anything is rendered. */
final class DeliveryChecks {
  private DeliveryChecks() {}

  /**
   * Checks names of files and of channels, and that the pictures of the recipe and of a numbered
   * plate are there.
   *
   * @throws InputException if files would share a name, a channel's name is too long, or a picture
   *     is missing at a frame
   */
  static void run(LoadedShot shot, DeliveryOrder order, List<Unit> wanted, UnitFiles files)
      throws InputException {
    List<String> titles = LayerPictures.passTitles(shot.resolve(order.frames().getFirst()));
    collisions(shot, wanted, files, titles);
    channels(shot, titles);
    List<String> pictures = new ArrayList<>(shot.plan().recipe().pictures());
    if (shot.plan().requireShot().plate().isNumbered()) {
      pictures.add(shot.plan().requireShot().plate().image());
    }
    for (String picture : pictures) {
      for (int frame : order.frames()) {
        shot.numberedPictures().file(picture, frame);
      }
    }
  }

  /**
   * Names of channels come from names in the scene and the plan, and have a bound in the format.
   */
  private static void channels(LoadedShot shot, List<String> titles) throws InputException {
    for (String title : titles) {
      int bytes = (title + ".R").getBytes(StandardCharsets.UTF_8).length;
      if (bytes > ExrWriter.MOST_NAME) {
        throw new InputException(
            shot.file(),
            "output/more",
            "the pass '%s…' has a name of %d bytes; OpenEXR takes %d"
                .formatted(title.substring(0, 40), bytes, ExrWriter.MOST_NAME));
      }
    }
  }

  private static void collisions(
      LoadedShot shot, List<Unit> wanted, UnitFiles files, List<String> titles)
      throws InputException {
    Map<String, String> taken = new HashMap<>();
    for (Unit unit : wanted) {
      if (shot.plan().output().copies().contains(Output.Copy.FRAME)) {
        taken.put(files.contents().frameName(unit.frame()), "frame");
      }
    }
    for (Unit unit : wanted) {
      for (String name : files.contents().names(unit.key(), titles)) {
        String other = taken.putIfAbsent(name, unit.layer());
        if (other != null) {
          throw new InputException(
              shot.file(),
              "output/name",
              "layers '%s' and '%s' would share the file %s".formatted(other, unit.layer(), name));
        }
      }
    }
  }
}
