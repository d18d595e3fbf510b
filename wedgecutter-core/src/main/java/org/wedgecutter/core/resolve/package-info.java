/**
 * Plan, scene and frame resolved into what each layer is: the role of every entity and what decided
 * it, and the transport class of the layer.
 *
 * <p>For a layer, the first collection from the top that matches an entity <i>and</i> has an entry
 * in that layer decides the entity's role; overrides of one property are decided likewise; the rest
 * decides what is left. The result is a {@link org.wedgecutter.core.resolve.ResolvedLayer}: sets of
 * entities that are seen, that the camera skips, and a {@link
 * org.wedgecutter.core.resolve.TransportClass}. Two layers with equal classes share one trace, so
 * equality of classes is the ground of the whole speed of the product; a class therefore drops
 * whatever light cannot tell apart.
 *
 * <p>{@link org.wedgecutter.core.resolve.Members} keeps which entities each rule matches, so that
 * an edit of a cell never evaluates rules again. Begin with {@link
 * org.wedgecutter.core.resolve.Resolver}.
 */
@NullMarked
package org.wedgecutter.core.resolve;

import org.jspecify.annotations.NullMarked;
