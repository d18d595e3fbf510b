/**
 * Acceleration structures and rays through them.
 *
 * <p>{@link org.wedgecutter.core.trace.accel.Instances} is a tree over placed meshes, each with a
 * {@link org.wedgecutter.core.trace.accel.MeshTree}; both are {@link
 * org.wedgecutter.core.trace.accel.WideTree}s: eight boxes per node, built by the surface-area
 * heuristic, with triangles in packets of eight. Long triangles are boxed in pieces ({@code
 * TriangleSplits}).
 *
 * <p>What moves follows a {@link org.wedgecutter.core.trace.accel.MotionPath}, a curve in time; its
 * boxes hold it at every moment. A {@link org.wedgecutter.core.trace.accel.Moment} places instances
 * where they stand at a sample's moment, when a ray first asks for them.
 *
 * <p>A {@link org.wedgecutter.core.trace.accel.RayCaster} holds a ray. Its two kinds test eight
 * boxes or triangles one by one ({@code ScalarRayCaster}) or with vector instructions ({@code
 * VectorRayCaster}); both find the same hits to the last bit, which a test holds. {@code
 * VectorSupport} chooses at run time. Three things are kept twice on purpose, because a shared form
 * costs speed:
 *
 * <ul>
 *   <li>{@code BoxSweep} and {@code VectorBoxSweep}: the builder's inner loops in two kinds of
 *       arithmetic
 *   <li>the class file of {@code TreeTraversal} is loaded once for each kind of caster, so that the
 *       compiler inlines each kind's tests (see {@link org.wedgecutter.core.trace.accel.Traversal})
 *   <li>closest-hit and any-hit traversal: one sorts and remembers distances, the other does
 *       neither
 * </ul>
 *
 * <p>Costs and figures: {@code docs/performance.md}. Begin with {@code RayCaster}, then {@code
 * TreeTraversal}.
 */
@NullMarked
package org.wedgecutter.core.trace.accel;

import org.jspecify.annotations.NullMarked;
