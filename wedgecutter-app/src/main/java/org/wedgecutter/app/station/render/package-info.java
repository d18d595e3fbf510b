/**
 * The Render station: frames as rows, and the delivery that fills them. {@code RenderPanel} orders,
 * watches, stops and proves a delivery.
 *
 * <p>A delivery is rendered from a snapshot of the plan on a thread of its own, so edits during a
 * render change nothing in it. {@code RenderBoard} and {@code RenderRows} show progress by frame
 * and layer; Stop leaves whole files and a valid delivery; at the end the written files are
 * rejoined and compared. Begin with {@code RenderPanel}.
 */
@NullMarked
package org.wedgecutter.app.station.render;

import org.jspecify.annotations.NullMarked;
