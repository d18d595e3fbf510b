/**
 * The Cut station: collections as rows, roles and overrides in the cells.
 *
 * <p>{@link org.wedgecutter.app.station.cut.CutStation} puts it together. {@code CutRows} are the
 * rows; {@code CellEdits}, {@code MemberPicks} and {@code CollectionActions} are the edits; {@code
 * CutKeys} and {@code CutMenus} lead to them. The panels below the sheet are one class each.
 */
@NullMarked
package org.wedgecutter.app.station.cut;

import org.jspecify.annotations.NullMarked;
