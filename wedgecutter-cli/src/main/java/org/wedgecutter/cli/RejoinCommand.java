package org.wedgecutter.cli;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Set;
import java.util.concurrent.Callable;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.command.Commands;
import org.wedgecutter.command.Result;
import org.wedgecutter.command.Threads;
import org.wedgecutter.core.deliver.Delivery;
import org.wedgecutter.core.deliver.file.DeliveryPictures;
import org.wedgecutter.core.deliver.file.TracedRejoin;
import org.wedgecutter.core.export.HandOver;
import org.wedgecutter.core.export.LayeredProof;
import org.wedgecutter.core.export.OpenRaster;
import org.wedgecutter.core.export.RejoinedFile;
import org.wedgecutter.core.image.PictureWriter;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.plan.FrameRange;
import org.wedgecutter.core.plan.LayerDef;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.PlanParts;
import org.wedgecutter.core.rejoin.Expression;
import org.wedgecutter.core.render.FrameRenderer;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.ParameterException;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

@Command(
    name = "rejoin",
    description =
        "Rejoins the written files of a delivery by its recipe, or of a plan what is traced now.",
    mixinStandardHelpOptions = true,
    footer = {
      "",
      "Example: wedgecutter rejoin orrery-v001 --frame 20 -o rejoined.exr",
      "         wedgecutter rejoin orrery-v001 --hand-over"
    })
@SuppressWarnings("NullAway.Init")
final class RejoinCommand implements Callable<Integer> {
  @Mixin private Result result;
  @Spec private CommandSpec spec;

  @Mixin private Options options;
  @Mixin private Threads threads;

  @Parameters(
      paramLabel = "DELIVERY|PLAN",
      description = "Folder of a delivery, or a plan, which is traced.")
  private Path folder;

  @Option(names = "--frame", description = "Frame. Default: the first that was rendered.")
  private @Nullable Integer frame;

  @Option(
      names = "--frames",
      paramLabel = "RANGE|all",
      description = "Several frames; the file's name then holds {frame:4}.")
  private String frames = "";

  @Option(
      names = {"-o", "--out"},
      paramLabel = "FILE",
      description =
          "The file to write: .exr, .tif (32-bit floats), .hdr, .png (16-bit sRGB, as a screen shows it), or .ora (OpenRaster: the layers in one file).")
  private @Nullable Path out;

  @Option(
      names = "--hand-over",
      description =
          "Writes into the delivery's folder handover: rejoined frames (EXR, PNG), layered files (OpenRaster), contact sheets, recipe, script and the page of the cut.")
  private boolean handOver;

  @Option(
      names = "--recipe",
      paramLabel = "FILE",
      description =
          "Another recipe than the delivery's: a plan, or what export --as recipe has written.")
  private @Nullable Path recipe;

  @Option(
      names = "--layers",
      paramLabel = "LAYER",
      split = ",",
      description =
          "Join only these, into one picture that is transparent elsewhere and lies over any background.")
  private List<String> layers = List.of();

  @Override
  public Integer call() throws Exception {
    options.scale();
    options.samples();
    boolean isDelivery = Delivery.isDelivery(folder) || Files.isDirectory(folder);
    if (handOver) {
      return handOver(isDelivery);
    }
    Path file = out;
    if (file == null) {
      throw new ParameterException(
          spec.commandLine(), "expected -o FILE, or --hand-over for all that goes on from here");
    }
    String name = String.valueOf(file.getFileName()).toLowerCase(Locale.ROOT);
    if (!name.endsWith(".exr") && !PictureWriter.isFor(file) && !OpenRaster.isFor(file)) {
      throw new ParameterException(
          spec.commandLine(),
          "'%s': expected a file .exr, .tif, .hdr, .png or .ora".formatted(file));
    }
    return isDelivery ? written(file) : threads.limit(() -> traced(file));
  }

  private Delivery delivery() throws Exception {
    Delivery delivery = Delivery.read(folder);
    return recipe == null
        ? delivery
        : delivery.withRecipe(
            PlanParts.recipe(recipe, layers(delivery.plan())),
            recipe.toAbsolutePath().resolveSibling("."));
  }

  private static Set<String> layers(Plan plan) {
    return plan.layers().stream().map(LayerDef::name).collect(Collectors.toSet());
  }

  private int written(Path file) throws Exception {
    Delivery delivery = delivery();
    List<Rejoined> made = new ArrayList<>();
    for (int chosen : frames(delivery, file)) {
      Path to = Path.of(named(file.toString(), chosen));
      write(delivery, chosen, to);
      made.add(
          new Rejoined(
              to.toString(),
              chosen,
              line(delivery.plan()),
              OpenRaster.isFor(to) ? LayeredProof.of(to) : null));
    }
    return told(made, delivery.plan());
  }

