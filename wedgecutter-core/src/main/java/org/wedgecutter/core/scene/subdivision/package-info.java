/**
 * Smooth surfaces from coarse ones: {@link org.wedgecutter.core.scene.subdivision.Subdivision}
 * makes finer triangles of a mesh, by the scheme of Catmull and Clark where it has a {@link
 * org.wedgecutter.core.scene.Cage}, else by that of Loop.
 */
@NullMarked
package org.wedgecutter.core.scene.subdivision;

import org.jspecify.annotations.NullMarked;
