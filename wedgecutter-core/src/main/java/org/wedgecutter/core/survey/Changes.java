package org.wedgecutter.core.survey;

import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import org.wedgecutter.core.plan.Cell;
import org.wedgecutter.core.plan.CellOverride;
import org.wedgecutter.core.plan.CollectionDef;
import org.wedgecutter.core.plan.LayerDef;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.Shot;
import org.wedgecutter.core.resolve.EntitySet;
import org.wedgecutter.core.resolve.Members;
import org.wedgecutter.core.scene.Entity;
import org.wedgecutter.core.scene.TimeDigest;

/**
 * What changes over the frames of a shot: which entities move or deform, from when to when, and
 * whose light or material is keyed in a layer. Asked of {@link TimeDigest} and nothing else.
 *
 * @param frames the frames of the shot
 * @param moves of each entity, by index, the frames from each of which to the next it moves
 * @param deforms of each entity the frames from each of which to the next its shape changes
 * @param camera the frames from each of which to the next the camera moves
 * @param keyed overrides whose value changes over the frames
 */
public record Changes(
    List<Integer> frames,
    List<List<Integer>> moves,
    List<List<Integer>> deforms,
    List<Integer> camera,
    List<Keyed> keyed) {
  /**
   * An override with keys.
   *
   * @param layer the layer in which it applies
   * @param row the collection, or "the rest"
   * @param property its property
   * @param entities what it applies to
   * @param first first frame at which its value differs from the next
   * @param last the frame at which it has its last value
   */
  public record Keyed(
      String layer, String row, String property, EntitySet entities, int first, int last) {}

  /** How a part changes over the range. */
  public enum Kind {
    STILL,
    MOVES,
    DEFORMS
  }

  /** Finds what changes. */
  public static Changes of(Plan plan, Members members) {
    Shot shot = plan.requireShot();
    List<Integer> frames = shot.frames().frames();
    TimeDigest time = members.time();
    List<List<Integer>> moves = new ArrayList<>();
    List<List<Integer>> deforms = new ArrayList<>();
    for (Entity e : members.scene().entities()) {
      List<Integer> moving = new ArrayList<>();
      List<Integer> bending = new ArrayList<>();
      if (e.moves()) {
        for (int k = 0; k < frames.size(); k++) {
          double from = shot.time(frames.get(k));
          double to = until(shot, frames, k);
          if (time.deforms(e, from, to)) {
            bending.add(frames.get(k));
          }
          if (time.changes(e, from, to)) {
            moving.add(frames.get(k));
          }
        }
      }
      moves.add(List.copyOf(moving));
      deforms.add(List.copyOf(bending));
    }
    List<Integer> camera = new ArrayList<>();
    int node = shot.cameraIn(members.scene()).node();
    for (int k = 0; k < frames.size(); k++) {
      if (time.nodeChanges(node, shot.time(frames.get(k)), until(shot, frames, k))) {
        camera.add(frames.get(k));
      }
    }
    return new Changes(frames, moves, deforms, List.copyOf(camera), keyed(plan, members));
  }

  /** To the next frame; at the last one, only while the shutter is open. */
  private static double until(Shot shot, List<Integer> frames, int k) {
    double at = shot.time(frames.get(k));
    return k + 1 < frames.size()
        ? shot.time(frames.get(k + 1))
        : at + Math.max(0, shot.shutter() / 2 / shot.fps());
  }

  private static List<Keyed> keyed(Plan plan, Members members) {
    List<Keyed> out = new ArrayList<>();
    List<Integer> frames = plan.requireShot().frames().frames();
    for (LayerDef layer : plan.layers()) {
      for (CollectionDef row : plan.collections()) {
        add(out, frames, layer, row.name(), layer.cell(row.name()), members.of(row));
      }
      EntitySet all = EntitySet.where(members.scene().entities().size(), e -> true);
      add(out, frames, layer, Parts.REST, layer.rest(), all);
    }
    return List.copyOf(out);
  }

  private static void add(
      List<Keyed> out,
      List<Integer> frames,
      LayerDef layer,
      String row,
      Cell cell,
      EntitySet entities) {
    for (CellOverride o : cell.overrides()) {
      int first = -1;
      int last = -1;
      for (int k = 0; o.on() && k + 1 < frames.size(); k++) {
        if (!o.at(frames.get(k)).equals(o.at(frames.get(k + 1)))) {
          first = first < 0 ? frames.get(k) : first;
          last = frames.get(k + 1);
        }
      }
      if (first >= 0) {
        out.add(new Keyed(layer.name(), row, o.property().word(), entities, first, last));
      }
    }
  }

  /** Returns how some entities change: deforming counts before moving. */
  public Kind kind(EntitySet entities) {
    Kind kind = Kind.STILL;
    for (int e : entities.indices()) {
      if (!deforms.get(e).isEmpty()) {
        return Kind.DEFORMS;
      }
      kind = moves.get(e).isEmpty() ? kind : Kind.MOVES;
    }
    return kind;
  }

  /** Returns the frames from each of which to the next any of some entities changes. */
  public List<Integer> moving(EntitySet entities) {
    boolean[] any = new boolean[frames.size()];
    for (int e : entities.indices()) {
      for (int frame : moves.get(e)) {
        any[Collections.binarySearch(frames, frame)] = true;
      }
    }
    List<Integer> out = new ArrayList<>();
    for (int k = 0; k < any.length; k++) {
      if (any[k]) {
        out.add(frames.get(k));
      }
    }
    return out;
  }
}
