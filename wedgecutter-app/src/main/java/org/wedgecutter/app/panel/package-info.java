/**
 * Building blocks that rooms share: the detail panel below the sheet, banners, the drawer, fields
 * for numbers, the override editor, and {@link org.wedgecutter.app.panel.Bench}: what a part of the
 * window knows of the whole.
 */
@NullMarked
package org.wedgecutter.app.panel;

import org.jspecify.annotations.NullMarked;
