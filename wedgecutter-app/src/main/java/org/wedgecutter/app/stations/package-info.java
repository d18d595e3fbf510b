/** The window's parts and how they work together. */
@NullMarked
package org.wedgecutter.app.stations;

import org.jspecify.annotations.NullMarked;
