/**
 * The sheet: layers as columns, and rows that a station gives it.
 *
 * <p>{@link org.wedgecutter.app.sheet.SheetView} is the control: pointer, keys, scrolling, names
 * edited in place. {@code SheetGeometry} computes where things are and what a pointer is on, {@link
 * org.wedgecutter.app.sheet.SheetSelection} holds cursor and selection, {@code SheetPainter} and
 * {@code SheetHeaders} draw, {@code SheetKeys} and {@code HeaderActions} are what keys do at every
 * station; all others are handed on. A station supplies {@link
 * org.wedgecutter.app.sheet.SheetRows}: rows, how a cell is painted, and a cell in words. Begin
 * with {@code SheetRows}, then {@code SheetView}.
 *
 * <p>Invariants: the sheet knows no plan and no station; it holds cursor, selection and scrolling
 * and nothing else, and survives a change of station. Every cell has its words for assistive
 * technology ({@code AccessibleCells}), since the sheet is one drawing.
 *
 * <p>Costs: only what is visible is drawn, so the size of a shot does not matter; measured texts
 * are kept ({@code TextFit}), because measuring one takes longer than drawing it.
 */
@NullMarked
package org.wedgecutter.app.sheet;

import org.jspecify.annotations.NullMarked;
