/**
 * Building blocks that rooms share: the detail panel below the sheet, banners, the drawer, fields
 * for numbers, the override editor, and {@link org.wedgecutter.app.panel.Bench}: what a part of the
 * window knows of the whole.
 *
 * <p>A panel edits through {@link org.wedgecutter.app.panel.Editor} and never holds a plan of its
 * own: after an edit it is rebuilt from the new plan, and focus stays in its field. {@code ByTab}
 * keeps clicks from taking the focus from the sheet; {@code OneOf} is a choice of which Tab reaches
 * each button; {@code Entry} shows what is wrong with a text and keeps the text. Begin with {@code
 * DetailPanel}.
 */
@NullMarked
package org.wedgecutter.app.panel;

import org.jspecify.annotations.NullMarked;
