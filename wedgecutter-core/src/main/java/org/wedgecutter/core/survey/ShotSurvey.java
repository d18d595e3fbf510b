package org.wedgecutter.core.survey;

import java.util.ArrayList;
import java.util.Collections;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.SortedMap;
import java.util.TreeMap;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.measure.InterplayTable;
import org.wedgecutter.core.motion.MotionTable;
import org.wedgecutter.core.resolve.EntitySet;
import org.wedgecutter.core.scene.Entity;
import org.wedgecutter.core.scene.EntityKind;
import org.wedgecutter.core.scene.Scene;
import org.wedgecutter.core.trace.SightLines;

/**
 * A shot, read: what changes when, what is in front of what, who lights whom, and which frames
 * matter. Regrouping by other parts traces nothing again.
 */
public final class ShotSurvey {
  private final Parts parts;
  private final int[] partOf;
  private final boolean[] surfaces;
  private final boolean[] isSurface;
  private final Changes changes;
  private final MotionTable motion;
  private final SortedMap<Integer, SightLines> sights;
  private final SortedMap<Integer, DepthOrder> orders = new TreeMap<>();
  private final SortedMap<Integer, FrameSurvey> traced;

  /**
   * A pair of parts that is not one in front of the other throughout.
   *
   * @param part the one that is nearer at fewer frames
   * @param other the other one
   * @param frames the frames at which they interlock, or at which their order has changed since the
   *     frame before; ascending
   */
  public record Crossing(int part, int other, List<Integer> frames) {}

  /**
   * @param sights the sight lines of frames, by frame
   * @param traced what quick traces told, by frame; may be empty
   */
  public ShotSurvey(
      LoadedShot shot,
      Parts parts,
      SortedMap<Integer, SightLines> sights,
      SortedMap<Integer, FrameSurvey> traced) {
    this(
        parts,
        surfaces(shot.scene()),
        Changes.of(shot.plan(), shot.members()),
        MotionTable.of(shot.plan().requireShot(), shot.scene()),
        sights,
        traced);
  }

  private ShotSurvey(
      Parts parts,
      boolean[] isSurface,
      Changes changes,
      MotionTable motion,
      SortedMap<Integer, SightLines> sights,
      SortedMap<Integer, FrameSurvey> traced) {
    this.parts = parts;
    this.isSurface = isSurface;
    partOf = parts.byEntity(isSurface.length);
    surfaces = new boolean[parts.size()];
    for (int e = 0; e < partOf.length; e++) {
      if (partOf[e] >= 0) {
        surfaces[partOf[e]] |= isSurface[e];
      }
    }
    this.changes = changes;
    this.motion = motion;
    this.sights = Collections.unmodifiableSortedMap(new TreeMap<>(sights));
    this.traced = Collections.unmodifiableSortedMap(new TreeMap<>(traced));
    sights.forEach((frame, lines) -> orders.put(frame, DepthOrder.of(lines, partOf, parts.size())));
  }

  private static boolean[] surfaces(Scene scene) {
    boolean[] out = new boolean[scene.entities().size()];
    for (Entity e : scene.entities()) {
      out[e.index()] = e.kind() == EntityKind.MESH;
    }
    return out;
  }

  /** Returns the survey with more frames traced. */
  public ShotSurvey with(Map<Integer, FrameSurvey> more) {
    SortedMap<Integer, FrameSurvey> all = new TreeMap<>(traced);
    all.putAll(more);
    return new ShotSurvey(parts, isSurface, changes, motion, sights, all);
  }

  /** Returns the survey by other parts. */
  public ShotSurvey by(Parts other) {
    return new ShotSurvey(other, isSurface, changes, motion, sights, traced);
  }

  /** Returns the parts. */
  public Parts parts() {
    return parts;
  }

  /** Returns the part of an entity. */
  public int partOf(int entity) {
    return partOf[entity];
  }

  /** Returns what changes. */
  public Changes changes() {
    return changes;
  }

  /** Returns the frames whose sight lines are there, ascending. */
  public List<Integer> frames() {
    return List.copyOf(sights.keySet());
  }

  /** Returns the sight lines, by frame. */
  public SortedMap<Integer, SightLines> sights() {
    return sights;
  }

