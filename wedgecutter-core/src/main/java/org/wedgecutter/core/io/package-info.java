/** Files: whole-or-nothing writing, and the one exception for input that cannot be used. */
@NullMarked
package org.wedgecutter.core.io;

import org.jspecify.annotations.NullMarked;
