/**
 * The Shot station: the hierarchy of the scene as rows, with motion, coverage and interplay.
 *
 * <p>{@code ShotRows} shows, for each object and layer, its coverage where it is Seen and otherwise
 * its interplay: the share of the layer's light that it affects. Both are measured by the trace and
 * arrive with complete pictures. The room edits nothing. Begin with {@link
 * org.wedgecutter.app.station.shot.ShotStation}.
 */
@NullMarked
package org.wedgecutter.app.station.shot;

import org.jspecify.annotations.NullMarked;
