package org.wedgecutter.core.trace;

import java.util.List;
import org.wedgecutter.core.resolve.EntitySet;
import org.wedgecutter.core.resolve.TransportClass;

/**
 * One trace: a transport class, and the views of it along the camera segment.
 *
 * @param transport what is beyond the camera segment
 * @param casters entities whose bounced diffuse light is kept apart, for catchers; may be empty
 * @param views the views; fragments carry their number in this list
 * @param split how light is split
 * @param interplay whether interplay is measured
 */
public record TraceJob(
    TransportClass transport,
    EntitySet casters,
    List<View> views,
    LightSplit split,
    boolean interplay) {
  public TraceJob {
    views = List.copyOf(views);
  }

  /** A trace whose light is kept in the plain parts. */
  public TraceJob(TransportClass transport, EntitySet casters, List<View> views) {
    this(transport, casters, views, LightSplit.PLAIN, false);
  }

  /**
   * One view along the camera segment.
   *
   * @param skipped entities that the camera looks through: Unseen or Absent
   * @param wanted entities whose fragments are asked for; the others only hide what is behind them
   * @param deep those of them whose fragments are kept by depth, too
   */
  public record View(EntitySet skipped, EntitySet wanted, EntitySet deep) {
    /** A view of which nothing is kept by depth. */
    public View(EntitySet skipped, EntitySet wanted) {
      this(skipped, wanted, EntitySet.NONE);
    }

    /** Whether it holds all that another view holds. */
    public boolean covers(View other) {
      return skipped.equals(other.skipped)
          && wanted.containsAll(other.wanted)
          && deep.containsAll(other.deep);
    }
  }
}
