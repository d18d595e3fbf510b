package org.wedgecutter.core.deliver.file;

import java.io.Closeable;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.SortedMap;
import java.util.TreeMap;
import java.util.function.Predicate;
import org.wedgecutter.core.deliver.Delivery;
import org.wedgecutter.core.image.PictureWriter;
import org.wedgecutter.core.io.AtomicFile;
import org.wedgecutter.core.io.ContentDigest;
import org.wedgecutter.core.io.FileDigest;
import org.wedgecutter.core.io.RootFolder;
import org.wedgecutter.core.plan.FileNames;
import org.wedgecutter.core.plan.Names;
import org.wedgecutter.core.plan.Output;
import org.wedgecutter.core.plan.OutputNames;
import org.wedgecutter.exr.Attribute;
import org.wedgecutter.exr.Box;
import org.wedgecutter.exr.Channel;
import org.wedgecutter.exr.ExrHeader;
import org.wedgecutter.exr.ExrImage;
import org.wedgecutter.exr.ExrInput;
import org.wedgecutter.exr.ExrPart;
import org.wedgecutter.exr.ExrParts;
import org.wedgecutter.exr.ExrWriter;
import org.wedgecutter.exr.Samples;

/**
 * The other forms of a layer's file that a plan asks for. They are made from the file itself, so
 * that asking for one more renders nothing again.
 */
public final class Copies {
  /** Attribute of a frame's file: the digest of the files that it was made of. */
  private static final String SOURCE = "wedgecutterSource";

  private final RootFolder folder;
  private final FileNames names;
  private final Output output;
  private final Predicate<String> takesLight;

  /**
   * @param takesLight which layers have negative light: what cannot hold that is not made of them
   */
  public Copies(RootFolder folder, FileNames names, Output output, Predicate<String> takesLight) {
    this.folder = folder;
    this.names = names;
    this.output = output;
    this.takesLight = takesLight;
  }

  private static PictureWriter.Format format(Output.Copy copy) {
    return switch (copy) {
      case HDR -> PictureWriter.Format.HDR;
      case TIFF32 -> PictureWriter.Format.TIFF32;
      case TIFF16 -> PictureWriter.Format.TIFF16;
      case PNG16 -> PictureWriter.Format.PNG16;
      case PNG8 -> PictureWriter.Format.PNG8;
      case PASSES, FRAME -> throw new IllegalArgumentException(copy + " is no picture");
    };
  }

  /**
   * Makes the copies of a unit's flat file that are not there yet.
   *
   * @param rendered the files that were rendered, the flat one first
   * @param known files that are there
   * @return the rendered ones, then all copies
   */
  public List<Delivery.Entry> of(List<Delivery.Entry> rendered, List<Delivery.Entry> known)
      throws IOException {
    Delivery.Entry main = rendered.getFirst();
    List<Delivery.Entry> out = new ArrayList<>(rendered);
    ExrPart part = null;
    for (Output.Copy copy : output.copies()) {
      boolean cannotHold = !copy.isSigned() && !main.uncut() && takesLight.test(main.layer());
      if (copy == Output.Copy.FRAME || cannotHold) {
        continue;
      }
      if (copy == Output.Copy.PASSES) {
        part = part == null ? read(main) : part;
        for (Map.Entry<String, SortedMap<Channel, Samples>> pass : passes(part).entrySet()) {
          String name = names.name(main.layer(), pass.getKey(), main.frame(), copy.extension());
          ExrPart whole = part;
          out.add(
              there(known, name)
                  ? same(known, name)
                  : made(main, name, List.of(pass.getKey()), pass(whole, pass.getValue())));
        }
      } else {
        String name =
            names.name(main.layer(), OutputNames.word(copy), main.frame(), copy.extension());
        out.add(
            there(known, name)
                ? same(known, name)
                : made(
                    main,
                    name,
                    List.of(),
                    to ->
                        PictureWriter.write(
                            ExrFrames.read(folder.file(main.path())), format(copy), to)));
      }
    }
    return out;
  }

  private ExrPart read(Delivery.Entry main) throws IOException {
    return ExrFrames.part(folder.file(main.path()), n -> true);
  }

