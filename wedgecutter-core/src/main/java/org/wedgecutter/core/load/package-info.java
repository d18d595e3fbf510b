/**
 * A plan together with its scene and images, ready to be traced: {@link
 * org.wedgecutter.core.load.LoadedShot}. The one way from files to the tracer.
 */
@NullMarked
package org.wedgecutter.core.load;

import org.jspecify.annotations.NullMarked;
