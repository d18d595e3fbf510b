/**
 * Surfaces and how they scatter light.
 *
 * <p>{@link org.wedgecutter.core.trace.bsdf.SurfaceReader} turns a hit into a {@link
 * org.wedgecutter.core.trace.bsdf.Surface}: shading frame, opacity, emission, and the lobes of the
 * BSDF. Lobes come in three kinds (diffuse, specular, transmission), which are sampled and
 * evaluated separately, because an entity may be visible to one and not to another. The model is
 * the metallic and roughness material of glTF 2.0 with its clearcoat, sheen, transmission, volume,
 * IOR and specular extensions, on GGX microfacets with compensation for multiple scattering.
 *
 * <p>Directions point away from the surface. Directional albedos are tables that are computed on
 * first use, slice by slice ({@code LazyTable}). A white furnace test holds energy for every kind
 * of material. Sources are cited at the formulas. Begin with {@code Surface}.
 */
@NullMarked
package org.wedgecutter.core.trace.bsdf;

import org.jspecify.annotations.NullMarked;
