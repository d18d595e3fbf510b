package org.wedgecutter.core.plan;

/**
 * A change to a property of a cell's entities, for the cell's layer alone.
 *
 * @param property what changes
 * @param value the value that it is set to
 * @param on whether it is in force
 * @param extra unknown keys
 */
public record CellOverride(SwitchProperty property, boolean value, boolean on, Extra extra) {}
