package org.wedgecutter.core.deliver;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.JsonNodeFactory;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.InvalidPathException;
import java.nio.file.Path;
import java.util.AbstractList;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.RandomAccess;
import java.util.stream.Stream;
import org.wedgecutter.core.image.Region;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.core.io.JsonText;
import org.wedgecutter.core.io.RootFolder;
import org.wedgecutter.core.io.TextFile;
import org.wedgecutter.core.plan.FileNames;
import org.wedgecutter.core.plan.Output;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.PlanReader;
import org.wedgecutter.core.plan.PlanSchema;
import org.wedgecutter.core.plan.PlanWriter;
import org.wedgecutter.core.plan.Recipe;
import org.wedgecutter.core.render.FrameRenderer;
import org.wedgecutter.core.resolve.LayerFrames;

/**
 * A delivery as described by its {@code delivery.json}.
 *
 * @param folder where it is
 * @param plan the plan as rendered
 * @param width picture width in pixels
 * @param height picture height in pixels
 * @param region which of its pixels were rendered
 * @param samples samples per pixel
 * @param seed the seed
 * @param source the plan's file as seen from the folder; empty where a manifest does not tell it
 * @param units what the delivery is to hold; empty where a manifest does not tell it
 * @param files what was written so far
 * @param besides folders in which the pictures that its recipe names are looked for before its own
 */
