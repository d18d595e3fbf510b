package org.wedgecutter.demo;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.stream.Stream;
import org.wedgecutter.core.deliver.file.ExrFrames;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.image.RadianceHdr;
import org.wedgecutter.core.image.Region;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.plan.Bounces;
import org.wedgecutter.core.plan.Extra;
import org.wedgecutter.core.plan.FrameRange;
import org.wedgecutter.core.plan.Output;
import org.wedgecutter.core.plan.PlanWriter;
import org.wedgecutter.core.plan.Shot;
import org.wedgecutter.core.render.FrameRenderer;
import org.wedgecutter.exr.Box;
import org.wedgecutter.exr.Compression;

/**
 * The courtyard's plate, as a camera would have taken it: the plate's own scene, traced, a little
 * blurred, with grain. It takes minutes, so it is made on demand; the same pixels each time.
 */
final class CourtyardPlate {
  static final int WIDTH = 960;
  static final int HEIGHT = 540;
  private static final int SAMPLES = 64;

  private CourtyardPlate() {}

  /** Makes the plate and writes it. */
  static void write(Path file) throws IOException {
    Picture plate = picture(Region.whole(WIDTH, HEIGHT));
    Output output = new Output(Output.DEFAULT_NAME, true, Compression.ZIP, false, Extra.NONE);
    ExrFrames.write(
        file,
        plate,
        List.of(),
        output,
        Box.ofSize(WIDTH, HEIGHT),
        Box.ofSize(WIDTH, HEIGHT),
        Map.of());
  }

  /** Makes a part of the plate; the whole has the same numbers there. */
  static Picture picture(Region region) throws IOException {
    Path folder = Files.createTempDirectory("plate");
    try {
      Region wide = grown(region);
      Picture clean = trace(folder, wide);
      Picture out = Picture.empty(region.width(), region.height());
      for (int p = 0; p < region.width() * region.height(); p++) {
        int x = region.x() + p % region.width();
        int y = region.y() + p / region.width();
        for (int c = 0; c < 3; c++) {
          double soft = blurred(clean, x - wide.x(), y - wide.y(), c);
          // grain grows with the root of the light, as counting does
          double grain = 0.012 * Math.sqrt(Math.max(0, soft)) * speck(x, y, c);
          out.rgba()[4 * p + c] = (float) Math.max(0, soft + grain);
        }
        out.rgba()[4 * p + 3] = 1;
      }
      return out;
    } finally {
      try (Stream<Path> all = Files.walk(folder)) {
        for (Path path : all.sorted(Comparator.reverseOrder()).toList()) {
          Files.delete(path);
        }
      }
    }
  }

  private static Region grown(Region r) {
    int x = Math.max(0, r.x() - 1);
    int y = Math.max(0, r.y() - 1);
    return new Region(
        x,
        y,
        Math.min(WIDTH, r.x() + r.width() + 1) - x,
        Math.min(HEIGHT, r.y() + r.height() + 1) - y);
  }

  private static double blurred(Picture p, int x, int y, int c) {
    double sum = 0;
    double all = 0;
    for (int dy = -1; dy <= 1; dy++) {
      for (int dx = -1; dx <= 1; dx++) {
        int u = Math.max(0, Math.min(p.width() - 1, x + dx));
        int v = Math.max(0, Math.min(p.height() - 1, y + dy));
        double w = (dx == 0 ? 1 : 0.28) * (dy == 0 ? 1 : 0.28);
        sum += w * p.rgba()[4 * (v * p.width() + u) + c];
        all += w;
      }
    }
    return sum / all;
  }

  private static double speck(int x, int y, int c) {
    return 1.4
        * (Noise.at(x * 0.93 + 0.31, y * 0.97 + 0.17, c * 7.3 + 0.5, 801)
            + 0.6 * Noise.at(x * 0.47, y * 0.51, c * 5.1 + 0.5, 803));
  }

  private static Picture trace(Path folder, Region region) throws IOException {
    try (var out = Files.newOutputStream(folder.resolve("plate.glb"))) {
      CourtyardScene.writePlate(out);
    }
    try (var out = Files.newOutputStream(folder.resolve("sky.hdr"))) {
      RadianceHdr.write(CourtyardSky.picture(), out);
    }
    Path file = folder.resolve("plate.wedge");
    Shot.Draft shot = new Shot.Draft("plate.glb", FrameRange.parse("1"));
    shot.width = WIDTH;
    shot.height = HEIGHT;
    shot.samples = SAMPLES;
    shot.bounces = Bounces.of(4);
    shot.clamp = 8;
    shot.seed = 77;
    shot.environment = new Shot.EnvironmentDef("sky.hdr", 0, 1, Extra.NONE);
    PlanWriter.save(CourtyardPlan.empty(shot.build()), file);
    LoadedShot loaded = LoadedShot.load(file);
    FrameRenderer.Settings settings =
        FrameRenderer.Settings.of(loaded, 1, SAMPLES, 0, false).within(region);
    return new FrameRenderer(loaded, settings).render(1, l -> false, true, p -> {}).uncut();
  }
}
