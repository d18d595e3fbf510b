/**
 * The path tracer. What the rest of the project may use is in this package; its subpackages are the
 * tracer's own.
 *
 * <h2>Contents</h2>
 *
 * <ul>
 *   <li>{@link org.wedgecutter.core.trace.SceneTracer}: a scene prepared once; a {@code Frame} of
 *       it at a time; a {@code Worker} for each thread
 *   <li>{@link org.wedgecutter.core.trace.TraceJob}: a transport class, and the views in which it
 *       is seen along the camera segment
 *   <li>{@link org.wedgecutter.core.trace.Fragment}, {@link
 *       org.wedgecutter.core.trace.FragmentSink}: what comes out
 *   <li>{@code PathTracer}: the camera segment. {@code Transport}: everything beyond it. {@code
 *       DirectLight}: next-event estimation. {@code Visibility}: shadow rays. {@code
 *       LightRecorder}: which pass a contribution belongs to
 * </ul>
 *
 * <h2>Rooms, in the order of use</h2>
 *
 * <ol>
 *   <li>{@code sample}: random numbers
 *   <li>{@code accel}: trees over triangles and instances, and rays through them
 *   <li>{@code world}: the scene prepared for tracing: motion over the shutter, deformed meshes,
 *       textures, materials as a class has them
 *   <li>{@code bsdf}: surfaces and how they scatter light
 *   <li>{@code light}: emitters, and how one is picked
 *   <li>{@code volume}: participating media
 * </ol>
 *
 * <h2>Mechanism</h2>
 *
 * <p>A camera sample goes straight on through whatever lets light pass: that is its camera segment.
 * Each entity on it leaves one fragment per view: throughput in front of it, opacity, and the light
 * that leaves it towards the camera. All views of a job share the light, which is gathered once,
 * and only if some view wants it. Moving an entity between Seen and Holdout therefore needs no
 * tracing.
 *
 * <h2>Invariants</h2>
 *
 * <ul>
 *   <li>Random numbers are a function of seed, pixel, sample and dimension; passing an entity on
 *       the camera segment uses up none. Two layers that share a class get the same light for the
 *       same sample, traced together or apart, bit for bit.
 *   <li>One worker serves one thread and allocates nothing per sample.
 *   <li>A pixel does not depend on tiles, threads, regions or on which other views a job has.
 * </ul>
 *
 * <p>The algebra is documented in {@code docs/algebra.md}. Begin with {@code PathTracer.sample}.
 */
@NullMarked
package org.wedgecutter.core.trace;

import org.jspecify.annotations.NullMarked;
