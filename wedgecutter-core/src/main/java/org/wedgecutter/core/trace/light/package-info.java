/**
 * Emitters, and how a vertex picks one.
 *
 * <p>{@link org.wedgecutter.core.trace.light.Emitters} lists what emits: analytic lights, emitting
 * meshes and the environment. {@link org.wedgecutter.core.trace.light.LightTree} groups them by
 * place, power and direction; {@link org.wedgecutter.core.trace.light.LightPicker} walks it with a
 * probability that follows what each may contribute at the vertex, and can tell the probability of
 * an emitter that a ray met by chance. {@link org.wedgecutter.core.trace.light.LightSampler}
 * samples a point or direction on the one picked. {@link
 * org.wedgecutter.core.trace.light.EnvironmentMap} samples an image by luminance.
 *
 * <p>Invariant: probabilities of all emitters add up to 1 at every vertex, and nothing that can
 * contribute has probability 0. Source: A. Conty Estevez and C. Kulla, "Importance Sampling of Many
 * Lights with Adaptive Tree Splitting", 2018.
 */
@NullMarked
package org.wedgecutter.core.trace.light;

import org.jspecify.annotations.NullMarked;
