/**
 * A plan together with its scene and images, ready to be traced: {@link
 * org.wedgecutter.core.load.LoadedShot}. The one way from files to the tracer.
 *
 * <p>A {@code LoadedShot} is immutable: with another plan it shares scene, tracer and images, so an
 * edit costs nothing. Paths in a plan are relative to it and must stay in its folder. Errors are
 * {@code InputException}s with file, place and expectation.
 */
@NullMarked
package org.wedgecutter.core.load;

import org.jspecify.annotations.NullMarked;