  private String line(Plan plan) {
    return layers.isEmpty() ? Expression.of(plan.recipe()).line() : String.join(", ", layers);
  }

  private int told(List<Rejoined> made, Plan plan) {
    result.print(
        frames.isEmpty() ? made.getFirst() : new All(made),
        o -> {
          for (Rejoined r : made) {
            o.printf("rejoined frame %d into %s%n", r.frame, r.file);
            if (r.layered != null) {
              o.println("  " + r.layered.line());
            }
          }
          o.println(line(plan));
        });
    return Commands.FINE;
  }

  /** Traces the layers of a plan, and puts them together. */
  private int traced(Path file) throws Exception {
    if (!layers.isEmpty() || OpenRaster.isFor(file)) {
      throw new ParameterException(
          spec.commandLine(), "--layers and .ora are of a delivery; render the plan first");
    }
    LoadedShot loaded = options.withSeed(LoadedShot.load(folder));
    LoadedShot shot =
        recipe == null
            ? loaded
            : loaded.withPlan(
                loaded.plan().withRecipe(PlanParts.recipe(recipe, layers(loaded.plan()))));
    Plan plan = shot.plan();
    FrameRange range = plan.requireShot().frames();
    List<Integer> chosen =
        frames.isEmpty()
            ? List.of(frame == null ? range.first() : frame)
            : frames.equals("all") ? range.frames() : options.range(frames).frames();
    several(file);
    FrameRenderer renderer =
        new FrameRenderer(
            shot,
            FrameRenderer.Settings.of(
                shot, options.scale(), options.samples(), threads.asked(), options.separately()));
    List<Rejoined> made = new ArrayList<>();
    try (var _ = Commands.onInterrupt(renderer::stop)) {
      for (int each : chosen) {
        Path to = Path.of(named(file.toString(), each));
        TracedRejoin.write(shot, each, renderer, p -> result.progress("frame " + each, p), to);
        made.add(new Rejoined(to.toString(), each, line(plan), null));
      }
    }
    return told(made, plan);
  }

  private int handOver(boolean isDelivery) throws Exception {
    if (!isDelivery || out != null || !layers.isEmpty()) {
      throw new ParameterException(
          spec.commandLine(), "--hand-over: expected a delivery, without -o and --layers");
    }
    Delivery delivery = delivery();
    List<Integer> chosen =
        frames.isEmpty() && frame == null
            ? delivery.frames()
            : frames.isEmpty() ? List.of(ProveCommand.frame(delivery, frame)) : range(delivery);
    if (chosen.isEmpty()) {
      ProveCommand.frame(delivery, null);
    }
    HandOver made =
        HandOver.write(delivery, chosen, p -> result.progress("hand over", p), () -> false);
    result.print(
        made,
        o -> {
          o.printf("%d files in %s%n", made.files().size(), folder.resolve(HandOver.FOLDER));
          made.notes().forEach(o::println);
        });
    return Commands.FINE;
  }

  private List<Integer> frames(Delivery delivery, Path file) throws Exception {
    if (frames.isEmpty()) {
      return List.of(ProveCommand.frame(delivery, frame));
    }
    List<Integer> chosen = range(delivery);
    several(file);
    return chosen;
  }

  private List<Integer> range(Delivery delivery) throws Exception {
    if (frame != null) {
      throw new ParameterException(
          spec.commandLine(), "--frame and --frames: expected one of them");
    }
    List<Integer> chosen =
        frames.equals("all") ? delivery.frames() : options.range(frames).frames();
    for (int each : chosen) {
      ProveCommand.frame(delivery, each);
    }
    return chosen;
  }

  /** Several frames need names of their own. */
  private void several(Path file) {
    if (!frames.isEmpty() && named(file.toString(), 1).equals(named(file.toString(), 2))) {
      throw new ParameterException(
          spec.commandLine(),
          "'%s': expected a name with {frame:4}, for several frames".formatted(file));
    }
  }

  /** The name with a frame's number, of as many digits as it asks for. */
  private static String named(String name, int frame) {
    return Pattern.compile("\\{frame(?::(\\d))?}")
        .matcher(name)
        .replaceAll(m ->
            String.format(
                Locale.ROOT, "%0" + (m.group(1) == null ? "1" : m.group(1)) + "d", frame));
  }

  private void write(Delivery delivery, int chosen, Path file) throws Exception {
    if (layers.isEmpty()) {
      RejoinedFile.write(delivery, chosen, file);
    } else {
      if (OpenRaster.isFor(file)) {
        throw new ParameterException(
            spec.commandLine(), "--layers: one picture, expected a file .exr, .tif, .hdr or .png");
      }
      DeliveryPictures.write(
          delivery, DeliveryPictures.transparent(delivery, chosen, layers), file);
    }
  }

  private record All(List<Rejoined> frames) {}

  private record Rejoined(String file, int frame, String recipe, @Nullable LayeredProof layered) {}
}
