/**
 * Generators of the demo shots: geometry, textures, light and plans, all made here from nothing,
 * the same bytes each time. {@link org.wedgecutter.demo.GenerateDemo} writes them.
 *
 * <p>Scenes: the orrery in the attic, the same plan carried to a desk, and the courtyard with a
 * plate. Everything is made up. The plate takes minutes to trace, so it is kept in the repository
 * and made again on demand only; a test traces a part of it and compares.
 */
@NullMarked
package org.wedgecutter.demo;

import org.jspecify.annotations.NullMarked;