  /** Returns what quick traces told, by frame. */
  public SortedMap<Integer, FrameSurvey> traced() {
    return traced;
  }

  /** Returns the order in depth of the parts at a frame. */
  public DepthOrder order(int frame) {
    DepthOrder order = orders.get(frame);
    if (order == null) {
      throw new IllegalArgumentException("frame %d was not looked at".formatted(frame));
    }
    return order;
  }

  /**
   * Returns the share of the picture in which a part is the nearest of all. Of a part without
   * surfaces (media, the environment): its share of alpha at the traced frame nearest to it.
   */
  public double coverage(int part, int frame) {
    return surfaces[part] ? order(frame).foremost(part) : thin(part, frame);
  }

  private double thin(int part, int frame) {
    FrameSurvey nearest = null;
    for (FrameSurvey f : traced.values()) {
      if (nearest == null || Math.abs(f.frame() - frame) < Math.abs(nearest.frame() - frame)) {
        nearest = f;
      }
    }
    double sum = 0;
    for (int e : parts.parts().get(part).entities().indices()) {
      sum += nearest == null ? 0 : nearest.coverage()[e];
    }
    return sum;
  }

  /** Returns the frames at which a part is in the picture, ascending. */
  public List<Integer> visible(int part) {
    return frames().stream().filter(f -> coverage(part, f) > 0).toList();
  }

  /** Returns who lights whom over the traced frames. */
  public LightMatrix matrix() {
    return LightMatrix.of(
        traced.values().stream().map(FrameSurvey::interplay).toList(), partOf, parts.size());
  }

  /** Returns who lights whom at a traced frame. */
  public LightMatrix matrix(int frame) {
    FrameSurvey f = traced.get(frame);
    return LightMatrix.of(f == null ? List.of() : List.of(f.interplay()), partOf, parts.size());
  }

  /**
   * Returns what some entities do to the light of others over the traced frames, as a share of it:
   * see {@link InterplayTable#share}.
   */
  public double share(EntitySet of, EntitySet by) {
    double light = 0;
    double affected = 0;
    for (FrameSurvey f : traced.values()) {
      double own = f.interplay().light(of);
      light += own;
      affected += own * f.interplay().share(of, by);
    }
    return light > 0 ? affected / light : 0;
  }

  /** Returns the order of two parts over all frames: the same throughout, or interlocked. */
  public DepthOrder.Order order(int a, int b) {
    boolean front = false;
    boolean behind = false;
    for (DepthOrder o : orders.values()) {
      DepthOrder.Order own = o.order(a, b);
      front |= own == DepthOrder.Order.FRONT || own == DepthOrder.Order.INTERLOCKED;
      behind |= own == DepthOrder.Order.BEHIND || own == DepthOrder.Order.INTERLOCKED;
    }
    return front && behind
        ? DepthOrder.Order.INTERLOCKED
        : front ? DepthOrder.Order.FRONT : behind ? DepthOrder.Order.BEHIND : DepthOrder.Order.NONE;
  }

  /** Returns the pairs that interlock or change places. */
  public List<Crossing> crossings() {
    List<Crossing> out = new ArrayList<>();
    for (int a = 0; a < parts.size(); a++) {
      for (int b = a + 1; b < parts.size(); b++) {
        if (order(a, b) == DepthOrder.Order.INTERLOCKED) {
          out.add(crossing(a, b));
        }
      }
    }
    return out;
  }

  private Crossing crossing(int a, int b) {
    List<Integer> frames = new ArrayList<>();
    DepthOrder.Order before = DepthOrder.Order.NONE;
    int front = 0;
    int behind = 0;
    for (Map.Entry<Integer, DepthOrder> at : orders.entrySet()) {
      DepthOrder.Order own = at.getValue().order(a, b);
      if (own == DepthOrder.Order.NONE) {
        continue;
      }
      boolean turned = before != DepthOrder.Order.NONE && own != before;
      if (own == DepthOrder.Order.INTERLOCKED || turned) {
        frames.add(at.getKey());
      }
      front += own == DepthOrder.Order.FRONT ? 1 : 0;
      behind += own == DepthOrder.Order.BEHIND ? 1 : 0;
      before = own;
    }
    // what moves crosses what stands
    boolean moves = changes.kind(parts.parts().get(a).entities()) != Changes.Kind.STILL;
    boolean otherMoves = changes.kind(parts.parts().get(b).entities()) != Changes.Kind.STILL;
    boolean swap = moves == otherMoves ? front > behind : otherMoves;
    return swap ? new Crossing(b, a, frames) : new Crossing(a, b, frames);
  }

