/** Colours, fonts and glyphs. */
@NullMarked
package org.wedgecutter.app.theme;

import org.jspecify.annotations.NullMarked;
