package org.wedgecutter.bench;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.SortedMap;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.deliver.file.ExrFrames;
import org.wedgecutter.core.image.DeepPicture;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.pass.IdMatteFile;
import org.wedgecutter.core.pass.IdMattes;
import org.wedgecutter.core.plan.Correction;
import org.wedgecutter.core.plan.Extra;
import org.wedgecutter.core.plan.Join;
import org.wedgecutter.core.plan.MatteDef;
import org.wedgecutter.core.plan.Recipe;
import org.wedgecutter.core.rejoin.Evaluation;
import org.wedgecutter.core.rejoin.Expression;
import org.wedgecutter.core.rejoin.IdCover;
import org.wedgecutter.core.rejoin.LayerSource;
import org.wedgecutter.exr.Box;
import org.wedgecutter.exr.Channel;
import org.wedgecutter.exr.Compression;
import org.wedgecutter.exr.ExrImage;
import org.wedgecutter.exr.ExrPart;
import org.wedgecutter.exr.ExrReader;
import org.wedgecutter.exr.ExrWriter;
import org.wedgecutter.exr.PixelType;
import org.wedgecutter.exr.Samples;

/** What a drag at the Rejoin station costs, and picking, merging and reading. */
final class RejoinBench {
  private static final int WIDTH = 1280;
  private static final int HEIGHT = 720;
  private static final int LAYERS = 6;
  private static final int ROUNDS = 90;
  private static final int OBJECTS = 200;
  private static final int FILES = 7;
  private static final int CHANNELS = 100;

  private final Random random = new Random(1);
  private final Map<String, Picture> pictures = new HashMap<>();
  private final List<Recipe.Step> steps = new ArrayList<>();
  private final List<Measure> out = new ArrayList<>();

  private RejoinBench() {}

  static List<Measure> run() throws IOException {
    RejoinBench bench = new RejoinBench();
    bench.drags();
    bench.deep();
    bench.matte();
    bench.files();
    return bench.out;
  }

  private void add(String key, String text, double value, String unit) {
    out.add(new Measure(key, text, value, unit));
  }

  // ---- drags

  private void drags() {
    for (int l = 0; l < LAYERS; l++) {
      Picture p = Picture.empty(WIDTH, HEIGHT);
      for (int i = 0; i < p.rgba().length; i++) {
        p.rgba()[i] = random.nextFloat();
      }
      pictures.put("L" + l, p);
      steps.add(new Recipe.Step("L" + l, l < LAYERS / 2 ? Join.PLUS : Join.OVER, Extra.NONE));
    }
    String[] names = {"an exposure", "a contrast", "a gamma", "a saturation of all"};
    for (int k = 0; k < names.length; k++) {
      int which = k;
      Evaluation.Memo memo = new Evaluation.Memo();
      double[] value = {1};
      double kept =
          Measure.median(ROUNDS, () -> Measure.milliseconds(() -> picture(which, value, memo)));
      add(
          "drag_%d_ms".formatted(k),
          "dragging %s, six layers, four corrections, 1280 x 720".formatted(names[k]),
          kept,
          "ms");
    }
    double[] value = {1};
    double fresh =
        Measure.median(
            ROUNDS, () -> Measure.milliseconds(() -> picture(0, value, new Evaluation.Memo())));
    add("fresh_ms", "the same with nothing kept", fresh, "ms");
  }

  private void picture(int dragged, double[] value, Evaluation.Memo memo) {
    value[0] = value[0] < 2 ? value[0] + 0.01 : 1;
    Double[] v = {0.5, 1.5, 1.2, 0.9};
    v[dragged] = value[0];
    Recipe recipe =
        new Recipe(steps, Extra.NONE)
            .withCorrections(
                List.of(
                    Correction.of("L1", "", Correction.Type.EXPOSURE, v[0]),
                    Correction.of("L2", "", Correction.Type.CONTRAST, v[1], 0.18),
                    Correction.of("L4", "", Correction.Type.GAMMA, v[2]),
                    Correction.of("", "", Correction.Type.SATURATION, v[3])));
    Evaluation.picture(Expression.of(recipe), WIDTH, HEIGHT, new Made(), memo);
  }

  /** The layers that were made up. */
  private final class Made implements LayerSource<RuntimeException> {
    @Override
    public Picture picture(String layer) {
      Picture p = pictures.get(layer);
      if (p == null) {
        throw new IllegalArgumentException(layer);
      }
      return p;
    }

    @Override
    public Picture pass(String layer, String pass) {
      return picture(layer);
    }

    @Override
    public Picture cover(String layer, MatteDef matte) {
      return picture(layer);
    }

    @Override
    public Depth depth(String layer) {
      return new Depth(WIDTH, HEIGHT, new float[WIDTH * HEIGHT]);
    }

    @Override
    public @Nullable DeepPicture deep(String layer) {
      return null;
    }

