package org.wedgecutter.core.check;

import java.util.ArrayList;
import java.util.List;
import org.wedgecutter.core.mistake.Mistake;
import org.wedgecutter.core.plan.Cell;
import org.wedgecutter.core.plan.CellOverride;
import org.wedgecutter.core.plan.LayerDef;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.Property;
import org.wedgecutter.core.plan.Shot;
import org.wedgecutter.core.plan.Value;
import org.wedgecutter.core.proof.Cause;
import org.wedgecutter.core.proof.CauseFinder;
import org.wedgecutter.core.resolve.EntitySet;
import org.wedgecutter.core.resolve.LayerFrames;
import org.wedgecutter.core.resolve.Members;
import org.wedgecutter.core.resolve.ResolvedShot;
import org.wedgecutter.core.resolve.Resolver;

/**
 * Whether every entity is seen exactly once, over the frames of a shot. Roles change over frames
 * only where {@code visible.camera} is keyed; frames with the same answer are one span.
 */
public final class SeenTable {
  private SeenTable() {}

  /**
   * Frames in a row with the same answer.
   *
   * @param first first frame
   * @param last last frame
   * @param causes entities that are Seen never or more than once, and in which layers
   */
  public record Span(int first, int last, List<Cause> causes) {
    public Span {
      causes = List.copyOf(causes);
    }

    /** Returns what no layer shows. */
    public EntitySet never() {
      return of(Mistake.SEEN_NOWHERE);
    }

    /** Returns what several layers show. */
    public EntitySet twice() {
      return of(Mistake.SEEN_TWICE);
    }

    private EntitySet of(Mistake kind) {
      EntitySet out = EntitySet.NONE;
      for (Cause c : causes) {
        if (c.kind() == kind) {
          out = out.or(EntitySet.of(c.entities()));
        }
      }
      return out;
    }
  }

  /**
   * Returns the table for all frames of a plan.
   *
   * @param resolved what the layers are at some frame; used if the answer is the same at all
   */
  public static List<Span> of(Plan plan, Members members, ResolvedShot resolved) {
    Shot shot = plan.requireShot();
    List<Integer> frames = shot.frames().frames();
    List<Span> out = new ArrayList<>();
    List<Value> before = null;
    for (int frame : frames) {
      List<Value> state = state(plan, shot, frame);
      if (state.equals(before)) {
        Span last = out.removeLast();
        out.add(new Span(last.first(), frame, last.causes()));
      } else {
        ResolvedShot at = state.isEmpty() ? resolved : Resolver.resolve(plan, members, frame);
        List<Cause> causes =
            CauseFinder.partition(plan, members.scene(), at).stream()
                .filter(c ->
                    c.kind() == Mistake.SEEN_NOWHERE
                        || c.kind() == Mistake.SEEN_TWICE
                        || c.kind() == Mistake.SEEN_IN_RATIO)
                .toList();
        boolean same = !out.isEmpty() && out.getLast().causes().equals(causes);
        int first = same ? out.removeLast().first() : frame;
        out.add(new Span(first, frame, causes));
      }
      before = state;
    }
    return out;
  }

  /** All that roles depend on at a frame; empty if they do not depend on it. */
  private static List<Value> state(Plan plan, Shot shot, int frame) {
    List<Value> out = new ArrayList<>();
    for (LayerDef layer : plan.layers()) {
      int held = LayerFrames.of(layer, shot).held(frame);
      layer.cells().values().forEach(c -> state(c, held, out));
      state(layer.rest(), held, out);
    }
    return out;
  }

  private static void state(Cell cell, int frame, List<Value> out) {
    for (CellOverride o : cell.overrides()) {
      if (o.on() && o.property() == Property.VISIBLE_CAMERA && o.keyed()) {
        out.add(o.at(frame));
      }
    }
  }
}
