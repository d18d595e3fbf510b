/**
 * Opening a scene file by its extension, whichever reader it needs. Knows all readers; nothing else
 * does. It is one class: {@link org.wedgecutter.core.scene.files.SceneFiles}.
 *
 * <p>A new format is a reader in a room of its own beside {@code gltf}, {@code usd} and {@code
 * obj}, and a line here. It makes a {@code Scene} (metres, y up, paths by the file's own hierarchy)
 * and lists what it does not support, which {@code info} and the window show; it never leaves
 * anything out without saying so.
 *
 * <p>Files are untrusted: readers check sizes before they allocate, and paths before they open
 * anything, which must lie in the scene's folder or below. What a reader throws without having
 * foreseen it (an index out of range, nesting too deep) becomes an {@code InputException} here and
 * is logged, so that a damaged file is one clear error and the shot that was open stays open.
 */
@NullMarked
package org.wedgecutter.core.scene.files;

import org.jspecify.annotations.NullMarked;