    @Override
    public int shotWidth() {
      return WIDTH;
    }
  }

  // ---- deep and mattes

  private void deep() {
    DeepPicture a = deepPicture();
    DeepPicture b = deepPicture();
    double merge = Measure.median(12, () -> Measure.milliseconds(() -> a.merged(b).flattened()));
    add("deep_merge_ms", "merging two deep layers and flattening, 960 x 540", merge, "ms");
  }

  private DeepPicture deepPicture() {
    float[][] pixels = new float[960 * 540][];
    for (int p = 0; p < pixels.length; p++) {
      float[] own = new float[DeepPicture.NUMBERS * (1 + random.nextInt(4))];
      for (int s = 0; s < own.length; s++) {
        own[s] = random.nextFloat() / 2;
      }
      for (int s = 0; s < own.length; s += DeepPicture.NUMBERS) {
        own[s + DeepPicture.FRONT] = 10 * random.nextFloat();
        own[s + DeepPicture.BACK] = own[s + DeepPicture.FRONT];
      }
      pixels[p] = own;
    }
    return new DeepPicture(960, 540, pixels);
  }

  private void matte() {
    IdMattes ids = new IdMattes("CryptoObject", WIDTH * HEIGHT);
    float[] id = new float[OBJECTS];
    for (int o = 0; o < OBJECTS; o++) {
      ids.name("/object" + o);
      id[o] = IdMattes.id("/object" + o);
    }
    for (int p = 0; p < WIDTH * HEIGHT; p++) {
      int count = 1 + random.nextInt(3);
      for (int k = 0; k < count; k++) {
        ids.add(p, id[(p / 500 + 7 * k) % OBJECTS], 1f / count);
      }
    }
    List<IdMatteFile> mattes = IdMatteFile.of(ids.pictures(), ids.header(), WIDTH);
    double pick =
        Measure.median(
            20,
            () ->
                Measure.milliseconds(() -> {
                  mattes.getFirst().at(WIDTH / 2, HEIGHT / 2);
                  IdCover.of(mattes, List.of("/object7", "/object9*"), "", WIDTH * HEIGHT);
                }));
    add("matte_ms", "picking twelve of 200 objects, 1280 x 720", pick, "ms");
  }

  // ---- files

  private void files() throws IOException {
    Path folder = Files.createTempDirectory("rejoin-bench");
    List<Path> one = new ArrayList<>();
    List<Path> apart = new ArrayList<>();
    for (int f = 0; f < FILES; f++) {
      one.add(folder.resolve("layer%d.exr".formatted(f)));
      apart.add(folder.resolve("apart%d.exr".formatted(f)));
      var channels = channels();
      write(one.getLast(), List.of(channels));
      var passes = channels.tailMap(new Channel("a", PixelType.HALF));
      write(apart.getLast(), List.of(channels.headMap(passes.firstKey()), passes));
    }
    double needed = seconds(one, false);
    double all = seconds(one, true);
    double beauties = seconds(apart, false);
    for (Path file : Stream.concat(one.stream(), apart.stream()).toList()) {
      Files.delete(file);
    }
    Files.delete(folder);
    add("read_needed_s", "beauties of 7 files of 100 channels, 960 x 540", needed, "s");
    add("read_apart_s", "the same, the beauty in its own EXR part", beauties, "s");
    add("read_all_s", "all channels of the same", all, "s");
  }

  private SortedMap<Channel, Samples> channels() {
    var channels = ExrPart.newChannels();
    for (int c = 0; c < CHANNELS; c++) {
      float[] plane = new float[960 * 540];
      for (int p = 0; p < plane.length; p++) {
        plane[p] = (float) (Math.sin(p * 1e-3 + c) + 0.05 * random.nextFloat());
      }
      String name = c < 4 ? "RGBA".substring(c, c + 1) : "pass%02d.X".formatted(c);
      channels.put(new Channel(name, PixelType.HALF), new Samples.Real(plane));
    }
    return channels;
  }

  private static void write(Path file, List<SortedMap<Channel, Samples>> channels)
      throws IOException {
    Box box = Box.ofSize(960, 540);
    List<ExrPart> parts = new ArrayList<>();
    for (var own : channels) {
      String name = channels.size() > 1 ? "part" + parts.size() : "";
      parts.add(new ExrPart(name, Compression.ZIP, box, box, Map.of(), own));
    }
    try (var to = Files.newOutputStream(file)) {
      ExrWriter.write(new ExrImage(parts), to);
    }
  }

  private static double seconds(List<Path> files, boolean whole) throws IOException {
    List<Double> times = new ArrayList<>();
    for (int k = 0; k < 5; k++) {
      long start = System.nanoTime();
      for (Path file : files) {
        if (whole) {
          ExrReader.read(file);
        } else {
          ExrFrames.read(file);
        }
      }
      times.add((System.nanoTime() - start) / 1e9);
    }
    return Measure.median(times);
  }
}
