package org.wedgecutter.bench;

import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.SortedMap;
import java.util.concurrent.Callable;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.ForkJoinPool;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.render.FrameRenderer;
import org.wedgecutter.exr.Box;
import org.wedgecutter.exr.Channel;
import org.wedgecutter.exr.Compression;
import org.wedgecutter.exr.ExrImage;
import org.wedgecutter.exr.ExrPart;
import org.wedgecutter.exr.ExrReader;
import org.wedgecutter.exr.ExrWriter;
import org.wedgecutter.exr.PixelType;
import org.wedgecutter.exr.Samples;

/**
 * Reading and writing of OpenEXR in memory, by one thread, beside the OpenEXR project's library:
 * the small program in {@code wedgecutter-exr/src/test/native}, compiled, which tells its times.
 * The frame is the uncut first frame of the demo: half colours and alpha, and float brightness.
 */
final class ExrBench {
  private static final int ROUNDS = 7;
  private static final int TURNS = 3;

  private ExrBench() {}

  /**
   * One compression.
   *
   * @param readMs to read here, milliseconds
   * @param writeMs to write here
   * @param nativeReadMs to read by the library
   * @param nativeWriteMs to write by the library
   * @param bytes of the file that is written here
   */
  record Times(
      String compression,
      double readMs,
      double writeMs,
      double nativeReadMs,
      double nativeWriteMs,
      int bytes) {}

  /** All compressions. */
  record Table(List<Times> exr) {}

  static Table run(Path demo, Path peer) throws IOException {
    Path folder = Files.createTempDirectory("exr-bench");
    List<Times> out = new ArrayList<>();
    ForkJoinPool one = new ForkJoinPool(1);
    try {
      SortedMap<Channel, Samples> channels = frame(demo);
      Box box = Box.ofSize(960, 540);
      for (Compression c : Compression.values()) {
        if (!c.isWritten()) {
          continue;
        }
        ExrImage image = new ExrImage(List.of(new ExrPart("", c, box, box, Map.of(), channels)));
        byte[] bytes = bytes(image);
        Path file = folder.resolve(c + ".exr");
        Files.write(file, bytes);
        List<Double> reads = new ArrayList<>();
        List<Double> writes = new ArrayList<>();
        List<Double> nativeReads = new ArrayList<>();
        List<Double> nativeWrites = new ArrayList<>();
        for (int turn = 0; turn < TURNS; turn++) {
          for (int r = 0; r < 2 * ROUNDS; r++) {
            double read = time(one, () -> ExrReader.read(bytes));
            double write = time(one, () -> bytes(image));
            if (r >= ROUNDS) {
              reads.add(read);
              writes.add(write);
            }
          }
          String[] told = peer(peer, file, c);
          nativeReads.add(Double.parseDouble(told[0]));
          nativeWrites.add(Double.parseDouble(told[1]));
        }
        out.add(
            new Times(
                c.name(),
                Measure.median(reads),
                Measure.median(writes),
                Measure.median(nativeReads),
                Measure.median(nativeWrites),
                bytes.length));
        Files.delete(file);
      }
    } finally {
      one.shutdown();
      Files.deleteIfExists(folder);
    }
    return new Table(out);
  }

  private static SortedMap<Channel, Samples> frame(Path demo) throws IOException {
    LoadedShot shot = LoadedShot.load(demo.resolve("orrery/orrery.wedge"));
    int threads = Runtime.getRuntime().availableProcessors();
    Picture p =
        new FrameRenderer(shot, FrameRenderer.Settings.of(shot, 1, 4, threads, false))
            .render(1, l -> false, true, k -> {})
            .uncut();
    SortedMap<Channel, Samples> out = ExrPart.newChannels();
    int pixels = p.width() * p.height();
    for (int c = 0; c < 4; c++) {
      float[] plane = new float[pixels];
      for (int k = 0; k < pixels; k++) {
        plane[k] = p.rgba()[4 * k + c];
      }
      out.put(new Channel("RGBA".substring(c, c + 1), PixelType.HALF), new Samples.Real(plane));
    }
    float[] bright = new float[pixels];
    for (int k = 0; k < pixels; k++) {
      bright[k] = (p.rgba()[4 * k] + p.rgba()[4 * k + 1] + p.rgba()[4 * k + 2]) / 3;
    }
    out.put(new Channel("brightness", PixelType.FLOAT), new Samples.Real(bright));
    return out;
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
    } catch (UncheckedIOException e) {
      throw e.getCause();
    }
  }

  static void table(Table all, java.io.PrintWriter out) {
    out.println(
        "| compression | read | library | library by read | write | library | library by write | size |");
    out.println("|---|---|---|---|---|---|---|---|");
    for (Times t : all.exr) {
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
