/**
 * The Cut station: collections as rows, roles and overrides in the cells.
 *
 * <p>{@link org.wedgecutter.app.station.cut.CutStation} puts it together; begin there. {@code
 * CutRows} are the rows: collections in order of precedence, open to their members, the rest, and
 * the check row. {@code CellEdits} (roles, clear, copy, paste, fill), {@code MemberPicks} (members
 * by hand, cutting out a selection) and {@code CollectionActions} (add, name, delete) are the
 * edits; {@code CutKeys}, {@code CutMenus}, {@code CutBar} and {@code PictureDrag} lead to them.
 * The panels below the sheet are one class each: cell, catcher, collection, entity, check, presets,
 * and the browser of overrides.
 *
 * <p>Invariants: an edit is a function from plan to plan with a name for Undo, given to the bench;
 * no class here keeps a plan of its own, and the rows are made again from each new one. Menus, keys
 * and the bar reach the same edits. What an edit does to a plan stands in the core ({@code
 * PlanEdits}, {@code LayerEdits}, {@code CollectionEdits}, {@code Cuts}), where it is tested
 * without a window.
 *
 * <p>Costs: roles are drawn once each and copied ({@code RoleStamps}). A rule's matches are counted
 * at each key, on the interface thread: matching is a pass over the entities' names.
 */
@NullMarked
package org.wedgecutter.app.station.cut;

import org.jspecify.annotations.NullMarked;
