package org.wedgecutter.app.station.output;

import java.util.Map;
import java.util.Set;
import org.wedgecutter.core.plan.Output;

/** Passes by what they are for. */
enum OutputPreset {
  /** Colours are corrected by layer and by matte. */
  GRADING(
      "Grading",
      "the beauty's components, ID mattes, depth and normals",
      true,
      Set.of(Output.More.IDS, Output.More.DEPTH, Output.More.NORMAL)),
  /** Levels of lights are changed. */
  RELIGHTING(
      "Relighting",
      "one pass for each light or light group, and ID mattes",
      false,
      Set.of(Output.More.LIGHTS, Output.More.IDS)),
  /** Nothing but what selects pixels. */
  MATTES(
      "Mattes only",
      "ID mattes and depth, no light passes",
      false,
      Set.of(Output.More.IDS, Output.More.DEPTH)),
  /** Objects are set into a filmed plate. */
  INSERT(
      "Plate insert",
      "shadow, depth, motion and ID mattes, as tracking and blur need them",
      false,
      Set.of(Output.More.SHADOW, Output.More.DEPTH, Output.More.MOTION, Output.More.IDS));

  private final String title;
  private final String about;
  private final boolean components;
  private final Set<Output.More> more;

  OutputPreset(String title, String about, boolean components, Set<Output.More> more) {
    this.title = title;
    this.about = about;
    this.components = components;
    this.more = more;
  }

  /** Returns its name. */
  String title() {
    return title;
  }

  /** Returns what it switches on. */
  String about() {
    return about;
  }

  /** Returns an output with its passes, in all layers, and no others. */
  Output of(Output output) {
    return output.with(o -> {
      o.passes = components;
      o.more = more;
      o.leftOut = Map.of();
    });
  }
}
