/**
 * Reads Wavefront OBJ with its material library (MTL). Groups and objects become entities; the file
 * has no lights, camera or animation. Begin with {@link org.wedgecutter.core.scene.obj.ObjReader}.
 */
@NullMarked
package org.wedgecutter.core.scene.obj;

import org.jspecify.annotations.NullMarked;
