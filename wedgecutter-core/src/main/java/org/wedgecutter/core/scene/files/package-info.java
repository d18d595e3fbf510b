/**
 * Opening a scene file by its extension, whichever reader it needs. Knows all readers; nothing else
 * does.
 */
@NullMarked
package org.wedgecutter.core.scene.files;

import org.jspecify.annotations.NullMarked;
