package org.wedgecutter.core.deliver.unit;

import java.io.IOException;
import java.nio.file.NoSuchFileException;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.SortedMap;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.deliver.Unit;
import org.wedgecutter.core.deliver.UnitFolder;
import org.wedgecutter.core.deliver.file.ExrFile;
import org.wedgecutter.core.deliver.file.ExrFrames;
import org.wedgecutter.core.image.DeepPicture;
import org.wedgecutter.core.image.Region;
import org.wedgecutter.core.io.ContentDigest;
import org.wedgecutter.core.io.RootFolder;
import org.wedgecutter.core.pass.PassPicture;
import org.wedgecutter.core.plan.Output;
import org.wedgecutter.core.render.RenderedFrame;
import org.wedgecutter.exr.Attribute;
import org.wedgecutter.exr.Box;
import org.wedgecutter.exr.Channel;
import org.wedgecutter.exr.Compression;
import org.wedgecutter.exr.ExrException;
import org.wedgecutter.exr.ExrHeader;
import org.wedgecutter.exr.ExrImage;
import org.wedgecutter.exr.ExrPart;
import org.wedgecutter.exr.ExrReader;
import org.wedgecutter.exr.ExrWriter;
import org.wedgecutter.exr.Level;
import org.wedgecutter.exr.PixelType;
import org.wedgecutter.exr.Samples;

/**
 * The bands of units whose frames are rendered in several: each is a file of its own beside the
 * records, until all are there and are put together.
 */
final class UnitBands {
  private static final String DIGEST = "unitDigest";
  private static final String PASSES = "unitPasses";
  private static final String COST = "unitCost";
  private static final short NOT_A_NUMBER = 0x7e00;
  static final String CONTENTS = "unitContents";
  private static final String ID_MATTES = "cryptomatte/";

  private final UnitContents contents;
  private final RootFolder folder;
  private final UnitFiles files;

  /**
   * @param folder the delivery
   */
  UnitBands(UnitContents contents, RootFolder folder, UnitFiles files) {
    this.contents = contents;
    this.folder = folder;
    this.files = files;
  }

  /**
   * A band that is as it was written: of its unit's digest and window, with all that it held.
   *
   * @param deep what it has by depth, if anything
   * @param cost of its tracing
   */
  private record Kept(ExrPart flat, @Nullable ExrPart deep, UnitCost cost) {
    Form form() {
      return new Form(flat.header().channels(), deep != null);
    }
  }

  /** What bands have in common that are parts of one file. */
  private record Form(List<Channel> channels, boolean deep) {}

  /** Writes a band of a unit as a file of its own; what it has by depth is its second part. */
  void write(Unit unit, int number, Region band, RenderedFrame rendered) throws IOException {
    Output output = contents.output();
    List<PassPicture> passes = contents.passes(unit, rendered);
    Map<String, Attribute> attributes = new LinkedHashMap<>();
    contents.idHeader(unit, rendered).forEach((key, value) -> attributes.put(key, text(value)));
    attributes.put(DIGEST, text(unit.digest()));
    attributes.put(PASSES, text(String.join("\n", UnitContents.names(passes))));
    attributes.put(
        COST, text(UnitCost.of(rendered, unit.layer(), contents.column(unit.key())).text()));
    Box window = contents.window(unit.key(), band);
    SortedMap<Channel, Samples> flat =
        ExrFrames.channels(contents.picture(unit, rendered), passes, output);
    ExrPart byDepth = null;
    DeepPicture deep = contents.deep(unit, rendered);
    if (deep != null) {
      SortedMap<Channel, Samples> channels = ExrFrames.channels(deep, output);
      ExrHeader head =
          ExrHeader.of(
              Output.More.DEEP.word(),
              ExrFrames.deepCompression(output),
              window,
              contents.frame(unit.key()),
              Map.of(),
              List.copyOf(channels.keySet()));
      byDepth =
          new ExrPart(head.asDeep(), List.of(new Level(0, 0, window, deep.counts(), channels)));
    }
    attributes.put(CONTENTS, contents(attributes, flat, byDepth));
    ExrPart part =
        new ExrPart(
            unit.layer(),
            // what is lost is lost once, when the bands are put together
            output.compression().isLossless() ? output.compression() : Compression.ZIP,
            window,
            contents.frame(unit.key()),
            attributes,
            flat);
    List<ExrPart> parts = byDepth == null ? List.of(part) : List.of(part, byDepth);
    folder.write(
        UnitFolder.band(unit.key(), number), to -> ExrWriter.write(new ExrImage(parts), to));
  }

  private static Attribute text(String value) {
    return new Attribute.Text(value);
  }

  /** The digest of all that a band's file gives back when it is read. */
  static Attribute contents(
      Map<String, Attribute> attributes, SortedMap<Channel, Samples> flat, @Nullable ExrPart deep) {
    Map<String, String> told = new LinkedHashMap<>();
    attributes.forEach((key, value) -> {
      if (value instanceof Attribute.Text t
          && (key.startsWith(ID_MATTES) || List.of(DIGEST, PASSES, COST).contains(key))) {
        told.put(key, t.value());
      }
    });
    return text(
        ContentDigest.of(
            told,
            stored(flat),
            deep == null ? null : deep.counts(),
            deep == null ? null : stored(deep.channels())));
  }

