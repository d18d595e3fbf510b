/** Tracing in the background while the plan is edited. No JavaFX types. */
@NullMarked
package org.wedgecutter.app.live;

import org.jspecify.annotations.NullMarked;
