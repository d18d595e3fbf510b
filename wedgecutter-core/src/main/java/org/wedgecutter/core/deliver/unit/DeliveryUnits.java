package org.wedgecutter.core.deliver.unit;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import org.wedgecutter.core.deliver.Delivery;
import org.wedgecutter.core.deliver.Unit;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.plan.FileNames;
import org.wedgecutter.core.plan.LayerDef;
import org.wedgecutter.core.resolve.HeldFrames;
import org.wedgecutter.core.resolve.LayerFrames;

/**
 * Which files a delivery needs: of each layer the frames that are rendered, and those at which one
 * of them is held. Columns are layers by index, and the uncut frame after them.
 */
final class DeliveryUnits {
  private final LoadedShot shot;
  private final DeliveryOrder order;

  /** The files that are rendered at each frame; frames in the order of rendering. */
  private final Map<Integer, BitSet> units = new LinkedHashMap<>();

  /** Of each file, the other frames asked for at which it is held. */
  private final Map<Held, List<Integer>> heldAt = new HashMap<>();

  private record Held(int column, int from) {}

  /**
   * @param there files of an earlier run that is resumed
   */
  DeliveryUnits(LoadedShot shot, DeliveryOrder order, List<Delivery.Entry> there) {
    this.shot = shot;
    this.order = order;
    plan(there);
  }

  /** Returns all units, in the order of rendering: frame by frame, layers as in the plan. */
  List<Unit> list(UnitDigests digests) {
    List<Unit> out = new ArrayList<>();
    units.forEach((frame, columns) ->
        columns.stream().forEach(c -> out.add(unit(c, frame, digests.of(c, frame)))));
    return out;
  }

  private Unit unit(int column, int frame, String digest) {
    boolean uncut = column == shot.plan().layers().size();
    String layer = uncut ? FileNames.UNCUT : shot.plan().layers().get(column).name();
    TreeSet<Integer> held = new TreeSet<>(heldAt.getOrDefault(new Held(column, frame), List.of()));
    return new Unit(layer, uncut, frame, digest, List.copyOf(held));
  }

  /**
   * Finds what the frames asked for need. A layer with frames of its own is rendered at the frame
   * that these hold, whether or not that is asked for. A picture that is the same at several frames
   * is rendered once: at a frame that is there already, else at the first asked for.
   *
   * @param there files of an earlier run
   */
  private void plan(List<Delivery.Entry> there) {
    int columns = shot.plan().layers().size() + 1;
    HeldFrames held = order.everyFrame() ? null : held(there);
    Map<Held, Integer> firsts = new HashMap<>();
    for (int frame : order.frames()) {
      for (int column = 0; column < columns; column++) {
        if (!isOrdered(column, frame)) {
          continue;
        }
        int from = own(column, frame);
        if (held != null) {
          Held same = new Held(column, held.from(column, from));
          Integer known = firsts.get(same);
          from = known == null ? madeAt(there, held, same, from) : known;
          firsts.put(same, from);
        }
        units.computeIfAbsent(from, f -> new BitSet()).set(column);
        if (from != frame) {
          heldAt.computeIfAbsent(new Held(column, from), h -> new ArrayList<>()).add(frame);
        }
      }
    }
  }

  private boolean isOrdered(int column, int frame) {
    List<LayerDef> layers = shot.plan().layers();
    String name = column == layers.size() ? FileNames.UNCUT : layers.get(column).name();
    if (!order.cells().isEmpty()) {
      return order.cells().getOrDefault(name, Set.of()).contains(frame);
    }
    return column == layers.size() ? order.uncut() : chosen(layers.get(column));
  }

  /** The frame that a layer's own frames hold at a frame. */
  private int own(int column, int frame) {
    List<LayerDef> layers = shot.plan().layers();
    return column == layers.size()
        ? frame
        : LayerFrames.of(layers.get(column), shot.plan().requireShot()).held(frame);
  }

  /** Compares the frames that are asked for with one another and with those that are there. */
  private HeldFrames held(List<Delivery.Entry> there) {
    TreeSet<Integer> frames = new TreeSet<>(order.frames());
    there.forEach(e -> frames.add(e.frame()));
    for (int frame : order.frames()) {
      for (int l = 0; l < shot.plan().layers().size(); l++) {
        frames.add(own(l, frame));
      }
    }
    return HeldFrames.of(shot.plan(), shot.members(), List.copyOf(frames));
  }

  /** A frame with a file that is the same, or else the given one. */
  private int madeAt(List<Delivery.Entry> there, HeldFrames held, Held same, int frame) {
    for (Delivery.Entry e : there) {
      if (column(e) == same.column && held.from(same.column, e.frame()) == same.from) {
        return e.frame();
      }
    }
    return frame;
  }

  private int column(Delivery.Entry e) {
    return e.uncut() ? shot.plan().layers().size() : shot.plan().layerIndex(e.layer());
  }

  private boolean chosen(LayerDef layer) {
    return order.layers().isEmpty() ? layer.render() : order.layers().contains(layer.name());
  }
}
