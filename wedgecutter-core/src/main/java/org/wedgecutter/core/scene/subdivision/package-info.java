/**
 * Smooth surfaces from coarse meshes.
 *
 * <p>{@link org.wedgecutter.core.scene.subdivision.Subdivision} is the only way in: it makes finer
 * triangles of a mesh, by the scheme of Catmull and Clark where the mesh has a {@link
 * org.wedgecutter.core.scene.Cage}, else by that of Loop. A deformation moves the points of the
 * cage first and divides afterwards, as the surface is defined by where the cage is.
 *
 * <p>{@code Topology} holds one level: faces, edges, sharpness, and the rules for the next level.
 * It refines any values of its vertices, so that texture coordinates and colours are surfaces of
 * their own, whose edges are the seams. {@code LimitSurface} moves the last level's vertices to
 * where all further levels would take them, and has the normals there. {@code CatmullClark} puts
 * both together and shares vertices between triangles. Positions are computed in double precision.
 */
@NullMarked
package org.wedgecutter.core.scene.subdivision;

import org.jspecify.annotations.NullMarked;
