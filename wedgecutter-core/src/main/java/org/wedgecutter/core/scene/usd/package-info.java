/**
 * Scenes in OpenUSD's text form (.usda), in the part that a lighting scene needs: hierarchy,
 * transforms with time samples, meshes, preview-surface materials, lights, cameras and collections.
 * {@link org.wedgecutter.core.scene.usd.UsdParser} reads the text into prims, {@link
 * org.wedgecutter.core.scene.usd.UsdReader} makes a scene of them. What is not understood is listed
 * in the scene. Sources: the OpenUSD documentation of UsdGeom, UsdShade, UsdLux and of the text
 * form.
 *
 * <p>Begin with {@code UsdReader}. Composition arcs are not resolved; they are listed as
 * unsupported. Paths, counts and nesting are bounded, since files are untrusted.
 */
@NullMarked
package org.wedgecutter.core.scene.usd;

import org.jspecify.annotations.NullMarked;
