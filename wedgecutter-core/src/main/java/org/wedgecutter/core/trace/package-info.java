/**
 * The path tracer: acceleration, sampling, materials, lights and the integrator. It follows camera
 * segments and hands every fragment to a sink.
 */
@NullMarked
package org.wedgecutter.core.trace;

import org.jspecify.annotations.NullMarked;
