package org.wedgecutter.cli;

import java.io.PrintWriter;
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
import org.wedgecutter.core.deliver.DeliveryRenderer;
import org.wedgecutter.core.deliver.Patcher;
import org.wedgecutter.core.image.Region;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.plan.FileNames;
import org.wedgecutter.core.plan.FrameRange;
import org.wedgecutter.core.plan.LayerDef;
import org.wedgecutter.core.plan.Shot;
import org.wedgecutter.core.render.FrameRenderer;
import org.wedgecutter.core.render.RenderedFrame;
import org.wedgecutter.core.resolve.EntitySet;
import org.wedgecutter.core.scene.Entity;
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

  @Option(
      names = "--patch",
      paramLabel = "LAYER",
      description =
          "Render a part of a layer again, by --region, --entity or --material, and drop it into a finished delivery (--out).")
  private @Nullable String patch;

  @Option(
      names = "--entity",
      paramLabel = "PATH",
      description = "With --patch: the pixels in which the camera sees this entity.")
  private @Nullable String entity;

  @Option(
      names = "--material",
      paramLabel = "NAME",
      description = "With --patch: the pixels of all entities that have this material.")
  private @Nullable String material;

  @Option(
      names = "--with-reach",
      description =
          "With --patch: render whole what the edit touches outside these pixels, in other layers too.")
  private boolean withReach;

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
    if (patch != null) {
      return patched(shot, patch);
    }
    if (entity != null || material != null || withReach) {
      throw new ParameterException(
          spec.commandLine(), "--entity, --material and --with-reach go with --patch LAYER");
    }
    Shot s = shot.plan().requireShot();
    Map<String, Set<Integer>> only = cells(shot);
    List<Integer> chosen =
        !only.isEmpty()
            ? only.values().stream().flatMap(Set::stream).distinct().sorted().toList()
            : frames == null ? s.frames().frames() : options.range(frames).frames();
    Path folder = out == null ? DeliveryRenderer.freeFolder(shot) : out;
    DeliveryRenderer renderer =
        new DeliveryRenderer(
            shot,
            new DeliveryRenderer.Order(
                    folder, layers, chosen, uncut, settings(shot), resume || part != null)
                .withEveryFrame(everyFrame)
                .withShare(share())
                .withCells(only)
                .changing(changed));
    long start = System.nanoTime();
    Delivery delivery;
    try (var _ = Commands.onInterrupt(renderer::stop)) {
      delivery = renderer.run((frame, part, share) -> result.progress("frame " + frame, share));
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
                  "  %s: frame %d is held at %s, since the layer is the same there%n",
                  e.layer(), e.frame(), FrameRange.of(e.heldAt()).text());
            }
          }
          if (renderer.cutShort() > 0) {
            o.printf(
                "  %d walks through media were cut short: too many steps%n", renderer.cutShort());
          }
        });
    return Commands.FINE;
  }

  private record PatchTold(int frame, @Nullable Region region, boolean whole) {}

  private record TouchedTold(String layer, int frame, @Nullable Double share) {}

  private record PatchedTold(
      String delivery, String layer, List<PatchTold> patches, List<TouchedTold> touched) {}

  private int patched(LoadedShot shot, String layer) throws Exception {
    if (out == null) {
      throw new ParameterException(
          spec.commandLine(), "--patch: expected the delivery too, --out FOLDER");
    }
    Delivery delivery = Delivery.read(out);
    EntitySet entities = entities(shot);
    FrameRenderer.Settings whole =
        new FrameRenderer.Settings(
            delivery.width(),
            delivery.height(),
            delivery.samples(),
            FrameRenderer.Settings.threads(threads.asked()),
            false,
            delivery.region());
    if (region == null && entities.isEmpty()) {
      throw new ParameterException(
          spec.commandLine(), "--patch: expected --region, --entity or --material");
    }
    List<Integer> chosen = frames == null ? List.of() : options.range(frames).frames();
    Patcher patcher =
        new Patcher(
            shot,
            delivery,
            new Patcher.Order(
                layer, chosen, region == null ? null : region(whole).region(), entities),
            whole.threads());
    Patcher.Done done;
    try (var _ = Commands.onInterrupt(patcher::stop)) {
      done = patcher.run(p -> result.progress("patch", p));
    }
    List<Patcher.Touched> touched = done.touched();
    if (withReach && !touched.isEmpty()) {
      Map<String, Set<Integer>> also = new LinkedHashMap<>();
      touched.forEach(t -> also.computeIfAbsent(t.layer(), l -> new TreeSet<>()).add(t.frame()));
      List<Integer> at = touched.stream().map(Patcher.Touched::frame).distinct().sorted().toList();
      DeliveryRenderer renderer =
          new DeliveryRenderer(
              shot,
              new DeliveryRenderer.Order(out, List.of(), at, true, whole, true)
                  .withCells(also)
                  .changing(true));
      try (var _ = Commands.onInterrupt(renderer::stop)) {
        renderer.run((frame, p, share) -> result.progress("frame " + frame, share));
      }
    }
    result.print(told(delivery, layer, done), o -> print(layer, done, o));
    return Commands.FINE;
  }

  private static PatchedTold told(Delivery delivery, String layer, Patcher.Done done) {
    return new PatchedTold(
        delivery.folder().toString(),
        layer,
        done.patches().stream()
            .map(p -> new PatchTold(p.frame(), p.region().orElse(null), p.whole()))
            .toList(),
        done.touched().stream()
            .map(t ->
                new TouchedTold(
                    t.layer(), t.frame(), Double.isFinite(t.share()) ? t.share() : null))
            .toList());
  }

  private void print(String layer, Patcher.Done done, PrintWriter o) {
    for (Patcher.Patch p : done.patches()) {
      o.printf(
          "%s, frame %d: %s%n",
          layer,
          p.frame(),
          p.region()
              .map(r ->
                  "%d x %d pixels at %d, %d rendered again%s"
                      .formatted(
                          r.width(),
                          r.height(),
                          r.x(),
                          r.y(),
                          p.whole() ? "; the file is what a full render gives" : ""))
              .orElse("not seen"));
    }
    if (!done.touched().isEmpty()) {
      o.println(
          withReach
              ? "the edit reached further; these were rendered whole:"
              : "the edit reaches further; --with-reach renders these whole:");
      for (Patcher.Touched t : done.touched()) {
        o.printf(
            "  %s, frame %d%s%n",
            t.layer(),
            t.frame(),
            Double.isFinite(t.share()) ? ": %.2g %% of its light".formatted(100 * t.share()) : "");
      }
    }
  }

  /** The entities that were edited. */
  private EntitySet entities(LoadedShot shot) {
    String path = entity;
    String name = material;
    List<Entity> all = shot.scene().entities();
    EntitySet found =
        EntitySet.where(
            all.size(),
            e -> all.get(e).path().equals(path) || all.get(e).materials().contains(name));
    if (found.isEmpty() && (path != null || name != null)) {
      throw new ParameterException(
          spec.commandLine(),
          path != null
              ? "--entity: the scene has no entity '%s'".formatted(path)
              : "--material: nothing in the scene has the material '%s'".formatted(name));
    }
    return found;
  }

  private DeliveryRenderer.Share share() {
    if (part == null) {
      return DeliveryRenderer.Share.ALL;
    }
    String[] two = part.split("/");
    try {
      return new DeliveryRenderer.Share(
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
