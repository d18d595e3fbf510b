package org.wedgecutter.core.cut;

import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.Stream;
import org.wedgecutter.core.plan.CatcherOutput;
import org.wedgecutter.core.plan.Cell;
import org.wedgecutter.core.plan.LayerDef;
import org.wedgecutter.core.plan.LayerEdits;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.Role;
import org.wedgecutter.core.resolve.Members;
import org.wedgecutter.core.resolve.Resolver;

/** A catcher's layer taken apart into its effects, each a layer of its own. */
public final class CatcherParts {
  private CatcherParts() {}

  /** Whether a layer is a catcher that has all effects in one, and shows nothing. */
  public static boolean isWhole(LayerDef layer) {
    List<Cell> cells =
        Stream.concat(layer.cells().values().stream(), Stream.of(layer.rest())).toList();
    List<Cell> catchers = cells.stream().filter(c -> c.role() == Role.CATCHER).toList();
    return !catchers.isEmpty()
        && catchers.stream().allMatch(CatcherParts::isWhole)
        && cells.stream().noneMatch(c -> c.role() == Role.SEEN);
  }

  private static boolean isWhole(Cell catcher) {
    CatcherOutput output = catcher.catching().output();
    return catcher.catching().leftOut().isEmpty() && (output == null || !output.isPart());
  }

  /**
   * Puts four layers in the place of a catcher's: shadow, occlusion, bounce and reflection, each
   * joined to the light that it is of. Corrections of the layer stay with the shadow. A layer that
   * is not a whole catcher stays as it is.
   */
  public static Plan split(Plan plan, Members members, String layer) {
    int at = plan.layerIndex(layer);
    if (at < 0 || !isWhole(plan.layers().get(at))) {
      return plan;
    }
    LayerDef whole = plan.layers().get(at);
    Plan out = plan;
    Set<String> made = new HashSet<>();
    for (CatcherOutput part : CatcherOutput.values()) {
      if (part.isPart()) {
        String name = LayerEdits.freeName(plan, layer + " " + part.word());
        out =
            made.isEmpty()
                ? LayerEdits.rename(out, layer, name)
                : LayerEdits.add(out, at + made.size(), whole.withName(name), part.join());
        out = LayerEdits.layer(out, name, l -> catching(l, part));
        made.add(name);
      }
    }
    int frame = out.requireShot().frames().first();
    return RightJoins.applied(out, Resolver.resolve(out, members, frame), made::contains);
  }

  private static LayerDef catching(LayerDef layer, CatcherOutput part) {
    Map<String, Cell> cells = new LinkedHashMap<>();
    layer.cells().forEach((row, cell) -> cells.put(row, catching(cell, part)));
    return layer.withCells(cells).withRest(catching(layer.rest(), part));
  }

  private static Cell catching(Cell cell, CatcherOutput part) {
    return cell.role() == Role.CATCHER ? cell.withCatcher(cell.catching().withOutput(part)) : cell;
  }
}
