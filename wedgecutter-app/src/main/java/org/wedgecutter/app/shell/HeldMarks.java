package org.wedgecutter.app.shell;

import java.util.List;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.resolve.HeldFrames;

/** Marks on the timeline the frames at which the selected layer is held. */
final class HeldMarks {
  private final Timeline timeline;
  private @Nullable Plan of;
  private @Nullable HeldFrames frames;

  HeldMarks(Timeline timeline) {
    this.timeline = timeline;
  }

  /** Sets the held frames of a plan. */
  void found(Plan plan, HeldFrames held) {
    of = plan;
    frames = held;
  }

  /** Clears the held frames of another shot. */
  void forget() {
    of = null;
    frames = null;
  }

  /** Marks a layer of a plan; nothing while the held frames of that plan are unknown. */
  void show(Plan plan, int layer) {
    HeldFrames known = frames;
    List<Integer> all = plan.requireShot().frames().frames();
    boolean[] held = new boolean[all.size()];
    if (known == null || !plan.equals(of) || layer < 0 || layer >= plan.layers().size()) {
      timeline.setHeld(held, 0);
      return;
    }
    for (int f = 0; f < held.length; f++) {
      int frame = all.get(f);
      held[f] = known.frames().contains(frame) && known.from(layer, frame) != frame;
    }
    timeline.setHeld(held, plan.layers().get(layer).hue());
  }
}
