package org.wedgecutter.bench;

import com.fasterxml.jackson.annotation.JsonValue;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.PrintWriter;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.concurrent.Callable;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.ForkJoinPool;
import org.wedgecutter.exr.Box;
import org.wedgecutter.exr.Compression;
import org.wedgecutter.exr.ExrImage;
import org.wedgecutter.exr.ExrPart;
import org.wedgecutter.exr.ExrReader;
import org.wedgecutter.exr.ExrWriter;

/**
 * Times reading and writing of an OpenEXR file in memory with one thread and with two; optionally
 * also the OpenEXR project's library with one thread, by the small program in {@code
 * wedgecutter-exr/src/test/native}, which has to be compiled first.
 */
final class ExrBench {
  private static final int ROUNDS = 7;
  private static final int TURNS = 3;
  private static final long WARM_NANOS = 1_000_000_000L;

  private ExrBench() {}

  /**
   * Times with some threads.
   *
   * @param pixels of the first part
   * @param channels of the first part
   * @param readS seconds to read the file as it is
   * @param writeS seconds to write its first part, by compression
   * @param threads how many
   */
  record Times(long pixels, int channels, double readS, Map<String, Double> writeS, int threads) {}

  /**
   * One compression by one thread, beside the library.
   *
   * @param readMs to read here, milliseconds
   * @param writeMs to write here
   * @param nativeReadMs to read by the library
   * @param nativeWriteMs to write by the library
   * @param bytes of the file that is written here
   */
  record Beside(
      String compression,
      double readMs,
      double writeMs,
      double nativeReadMs,
      double nativeWriteMs,
      int bytes) {}

  /** A list as a document. */
  record All<T>(@JsonValue List<T> times) {}

  /** Reads and writes by one thread, and by two. */
  static All<Times> run(Path file) throws IOException {
    byte[] bytes = Files.readAllBytes(file);
    ExrPart part = ExrReader.read(file).parts().getFirst();
    List<Times> out = new ArrayList<>();
    for (int threads = 1; threads <= 2; threads++) {
      ForkJoinPool pool = new ForkJoinPool(threads);
      try {
        double read = median(pool, () -> ExrReader.read(bytes));
        Map<String, Double> write = new LinkedHashMap<>();
        for (Compression c : Compression.values()) {
          if (c.isWritten() && part.counts() == null) {
            ExrImage image = as(part, c);
            write.put(c.name().toLowerCase(Locale.ROOT), median(pool, () -> bytes(image)) / 1000);
          }
        }
        Box box = part.dataWindow();
        out.add(
            new Times(
                (long) box.width() * box.height(),
                part.channels().size(),
                read / 1000,
                write,
                threads));
      } finally {
        pool.shutdown();
      }
    }
    return new All<>(out);
  }

  private static double median(ForkJoinPool pool, Callable<?> work) throws IOException {
    List<Double> all = new ArrayList<>();
    // until the compiler has done its best
    long warm = System.nanoTime() + WARM_NANOS;
    while (System.nanoTime() < warm) {
      time(pool, work);
    }
    for (int r = 0; r < ROUNDS; r++) {
      all.add(time(pool, work));
    }
    return Measure.median(all);
  }

  private static ExrImage as(ExrPart part, Compression c) {
    return new ExrImage(
        List.of(
            new ExrPart(
                "", c, part.dataWindow(), part.displayWindow(), Map.of(), part.channels())));
  }

  /**
   * Every compression in turn with the library.
   *
   * @param peer the compiled program
   */
  static All<Beside> beside(Path file, Path peer) throws IOException {
    Path folder = Files.createTempDirectory("exr-bench");
    List<Beside> out = new ArrayList<>();
    ForkJoinPool one = new ForkJoinPool(1);
    try {
      ExrPart part = ExrReader.read(file).parts().getFirst();
      for (Compression c : Compression.values()) {
        if (c.isWritten()) {
          out.add(compare(one, c, as(part, c), folder.resolve(c + ".exr"), peer));
        }
      }
    } finally {
      one.shutdown();
      Files.deleteIfExists(folder);
    }
    return new All<>(out);
  }

  private static Beside compare(
      ForkJoinPool one, Compression c, ExrImage image, Path file, Path peer) throws IOException {
    byte[] bytes = bytes(image);
    Files.write(file, bytes);
    List<Double> reads = new ArrayList<>();
    List<Double> writes = new ArrayList<>();
    List<Double> nativeReads = new ArrayList<>();
    List<Double> nativeWrites = new ArrayList<>();
    for (int turn = 0; turn < TURNS; turn++) {
      reads.add(median(one, () -> ExrReader.read(bytes)));
      writes.add(median(one, () -> bytes(image)));
      String[] told = peer(peer, file, c);
      nativeReads.add(Double.parseDouble(told[0]));
      nativeWrites.add(Double.parseDouble(told[1]));
    }
    Files.delete(file);
    return new Beside(
        c.name(),
        Measure.median(reads),
        Measure.median(writes),
        Measure.median(nativeReads),
        Measure.median(nativeWrites),
        bytes.length);
  }

  private static byte[] bytes(ExrImage image) throws IOException {
    ByteArrayOutputStream out = new ByteArrayOutputStream(1 << 23);
    ExrWriter.write(image, out);
    return out.toByteArray();
  }

  private static double time(ForkJoinPool pool, Callable<?> work) throws IOException {
    long start = System.nanoTime();
    try {
      pool.submit(work).get();
    } catch (InterruptedException | ExecutionException e) {
      throw new IOException(e);
    }
    return (System.nanoTime() - start) / 1e6;
  }

  private static String[] peer(Path peer, Path file, Compression c) throws IOException {
    Process p =
        new ProcessBuilder(
                peer.toString(), "time", file.toString(), c.name(), Integer.toString(ROUNDS))
            .start();
    try (var in = p.getInputStream()) {
      String[] told = new String(in.readAllBytes(), StandardCharsets.UTF_8).strip().split(" ");
      if (told.length != 2) {
        throw new IOException(peer + " told no times");
      }
      return told;
    }
  }

  /** Prints times as a table. */
  static void table(All<Times> all, PrintWriter out) {
    for (Times t : all.times) {
      out.printf(
          "%,d pixels, %d channels, %d threads: read %.1f ms%n",
          t.pixels, t.channels, t.threads, t.readS * 1000);
      t.writeS.forEach((c, s) -> out.printf("  write %-6s %8.1f ms%n", c, s * 1000));
    }
  }

  /** Prints a comparison as a table. */
  static void print(All<Beside> all, PrintWriter out) {
    out.println(
        "| compression | read | library | library by read | write | library | library by write | size |");
    out.println("|---|---|---|---|---|---|---|---|");
    for (Beside t : all.times) {
      out.printf(
          "| %s | %.1f ms | %.1f ms | %.2f | %.1f ms | %.1f ms | %.2f | %.2f MB |%n",
          t.compression,
          t.readMs,
          t.nativeReadMs,
          t.nativeReadMs / t.readMs,
          t.writeMs,
          t.nativeWriteMs,
          t.nativeWriteMs / t.writeMs,
          t.bytes / 1e6);
    }
  }
}
