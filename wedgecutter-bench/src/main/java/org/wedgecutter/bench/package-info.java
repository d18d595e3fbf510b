/**
 * Measures: JMH benchmarks of the kernels, and the table that {@code wedgecutter bench} prints.
 * Figures are ratios or medians of one run on the machine at hand.
 *
 * <p>Each measure prints through the records of {@code org.wedgecutter.command.Result}. What is
 * compared is measured in turn in one run, after warm-up, and the median counts: the machines are
 * noisy, so nothing here is a test with a time limit. Begin with {@code BenchMain}; how figures
 * were taken is in {@code docs/performance.md}.
 */
@NullMarked
package org.wedgecutter.bench;

import org.jspecify.annotations.NullMarked;
