/**
 * The world of a shot: entities, nodes, meshes, materials, lights, media, cameras and their
 * animation. All values are immutable and know nothing of layers.
 *
 * <p>A {@link org.wedgecutter.core.scene.Scene} is a list of nodes (hierarchy and animated
 * transforms) and a list of {@link org.wedgecutter.core.scene.Entity entities}: whatever can be
 * given a role. An entity has an index, a path, a kind, and a payload: its number among the meshes,
 * lights or media. The environment is always the last entity. Units are metres, seconds and
 * radians; light is scene-linear with Rec. 709 primaries; y is up and cameras look along -z.
 *
 * <p>{@link org.wedgecutter.core.scene.TimeDigest} alone decides what changes, and when.
 *
 * <p>The readers in {@code gltf}, {@code usd} and {@code obj} make scenes of files; what they do
 * not understand is listed in {@link org.wedgecutter.core.scene.Scene#unsupported}. Begin with
 * {@code Scene} and {@code Entity}.
 */
@NullMarked
package org.wedgecutter.core.scene;

import org.jspecify.annotations.NullMarked;
