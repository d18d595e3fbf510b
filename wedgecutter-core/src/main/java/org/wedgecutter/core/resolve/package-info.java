/**
 * Plan and scene and frame into what every layer is: the role of each entity and why, and the
 * transport class of each layer.
 */
@NullMarked
package org.wedgecutter.core.resolve;

import org.jspecify.annotations.NullMarked;
