/**
 * The Shot station: the hierarchy of the scene as rows, and below it the shot, read.
 *
 * <p>{@code ShotRows} shows, for each object and layer, its coverage where it is Seen and otherwise
 * its interplay: the share of the layer's light that it affects. Both are measured by the trace and
 * arrive with complete pictures.
 *
 * <p>{@code ShotPanel} has a page each for motion, order in depth, light, cost, and one pixel. They
 * show what {@link org.wedgecutter.app.live.LiveSurvey} finds in the background while the station
 * is shown; {@code ShotFacts} puts it into short texts and sentences. Begin with {@link
 * org.wedgecutter.app.station.shot.ShotStation}.
 */
@NullMarked
package org.wedgecutter.app.station.shot;

import org.jspecify.annotations.NullMarked;
