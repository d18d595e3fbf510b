package org.wedgecutter.core.resolve;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.plan.Plan;

/**
 * Which frames of a layer are the same picture, by proof: everything that its pixels depend on has
 * the same digest over the shutter. Such frames are rendered once and held.
 *
 * <p>A layer depends on its roles, its transport class (which compares what is present by {@link
 * org.wedgecutter.core.scene.TimeDigest}), what it catches, and on its noise filter, which reads
 * the uncut frame. Random numbers do not depend on the frame, so frames that are the same in this
 * sense have the same bits.
 */
public final class HeldFrames {
  private final List<Integer> frames;

  /** Of each layer, and last of the uncut frame, by frame: the first frame that is the same. */
  private final List<Map<Integer, Integer>> first;

  private HeldFrames(List<Integer> frames, List<Map<Integer, Integer>> first) {
    this.frames = frames;
    this.first = first;
  }

  /** What one column of the sheet is at a frame. */
  private record State(Object picture, Seen seen, double denoise, Object filter, int plate) {}

  /** What the camera sees, whether or not it takes part in the light. */
  private record Seen(TransportClass transport, EntitySet skipped) {
    @Override
    public boolean equals(@Nullable Object other) {
      return other instanceof Seen that
          && skipped.equals(that.skipped)
          && transport.isSeenSameAt(that.transport.time(), skipped);
    }

    @Override
    public int hashCode() {
      // with the time in it, for else all frames of a shot that moves have the same
      return transport.time().hash(e -> !skipped.contains(e));
    }
  }

  /** Compares the frames of a shot. */
  public static HeldFrames of(Plan plan, Members members) {
    return of(plan, members, plan.requireShot().frames().frames());
  }

  /** Compares some frames, ascending. */
  public static HeldFrames of(Plan plan, Members members, List<Integer> frames) {
    int columns = plan.layers().size() + 1;
    List<Map<Integer, Integer>> first = new ArrayList<>();
    List<Map<State, Integer>> known = new ArrayList<>();
    for (int c = 0; c < columns; c++) {
      first.add(new LinkedHashMap<>());
      known.add(new LinkedHashMap<>());
    }
    boolean moves = plan.requireShot().plate().isNumbered();
    for (int frame : frames) {
      ResolvedShot shot = Resolver.resolve(plan, members, frame);
      for (int c = 0; c < columns; c++) {
        State state = state(shot, c, moves ? frame : 0);
        first.get(c).put(frame, known.get(c).computeIfAbsent(state, s -> frame));
      }
    }
    return new HeldFrames(List.copyOf(frames), first);
  }

  /**
   * @param plate the frame of the plate that is shown; 0 if it is the same at all
   */
  private static State state(ResolvedShot shot, int column, int plate) {
    boolean uncut = column == shot.layers().size();
    double denoise = uncut ? shot.asked().denoise() : shot.asked().denoise(column);
    // without a filter the uncut frame has no part in a layer
    Object filter = denoise > 0 ? shot.uncut() : "";
    if (uncut) {
      Seen all = new Seen(shot.uncut(), EntitySet.NONE);
      return new State(shot.uncut(), all, denoise, filter, plate);
    }
    ResolvedLayer layer = shot.layers().get(column);
    boolean shows = layer.seen().meets(shot.platePart());
    Seen seen = new Seen(layer.transport(), layer.skipped());
    return new State(layer, seen, denoise, filter, shows ? plate : 0);
  }

  /** Returns the frames that were compared. */
  public List<Integer> frames() {
    return frames;
  }

  /** Returns the first frame at which a layer is the same as at a frame. */
  public int from(int layer, int frame) {
    return Objects.requireNonNull(first.get(layer).get(frame), "not among the frames");
  }

  /** Returns the first frame at which the uncut frame is the same as at a frame. */
  public int uncutFrom(int frame) {
    return from(first.size() - 1, frame);
  }

  /** Returns how many different pictures a layer has. */
  public int pictures(int layer) {
    return (int) first.get(layer).values().stream().distinct().count();
  }

  /** Returns how many different pictures the uncut frame has. */
  public int uncutPictures() {
    return pictures(first.size() - 1);
  }

  /** Returns the frames at which a layer is the same as at a frame, ascending. */
  public List<Integer> same(int layer, int frame) {
    int of = from(layer, frame);
    return frames.stream().filter(f -> from(layer, f) == of).toList();
  }
}