  private boolean there(List<Delivery.Entry> known, String name) {
    return known.stream().anyMatch(e -> e.path().equals(name)) && folder.isFile(name);
  }

  private static Delivery.Entry same(List<Delivery.Entry> known, String name) {
    return known.stream().filter(e -> e.path().equals(name)).findFirst().orElseThrow();
  }

  private Delivery.Entry made(
      Delivery.Entry main, String name, List<String> passes, AtomicFile.Body body)
      throws IOException {
    folder.write(name, body);
    Path file = folder.file(name);
    return new Delivery.Entry(
        name,
        main.layer(),
        main.frame(),
        main.uncut(),
        passes,
        FileDigest.sha256(file),
        Files.size(file),
        main.samples(),
        0,
        0,
        main.heldAt());
  }

  /** The channels of a file by pass: what stands before the last dot; ranks of IDs together. */
  private static Map<String, SortedMap<Channel, Samples>> passes(ExrPart part) {
    Map<String, SortedMap<Channel, Samples>> out = new TreeMap<>();
    part.channels()
        .forEach((channel, samples) -> {
          int dot = channel.name().lastIndexOf('.');
          String name =
              dot >= 0
                  ? OutputNames.pass(channel.name().substring(0, dot))
                  : ExrFrames.isBeauty(channel) ? Output.BEAUTY : channel.name();
          out.computeIfAbsent(name, n -> ExrPart.newChannels()).put(channel, samples);
        });
    return out;
  }

  private static AtomicFile.Body pass(ExrPart whole, SortedMap<Channel, Samples> channels) {
    ExrPart part =
        new ExrPart(
            "",
            whole.compression(),
            whole.dataWindow(),
            whole.displayWindow(),
            whole.attributes(),
            channels);
    return to -> ExrWriter.write(new ExrImage(List.of(part)), to);
  }

  /**
   * Writes all layers of a frame as parts of one file, back to front and the uncut frame last.
   * Layers with a size of their own are not among them, since all parts show the same frame.
   *
   * @return its name, or an empty one if a layer is missing
   */
  public String frame(Delivery delivery, int frame) throws IOException {
    String name = names.name(FileNames.FRAME, frame, Output.Copy.FRAME.extension());
    // the file tells what it was made of, so that it is not made again of the same
    String of =
        ContentDigest.of(
            delivery.shown(frame).stream().map(e -> List.of(e.layer(), e.sha256())).toList());
    if (of.equals(source(name))) {
      return name;
    }
    List<ExrInput> inputs = new ArrayList<>();
    List<ExrParts.Source> parts = new ArrayList<>();
    try (Closeable _ = () -> close(inputs)) {
      for (Delivery.Entry e : delivery.shown(frame)) {
        ExrInput input = ExrInput.open(folder.file(e.path()));
        inputs.add(input);
        List<ExrHeader> heads = input.headers();
        Box display = heads.getFirst().displayWindow();
        if (parts.isEmpty() || display.equals(parts.getFirst().header().displayWindow())) {
          for (int p = 0; p < heads.size(); p++) {
            String own = p == 0 ? e.layer() : e.layer() + "." + heads.get(p).name();
            // a layer may have the name of another one's part
            parts.add(
                new ExrParts.Source(
                    input,
                    p,
                    Names.free(own, n -> parts.stream().anyMatch(o -> o.name().equals(n)))));
          }
        }
      }
      if (parts.isEmpty()) {
        return "";
      }
      try (AtomicFile writing = folder.begin(name)) {
        ExrParts.join(parts, Map.of(SOURCE, new Attribute.Text(of)), writing.channel());
        writing.commit();
      }
      return name;
    }
  }

  private static void close(List<ExrInput> inputs) throws IOException {
    for (ExrInput input : inputs) {
      input.close();
    }
  }

  /** What a frame's file was made of; empty if it is not there, or of others. */
  private String source(String name) {
    if (!folder.isFile(name)) {
      return "";
    }
    try (ExrInput input = ExrInput.open(folder.file(name))) {
      return input.headers().getFirst().attributes().get(SOURCE) instanceof Attribute.Text t
          ? t.value()
          : "";
    } catch (IOException e) {
      // it is made again
      return "";
    }
  }
}
