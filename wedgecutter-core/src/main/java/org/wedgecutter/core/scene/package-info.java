/**
 * The shot's world: entities, meshes, materials, lights, cameras and how they move. All values are
 * immutable and know nothing of layers.
 */
@NullMarked
package org.wedgecutter.core.scene;

import org.jspecify.annotations.NullMarked;
