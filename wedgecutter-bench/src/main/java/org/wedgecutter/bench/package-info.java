/**
 * Measures: JMH benchmarks of the kernels, and the table that {@code wedgecutter bench} prints.
 * Figures are ratios or medians of one run on the machine at hand.
 */
@NullMarked
package org.wedgecutter.bench;

import org.jspecify.annotations.NullMarked;
