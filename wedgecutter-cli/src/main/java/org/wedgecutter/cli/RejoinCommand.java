package org.wedgecutter.cli;

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
import org.wedgecutter.core.deliver.Delivery;
import org.wedgecutter.core.deliver.DeliveryProof;
import org.wedgecutter.core.deliver.OpenRaster;
import org.wedgecutter.core.image.PictureWriter;
import org.wedgecutter.core.plan.FrameRange;
import org.wedgecutter.core.plan.LayerDef;
import org.wedgecutter.core.plan.PlanParts;
import org.wedgecutter.core.rejoin.Expression;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.ParameterException;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

@Command(
    name = "rejoin",
    description = "Rejoins the written files of a delivery by its recipe.",
    mixinStandardHelpOptions = true,
    footer = {"", "Example: wedgecutter rejoin orrery-v001 --frame 20 -o rejoined.exr"})
@SuppressWarnings("NullAway.Init")
final class RejoinCommand implements Callable<Integer> {
  @Mixin private Result result;
  @Spec private CommandSpec spec;

  @Parameters(paramLabel = "DELIVERY", description = "Folder of the delivery.")
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
      required = true,
      paramLabel = "FILE",
      description =
          "The file to write: .exr, .tif (32-bit floats), .hdr, .png (16-bit sRGB, as a screen shows it), or .ora (OpenRaster: the layers in one file).")
  private Path out;

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
    String name = String.valueOf(out.getFileName()).toLowerCase(Locale.ROOT);
    if (!name.endsWith(".exr") && !PictureWriter.isFor(out) && !OpenRaster.isFor(out)) {
      throw new ParameterException(
          spec.commandLine(),
          "'%s': expected a file .exr, .tif, .hdr, .png or .ora".formatted(out));
    }
    Delivery delivery = Delivery.read(folder);
    if (recipe != null) {
      Set<String> known =
          delivery.plan().layers().stream().map(LayerDef::name).collect(Collectors.toSet());
      delivery = delivery.withRecipe(PlanParts.recipe(recipe, known));
    }
    String line =
        layers.isEmpty()
            ? Expression.of(delivery.plan().recipe()).line()
            : String.join(", ", layers);
    List<Rejoined> made = new ArrayList<>();
    for (int chosen : frames(delivery)) {
      Path file = Path.of(named(out.toString(), chosen));
      write(delivery, chosen, file);
      made.add(new Rejoined(file.toString(), chosen, line));
    }
    result.print(
        frames.isEmpty() ? made.getFirst() : new All(made),
        o -> {
          made.forEach(r -> o.printf("rejoined frame %d into %s%n", r.frame, r.file));
          o.println(line);
        });
    return Commands.FINE;
  }

  private List<Integer> frames(Delivery delivery) throws Exception {
    if (frames.isEmpty()) {
      return List.of(ProveCommand.frame(delivery, frame));
    }
    if (frame != null) {
      throw new ParameterException(
          spec.commandLine(), "--frame and --frames: expected one of them");
    }
    List<Integer> chosen;
    try {
      chosen = frames.equals("all") ? delivery.frames() : FrameRange.parse(frames).frames();
    } catch (IllegalArgumentException e) {
      throw new ParameterException(spec.commandLine(), "--frames: " + e.getMessage(), e);
    }
    if (named(out.toString(), 1).equals(named(out.toString(), 2))) {
      throw new ParameterException(
          spec.commandLine(),
          "'%s': expected a name with {frame:4}, for several frames".formatted(out));
    }
    for (int each : chosen) {
      ProveCommand.frame(delivery, each);
    }
    return chosen;
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
      DeliveryProof.write(delivery, chosen, file);
    } else {
      if (OpenRaster.isFor(file)) {
        throw new ParameterException(
            spec.commandLine(), "--layers: one picture, expected a file .exr, .tif, .hdr or .png");
      }
      DeliveryProof.write(delivery, DeliveryProof.transparent(delivery, chosen, layers), file);
    }
  }

  private record All(List<Rejoined> frames) {}

  private record Rejoined(String file, int frame, String recipe) {}
}
