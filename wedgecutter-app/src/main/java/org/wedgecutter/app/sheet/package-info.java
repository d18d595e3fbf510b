/** The sheet: layers as columns, and what its rows and cells are at each station. */
@NullMarked
package org.wedgecutter.app.sheet;

import org.jspecify.annotations.NullMarked;
