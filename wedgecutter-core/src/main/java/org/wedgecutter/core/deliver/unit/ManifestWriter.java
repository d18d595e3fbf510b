package org.wedgecutter.core.deliver.unit;

import java.io.IOException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeSet;
import org.wedgecutter.core.deliver.Delivery;
import org.wedgecutter.core.deliver.Unit;
import org.wedgecutter.core.deliver.UnitFolder;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.plan.Plan;

/** Writes the manifest of a delivery that is rendered: the plan, and what there is to be. */
final class ManifestWriter {
  private final LoadedShot shot;
  private final DeliveryOrder order;
  private final UnitFiles files;
  private final UnitFolder records;

  ManifestWriter(LoadedShot shot, DeliveryOrder order, UnitFiles files, UnitFolder records) {
    this.shot = shot;
    this.order = order;
    this.files = files;
    this.records = records;
  }

  /** Whether the manifest tells all of these units, as they are now. */
  boolean tells(List<Unit> wanted) throws IOException {
    if (!Delivery.isDelivery(order.folder())) {
      return false;
    }
    Delivery told = Delivery.manifest(order.folder());
    return told.plan().equals(shot.plan()) && new HashSet<>(told.units()).containsAll(wanted);
  }

  /**
   * Writes the manifest: what was asked for now and before.
   *
   * @param wanted what was asked for now
   * @param merged whether also what there is of it
   */
  void write(List<Unit> wanted, boolean merged) throws IOException {
    Map<Unit.Key, Unit> all = new LinkedHashMap<>();
    if (Delivery.isDelivery(order.folder())) {
      for (Unit u : Delivery.manifest(order.folder()).units()) {
        if (u.uncut() || shot.plan().layer(u.layer()).isPresent()) {
          all.put(u.key(), u);
        }
      }
    }
    for (Unit u : wanted) {
      Unit before = all.get(u.key());
      TreeSet<Integer> held = new TreeSet<>(u.heldAt());
      if (before != null) {
        held.addAll(before.heldAt());
      }
      all.put(u.key(), u.withHeldAt(List.copyOf(held)));
    }
    List<Unit> sorted = new ArrayList<>(all.values());
    sorted.sort(
        Comparator.comparingInt(Unit::frame)
            .thenComparingInt(u -> files.contents().column(u.key())));
    Plan plan = shot.plan();
    Delivery told =
        new Delivery(
            order.folder(),
            plan,
            order.settings().width(),
            order.settings().height(),
            order.settings().region(),
            order.settings().samples(),
            plan.requireShot().seed(),
            source(),
            sorted,
            List.of(),
            List.of());
    (merged ? told.withRecords(records.read().records()) : told).write();
  }

  /** The plan's file as seen from the delivery; its full path if they have no folder in common. */
  private String source() {
    Path file = shot.file().toAbsolutePath().normalize();
    Path folder = order.folder().toAbsolutePath().normalize();
    Path root = file.getRoot();
    return root != null && root.equals(folder.getRoot())
        ? folder.relativize(file).toString()
        : file.toString();
  }
}
