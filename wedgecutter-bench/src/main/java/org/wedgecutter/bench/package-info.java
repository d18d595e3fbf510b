/**
 * Measures: JMH benchmarks of the kernels, and the table that {@code wedgecutter bench} prints.
 *
 * <p>What is compared is measured in turn in one run, after warm-up, and the median counts. Figures
 * are ratios or medians on the machine at hand: machines are noisy, so nothing here is a test with
 * a time limit, and a figure of one run is never compared with that of another. A {@link
 * org.wedgecutter.bench.Measure} is a line of the table; it is printed as text or as JSON by {@code
 * org.wedgecutter.command.Result}.
 *
 * <p>One class for each question: what layers cost together ({@code SharingBench}), what an edit
 * costs ({@code CuttingBenchmark}), rays ({@code RayBench}), instances, memory, noise by samples
 * and by seconds ({@code NoiseBench}, drawn by {@code NoisePlots}), estimates of time beside the
 * renders that they estimate ({@code EstimateBench}, also of {@code MadeShots}), of noise beside
 * true errors ({@code NoiseEstimates}), one pixel ({@code SurveyBench}), what is rejoined while a
 * value is dragged ({@code RejoinBench}), and OpenEXR beside its library ({@code ExrBench}). Most
 * work on {@code OrreryFrame}.
 *
 * <p>Begin with {@code BenchMain}; how the figures in the documentation were taken is in {@code
 * docs/performance.md}.
 */
@NullMarked
package org.wedgecutter.bench;

import org.jspecify.annotations.NullMarked;
