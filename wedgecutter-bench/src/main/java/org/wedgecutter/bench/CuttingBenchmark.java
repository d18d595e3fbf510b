package org.wedgecutter.bench;

import java.nio.file.Path;
import java.util.concurrent.TimeUnit;
import org.openjdk.jmh.annotations.Benchmark;
import org.openjdk.jmh.annotations.BenchmarkMode;
import org.openjdk.jmh.annotations.Fork;
import org.openjdk.jmh.annotations.Measurement;
import org.openjdk.jmh.annotations.Mode;
import org.openjdk.jmh.annotations.OutputTimeUnit;
import org.openjdk.jmh.annotations.Scope;
import org.openjdk.jmh.annotations.Setup;
import org.openjdk.jmh.annotations.State;
import org.openjdk.jmh.annotations.Warmup;
import org.wedgecutter.core.io.InputException;

/** What happens between an edit and its pictures, at 960 x 540. */
@State(Scope.Benchmark)
@BenchmarkMode(Mode.SampleTime)
@OutputTimeUnit(TimeUnit.MILLISECONDS)
@Warmup(iterations = 3, time = 2)
@Measurement(iterations = 5, time = 2)
@Fork(1)
public class CuttingBenchmark {
  @SuppressWarnings("NullAway.Init") // set up before it is used
  private OrreryFrame frame;

  private boolean there;

  /** Traces the frame that is cut. */
  @Setup
  public void trace() throws InputException {
    frame = new OrreryFrame(Path.of(System.getProperty("wedgecutter.demo", "demo")), 2);
  }

  /** The hero from its layer to the foreground and back: plan, resolution, and both pictures. */
  @Benchmark
  public float moveHeroBetweenLayers() {
    there = !there;
    return there ? frame.moveHero("Foreground", "Hero") : frame.moveHero("Hero", "Foreground");
  }

  /** One layer's picture from the sums. */
  @Benchmark
  public float regroupOneLayer() {
    return frame.regroup(0);
  }

  /** All layers, rejoined and compared. */
  @Benchmark
  public double wholeProof() {
    return frame.proof();
  }
}
