package org.wedgecutter.cli;

import java.io.IOException;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import java.util.concurrent.Callable;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.command.Commands;
import org.wedgecutter.command.Result;
import org.wedgecutter.command.Threads;
import org.wedgecutter.core.deliver.Delivery;
import org.wedgecutter.core.deliver.DeliveryFolders;
import org.wedgecutter.core.deliver.unit.DeliveryOrder;
import org.wedgecutter.core.deliver.unit.DeliveryRenderer;
import org.wedgecutter.core.image.Region;
import org.wedgecutter.core.io.FileTrouble;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.plan.FileNames;
import org.wedgecutter.core.plan.FrameRange;
import org.wedgecutter.core.plan.LayerDef;
import org.wedgecutter.core.plan.Shot;
import org.wedgecutter.core.render.FrameRenderer;
import org.wedgecutter.core.render.RenderedFrame;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.ParameterException;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

@Command(
    name = "render",
    description = "Renders the enabled layers of a plan into a delivery.",
    mixinStandardHelpOptions = true,
    footer = {
      "",
      "Example: wedgecutter render demo/orrery/orrery.wedge --uncut --frames 1,20,48 --scale 0.25"
    })
@SuppressWarnings("NullAway.Init")
final class RenderCommand implements Callable<Integer> {
  @Mixin private Result result;
  @Spec private CommandSpec spec;

  @Parameters(paramLabel = "PLAN", description = "A plan (.wedge).")
  private Path file;

  @Option(
      names = "--layers",
      paramLabel = "LAYER",
      split = ",",
      description = "Render only these layers.")
  private List<String> layers = List.of();

  @Option(
      names = "--frames",
      paramLabel = "RANGE",
      description = "Render only these frames, for example 1-24x2,30.")
  private @Nullable String frames;

  @Option(names = "--uncut", description = "Also render the uncut frame.")
  private boolean uncut;

  @Option(
      names = {"-o", "--out"},
      paramLabel = "FOLDER",
      description = "Folder of the delivery. Default: NAME-v001 beside the plan.")
  private @Nullable Path out;

  @Mixin private Options options;
  @Mixin private Threads threads;

  @Option(names = "--region", paramLabel = "X,Y,W,H", description = "Render only these pixels.")
  private @Nullable String region;

  @Option(
      names = "--every-frame",
      description =
          "Render every frame of every layer, also where a layer is the same as at an earlier frame and would be held.")
  private boolean everyFrame;

  @Option(names = "--resume", description = "Continue a delivery that was stopped.")
  private boolean resume;

  @Option(
      names = "--changed",
      description =
          "Continue a delivery, and render again what a change of plan or scene has touched since.")
  private boolean changed;

  @Option(
      names = "--part",
      paramLabel = "K/N",
      description =
          "Render the K-th of N shares of the work. Any machine may render any share into the same folder.")
  private @Nullable String part;

  @Option(
      names = "--cells",
      paramLabel = "LAYER@FRAMES",
      description =
          "Render only these frames of these layers, for example Hero@1-4,9,Room@1. The uncut frame is called uncut.")
  private @Nullable String cells;

  @Mixin private PatchOptions patch;

  private record Traced(List<String> layers, double seconds) {}

  private record Written(
      String path,
      String layer,
      int frame,
      boolean uncut,
      List<String> passes,
      @Nullable Integer heldFrom,
      double seconds,
      int samples,
      long rays) {}

  private record Rendered(
      String delivery,
      double seconds,
      List<Traced> classes,
      List<Written> files,
      long peakBytes,
      long invalidSamples,
      long cutShort) {}

  @Override
  public Integer call() throws Exception {
    options.scale();
    options.samples();
    return threads.limit(this::render);
  }

