/**
 * The sheet: layers as columns, and rows that a station gives it.
 *
 * <p>{@link org.wedgecutter.app.sheet.SheetView} is the control: pointer, keys, scrolling, names
 * edited in place. {@code SheetGeometry} says where things are and what a pointer is on, {@link
 * org.wedgecutter.app.sheet.SheetSelection} holds cursor and selection, {@code SheetPainter} draws
 * only what is visible, {@code AccessibleCells} stands in for cells towards assistive technology. A
 * station supplies {@link org.wedgecutter.app.sheet.SheetRows}.
 */
@NullMarked
package org.wedgecutter.app.sheet;

import org.jspecify.annotations.NullMarked;
