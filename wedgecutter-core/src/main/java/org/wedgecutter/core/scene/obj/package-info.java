/**
 * Reads Wavefront OBJ with its material library (MTL). Objects and their groups become entities;
 * the file has no lights, camera or animation. Begin with {@link
 * org.wedgecutter.core.scene.obj.ObjReader}.
 *
 * <p>A library parses the text. Here faces are checked and then triangulated; corners that differ
 * in normal or uv become separate vertices; normals are made by the mesh where there are none. Two
 * groups of one name get a number after it. A camera is added that sees the whole scene from the
 * front. How MTL's values become a material, and the source of the formula for roughness, stands
 * with the reader; what has no counterpart is listed as not supported.
 *
 * <p>Invariants: files are at most 1 GiB, and what is checked is checked before triangulation,
 * which trusts its input. Errors name the file and the group, the face or the vertex by its number;
 * not the line, which the library does not hand on. Images and material libraries must lie in the
 * scene's folder or below.
 */
@NullMarked
package org.wedgecutter.core.scene.obj;

import org.jspecify.annotations.NullMarked;