public record Delivery(
    Path folder,
    Plan plan,
    int width,
    int height,
    Region region,
    int samples,
    long seed,
    String source,
    List<Unit> units,
    List<Entry> files,
    List<Path> besides) {
  /** The folder in a delivery that holds the pictures which its recipe names. */
  public static final String PICTURES = "recipe";

  /** Name of the manifest. */
  public static final String MANIFEST = "delivery.json";

  /** What the names of plans' files end in. */
  private static final List<String> PLANS = List.of(".wedge", ".json");

  /** Version of the manifest's format. */
  public static final int VERSION = 1;

  private static final long MAX_MEBIBYTES = 256;

  /** Most files, counted at each frame that they show at: a hundred layers at 50,000 frames. */
  private static final long MOST_SHOWN = 5_000_000;

  public Delivery {
    units = List.copyOf(units);
    files = files instanceof Entries known ? known : new Entries(files);
    besides = List.copyOf(besides);
  }

  /** Returns its folder, through which all that is in it is opened and written. */
  public RootFolder root() {
    return new RootFolder(folder);
  }

  /**
   * Returns where a file is, which need not be there.
   *
   * @throws InputException if a link leads there
   */
  public Path path(Entry entry) throws InputException {
    return root().at(entry.path());
  }

  /** Returns the folders to which the pictures that its recipe names are relative. */
  public List<Path> pictures() {
    Stream<Path> own =
        root().isFolder(PICTURES) ? Stream.of(folder.resolve(PICTURES)) : Stream.empty();
    return Stream.concat(besides.stream(), own).toList();
  }

  /**
   * One file.
   *
   * @param path relative to the delivery
   * @param layer name of the layer; {@link FileNames#UNCUT} for the uncut frame
   * @param frame its frame
   * @param uncut whether it is the uncut frame
   * @param passes names of its passes
   * @param sha256 digest of its bytes, hexadecimal
   * @param bytes its size
   * @param samples samples per pixel
   * @param seconds its share of the wall time of the traces that it was made of: each trace's time
   *     is divided equally among the files that it served
   * @param rays its share of the rays, likewise
   * @param heldAt other frames at which it is held, ascending: the layer is the same there by the
   *     digest of everything that it depends on
   */
  public record Entry(
      String path,
      String layer,
      int frame,
      boolean uncut,
      List<String> passes,
      String sha256,
      long bytes,
      int samples,
      double seconds,
      long rays,
      List<Integer> heldAt) {
    public Entry {
      passes = List.copyOf(passes);
      heldAt = List.copyOf(heldAt);
    }

    /** Returns the entry held at other frames. */
    public Entry withHeldAt(List<Integer> frames) {
      return new Entry(
          path, layer, frame, uncut, passes, sha256, bytes, samples, seconds, rays, frames);
    }
  }

  /** Files, and where each shows: looked up for every layer of every frame. */
  private static final class Entries extends AbstractList<Entry> implements RandomAccess {
    private final List<Entry> all;
    private final Map<Slot, Entry> own = new HashMap<>();
    private final Map<Slot, Entry> held = new HashMap<>();

    private record Slot(String layer, boolean uncut, int frame) {}

    Entries(List<Entry> files) {
      all = List.copyOf(files);
      long count = all.stream().mapToLong(e -> 1 + e.heldAt.size()).sum();
      if (count > MOST_SHOWN) {
        throw new IllegalArgumentException(
            "files for %d frames of layers, at most %d are read".formatted(count, MOST_SHOWN));
      }
      for (Entry e : all) {
        own.putIfAbsent(slot(e.layer, e.uncut, e.frame), e);
        e.heldAt.forEach(f -> held.putIfAbsent(slot(e.layer, e.uncut, f), e));
      }
    }

    private static Slot slot(String layer, boolean uncut, int frame) {
      return new Slot(uncut ? "" : layer, uncut, frame);
    }

    Optional<Entry> own(String layer, boolean uncut, int frame) {
      return Optional.ofNullable(own.get(slot(layer, uncut, frame)));
    }

    Optional<Entry> held(String layer, boolean uncut, int frame) {
      return Optional.ofNullable(held.get(slot(layer, uncut, frame)));
    }

    @Override
    public Entry get(int index) {
      return all.get(index);
    }

    @Override
    public int size() {
      return all.size();
    }
  }

  /**
   * Returns the plan's file that it was made from, if it is still there. A manifest names a plan
   * that may lie anywhere, so nothing else than a plan's file is taken for one.
   */
  public Optional<Path> planFile() {
    if (PLANS.stream().noneMatch(source::endsWith)) {
      return Optional.empty();
    }
    try {
      Path file = folder.toAbsolutePath().resolve(source).normalize();
      return Files.isRegularFile(file) ? Optional.of(file) : Optional.empty();
    } catch (InvalidPathException e) {
      return Optional.empty();
    }
  }

  /** The schema of manifests. */
  public static PlanSchema schema() {
    return PlanSchema.load(Delivery.class, "delivery.schema.json");
  }

  /** Returns the settings by which it was rendered, for a number of threads. */
  public FrameRenderer.Settings settings(int threads) {
    return new FrameRenderer.Settings(width, height, samples, threads, false, region);
  }

  /** The schema of the records of units. */
  public static PlanSchema unitSchema() {
    return UnitRecord.schema();
  }

  /** Returns the delivery with another list of files. */
  public Delivery withFiles(List<Entry> next) {
    return new Delivery(
        folder, plan, width, height, region, samples, seed, source, units, next, besides);
  }

  /**
   * Returns the delivery with another recipe than that of its plan.
   *
   * @param from the folder to which the pictures that it names are relative, before the delivery's
   */
  public Delivery withRecipe(Recipe next, Path from) {
    List<Path> folders = new ArrayList<>(List.of(from));
    folders.addAll(besides);
    return new Delivery(
        folder,
        plan.withRecipe(next),
        width,
        height,
        region,
        samples,
        seed,
        source,
        units,
        files,
        folders);
  }

  /** Returns the delivery with the files that the records of its units tell. */
  public Delivery withRecords(Map<Unit.Key, UnitRecord> records) {
    Map<Unit.Key, List<Entry>> known = new LinkedHashMap<>();
    for (Unit unit : units) {
      UnitRecord record = records.get(unit.key());
      known.put(unit.key(), record == null ? List.of() : record.heldToo(unit.heldAt()).files());
    }
    // another process may have been asked for more since the manifest was written
    records.entrySet().stream()
        .filter(e -> e.getKey().uncut() || plan.layer(e.getKey().layer()).isPresent())
        .sorted(
            Comparator.comparingInt((Map.Entry<Unit.Key, UnitRecord> e) -> e.getKey().frame())
                .thenComparing(e -> e.getKey().layer()))
        .forEach(e -> known.putIfAbsent(e.getKey(), e.getValue().files()));
    return withFiles(known.values().stream().flatMap(List::stream).toList());
  }

  /** Returns the file of a layer that was rendered at a frame. */
  public Optional<Entry> file(String layer, boolean uncut, int frame) {
    return ((Entries) files).own(layer, uncut, frame);
  }

  /**
   * Returns the file that a layer has at a frame: its own, one that is held there, or where the
   * layer has frames of its own the one that these hold.
   */
  public Optional<Entry> held(String layer, int frame) {
    Optional<Entry> own = shownAt(layer, false, frame);
    if (own.isPresent()) {
      return own;
    }
    int from =
        plan.layer(layer).map(l -> LayerFrames.of(l, plan.requireShot()).held(frame)).orElse(frame);
    return shownAt(layer, false, from);
  }

  /** Returns the deep file of a layer that stands beside the one it has at a frame. */
  public Optional<Entry> deep(String layer, int frame) {
    return held(layer, frame)
        .flatMap(flat ->
            files.stream()
                .filter(f ->
                    f.layer().equals(layer)
                        && f.frame() == flat.frame()
                        && f.passes().equals(List.of(Output.More.DEEP.word())))
                .findFirst());
  }

  /** Returns the file of the uncut frame at a frame: its own, or one that is held there. */
  public Optional<Entry> uncut(int frame) {
    return shownAt(FileNames.UNCUT, true, frame);
  }

  private Optional<Entry> shownAt(String layer, boolean uncut, int frame) {
    Optional<Entry> own = file(layer, uncut, frame);
    return own.isPresent() ? own : ((Entries) files).held(layer, uncut, frame);
  }

  /**
   * Returns the files that make up a frame: of each layer its own or the held one, and the uncut.
   */
  public List<Entry> shown(int frame) {
    List<Entry> out = new ArrayList<>();
    plan.layers().forEach(l -> held(l.name(), frame).ifPresent(out::add));
    uncut(frame).ifPresent(out::add);
    return out;
  }

  /**
   * Returns the frames that there are files of. A frame that was rendered only because layers hold
   * it is not among them, unless nothing else was rendered.
   */
  public List<Integer> frames() {
    List<Integer> all =
        files.stream()
            .flatMap(f -> Stream.concat(Stream.of(f.frame()), f.heldAt().stream()))
            .distinct()
            .sorted()
            .toList();
    List<Column> columns =
        files.stream().map(f -> new Column(f.layer(), f.uncut())).distinct().toList();
    List<Integer> whole = all.stream().filter(f -> isWhole(columns, f)).toList();
    return whole.isEmpty() ? all : whole;
  }

  /** A layer that has files, or the uncut frame. */
  private record Column(String layer, boolean uncut) {}

  /** Whether there is a file, of its own or held, for every layer that has any. */
  private boolean isWhole(List<Column> columns, int frame) {
    return columns.stream()
        .allMatch(c -> (c.uncut ? uncut(frame) : held(c.layer, frame)).isPresent());
  }

  /** Whether a path is a delivery. */
  public static boolean isDelivery(Path path) {
    return new RootFolder(path).isFile(MANIFEST);
  }

  /**
   * Reads a delivery: its manifest, and the records of its units, which tell more while it is being
   * rendered.
   */
  public static Delivery read(Path folder) throws InputException {
    Delivery told = manifest(folder);
    UnitFolder records = new UnitFolder(folder);
    try {
      return records.exists() ? told.withRecords(records.read().records()) : told;
    } catch (IOException | IllegalArgumentException e) {
      throw new InputException(folder, UnitFolder.NAME, "cannot be read: " + e.getMessage(), e);
    }
  }

  /** Reads a delivery's manifest alone. */
  public static Delivery manifest(Path folder) throws InputException {
    Path file = folder.resolve(MANIFEST);
    try {
      if (!isDelivery(folder)) {
        throw new InputException(folder, "", "not a delivery: it holds no " + MANIFEST);
      }
      JsonNode n =
          JsonText.read(TextFile.read(new RootFolder(folder), MANIFEST, MAX_MEBIBYTES), file);
      PlanReader.rename(n, "wedgecutterDelivery", "wedgecutter_delivery");
      PlanReader.rename(n, "colourSpace", "colour_space");
      PlanReader.migrate(n.path("plan"));
      var fault = schema().check(n.toString());
      if (fault.isPresent()) {
        throw new InputException(file, fault.get().place(), fault.get().expected());
      }
      List<Unit> units = new ArrayList<>();
      for (JsonNode u : n.path("units")) {
        units.add(
            new Unit(
                u.get("layer").asText(),
                u.get("uncut").asBoolean(),
                u.get("frame").asInt(),
                u.get("digest").asText(),
                UnitRecord.heldAt(u, file, "units/" + units.size() + "/")));
      }
      List<Entry> entries = new ArrayList<>();
      for (JsonNode f : n.get("files")) {
        String place = "files/" + entries.size() + "/path";
        RootFolder.check(f.get("path").asText(), file, place);
        List<String> passes = new ArrayList<>();
        f.path("passes").forEach(p -> passes.add(p.asText()));
        entries.add(
            new Entry(
                f.get("path").asText(),
                f.get("layer").asText(),
                f.get("frame").asInt(),
                f.get("uncut").asBoolean(),
                passes,
                f.get("sha256").asText(),
                f.get("bytes").asLong(),
                f.path("samples").asInt(n.get("samples").asInt()),
                f.path("seconds").asDouble(),
                f.path("rays").asLong(),
                UnitRecord.heldAt(f, file, "files/" + entries.size() + "/")));
      }
      Plan plan = PlanReader.parse(n.get("plan").toString(), file);
      if (plan.shot() == null) {
        throw new InputException(file, "plan/shot", "missing");
      }
      int width = n.get("size").get(0).asInt();
      int height = n.get("size").get(1).asInt();
      JsonNode r = n.path("region");
      Region region =
          r.isMissingNode()
              ? Region.whole(width, height)
              : new Region(r.get(0).asInt(), r.get(1).asInt(), r.get(2).asInt(), r.get(3).asInt());
      if (!region.fits(width, height)) {
        throw new InputException(file, "region", "does not lie in the frame");
      }
      return new Delivery(
          folder,
          plan,
          width,
          height,
          region,
          n.get("samples").asInt(),
          n.get("seed").asLong(),
          n.path("source").asText(""),
          units,
          entries,
          List.of());
    } catch (InputException e) {
      throw e;
    } catch (RuntimeException e) {
      throw new InputException(file, "", "cannot be read: " + e.getMessage(), e);
    }
  }

  /** Writes the manifest whole, or not at all. */
  public void write() throws IOException {
    byte[] bytes = PlanWriter.text(tree()).getBytes(StandardCharsets.UTF_8);
    root().write(MANIFEST, out -> out.write(bytes));
  }

  private ObjectNode tree() {
    ObjectNode n = JsonNodeFactory.instance.objectNode().put("wedgecutter_delivery", VERSION);
    n.put("colour_space", "scene-linear, ITU-R BT.709 primaries, D65 white");
    n.putArray("size").add(width).add(height);
    if (!region.equals(Region.whole(width, height))) {
      ArrayNode r = n.putArray("region");
      r.add(region.x()).add(region.y()).add(region.width()).add(region.height());
    }
    n.put("samples", samples).put("seed", seed);
    if (!source.isEmpty()) {
      n.put("source", source);
    }
    if (!units.isEmpty()) {
      ArrayNode wanted = n.putArray("units");
      for (Unit u : units) {
        ObjectNode e = wanted.addObject().put("layer", u.layer()).put("frame", u.frame());
        e.put("uncut", u.uncut()).put("digest", u.digest());
        UnitRecord.putHeldAt(e, u.heldAt());
      }
    }
    ArrayNode list = n.putArray("files");
    for (Entry f : files) {
      ObjectNode e = list.addObject().put("path", f.path()).put("layer", f.layer());
      e.put("frame", f.frame()).put("uncut", f.uncut());
      ArrayNode passes = e.putArray("passes");
      f.passes().forEach(passes::add);
      e.put("sha256", f.sha256()).put("bytes", f.bytes());
      e.put("samples", f.samples());
      e.put("seconds", f.seconds()).put("rays", f.rays());
      UnitRecord.putHeldAt(e, f.heldAt());
    }
    n.set("plan", PlanWriter.tree(plan));
    return n;
  }
}
