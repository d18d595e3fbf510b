/** The Shot station: the hierarchy of the scene as rows, with motion, coverage and interplay. */
@NullMarked
package org.wedgecutter.app.station.shot;

import org.jspecify.annotations.NullMarked;
