/**
 * Generators of the demo shots: geometry, textures, light and plans, all made here from nothing,
 * the same bytes each time. {@link org.wedgecutter.demo.GenerateDemo} writes them.
 */
@NullMarked
package org.wedgecutter.demo;

import org.jspecify.annotations.NullMarked;
