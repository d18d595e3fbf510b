/**
 * Colours, fonts and glyphs. {@link org.wedgecutter.app.theme.Theme} is dark or light; surfaces
 * around pictures are neutral greys, so that colour can be judged. Every text colour has a contrast
 * of at least 4.5 to 1 on every surface, which a test holds. {@code wedgecutter.css} uses the
 * colours by name.
 *
 * <p>Colours for drawing (canvas) and for style sheets are the same fields of {@code Theme}; {@code
 * Glyphs} draws the marks of roles, the wedge of an override and the render mark, so no icon font
 * is needed. A new colour is a field of both themes and is covered by the contrast test at once.
 */
@NullMarked
package org.wedgecutter.app.theme;

import org.jspecify.annotations.NullMarked;
