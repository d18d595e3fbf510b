/**
 * The Render station: frames as rows, and the delivery that fills them. {@code RenderPanel} orders,
 * watches, stops and proves a delivery.
 */
@NullMarked
package org.wedgecutter.app.station.render;

import org.jspecify.annotations.NullMarked;
