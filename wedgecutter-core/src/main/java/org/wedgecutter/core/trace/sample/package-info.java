/**
 * Random numbers as a function of seed, pixel, sample and dimension, never of order. {@link
 * org.wedgecutter.core.trace.sample.SamplePattern} says how the numbers of neighbouring samples and
 * pixels relate; {@link org.wedgecutter.core.trace.sample.Sampler} makes them and cites its
 * sources.
 *
 * <p>Invariants: the same (seed, pixel, sample, dimension) gives the same number on every machine
 * and thread; any run of samples of a pixel is well spread; dimensions are unrelated. A sampler
 * serves one thread. Begin with {@code Sampler.pair}.
 */
@NullMarked
package org.wedgecutter.core.trace.sample;

import org.jspecify.annotations.NullMarked;
