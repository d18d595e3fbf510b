/**
 * Participating media and walks through them.
 *
 * <p>A {@link org.wedgecutter.core.trace.volume.PreparedMedium} is a box or all space with a
 * density: constant, falling off with height, or a grid of noise. The first two have closed-form
 * optical depth; the grid is followed by tentative collisions against majorants of its blocks, and
 * {@code MediumAt} is one of them at a sample's moment. {@link
 * org.wedgecutter.core.trace.volume.MediumSampler} picks a place of scattering on an interval
 * (equiangular towards an emitter, and by transmittance) and estimates transmittance for shadow
 * rays. Extinction is grey; the phase function is Henyey and Greenstein's.
 */
@NullMarked
package org.wedgecutter.core.trace.volume;

import org.jspecify.annotations.NullMarked;
