/**
 * What a station is. {@link org.wedgecutter.app.station.Station} is all that the window knows of
 * one; {@link org.wedgecutter.app.station.Workbench} is all that a station knows of the window.
 * {@link org.wedgecutter.app.station.LayerActions} are the actions of column headers, which are the
 * same at every station.
 *
 * <p>A station supplies rows for the sheet, a panel below it and what keys, menus and drags mean.
 * It receives every change of plan and pictures even while it is not shown, so it is up to date
 * when it is. A new station is a class here and one line in {@code WedgecutterApp}; the shell does
 * not change.
 */
@NullMarked
package org.wedgecutter.app.station;

import org.jspecify.annotations.NullMarked;
