package org.wedgecutter.core.plan;

import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Stream;

/**
 * A render layer.
 *
 * @param name unique in the plan
 * @param render whether it is rendered
 * @param hue number of its colour on screens, from 0
 * @param cells cells by collection name; a missing cell leaves the decision to rows below
 * @param rest the cell of all that no row decides
 * @param settings settings that differ from the shot's in this layer only
 * @param extra unknown keys
 */
public record LayerDef(
    String name,
    boolean render,
    int hue,
    Map<String, Cell> cells,
    Cell rest,
    List<CellOverride> settings,
    Extra extra) {
  public LayerDef {
    cells = Collections.unmodifiableMap(new LinkedHashMap<>(cells));
    settings = List.copyOf(settings);
  }

  /** Whether its picture can take light away, as differences of catchers do. */
  public boolean takesLight() {
    return Stream.concat(cells.values().stream(), Stream.of(rest))
        .filter(c -> c.role() == Role.CATCHER)
        .map(c -> c.catching().output())
        .anyMatch(o -> o == null || o.signed());
  }

  /** A layer that is rendered, with settings of the shot. */
  public static LayerDef of(String name, int hue, Map<String, Cell> cells, Cell rest) {
    return new LayerDef(name, true, hue, cells, rest, List.of(), Extra.NONE);
  }

  /** Returns the cell of a collection, or of the rest (null); an empty cell if there is none. */
  public Cell cell(@org.jspecify.annotations.Nullable String collection) {
    return collection == null ? rest : cells.getOrDefault(collection, Cell.EMPTY);
  }

  /** Returns the setting of a property, if it is on. */
  public Optional<CellOverride> setting(Property property) {
    return settings.stream().filter(o -> o.on() && o.property() == property).findFirst();
  }

  /** Returns the layer with other cells. */
  public LayerDef withCells(Map<String, Cell> next) {
    return new LayerDef(name, render, hue, next, rest, settings, extra);
  }

  /** Returns the layer with another rest. */
  public LayerDef withRest(Cell next) {
    return new LayerDef(name, render, hue, cells, next, settings, extra);
  }

  /** Returns the layer with another name. */
  public LayerDef withName(String next) {
    return new LayerDef(next, render, hue, cells, rest, settings, extra);
  }

  /** Returns the layer with another hue. */
  public LayerDef withHue(int next) {
    return new LayerDef(name, render, next, cells, rest, settings, extra);
  }

  /** Returns the layer, rendered or not. */
  public LayerDef withRender(boolean next) {
    return new LayerDef(name, next, hue, cells, rest, settings, extra);
  }

  /** Returns the layer with other settings. */
  public LayerDef withSettings(List<CellOverride> next) {
    return new LayerDef(name, render, hue, cells, rest, next, extra);
  }
}
