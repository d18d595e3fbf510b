package org.wedgecutter.core.testing;

import java.nio.file.Path;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.PlanReader;
import org.wedgecutter.core.scene.Scene;

/** Shots of scenes that are made, not read. */
public final class Shots {
  private Shots() {}

  /**
   * Returns a shot.
   *
   * @param shot further keys of the plan's shot, as JSON, such as {@code "samples": 4}
   * @param rest collections, layers and recipe, as JSON; empty for one layer of everything
   */
  public static LoadedShot of(Scene scene, String frames, String shot, String rest) {
    String text =
        """
        {"wedgecutter": 1,
         "shot": {"scene": "made.glb", "frames": "%s", "fps": 1, "size": [64, 48]%s%s},
         %s}
        """
            .formatted(
                frames,
                shot.isEmpty() ? "" : ", ",
                shot,
                rest.isEmpty()
                    ? "\"collections\": [], \"layers\": [{\"name\": \"All\", \"cells\": {}, \"rest\": {\"role\": \"Seen\"}}],"
                        + " \"recipe\": {\"joins\": [{\"layer\": \"All\", \"join\": \"plus\"}]}"
                    : rest);
    try {
      Path file = Path.of("made.wedge").toAbsolutePath();
      Plan plan = PlanReader.parse(text, file);
      return LoadedShot.over(file, plan, scene);
    } catch (java.io.IOException e) {
      throw new java.io.UncheckedIOException(e);
    }
  }
}
