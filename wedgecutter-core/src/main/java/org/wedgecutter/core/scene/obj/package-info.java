/**
 * Reads Wavefront OBJ with its material library (MTL). Groups and objects become entities; the file
 * has no lights, camera or animation. Begin with {@link org.wedgecutter.core.scene.obj.ObjReader}.
 *
 * <p>Faces are triangulated; normals are made where there are none; a default camera frames the
 * whole scene. Lines and numbers are checked, and an error names the line. Images and material
 * libraries must lie in the scene's folder or below.
 */
@NullMarked
package org.wedgecutter.core.scene.obj;

import org.jspecify.annotations.NullMarked;
