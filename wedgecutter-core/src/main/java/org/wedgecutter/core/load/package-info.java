/**
 * A plan together with its scene and images, ready to be traced: {@link
 * org.wedgecutter.core.load.LoadedShot}. The one way from files to the tracer; begin there.
 *
 * <p>Loading a plan reads its scene, then the images that it names. Loading a scene alone makes a
 * plan of one layer that shows everything, under a name that no plan beside the scene has. {@code
 * Starting} gives a shot what its scene lacks, so that every scene opens with a picture: a camera
 * that frames it, and a neutral surround ({@code NeutralSurround}, a grey room with a soft window)
 * if nothing in it gives light. Both are written into the plan and named by the findings; a file's
 * own camera and light are never replaced.
 *
 * <p>Invariants: a {@code LoadedShot} is immutable; with another plan it shares scene, tracer and
 * images, so an edit costs nothing; images no longer named stay until the shot is closed, so that
 * an edit can be undone without reading. Paths in a plan are relative to it and must stay in its
 * folder. Errors are {@code InputException}s with file, place and expectation.
 */
@NullMarked
package org.wedgecutter.core.load;

import org.jspecify.annotations.NullMarked;
