/**
 * Text that is typed into fields. {@link org.wedgecutter.app.typing.HalfTyped} knows what is typed
 * and not applied yet: whatever saves, opens, closes or goes elsewhere has it applied first.
 */
@NullMarked
package org.wedgecutter.app.typing;

import org.jspecify.annotations.NullMarked;
