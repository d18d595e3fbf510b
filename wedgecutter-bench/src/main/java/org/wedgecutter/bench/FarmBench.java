package org.wedgecutter.bench;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import org.wedgecutter.core.deliver.Delivery;
import org.wedgecutter.core.deliver.Unit;
import org.wedgecutter.core.deliver.unit.DeliveryOrder;
import org.wedgecutter.core.deliver.unit.DeliveryRenderer;
import org.wedgecutter.core.deliver.unit.DeliveryStatus;
import org.wedgecutter.core.io.AtomicFile;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.plan.FrameRange;
import org.wedgecutter.core.render.FrameRenderer;

/**
 * A delivery of many units in one folder that many workers share: what each step costs, measured on
 * this machine's disk, and what a farm of so many workers spends on it in all. Nothing is traced:
 * the records are those of one real unit, under other names.
 */
final class FarmBench {
  private static final int LAYERS = 10;
  private static final String DIGEST = "0".repeat(64);

  private FarmBench() {}

  /**
   * @param demo folder of the demo shots
   * @param units how many
   * @param workers how many render at once
   */
  static List<Measure> run(Path demo, int units, int workers) throws IOException {
    Path folder = Files.createTempDirectory("farm");
    try {
      LoadedShot shot = LoadedShot.load(demo.resolve("orrery/orrery.wedge"));
      int frames = Math.max(1, units / LAYERS);
      List<Unit> all = new ArrayList<>();
      for (int frame = 1; frame <= frames; frame++) {
        for (int l = 0; l < LAYERS; l++) {
          all.add(new Unit(name(shot, l), false, frame, DIGEST, List.of()));
        }
      }
      Files.writeString(folder.resolve("picture"), "1234");
      List<Measure> out = new ArrayList<>();
      double write = seconds(() -> all.forEach(u -> record(folder, u))) / all.size();
      out.add(
          new Measure(
              "farm_record_ms", "a record is written, its folder synced", write * 1000, "ms"));
      Delivery told = delivery(shot, folder, all);
      double manifest = seconds(() -> write(told));
      out.add(
          new Measure(
              "farm_manifest_mb",
              "the manifest before anything is rendered",
              Files.size(folder.resolve(Delivery.MANIFEST)) / 1e6,
              "MB"));
      double listed = seconds(() -> list(folder));
      out.add(new Measure("farm_list_s", "the names of all records are listed", listed, "s"));
      int share = Math.max(1, all.size() / workers);
      double own = seconds(() -> all.subList(0, share).forEach(u -> cell(folder, u)));
      out.add(new Measure("farm_own_s", "a worker reads the records of its share", own, "s"));
      double read = seconds(() -> status(folder));
      out.add(new Measure("farm_status_s", "status reads all records", read, "s"));
      double merge = seconds(() -> write(read(folder)));
      out.add(new Measure("farm_merge_s", "the records are merged into the manifest", merge, "s"));
      out.add(
          new Measure(
              "farm_merged_mb",
              "the manifest then",
              Files.size(folder.resolve(Delivery.MANIFEST)) / 1e6,
              "MB"));
      LoadedShot longer =
          shot.withPlan(
              shot.plan()
                  .withShot(
                      shot.plan()
                          .requireShot()
                          .with(s -> s.frames = FrameRange.parse("1-" + frames))));
      double planned = seconds(() -> plan(longer, folder.resolve("planned")));
      out.add(new Measure("farm_plan_s", "a worker finds the units of all frames", planned, "s"));
      double each = manifest + 2 * listed + own + planned;
      out.add(
          new Measure(
              "farm_worker_s", "a worker in all, besides rendering and writing", each, "s"));
      out.add(
          new Measure(
              "farm_all_h",
              "%,d workers together, besides rendering".formatted(workers),
              (workers * each + all.size() * write) / 3600,
              "h"));
      return out;
    } finally {
      try (var all = Files.walk(folder)) {
        for (Path p : all.sorted(Comparator.reverseOrder()).toList()) {
          Files.delete(p);
        }
      }
    }
  }

  private static String name(LoadedShot shot, int layer) {
    int count = shot.plan().layers().size();
    return shot.plan().layers().get(layer % count).name() + (layer < count ? "" : layer);
  }

  private static Delivery delivery(LoadedShot shot, Path folder, List<Unit> units) {
    FrameRenderer.Settings s = FrameRenderer.Settings.of(shot, 1, 0, 1, false);
    return new Delivery(
        folder,
        shot.plan(),
        s.width(),
        s.height(),
        s.region(),
        s.samples(),
        1,
        "",
        units,
        List.of(),
        List.of());
  }

  private static void record(Path folder, Unit unit) {
    String text =
        """
        {"wedgecutter_unit": 1, "layer": "%s", "frame": %d, "uncut": false, "digest": "%s",
         "files": [{"path": "picture", "passes": ["diffuse.direct", "diffuse.indirect", "specular.direct"],
         "sha256": "%s", "bytes": 4, "samples": 64, "seconds": 12.5, "rays": 1234567}],
         "machine": "node-0123", "finished": "2026-01-01T00:00:00Z"}
        """
            .formatted(unit.layer(), unit.frame(), DIGEST, DIGEST);
    Path file =
        folder.resolve(
            "units/%s.%04d.json".formatted(unit.layer().replace(' ', '_'), unit.frame()));
    try {
      AtomicFile.write(file, o -> o.write(text.getBytes(StandardCharsets.UTF_8)));
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  private static void write(Delivery delivery) {
    try {
      delivery.write();
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  private static Delivery read(Path folder) {
    try {
      return Delivery.read(folder);
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  private static void status(Path folder) {
    try {
      DeliveryStatus status = DeliveryStatus.read(folder);
      if (!status.problems().isEmpty()) {
        throw new IllegalStateException(status.problems().getFirst());
      }
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  private static void cell(Path folder, Unit unit) {
    try {
      DeliveryStatus.cell(folder, unit);
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  private static void list(Path folder) {
    try (var all = Files.newDirectoryStream(folder.resolve("units"), "*.json")) {
      all.forEach(p -> {});
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  private static void plan(LoadedShot shot, Path folder) {
    try {
      FrameRenderer.Settings settings = FrameRenderer.Settings.of(shot, 1, 0, 1, false);
      new DeliveryRenderer(
          shot,
          new DeliveryOrder(
                  folder,
                  List.of(),
                  shot.plan().requireShot().frames().frames(),
                  true,
                  settings,
                  true)
              .withShare(new DeliveryOrder.Share(1, 1000)));
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  private static double seconds(Runnable work) {
    return Measure.milliseconds(work) / 1000;
  }
}
