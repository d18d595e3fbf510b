package org.wedgecutter.core.plan;

import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.Map;

/**
 * A render layer.
 *
 * @param name unique in the plan
 * @param render whether it is rendered
 * @param hue number of its colour on screens, from 0
 * @param cells by collection name, what it says of each; a collection that is missing is left to
 *     rows below
 * @param rest what it says of all that no row decides
 * @param extra unknown keys
 */
public record LayerDef(
    String name, boolean render, int hue, Map<String, Cell> cells, Cell rest, Extra extra) {
  public LayerDef {
    cells = Collections.unmodifiableMap(new LinkedHashMap<>(cells));
  }

  /** Returns the layer with other cells. */
  public LayerDef withCells(Map<String, Cell> next) {
    return new LayerDef(name, render, hue, next, rest, extra);
  }

  /** Returns the layer with another rest. */
  public LayerDef withRest(Cell next) {
    return new LayerDef(name, render, hue, cells, next, extra);
  }

  /** Returns the layer with another name. */
  public LayerDef withName(String next) {
    return new LayerDef(next, render, hue, cells, rest, extra);
  }

  /** Returns the layer, rendered or not. */
  public LayerDef withRender(boolean next) {
    return new LayerDef(name, next, hue, cells, rest, extra);
  }
}
