/** Reads Wavefront OBJ with its material library. */
@org.jspecify.annotations.NullMarked
package org.wedgecutter.core.scene.obj;
