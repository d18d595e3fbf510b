package org.wedgecutter.core.deliver;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.SortedMap;
import java.util.function.Predicate;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.fragment.LayerPictures;
import org.wedgecutter.core.image.DeepPicture;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.image.Region;
import org.wedgecutter.core.io.AtomicFile;
import org.wedgecutter.core.io.FileDigest;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.pass.PassPicture;
import org.wedgecutter.core.plan.FileNames;
import org.wedgecutter.core.plan.LayerDef;
import org.wedgecutter.core.plan.Output;
import org.wedgecutter.core.plan.OutputNames;
import org.wedgecutter.core.plan.Property;
import org.wedgecutter.core.plan.Shot;
import org.wedgecutter.core.plan.Value;
import org.wedgecutter.core.render.FrameRenderer;
import org.wedgecutter.core.render.RenderedFrame;
import org.wedgecutter.core.resolve.LayerSettings;
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
 * The files of a delivery's units. A frame of one band is written straight to its name; of one of
 * several each band is a file of its own, until all are there and are put together.
 */
final class UnitFiles {
  private static final String DIGEST = "unitDigest";
  private static final String PASSES = "unitPasses";
  private static final String COST = "unitCost";
  private static final String ID_MATTES = "cryptomatte/";

  private final LoadedShot shot;
  private final Path folder;
  private final FrameRenderer.Settings settings;
  private final FileNames names;
  private final UnitFolder records;
  private final Copies copies;

  UnitFiles(LoadedShot shot, Path folder, FrameRenderer.Settings settings, FileNames names) {
    this.shot = shot;
    this.folder = folder;
    this.settings = settings;
    this.names = names;
    records = new UnitFolder(folder);
    copies = new Copies(folder, names, shot.plan().output());
  }

  /**
   * Returns the names of a shot's files in a delivery.
   *
   * @throws InputException if the plan's template is wrong
   */
  static FileNames names(LoadedShot shot, Path folder) throws InputException {
    try {
      return new FileNames(
          shot.plan().output().name(),
          shot.name(),
          shot.camera().name(),
          String.valueOf(folder.getFileName()));
    } catch (IllegalArgumentException e) {
      throw new InputException(shot.file(), "output/name", String.valueOf(e.getMessage()), e);
    }
  }

  /**
   * Returns the names of all that is written of a unit, relative to the delivery.
   *
   * @param titles of all passes of the shot
   */
  List<String> names(Unit.Key unit, List<String> titles) {
    Output output = shot.plan().output();
    String layer = unit.uncut() ? "" : unit.layer();
    return OutputNames.of(
        output,
        names,
        unit.layer(),
        unit.frame(),
        titles.stream().filter(t -> output.writes(layer, LayerPictures.passWord(t))).toList());
  }

  /** Returns the name of the file that holds all layers of a frame. */
  String frameName(int frame) {
    return names.name(FileNames.FRAME, frame, Output.Copy.FRAME.extension());
  }

  /** Returns the name of a unit's file, relative to the delivery. */
  String name(Unit.Key unit) {
    return names.name(unit.layer(), unit.frame(), "exr");
  }

  private List<PassPicture> passes(Unit unit, RenderedFrame rendered) {
    Output output = shot.plan().output();
    String layer = unit.uncut() ? "" : unit.layer();
    Predicate<String> wanted = title -> output.writes(layer, LayerPictures.passWord(title));
    return unit.uncut()
        ? rendered.uncutPasses(wanted)
        : rendered.passes(column(unit.key()), wanted);
  }

  /** Returns the number of a unit's layer; the number of layers for the uncut frame. */
  int column(Unit.Key unit) {
    return unit.uncut() ? shot.plan().layers().size() : shot.plan().layerIndex(unit.layer());
  }

  private Picture picture(Unit unit, RenderedFrame rendered) {
    return unit.uncut() ? rendered.uncut() : rendered.layer(column(unit.key()));
  }

  private static List<String> names(List<PassPicture> passes) {
    return passes.stream().map(PassPicture::name).map(n -> n.isEmpty() ? "Z" : n).toList();
  }

