package org.wedgecutter.core.deliver.unit;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.SortedMap;
import org.wedgecutter.core.deliver.Delivery;
import org.wedgecutter.core.deliver.Unit;
import org.wedgecutter.core.deliver.UnitFolder;
import org.wedgecutter.core.deliver.UnitRecord;
import org.wedgecutter.core.deliver.file.Copies;
import org.wedgecutter.core.deliver.file.ExrFile;
import org.wedgecutter.core.deliver.file.ExrFrames;
import org.wedgecutter.core.image.DeepPicture;
import org.wedgecutter.core.image.Region;
import org.wedgecutter.core.io.FileDigest;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.core.io.RootFolder;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.pass.PassPicture;
import org.wedgecutter.core.plan.FileNames;
import org.wedgecutter.core.plan.LayerDef;
import org.wedgecutter.core.plan.Output;
import org.wedgecutter.core.render.FrameRenderer;
import org.wedgecutter.core.render.RenderedFrame;
import org.wedgecutter.exr.Box;
import org.wedgecutter.exr.Channel;
import org.wedgecutter.exr.ExrPart;
import org.wedgecutter.exr.ExrReader;
import org.wedgecutter.exr.Samples;

/** Writes the files of a delivery's units, and their records. */
final class UnitFiles {
  private final UnitContents contents;
  private final RootFolder folder;
  private final UnitFolder records;
  private final UnitBands bands;
  private final Copies copies;

  UnitFiles(LoadedShot shot, Path folder, FrameRenderer.Settings settings, FileNames names) {
    contents = new UnitContents(shot, folder, settings, names);
    this.folder = new RootFolder(folder);
    records = new UnitFolder(this.folder);
    copies =
        new Copies(
            this.folder,
            names,
            contents.output(),
            l -> shot.plan().layer(l).map(LayerDef::takesLight).orElse(false));
    bands = new UnitBands(contents, this.folder, this);
  }

  /** Returns what the files hold. */
  UnitContents contents() {
    return contents;
  }

  /** Returns the bands of units. */
  UnitBands bands() {
    return bands;
  }

  /** Writes a unit of one band, and then its record. */
  void write(Unit unit, RenderedFrame rendered) throws IOException {
    List<PassPicture> passes = contents.passes(unit, rendered);
    try (ExrFile file =
        contents.begin(unit, contents.name(unit.key()), contents.idHeader(unit, rendered))) {
      file.write(ExrFrames.channels(contents.picture(unit, rendered), passes, contents.output()));
      file.commit();
    }
    DeepPicture deep = contents.deep(unit, rendered);
    if (deep != null) {
      try (ExrFile file = contents.begin(unit, contents.deepName(unit.key()), Map.of())) {
        file.write(deep);
        file.commit();
      }
    }
    record(
        unit,
        UnitContents.names(passes),
        deep != null,
        UnitCost.of(rendered, unit.layer(), contents.column(unit.key())));
  }

  /** Drops a part of a picture into a unit's files, and writes its record. */
  void drop(UnitRecord record, Region part, RenderedFrame rendered) throws IOException {
    Unit unit = record.unit();
    List<Delivery.Entry> entries = record.rendered();
    Path path = folder.file(entries.getFirst().path());
    ExrPart old = ExrFrames.part(path, n -> true);
    SortedMap<Channel, Samples> next =
        ExrFrames.channels(
            contents.picture(unit, rendered), contents.passes(unit, rendered), contents.output());
    DeepPicture deep = contents.deep(unit, rendered);
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
    try (ExrFile file =
        contents.begin(unit, entries.getFirst().path(), contents.idHeader(unit, rendered))) {
      file.write(old.channels());
      file.commit();
    }
    UnitCost cost = UnitCost.of(rendered, unit.layer(), contents.column(unit.key()));
    List<Delivery.Entry> made = new ArrayList<>(List.of(again(entries.getFirst(), cost)));
    if (deep != null) {
      Delivery.Entry entry = entries.get(1);
      DeepPicture whole =
          DeepPicture.of(ExrReader.read(folder.file(entry.path())).parts().getFirst());
      dropInto(window, part, deep.pixels(), whole.pixels());
      try (ExrFile file = contents.begin(unit, entry.path(), Map.of())) {
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
    Path path = folder.file(entry.path());
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

  /** Writes the record of a unit whose files are in place. */
  void record(Unit unit, List<String> passes, boolean deep, UnitCost cost) throws IOException {
    List<Delivery.Entry> made =
        new ArrayList<>(List.of(entry(unit, contents.name(unit.key()), passes, cost)));
    if (deep) {
      made.add(entry(unit, contents.deepName(unit.key()), UnitRecord.DEEP, UnitCost.NONE));
    }
    records.write(UnitRecord.now(unit, copies.of(made, List.of())).withNoise(cost.noise().rms()));
  }

  private Delivery.Entry entry(Unit unit, String name, List<String> passes, UnitCost cost)
      throws IOException {
    Path file = folder.file(name);
    return new Delivery.Entry(
        name,
        unit.layer(),
        unit.frame(),
        unit.uncut(),
        passes,
        FileDigest.sha256(file),
        Files.size(file),
        contents.samples(unit),
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
    if (contents.output().copies().contains(Output.Copy.FRAME)) {
      copies.frame(delivery, frame);
    }
  }

  /** Whether a unit's files are there and are those of its record. */
  boolean fits(UnitRecord record) throws IOException {
    for (Delivery.Entry e : record.files()) {
      if (!folder.isFile(e.path())) {
        return false;
      }
      Path file = folder.file(e.path());
      if (Files.size(file) != e.bytes() || !FileDigest.sha256(file).equals(e.sha256())) {
        return false;
      }
    }
    return true;
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