  /** The numbers of channels as files hold them. */
  private static Map<Channel, Object> stored(SortedMap<Channel, Samples> channels) {
    Map<Channel, Object> out = new HashMap<>();
    channels.forEach((channel, samples) ->
        out.put(
            channel,
            switch (samples) {
              case Samples.Whole whole -> whole.values();
              case Samples.Real real when channel.type() == PixelType.HALF -> halves(real.values());
              case Samples.Real real -> real.values();
            }));
    return out;
  }

  private static short[] halves(float[] values) {
    short[] out = new short[values.length];
    for (int k = 0; k < out.length; k++) {
      out[k] = Float.isNaN(values[k]) ? NOT_A_NUMBER : Float.floatToFloat16(values[k]);
    }
    return out;
  }

  /** Whether a band of a unit is there, whole, and of the same plan and scene. */
  boolean has(Unit unit, int number, Region band) {
    try {
      return read(unit, number, band).isPresent();
    } catch (IOException e) {
      return false;
    }
  }

  /** Reads a band of a unit; empty if it is missing, damaged, or of another state of the plan. */
  private Optional<Kept> read(Unit unit, int number, Region band) throws IOException {
    String file = UnitFolder.band(unit.key(), number);
    if (!folder.isFile(file)) {
      return Optional.empty();
    }
    try {
      List<ExrPart> parts = ExrReader.read(folder.file(file)).parts();
      ExrPart flat = parts.getFirst();
      ExrPart deep = parts.size() == 1 ? null : parts.get(1);
      Box window = contents.window(unit.key(), band);
      if (!text(unit.digest()).equals(flat.attributes().get(DIGEST))
          || parts.size() > 2
          || isOther(flat, window, false)
          || (deep != null && isOther(deep, window, true))
          || !contents(flat.attributes(), flat.channels(), deep)
              .equals(flat.attributes().get(CONTENTS))) {
        return Optional.empty();
      }
      return UnitCost.parse(told(flat.header(), COST)).map(cost -> new Kept(flat, deep, cost));
    } catch (ExrException | NoSuchFileException e) {
      // a damaged band is made again; one that is gone was put together by another process
      return Optional.empty();
    }
  }

  private static boolean isOther(ExrPart part, Box window, boolean deep) {
    return part.header().deep() != deep
        || part.levels().size() != 1
        || !part.dataWindow().equals(window)
        || part.header().channels().stream().anyMatch(c -> c.xSampling() * c.ySampling() != 1);
  }

  /**
   * Deletes the bands of a unit that are damaged, and all if they do not belong together.
   *
   * @return whether there was one
   */
  boolean forgetDamaged(Unit unit, List<Region> bands) throws IOException {
    boolean any = false;
    Set<Form> forms = new HashSet<>();
    for (int b = 0; b < bands.size(); b++) {
      String file = UnitFolder.band(unit.key(), b);
      Optional<Kept> kept = read(unit, b, bands.get(b));
      if (kept.isEmpty()) {
        any |= folder.isFile(file) && folder.delete(file);
      } else {
        forms.add(kept.get().form());
      }
    }
    for (int b = 0; b < bands.size() && forms.size() > 1; b++) {
      any |= folder.delete(UnitFolder.band(unit.key(), b));
    }
    return any;
  }

  /**
   * Puts the bands of a unit together, and writes its record.
   *
   * @return false if a band is missing
   */
  boolean assemble(Unit unit, List<Region> bands) throws IOException {
    for (int b = 0; b < bands.size(); b++) {
      if (!folder.isFile(UnitFolder.band(unit.key(), b))) {
        return false;
      }
    }
    // only one band is in memory at a time
    ExrPart head = read(unit, 0, bands.getFirst()).map(Kept::flat).orElse(null);
    if (head == null) {
      return false;
    }
    ExrHeader first = head.header();
    Map<String, String> ids = new LinkedHashMap<>();
    first
        .attributes()
        .forEach((key, value) -> {
          if (key.startsWith(ID_MATTES) && value instanceof Attribute.Text t) {
            ids.put(key, t.value());
          }
        });
    Form form = null;
    List<UnitCost> costs = new ArrayList<>();
    try (ExrFile file = contents.begin(unit, contents.name(unit.key()), ids);
        ExrFile byDepth = contents.begin(unit, contents.deepName(unit.key()), Map.of())) {
      for (int b = 0; b < bands.size(); b++) {
        Kept next = read(unit, b, bands.get(b)).orElse(null);
        if (next == null || (form != null && !next.form().equals(form))) {
          return false;
        }
        form = next.form();
        file.write(next.flat.channels());
        if (next.deep != null) {
          byDepth.write(DeepPicture.of(next.deep));
        }
        costs.add(next.cost);
      }
      file.commit();
      if (form != null && form.deep) {
        byDepth.commit();
      }
    } catch (ExrException e) {
      return false;
    }
    String passes = told(first, PASSES);
    files.record(
        unit,
        passes.isEmpty() ? List.of() : List.of(passes.split("\n")),
        form != null && form.deep,
        costs.stream().reduce(UnitCost::plus).orElse(UnitCost.NONE));
    return true;
  }

  private static String told(ExrHeader part, String name) {
    return part.attributes().get(name) instanceof Attribute.Text t ? t.value() : "";
  }
}
