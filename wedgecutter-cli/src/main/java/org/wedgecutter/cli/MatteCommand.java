package org.wedgecutter.cli;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.Callable;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.command.Commands;
import org.wedgecutter.command.Result;
import org.wedgecutter.core.deliver.Delivery;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.image.PictureWriter;
import org.wedgecutter.core.io.AtomicFile;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.core.pass.IdMatteFile;
import org.wedgecutter.core.rejoin.IdCover;
import org.wedgecutter.exr.Box;
import org.wedgecutter.exr.Channel;
import org.wedgecutter.exr.Compression;
import org.wedgecutter.exr.ExrImage;
import org.wedgecutter.exr.ExrPart;
import org.wedgecutter.exr.ExrReader;
import org.wedgecutter.exr.ExrWriter;
import org.wedgecutter.exr.PixelType;
import org.wedgecutter.exr.Samples;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.ParameterException;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

@Command(
    name = "matte",
    description =
        "Writes a matte of objects, materials or collections, from the ID mattes (Cryptomatte) of a delivery or of any OpenEXR file.",
    mixinStandardHelpOptions = true,
    footer = {
      "",
      "Example: wedgecutter matte courtyard-v001 --frame 1 --pick '/heron/*' -o heron.exr"
    })
@SuppressWarnings("NullAway.Init")
final class MatteCommand implements Callable<Integer> {
  @Mixin private Result result;
  @Spec private CommandSpec spec;

  @Parameters(paramLabel = "DELIVERY|FILE", description = "Folder of a delivery, or an .exr file.")
  private Path from;

  @Option(names = "--frame", description = "Frame of a delivery. Default: the first.")
  private @Nullable Integer frame;

  @Option(
      names = "--layer",
      paramLabel = "LAYER",
      description = "Layer of a delivery. Default: the uncut frame.")
  private String layer = "";

  @Option(
      names = "--pick",
      required = true,
      split = ",",
      paramLabel = "NAME",
      description =
          "What is in the matte: names, * for any letters and ? for one; or IDs as #xxxxxxxx.")
  private List<String> picks = List.of();

  @Option(
      names = "--by",
      paramLabel = "WORD",
      description = "Only ID mattes whose layer is called so, such as material.")
  private String kind = "";

  @Option(names = "--invert", description = "What is not picked.")
  private boolean invert;

  @Option(
      names = {"-o", "--out"},
      required = true,
      paramLabel = "FILE",
      description =
          "The file to write: .exr (one channel A), .tif or .png (white, its alpha the matte).")
  private Path out;

  private record Told(String file, Map<String, String> picked, double cover) {}

  @Override
  public Integer call() throws Exception {
    String name = String.valueOf(out.getFileName()).toLowerCase(Locale.ROOT);
    if (!name.endsWith(".exr") && (!PictureWriter.isFor(out) || name.endsWith(".hdr"))) {
      throw new ParameterException(
          spec.commandLine(), "'%s': expected a file .exr, .tif or .png".formatted(out));
    }
    Path file = Files.isDirectory(from) ? file() : from;
    ExrPart found = null;
    List<IdMatteFile> mattes = List.of();
    for (ExrPart part : ExrReader.read(file).parts()) {
      if (mattes.isEmpty() && part.counts() == null) {
        mattes = IdMatteFile.of(part, file);
        found = part;
      }
    }
    if (found == null || mattes.isEmpty()) {
      throw new InputException(
          file, "", "has no ID mattes; switch the pass 'ids' on, and render it again");
    }
    Map<String, String> picked = new LinkedHashMap<>();
    float[] matte = cover(file, mattes, picked);
    double sum = 0;
    for (int p = 0; p < matte.length; p++) {
      matte[p] = invert ? 1 - matte[p] : matte[p];
      sum += matte[p];
    }
    write(found, matte, name.endsWith(".exr"));
    double cover = sum / matte.length;
    result.print(
        new Told(out.toString(), picked, cover),
        o -> o.printf("%s: covers %.2f %% of the picture%n", out, 100 * cover));
    return Commands.FINE;
  }

  private Path file() throws InputException {
    Delivery delivery = Delivery.read(from);
    int chosen = ProveCommand.frame(delivery, frame);
    Optional<Delivery.Entry> entry =
        layer.isEmpty() ? delivery.uncut(chosen) : delivery.held(layer, chosen);
    if (entry.isEmpty()) {
      throw new InputException(
          from,
          "",
          layer.isEmpty()
              ? "holds no uncut frame %d; choose a layer with --layer".formatted(chosen)
              : "holds no file of layer '%s' at frame %d".formatted(layer, chosen));
    }
    return from.resolve(entry.get().path());
  }

  private float[] cover(Path file, List<IdMatteFile> mattes, Map<String, String> picked)
      throws InputException {
    for (String word : picks) {
      Optional<IdMatteFile> meant = IdMatteFile.meant(mattes, word, kind);
      if (meant.isEmpty()) {
        String like = IdMatteFile.like(mattes, word);
        List<String> layers = new ArrayList<>();
        mattes.forEach(m -> layers.add(m.layer()));
        throw new InputException(
            file,
            "",
            "'%s' is in none of the ID mattes %s%s"
                .formatted(
                    word,
                    String.join(", ", layers),
                    like == null ? "" : "; is it '%s'?".formatted(like)));
      }
      picked.put(word, meant.get().layer());
    }
    return IdCover.of(mattes, picks, kind, mattes.getFirst().width() * mattes.getFirst().height());
  }

  private void write(ExrPart of, float[] matte, boolean exr) throws IOException {
    Box window = of.dataWindow();
    if (exr) {
      var channels = ExrPart.newChannels();
      channels.put(new Channel("A", PixelType.FLOAT), new Samples.Real(matte));
      ExrPart part =
          new ExrPart("", Compression.ZIP, window, of.displayWindow(), Map.of(), channels);
      AtomicFile.write(out, to -> ExrWriter.write(new ExrImage(List.of(part)), to));
      return;
    }
    Picture white = Picture.empty(window.width(), window.height());
    for (int i = 0; i < white.rgba().length; i++) {
      white.rgba()[i] = matte[i / 4];
    }
    AtomicFile.write(out, to -> PictureWriter.write(white, out, to));
  }
}
