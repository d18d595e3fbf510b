package org.wedgecutter.core.deliver.unit;

import java.io.IOException;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.SortedMap;
import org.wedgecutter.core.deliver.Unit;
import org.wedgecutter.core.deliver.UnitFolder;
import org.wedgecutter.core.deliver.file.ExrFile;
import org.wedgecutter.core.deliver.file.ExrFrames;
import org.wedgecutter.core.image.DeepPicture;
import org.wedgecutter.core.image.Region;
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
import org.wedgecutter.exr.Samples;

/**
 * The bands of units whose frames are rendered in several: each is a file of its own beside the
 * records, until all are there and are put together.
 */
final class UnitBands {
  private static final String DIGEST = "unitDigest";
  private static final String PASSES = "unitPasses";
  private static final String COST = "unitCost";
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
    List<ExrPart> parts = new ArrayList<>();
    parts.add(
        new ExrPart(
            unit.layer(),
            // what is lost is lost once, when the bands are put together
            output.compression().isLossless() ? output.compression() : Compression.ZIP,
            window,
            contents.frame(unit.key()),
            attributes,
            ExrFrames.channels(contents.picture(unit, rendered), passes, output)));
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
      parts.add(
          new ExrPart(head.asDeep(), List.of(new Level(0, 0, window, deep.counts(), channels))));
    }
    folder.write(
        UnitFolder.band(unit.key(), number), to -> ExrWriter.write(new ExrImage(parts), to));
  }

  private static Attribute text(String value) {
    return new Attribute.Text(value);
  }

  /** Whether a band of a unit is there, whole, and of the same plan and scene. */
  boolean has(Unit unit, int number, Region band) {
    String file = UnitFolder.band(unit.key(), number);
    if (!folder.isFile(file)) {
      return false;
    }
    try {
      return isOf(unit, band, ExrReader.read(folder.file(file)).parts().getFirst());
    } catch (IOException e) {
      return false;
    }
  }

  /**
   * Deletes the bands of a unit that are damaged.
   *
   * @return whether there was one
   */
  boolean forgetDamaged(Unit unit, List<Region> bands) throws IOException {
    boolean any = false;
    for (int b = 0; b < bands.size(); b++) {
      String file = UnitFolder.band(unit.key(), b);
      if (folder.isFile(file) && !isReadable(unit, folder.file(file), bands.get(b))) {
        any |= folder.delete(file);
      }
    }
    return any;
  }

  private boolean isReadable(Unit unit, Path file, Region band) throws IOException {
    try {
      ExrImage whole = ExrReader.read(file);
      return isOf(unit, band, whole.parts().getFirst());
    } catch (ExrException e) {
      return false;
    }
  }

  private boolean isOf(Unit unit, Region band, ExrPart part) {
    return text(unit.digest()).equals(part.attributes().get(DIGEST))
        && part.dataWindow().equals(contents.window(unit.key(), band));
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
    ExrPart first = ExrReader.read(folder.file(UnitFolder.band(unit.key(), 0))).parts().getFirst();
    Map<String, String> ids = new LinkedHashMap<>();
    first
        .attributes()
        .forEach((key, value) -> {
          if (key.startsWith(ID_MATTES) && value instanceof Attribute.Text t) {
            ids.put(key, t.value());
          }
        });
    List<UnitCost> costs = new ArrayList<>();
    boolean deep = false;
    try (ExrFile file = contents.begin(unit, contents.name(unit.key()), ids);
        ExrFile byDepth = contents.begin(unit, contents.deepName(unit.key()), Map.of())) {
      for (int b = 0; b < bands.size(); b++) {
        List<ExrPart> parts = ExrReader.read(folder.file(UnitFolder.band(unit.key(), b))).parts();
        ExrPart part = parts.getFirst();
        if (!isOf(unit, bands.get(b), part)) {
          return false;
        }
        file.write(part.channels());
        deep = parts.size() > 1;
        if (deep) {
          byDepth.write(DeepPicture.of(parts.get(1)));
        }
        costs.add(UnitCost.parse(told(part, COST)));
      }
      file.commit();
      if (deep) {
        byDepth.commit();
      }
    } catch (ExrException | NoSuchFileException e) {
      // a damaged band is made again; one that is gone was put together by another process
      return false;
    }
    String passes = told(first, PASSES);
    UnitCost cost = costs.stream().reduce(UnitCost::plus).orElse(UnitCost.NONE);
    files.record(unit, passes.isEmpty() ? List.of() : List.of(passes.split("\n")), deep, cost);
    return true;
  }

  private static String told(ExrPart part, String name) {
    return part.attributes().get(name) instanceof Attribute.Text t ? t.value() : "";
  }
}
