/**
 * Generators of the demo shots: geometry, textures, light and plans, all made here from nothing.
 *
 * <p>Three shots: the orrery in the attic (two plans), the same plan carried to a desk, and the
 * courtyard with a plate. {@code OrreryScene}, {@code DeskScene} and {@code CourtyardScene} build
 * them from {@code MeshMaker} (shapes into one mesh), {@code Paint} and {@code Noise} (textures)
 * and {@code GlbWriter} (binary glTF); skies are pictures in latitude and longitude. Lengths are
 * metres, y is up, the camera is on the side of +z. Begin with {@link
 * org.wedgecutter.demo.GenerateDemo}, which writes all of them.
 *
 * <p>Invariants: the same bytes each time, and a test compares them with those in the repository;
 * plans are saved as the window saves them and have no errors; every scene is understood without
 * remarks.
 *
 * <p>Costs: seconds for all but the plate. That takes minutes to trace, so it is kept in the
 * repository and made again on demand only; a test traces a part of it and compares.
 */
@NullMarked
package org.wedgecutter.demo;

import org.jspecify.annotations.NullMarked;