  private int render() throws Exception {
    LoadedShot shot = options.withSeed(LoadedShot.load(file));
    if (patch.isAsked()) {
      if (out == null) {
        throw new ParameterException(
            spec.commandLine(), "--patch: expected the delivery too, --out FOLDER");
      }
      List<Integer> only = frames == null ? List.of() : options.range(frames).frames();
      return patch.run(shot, Delivery.read(out), only, threads.asked(), this::part, result);
    }
    Shot s = shot.plan().requireShot();
    Map<String, Set<Integer>> only = cells(shot);
    List<Integer> chosen =
        !only.isEmpty()
            ? only.values().stream().flatMap(Set::stream).distinct().sorted().toList()
            : frames == null ? s.frames().frames() : options.range(frames).frames();
    Path folder = out == null ? DeliveryFolders.free(shot) : out;
    DeliveryRenderer renderer =
        new DeliveryRenderer(
            shot,
            new DeliveryOrder(folder, layers, chosen, uncut, settings(shot), resume || part != null)
                .withEveryFrame(everyFrame)
                .withShare(share())
                .withCells(only)
                .changing(changed));
    long start = System.nanoTime();
    Delivery delivery;
    try (var _ = Commands.onInterrupt(renderer::stop)) {
      delivery = renderer.run((frame, part, share) -> result.progress("frame " + frame, share));
    } catch (InputException e) {
      throw e;
    } catch (IOException e) {
      throw new IOException(
          "%s; what is finished stays in %s, and --resume goes on"
              .formatted(FileTrouble.words(e), folder),
          e);
    }
    double seconds = (System.nanoTime() - start) / 1e9;
    result.print(
        document(delivery, chosen, renderer, seconds),
        o -> {
          o.printf("%d files in %s, %.1f s%n", delivery.files().size(), folder, seconds);
          for (RenderedFrame.ClassTime c : renderer.classes()) {
            o.printf("  one trace, %.1f s: %s%n", c.seconds(), String.join(", ", c.layers()));
          }
          for (Delivery.Entry e : delivery.files()) {
            if (!e.heldAt().isEmpty()) {
              o.printf(
                  "  %s: frame %d is reused at %s: nothing changes there%n",
                  e.layer(), e.frame(), FrameRange.of(e.heldAt()).text());
            }
          }
          if (renderer.cutShort() > 0) {
            o.printf("  %d volume paths were terminated: too many steps%n", renderer.cutShort());
          }
        });
    return Commands.FINE;
  }

  private DeliveryOrder.Share share() {
    if (part == null) {
      return DeliveryOrder.Share.ALL;
    }
    String[] two = part.split("/");
    try {
      return new DeliveryOrder.Share(
          Integer.parseInt(two[0].trim()), Integer.parseInt(two[two.length - 1].trim()));
    } catch (IllegalArgumentException e) {
      throw new ParameterException(
          spec.commandLine(),
          "--part: '%s', expected K/N with K from 1 to N, for example 2/8".formatted(part),
          e);
    }
  }

  private Map<String, Set<Integer>> cells(LoadedShot shot) {
    Map<String, Set<Integer>> out = new LinkedHashMap<>();
    String layer = "";
    for (String word : cells == null ? new String[0] : cells.split(",")) {
      // a range may have commas, too: what names no layer goes on with the one before
      int at = word.lastIndexOf('@');
      layer = at < 0 ? layer : word.substring(0, at).trim();
      if (!layer.equals(FileNames.UNCUT) && shot.plan().layer(layer).isEmpty()) {
        throw new ParameterException(
            spec.commandLine(),
            "--cells: '%s', expected LAYER@FRAMES with one of the layers %s, or uncut"
                .formatted(
                    word,
                    String.join(", ", shot.plan().layers().stream().map(LayerDef::name).toList())));
      }
      out.computeIfAbsent(layer, l -> new TreeSet<>())
          .addAll(options.range(word.substring(at + 1)).frames());
    }
    return out;
  }

  private FrameRenderer.Settings settings(LoadedShot shot) {
    FrameRenderer.Settings whole =
        FrameRenderer.Settings.of(
            shot, options.scale(), options.samples(), threads.asked(), options.separately());
    return region == null ? whole : region(whole);
  }

  /** The region that was asked for, or null. */
  private @Nullable Region part(FrameRenderer.Settings whole) {
    return region == null ? null : region(whole).region();
  }

  private FrameRenderer.Settings region(FrameRenderer.Settings whole) {
    try {
      int[] n =
          Arrays.stream(String.valueOf(region).split(","))
              .map(String::trim)
              .mapToInt(Integer::parseInt)
              .toArray();
      if (n.length != 4) {
        throw new IllegalArgumentException("expected four numbers");
      }
      return whole.within(new Region(n[0], n[1], n[2], n[3]));
    } catch (IllegalArgumentException e) {
      throw new ParameterException(
          spec.commandLine(),
          "--region: '%s', expected X,Y,W,H within %d x %d pixels"
              .formatted(region, whole.width(), whole.height()),
          e);
    }
  }

  /** A file as a frame shows it: what is held costs that frame nothing. */
  private static Written written(Delivery.Entry f, int frame) {
    boolean held = f.frame() != frame;
    return new Written(
        f.path(),
        f.layer(),
        frame,
        f.uncut(),
        f.passes(),
        held ? f.frame() : null,
        held ? 0 : f.seconds(),
        f.samples(),
        held ? 0 : f.rays());
  }

  private static Rendered document(
      Delivery delivery, List<Integer> frames, DeliveryRenderer renderer, double seconds) {
    return new Rendered(
        delivery.folder().toString(),
        seconds,
        renderer.classes().stream().map(c -> new Traced(c.layers(), c.seconds())).toList(),
        frames.stream()
            .flatMap(frame -> delivery.shown(frame).stream().map(f -> written(f, frame)))
            .toList(),
        renderer.peakBytes(),
        renderer.invalidSamples(),
        renderer.cutShort());
  }
}
