/**
 * The scene prepared for tracing.
 *
 * <ul>
 *   <li>{@link org.wedgecutter.core.trace.world.ShutterMotion}: how all nodes move while the
 *       shutter is open
 *   <li>{@link org.wedgecutter.core.trace.world.World}: the meshes as instances, with their
 *       entities
 *   <li>{@link org.wedgecutter.core.trace.world.DeformedMeshes}: skins, morph targets, subdivision
 *   <li>{@link org.wedgecutter.core.trace.world.Textures}: images with mip levels, kept as bytes
 *   <li>{@link org.wedgecutter.core.trace.world.Appearance}: materials and lights as one transport
 *       class has them
 * </ul>
 *
 * <p>All of it is immutable once built and shared by threads.
 */
@NullMarked
package org.wedgecutter.core.trace.world;

import org.jspecify.annotations.NullMarked;
