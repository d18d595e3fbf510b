/** The Output station: settings and passes as rows, each layer's own or those of the shot. */
@NullMarked
package org.wedgecutter.app.station.output;

import org.jspecify.annotations.NullMarked;