  private Map<String, String> idHeader(Unit unit, RenderedFrame rendered) {
    return rendered.idHeader(unit.uncut() ? -1 : column(unit.key()));
  }

  /** A unit by depth, or null where it is not written so. */
  private @Nullable DeepPicture deep(Unit unit, RenderedFrame rendered) {
    boolean asked =
        !unit.uncut() && shot.plan().output().more(unit.layer()).contains(Output.More.DEEP);
    return asked ? rendered.deep(column(unit.key())) : null;
  }

  /** Returns the name of a unit's deep file, relative to the delivery. */
  private String deepName(Unit.Key unit) {
    return names.name(unit.layer(), Output.More.DEEP.word(), unit.frame(), "exr");
  }

  /** Begins a unit's file. */
  private ExrFile begin(Unit unit, String name, Map<String, String> ids) {
    return new ExrFile(
        folder.resolve(name),
        shot.plan().output(),
        frame(unit.key()),
        window(unit.key(), settings.region()),
        attributes(unit.key(), ids));
  }

  /** Writes a unit of one band, and then its record. */
  void write(Unit unit, RenderedFrame rendered) throws IOException {
    List<PassPicture> passes = passes(unit, rendered);
    try (ExrFile file = begin(unit, name(unit.key()), idHeader(unit, rendered))) {
      file.write(ExrFrames.channels(picture(unit, rendered), passes, shot.plan().output()));
      file.commit();
    }
    DeepPicture deep = deep(unit, rendered);
    if (deep != null) {
      try (ExrFile file = begin(unit, deepName(unit.key()), Map.of())) {
        file.write(deep);
        file.commit();
      }
    }
    record(
        unit, names(passes), deep != null, UnitCost.of(rendered, unit.layer(), column(unit.key())));
  }

  /** Writes a band of a unit as a file of its own; what it has by depth is its second part. */
  void writeBand(Unit unit, int number, Region band, RenderedFrame rendered) throws IOException {
    Output output = shot.plan().output();
    List<PassPicture> passes = passes(unit, rendered);
    Map<String, Attribute> attributes = new LinkedHashMap<>();
    idHeader(unit, rendered).forEach((key, value) -> attributes.put(key, text(value)));
    attributes.put(DIGEST, text(unit.digest()));
    attributes.put(PASSES, text(String.join("\n", names(passes))));
    attributes.put(COST, text(UnitCost.of(rendered, unit.layer(), column(unit.key())).text()));
    Box window = window(unit.key(), band);
    List<ExrPart> parts = new ArrayList<>();
    parts.add(
        new ExrPart(
            unit.layer(),
            // what is lost is lost once, when the bands are put together
            output.compression().isLossless() ? output.compression() : Compression.ZIP,
            window,
            frame(unit.key()),
            attributes,
            ExrFrames.channels(picture(unit, rendered), passes, output)));
    DeepPicture deep = deep(unit, rendered);
    if (deep != null) {
      SortedMap<Channel, Samples> channels = ExrFrames.channels(deep, output);
      ExrHeader head =
          ExrHeader.of(
              Output.More.DEEP.word(),
              ExrFrames.deepCompression(output),
              window,
              frame(unit.key()),
              Map.of(),
              List.copyOf(channels.keySet()));
      parts.add(
          new ExrPart(head.asDeep(), List.of(new Level(0, 0, window, deep.counts(), channels))));
    }
    AtomicFile.write(
        records.band(unit.key(), number), to -> ExrWriter.write(new ExrImage(parts), to));
  }

  private static Attribute text(String value) {
    return new Attribute.Text(value);
  }

