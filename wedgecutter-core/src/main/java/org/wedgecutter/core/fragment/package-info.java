/**
 * Sums of fragments per pixel and entity, and their regrouping into the pictures of layers. This is
 * where one trace becomes many layers.
 *
 * <p>{@link org.wedgecutter.core.fragment.JobPlan} groups the layers of a shot into traces: one per
 * transport class, with one view per distinct set of entities that the camera skips. {@link
 * org.wedgecutter.core.fragment.FrameTrace} runs them over tiles of 16 x 16 pixels on several
 * threads. {@link org.wedgecutter.core.fragment.FragmentSums} keeps, per pixel, sums for each
 * entity met there; room is taken as entities are found; beside them {@code DeepSums} keeps by
 * depth what is written so. {@link org.wedgecutter.core.fragment.LayerPictures} adds them up into a
 * layer's beauty, passes and mattes, and does the arithmetic of catchers between two classes
 * ({@code CatcherArithmetic}).
 *
 * <p>Invariants: tiles do not depend on one another; sums are added in a fixed order, so threads
 * and regions never change a bit. Begin with {@code JobPlan}, then {@code TileSums}.
 */
@NullMarked
package org.wedgecutter.core.fragment;

import org.jspecify.annotations.NullMarked;
