/**
 * What a station is. {@link org.wedgecutter.app.station.Station} is all that the window knows of
 * one; {@link org.wedgecutter.app.station.Workbench} is all that a station knows of the window.
 * {@link org.wedgecutter.app.station.LayerActions} are the actions of column headers, which are the
 * same at every station.
 */
@NullMarked
package org.wedgecutter.app.station;

import org.jspecify.annotations.NullMarked;
