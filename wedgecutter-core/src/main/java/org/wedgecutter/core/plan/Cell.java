package org.wedgecutter.core.plan;

import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * The entry of a collection in a layer.
 *
 * @param role its role; null leaves it to rows below
 * @param catcher options of catching; null means none
 * @param overrides changes for this layer only
 * @param note a remark for users
 * @param extra unknown keys
 */
public record Cell(
    @Nullable Role role,
    @Nullable CatcherOptions catcher,
    List<CellOverride> overrides,
    String note,
    Extra extra) {
  /** An empty cell. */
  public static final Cell EMPTY = new Cell(null, null, List.of(), "", Extra.NONE);

  public Cell {
    overrides = List.copyOf(overrides);
  }

  /** A cell with a role and nothing else. */
  public static Cell of(Role role) {
    return new Cell(role, null, List.of(), "", Extra.NONE);
  }

  /** Returns the cell with another role. */
  public Cell withRole(@Nullable Role next) {
    return new Cell(next, catcher, overrides, note, extra);
  }

  /** Returns the cell with other options of catching; empty options become null. */
  public Cell withCatcher(@Nullable CatcherOptions next) {
    return new Cell(role, CatcherOptions.NONE.equals(next) ? null : next, overrides, note, extra);
  }

  /** Returns the options of catching, empty if there are none. */
  public CatcherOptions catching() {
    return catcher == null ? CatcherOptions.NONE : catcher;
  }

  /** Returns the cell with other overrides. */
  public Cell withOverrides(List<CellOverride> next) {
    return new Cell(role, catcher, next, note, extra);
  }
}
