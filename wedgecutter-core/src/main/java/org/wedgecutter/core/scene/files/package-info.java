/**
 * Opening a scene file by its extension, whichever reader it needs. Knows all readers; nothing else
 * does.
 *
 * <p>A new format is a reader in a room of its own beside {@code gltf}, {@code usd} and {@code
 * obj}, and a line here; it makes a {@code Scene} and lists what it does not support. Files are
 * untrusted: readers check sizes and paths.
 */
@NullMarked
package org.wedgecutter.core.scene.files;

import org.jspecify.annotations.NullMarked;
