/**
 * Random numbers as a function of seed, pixel, sample and dimension, never of order. {@link
 * org.wedgecutter.core.trace.sample.SamplePattern} says how the numbers of neighbouring samples and
 * pixels relate; {@link org.wedgecutter.core.trace.sample.Sampler} makes them and cites its
 * sources.
 */
@NullMarked
package org.wedgecutter.core.trace.sample;

import org.jspecify.annotations.NullMarked;