  /** Returns the frames that matter, ascending. */
  public List<Matter> matters() {
    SortedMap<Integer, List<Matter.Reason>> found = new TreeMap<>();
    List<Integer> frames = frames();
    for (int p = 0; p < parts.size() && !frames.isEmpty(); p++) {
      List<Integer> visible = visible(p);
      if (visible.isEmpty()) {
        continue;
      }
      comesAndGoes(found, p, visible);
      int part = p;
      if (changes.kind(parts.parts().get(p).entities()) != Changes.Kind.STILL) {
        Comparator<Integer> byCoverage = Comparator.comparingDouble(f -> coverage(part, f));
        add(found, Collections.max(visible, byCoverage), Matter.Event.MOST_SEEN, p, -1);
        Comparator<Integer> bySpeed = Comparator.comparingDouble(f -> speed(part, f));
        add(found, Collections.max(visible, bySpeed), Matter.Event.FASTEST, p, -1);
      }
    }
    for (Crossing c : crossings()) {
      List<Integer> at = c.frames();
      if (at.size() < frames.size() && !at.isEmpty()) {
        add(found, at.get(at.size() / 2), Matter.Event.CROSSING, c.part(), c.other());
      }
    }
    if (traced.size() > 1) {
      int most = Collections.max(traced.keySet(), Comparator.comparingDouble(f -> matrix(f).all()));
      add(found, most, Matter.Event.INTERPLAY, -1, -1);
    }
    List<Matter> out = new ArrayList<>();
    found.forEach((frame, reasons) -> out.add(new Matter(frame, reasons)));
    return out;
  }

  /** Adds where a part comes into the picture, or out from behind others, and where it goes. */
  private void comesAndGoes(
      SortedMap<Integer, List<Matter.Reason>> found, int part, List<Integer> visible) {
    List<Integer> frames = frames();
    for (int k = 0; k < frames.size(); k++) {
      boolean now = visible.contains(frames.get(k));
      boolean before = k == 0 || visible.contains(frames.get(k - 1));
      boolean after = k + 1 == frames.size() || visible.contains(frames.get(k + 1));
      if (now && !before) {
        add(found, frames.get(k), Matter.Event.APPEARS, part, -1);
      }
      if (now && !after) {
        add(found, frames.get(k), Matter.Event.GOES, part, -1);
      }
    }
  }

  private void add(
      SortedMap<Integer, List<Matter.Reason>> found,
      int frame,
      Matter.Event event,
      int part,
      int other) {
    found
        .computeIfAbsent(frame, f -> new ArrayList<>())
        .add(
            new Matter.Reason(
                event, part < 0 ? "" : parts.name(part), other < 0 ? "" : parts.name(other)));
  }

  /** How fast a part moves at a frame, by its entities' own fastest; 0 if it is still. */
  private double speed(int part, int frame) {
    int at = Collections.binarySearch(changes.frames(), frame);
    double sum = 0;
    for (int e : parts.parts().get(part).entities().indices()) {
      double[] own = motion.byEntity()[e];
      sum += at >= 0 && at < own.length ? own[at] : 0;
    }
    return sum;
  }

  /**
   * Returns the frames to trace first: the first one, and those that matter most, spread over the
   * range; ascending.
   *
   * @param most how many at most
   */
  public List<Integer> toTrace(int most) {
    List<Integer> frames = frames();
    if (frames.isEmpty()) {
      return List.of();
    }
    List<Matter> matters = new ArrayList<>(matters());
    matters.sort(Comparator.comparingInt(m -> -m.weight()));
    java.util.TreeSet<Integer> out = new java.util.TreeSet<>(List.of(frames.getFirst()));
    boolean anythingChanges =
        changes.moves().stream().anyMatch(m -> !m.isEmpty()) || !changes.camera().isEmpty();
    if (anythingChanges && most > 1) {
      out.add(frames.getLast());
    }
    for (Matter m : matters) {
      if (out.size() < most) {
        out.add(m.frame());
      }
    }
    return List.copyOf(out);
  }
}
