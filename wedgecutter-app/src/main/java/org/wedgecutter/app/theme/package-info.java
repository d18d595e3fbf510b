/**
 * Colours, fonts and glyphs. {@link org.wedgecutter.app.theme.Theme} is dark or light; surfaces
 * around pictures are neutral greys, so that colour can be judged. Every text colour has a contrast
 * of at least 4.5 to 1 on every surface, which a test holds. {@code wedgecutter.css} uses the
 * colours by name.
 */
@NullMarked
package org.wedgecutter.app.theme;

import org.jspecify.annotations.NullMarked;
