/**
 * Scenes from stages of OpenUSD, in the part that a lighting scene needs: hierarchy, transforms
 * with time samples, meshes and simple bodies, preview-surface materials, lights, cameras and
 * collections. {@link org.wedgecutter.core.scene.usd.UsdReader} makes a scene of a stage that the
 * room {@code stage} composes. What is not understood is listed in the scene. Sources: the OpenUSD
 * documentation of UsdGeom, UsdShade and UsdLux.
 *
 * <p>Begin with {@code UsdReader}. {@link org.wedgecutter.core.scene.usd.Variants} is how a plan
 * writes which variants it has chosen.
 */
@NullMarked
package org.wedgecutter.core.scene.usd;

import org.jspecify.annotations.NullMarked;
