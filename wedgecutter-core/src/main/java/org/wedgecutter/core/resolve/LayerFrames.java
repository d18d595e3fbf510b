package org.wedgecutter.core.resolve;

import java.util.List;
import org.wedgecutter.core.plan.FrameRange;
import org.wedgecutter.core.plan.LayerDef;
import org.wedgecutter.core.plan.Property;
import org.wedgecutter.core.plan.Shot;
import org.wedgecutter.core.plan.Value;

/**
 * The frames that a layer is rendered at: its own range, or the shot's. At other frames the last
 * one before is held; before the first, the first.
 *
 * @param frames ascending, at least one
 * @param own whether the layer has a range of its own
 */
public record LayerFrames(List<Integer> frames, boolean own) {
  public LayerFrames {
    frames = List.copyOf(frames);
  }

  /** Returns a layer's frames. */
  public static LayerFrames of(LayerDef layer, Shot shot) {
    return layer
        .setting(Property.FRAMES)
        .map(o -> new LayerFrames(FrameRange.parse(((Value.Text) o.at(0)).word()).frames(), true))
        .orElseGet(() -> new LayerFrames(shot.frames().frames(), false));
  }

  /** Whether the layer is rendered at a frame; every frame is if it has no range of its own. */
  public boolean rendered(int frame) {
    return !own || frames.contains(frame);
  }

  /** Returns the frame whose picture the layer has at a frame. */
  public int held(int frame) {
    if (!own) {
      return frame;
    }
    int at = frames.getFirst();
    for (int f : frames) {
      at = f <= frame ? f : at;
    }
    return at;
  }
}
