/** The window. */
@NullMarked
package org.wedgecutter.app;

import org.jspecify.annotations.NullMarked;