  /** Whether a band of a unit is there, whole, and of the same plan and scene. */
  boolean hasBand(Unit unit, int number, Region band) {
    Path file = records.band(unit.key(), number);
    if (!Files.isRegularFile(file)) {
      return false;
    }
    try {
      return isOf(unit, band, ExrReader.read(file).parts().getFirst());
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
      Path file = records.band(unit.key(), b);
      if (Files.isRegularFile(file) && !isReadable(unit, file, bands.get(b))) {
        any |= Files.deleteIfExists(file);
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
        && part.dataWindow().equals(window(unit.key(), band));
  }

  /**
   * Puts the bands of a unit together, and writes its record.
   *
   * @return false if a band is missing
   */
  boolean assemble(Unit unit, List<Region> bands) throws IOException {
    for (int b = 0; b < bands.size(); b++) {
      if (!Files.isRegularFile(records.band(unit.key(), b))) {
        return false;
      }
    }
    ExrPart first = ExrReader.read(records.band(unit.key(), 0)).parts().getFirst();
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
    try (ExrFile file = begin(unit, name(unit.key()), ids);
        ExrFile byDepth = begin(unit, deepName(unit.key()), Map.of())) {
      for (int b = 0; b < bands.size(); b++) {
        List<ExrPart> parts = ExrReader.read(records.band(unit.key(), b)).parts();
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
    record(unit, passes.isEmpty() ? List.of() : List.of(passes.split("\n")), deep, cost);
    return true;
  }

  /** Drops a part of a picture into a unit's files, and writes its record. */
  void drop(UnitRecord record, Region part, RenderedFrame rendered) throws IOException {
    Unit unit = record.unit();
    List<Delivery.Entry> entries = record.rendered();
    Path path = folder.resolve(entries.getFirst().path());
    ExrPart old = ExrFrames.part(path, n -> true);
    SortedMap<Channel, Samples> next =
        ExrFrames.channels(picture(unit, rendered), passes(unit, rendered), shot.plan().output());
    DeepPicture deep = deep(unit, rendered);
    if (!old.channels().keySet().equals(next.keySet()) || (deep != null) != (entries.size() > 1)) {
      throw new InputException(
          path, "", "has other passes than the plan writes now; render it whole with --changed");
    }
    Box window = old.dataWindow();
    next.forEach((channel, samples) -> {
      if (samples instanceof Samples.Real from
          && old.channels().get(channel) instanceof Samples.Real to) {
        dropInto(window, part, from.values(), to.values());
      }
    });
    try (ExrFile file = begin(unit, entries.getFirst().path(), idHeader(unit, rendered))) {
      file.write(old.channels());
      file.commit();
    }
    UnitCost cost = UnitCost.of(rendered, unit.layer(), column(unit.key()));
    List<Delivery.Entry> made = new ArrayList<>(List.of(again(entries.getFirst(), cost)));
    if (deep != null) {
      Delivery.Entry entry = entries.get(1);
      DeepPicture whole =
          DeepPicture.of(ExrReader.read(folder.resolve(entry.path())).parts().getFirst());
      dropInto(window, part, deep.pixels(), whole.pixels());
      try (ExrFile file = begin(unit, entry.path(), Map.of())) {
        file.write(whole);
        file.commit();
      }
      made.add(again(entry, UnitCost.NONE));
    }
    records.write(record.withFiles(copies.of(made, List.of())));
  }

  /** Copies the lines of a part into those of a window, whatever their pixels are. */
  private static void dropInto(Box window, Region part, Object from, Object to) {
    for (int y = 0; y < part.height(); y++) {
      int at = (part.y() + y - window.minY()) * window.width() + part.x() - window.minX();
      System.arraycopy(from, y * part.width(), to, at, part.width());
    }
  }

  /** The entry of a file that was written again at a cost. */
  private Delivery.Entry again(Delivery.Entry entry, UnitCost cost) throws IOException {
    Path path = folder.resolve(entry.path());
    return new Delivery.Entry(
        entry.path(),
        entry.layer(),
        entry.frame(),
        entry.uncut(),
        entry.passes(),
        FileDigest.sha256(path),
        Files.size(path),
        entry.samples(),
        Math.round((entry.seconds() + cost.seconds()) * 1000) / 1000.0,
        entry.rays() + Math.round(cost.rays()),
        entry.heldAt());
  }

  private static String told(ExrPart part, String name) {
    return part.attributes().get(name) instanceof Attribute.Text t ? t.value() : "";
  }

  private void record(Unit unit, List<String> passes, boolean deep, UnitCost cost)
      throws IOException {
    List<Delivery.Entry> made =
        new ArrayList<>(List.of(entry(unit, name(unit.key()), passes, cost)));
    if (deep) {
      made.add(entry(unit, deepName(unit.key()), UnitRecord.DEEP, UnitCost.NONE));
    }
    records.write(UnitRecord.now(unit, copies.of(made, List.of())).withNoise(cost.noise().rms()));
  }

  private Delivery.Entry entry(Unit unit, String name, List<String> passes, UnitCost cost)
      throws IOException {
    Path file = folder.resolve(name);
    return new Delivery.Entry(
        name,
        unit.layer(),
        unit.frame(),
        unit.uncut(),
        passes,
        FileDigest.sha256(file),
        Files.size(file),
        samples(unit),
        Math.round(cost.seconds() * 1000) / 1000.0,
        Math.round(cost.rays()),
        unit.heldAt());
  }

  /** Makes what the plan asks for beside a unit's file and is not there yet. */
  UnitRecord withCopies(UnitRecord record) throws IOException {
    List<Delivery.Entry> all = copies.of(record.rendered(), record.files());
    if (all.equals(record.files())) {
      return record;
    }
    UnitRecord next = record.withFiles(all);
    records.write(next);
    return next;
  }

  /** Writes a frame's layers as one file, if the plan asks for that. */
  void frame(Delivery delivery, int frame) throws IOException {
    if (shot.plan().output().copies().contains(Output.Copy.FRAME)) {
      copies.frame(delivery, frame);
    }
  }

  private int samples(Unit unit) {
    var resolved = shot.resolve(unit.frame());
    var transport =
        unit.uncut() ? resolved.uncut() : resolved.layers().get(column(unit.key())).transport();
    return transport.settings().samples(settings.samples());
  }

  /** Whether a unit's files are there and are those of its record. */
  boolean fits(UnitRecord record) throws IOException {
    for (Delivery.Entry e : record.files()) {
      Path file = folder.resolve(e.path());
      if (!Files.isRegularFile(file)
          || Files.size(file) != e.bytes()
          || !FileDigest.sha256(file).equals(e.sha256())) {
        return false;
      }
    }
    return true;
  }

  private Box frame(Unit.Key unit) {
    int[] size = size(unit);
    return Box.ofSize(size[0], size[1]);
  }

  private Box window(Unit.Key unit, Region part) {
    int[] size = size(unit);
    return ExrFrames.box(part.scaled(size[0], size[1], settings.width(), settings.height()));
  }

  private Map<String, Attribute> attributes(Unit.Key unit, Map<String, String> idHeader) {
    Shot s = shot.plan().requireShot();
    Map<String, Attribute> out =
        ExrFrames.attributes(
            s,
            unit.layer(),
            unit.frame(),
            shot.tracer().worldToCamera(shot.camera(), s.time(unit.frame())));
    idHeader.forEach((key, value) -> out.put(key, text(value)));
    return out;
  }

  /** Width and height of a unit's whole frame. */
  private int[] size(Unit.Key unit) {
    int width = settings.width();
    int height = settings.height();
    Shot s = shot.plan().requireShot();
    Optional<LayerDef> def = unit.uncut() ? Optional.empty() : shot.plan().layer(unit.layer());
    if (def.isPresent()
        && LayerSettings.at(def.get(), s, Property.SIZE, unit.frame()) instanceof Value.Size own) {
      width = Math.max(1, (int) Math.round(width * (own.width() / (double) s.width())));
      height = Math.max(1, (int) Math.round(height * (own.height() / (double) s.height())));
    }
    return new int[] {width, height};
  }

  /** Returns the units of a frame that are not there yet. */
  List<Unit> missing(List<Unit> units) {
    List<Unit> out = new ArrayList<>();
    for (Unit unit : units) {
      boolean done =
          records
              .record(unit.key())
              .filter(r -> r.unit().digest().equals(unit.digest()))
              .isPresent();
      if (!done) {
        out.add(unit);
      }
    }
    return out;
  }
}
