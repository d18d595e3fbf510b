package org.wedgecutter.core.deliver;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.JsonNodeFactory;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.nio.file.Path;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.TreeSet;
import org.wedgecutter.core.image.Region;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.core.io.JsonText;
import org.wedgecutter.core.io.RootFolder;
import org.wedgecutter.core.io.TextFile;
import org.wedgecutter.core.plan.FrameRange;
import org.wedgecutter.core.plan.Output;
import org.wedgecutter.core.plan.PlanSchema;
import org.wedgecutter.core.plan.PlanWriter;

/**
 * The record of a unit that is done. It stands in the delivery's folder {@code units} and is moved
 * into place after the files that it names.
 *
 * @param unit what was rendered
 * @param files the files that it was written to, with what they cost
 * @param patches pixels that are of a later state of plan or scene than the rest, which the digest
 *     tells
 * @param noise estimated root mean square error of the flat picture, scene-linear light; NaN where
 *     it is not known: of fewer than two samples, denoised, or patched
 * @param machine where it was rendered
 * @param finished when it was finished, ISO 8601 in UTC; empty if that is not known
 */
public record UnitRecord(
    Unit unit,
    List<Delivery.Entry> files,
    List<Region> patches,
    double noise,
    String machine,
    String finished) {
  static final int VERSION = 1;

  /** What stands where a deep file's passes do. */
  public static final List<String> DEEP = List.of(Output.More.DEEP.word());

  private static final long MAX_MEBIBYTES = 16;

  public UnitRecord {
    files = List.copyOf(files);
    patches = List.copyOf(patches);
  }

  private static final PlanSchema SCHEMA = PlanSchema.load(UnitRecord.class, "unit.schema.json");

  /** The schema of records. */
  static PlanSchema schema() {
    return SCHEMA;
  }

  /** The record of a unit that was finished here and now. */
  public static UnitRecord now(Unit unit, List<Delivery.Entry> files) {
    String finished = Instant.now().truncatedTo(ChronoUnit.SECONDS).toString();
    return new UnitRecord(unit, files, List.of(), Double.NaN, Machine.name(), finished);
  }

  /** Returns the files that were rendered, not made from others: the flat one, then the deep. */
  public List<Delivery.Entry> rendered() {
    return files.stream()
        .filter(f -> f.equals(files.getFirst()) || f.passes().equals(DEEP))
        .toList();
  }

  /** Returns the record with more frames at which the unit is held. */
  public UnitRecord heldToo(List<Integer> frames) {
    TreeSet<Integer> all = new TreeSet<>(unit.heldAt());
    all.addAll(frames);
    List<Integer> next = List.copyOf(all);
    return new UnitRecord(
        unit.withHeldAt(next),
        files.stream().map(f -> f.withHeldAt(next)).toList(),
        patches,
        noise,
        machine,
        finished);
  }

  /** Returns the record with an estimate of its noise. */
  public UnitRecord withNoise(double rms) {
    return new UnitRecord(unit, files, patches, rms, machine, finished);
  }

  /** Returns the record of another state of plan and scene. */
  public UnitRecord withDigest(String digest) {
    Unit next = new Unit(unit.layer(), unit.uncut(), unit.frame(), digest, unit.heldAt());
    return new UnitRecord(next, files, List.of(), Double.NaN, machine, finished);
  }

  /** Returns the record with pixels of a later state. */
  public UnitRecord patched(Region region) {
    List<Region> next = new ArrayList<>(patches);
    next.remove(region);
    next.add(region);
    return new UnitRecord(unit, files, next, Double.NaN, machine, finished);
  }

  /** Returns the record of other files, finished now. */
  public UnitRecord withFiles(List<Delivery.Entry> next) {
    UnitRecord made = now(unit, next);
    return new UnitRecord(unit, next, patches, noise, made.machine, made.finished);
  }

  String text() {
    ObjectNode n = JsonNodeFactory.instance.objectNode().put("wedgecutter_unit", VERSION);
    n.put("layer", unit.layer()).put("frame", unit.frame()).put("uncut", unit.uncut());
    n.put("digest", unit.digest());
    putHeldAt(n, unit.heldAt());
    ArrayNode list = n.putArray("files");
    for (Delivery.Entry f : files) {
      ObjectNode e = list.addObject().put("path", f.path());
      ArrayNode passes = e.putArray("passes");
      f.passes().forEach(passes::add);
      e.put("sha256", f.sha256()).put("bytes", f.bytes()).put("samples", f.samples());
      e.put("seconds", f.seconds()).put("rays", f.rays());
    }
    if (!patches.isEmpty()) {
      ArrayNode regions = n.putArray("patches");
      for (Region r : patches) {
        regions.addArray().add(r.x()).add(r.y()).add(r.width()).add(r.height());
      }
    }
    if (!Double.isNaN(noise)) {
      n.put("noise", Double.parseDouble(String.format(Locale.ROOT, "%.3g", noise)));
    }
    n.put("machine", machine).put("finished", finished);
    return PlanWriter.text(n);
  }

  static void putHeldAt(ObjectNode n, List<Integer> frames) {
    if (!frames.isEmpty()) {
      n.put("held_at", FrameRange.of(frames).text());
    }
  }

  /** A shot of twenty minutes. */
  private static final int MOST_HELD = 30_000;

  static List<Integer> heldAt(JsonNode n, Path file, String place) throws InputException {
    String range = n.path("held_at").asText("");
    try {
      List<Integer> frames = range.isEmpty() ? List.of() : FrameRange.parse(range).frames();
      if (frames.size() > MOST_HELD) {
        throw new InputException(
            file,
            place + "held_at",
            "%d frames, at most %d are read".formatted(frames.size(), MOST_HELD));
      }
      return frames;
    } catch (IllegalArgumentException e) {
      throw new InputException(file, place + "held_at", String.valueOf(e.getMessage()), e);
    }
  }

  /**
   * Reads a record.
   *
   * @param folder the delivery, out of which no file may lie
   * @param name of the record in it
   */
  static UnitRecord read(RootFolder folder, String name) throws InputException {
    Path file = folder.path().resolve(name);
    JsonNode n = JsonText.read(TextFile.read(folder, name, MAX_MEBIBYTES), file);
    var fault = schema().check(n.toString());
    if (fault.isPresent()) {
      throw new InputException(file, fault.get().place(), fault.get().expected());
    }
    Unit unit =
        new Unit(
            n.get("layer").asText(),
            n.get("uncut").asBoolean(),
            n.get("frame").asInt(),
            n.get("digest").asText(),
            heldAt(n, file, ""));
    List<Delivery.Entry> files = new ArrayList<>();
    for (JsonNode f : n.get("files")) {
      RootFolder.check(f.get("path").asText(), file, "files/" + files.size() + "/path");
      List<String> passes = new ArrayList<>();
      f.get("passes").forEach(p -> passes.add(p.asText()));
      files.add(
          new Delivery.Entry(
              f.get("path").asText(),
              unit.layer(),
              unit.frame(),
              unit.uncut(),
              passes,
              f.get("sha256").asText(),
              f.get("bytes").asLong(),
              f.get("samples").asInt(),
              f.get("seconds").asDouble(),
              f.get("rays").asLong(),
              unit.heldAt()));
    }
    List<Region> patches = new ArrayList<>();
    for (JsonNode r : n.path("patches")) {
      patches.add(
          new Region(r.get(0).asInt(), r.get(1).asInt(), r.get(2).asInt(), r.get(3).asInt()));
    }
    return new UnitRecord(
        unit,
        files,
        patches,
        n.path("noise").asDouble(Double.NaN),
        n.path("machine").asText(""),
        n.path("finished").asText(""));
  }
}
