package org.wedgecutter.core.deliver.unit;

import java.io.Closeable;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.wedgecutter.core.deliver.Delivery;
import org.wedgecutter.core.deliver.Unit;
import org.wedgecutter.core.deliver.UnitFolder;
import org.wedgecutter.core.deliver.UnitRecord;
import org.wedgecutter.core.deliver.UnitState;
import org.wedgecutter.core.image.Region;
import org.wedgecutter.core.io.AtomicFile;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.core.io.RootFolder;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.load.NumberedPictures;
import org.wedgecutter.core.plan.FileNames;
import org.wedgecutter.core.plan.LayerDef;
import org.wedgecutter.core.render.FrameBands;
import org.wedgecutter.core.render.FrameRenderer;
import org.wedgecutter.core.render.RenderedFrame;

/**
 * Renders a plan into a delivery, frame by frame, and a frame band by band. Each file, and then the
 * record of its unit, is moved into place whole, so that a stop at any moment leaves only whole
 * files, which a later run does not render again as long as nothing that they depend on changes.
 * Several processes may render into one delivery.
 */
public final class DeliveryRenderer {
  /** Pixels of a band, about. */
  public static final int BAND_PIXELS = 1 << 18;

  private final LoadedShot shot;
  private final DeliveryOrder order;
  private final int bandPixels;
  private final FrameRenderer renderer;
  private final List<RenderedFrame.ClassTime> classes = new ArrayList<>();
  private long peakBytes;
  private long invalidSamples;
  private long cutShort;

  private final DeliveryUnits units;
  private final UnitDigests digests;
  private final UnitFiles files;
  private final UnitFolder records;
  private final ManifestWriter manifest;
  private final Map<Unit.Key, UnitRecord> there;
  private final Set<Unit.Key> stale;
  private final List<Unit> wanted;
  private final Gate gate = new Gate();
  private volatile Set<Unit.Key> preferred = Set.of();

  /** Listener to progress. */
  @FunctionalInterface
  public interface Progress {
    /**
     * Called from any thread.
     *
     * @param frame the frame at work
     * @param frameShare how much of it is done, 0 to 1
     * @param share how much of all is done, 0 to 1
     */
    void at(int frame, double frameShare, double share);

    /** A unit has another state; called from the thread that renders. */
    default void unit(Unit unit, UnitState state) {}

    /**
     * A file could not be written: the disk is full, or the folder cannot be written to. Called
     * from the thread that renders, which waits.
     *
     * @return true to try again; false ends the render
     */
    default boolean goesOn(IOException why) {
      return false;
    }
  }

  /**
   * Prepares; nothing is written yet.
   *
   * @throws InputException if a layer does not exist, or file names are wrong or collide
   */
  public DeliveryRenderer(LoadedShot shot, DeliveryOrder order) throws InputException {
    this(shot, order, BAND_PIXELS);
  }

  /**
   * @param bandPixels about as many pixels are rendered at a time
   */
  DeliveryRenderer(LoadedShot shot, DeliveryOrder order, int bandPixels) throws InputException {
    this.bandPixels = bandPixels;
    this.shot = shot;
    this.order = order;
    renderer = new FrameRenderer(shot, order.settings()).forFiles();
    FileNames names = UnitContents.names(shot, order.folder());
    for (String layer : order.layers()) {
      if (shot.plan().layer(layer).isEmpty()) {
        throw new InputException(
            shot.file(),
            "layers",
            "there is no layer '%s'; the layers are %s"
                .formatted(
                    layer,
                    String.join(", ", shot.plan().layers().stream().map(LayerDef::name).toList())));
      }
    }
    digests = new UnitDigests(shot, order.settings());
    files = new UnitFiles(shot, order.folder(), order.settings(), names);
    records = new UnitFolder(order.folder());
    manifest = new ManifestWriter(shot, order, files, records);
    if (isShared()) {
      // one of many workers looks at its own units alone
      units = new DeliveryUnits(shot, order, List.of());
      wanted = units.list(digests);
      there = own();
      stale = stale();
    } else {
      there = there();
      stale = stale();
      List<Delivery.Entry> valid =
          there.values().stream()
              .filter(r -> !stale.contains(r.unit().key()))
              .flatMap(r -> r.files().stream())
              .toList();
      units = new DeliveryUnits(shot, order, valid);
      wanted = units.list(digests);
    }
    DeliveryChecks.run(shot, order, wanted, files);
  }

  private boolean isShared() {
    return order.share().of() > 1;
  }

  /** The records of an earlier run, of the units of this share. */
  private Map<Unit.Key, UnitRecord> own() throws InputException {
    if (order.onto() == DeliveryOrder.Onto.NEW || !Delivery.isDelivery(order.folder())) {
      return Map.of();
    }
    checkSize(Delivery.manifest(order.folder()));
    Map<Unit.Key, UnitRecord> out = new LinkedHashMap<>();
    for (Unit unit : loop().mine()) {
      records.record(unit.key()).ifPresent(r -> out.put(unit.key(), r));
    }
    return out;
  }

  private void checkSize(Delivery old) throws InputException {
    if (old.width() != order.settings().width()
        || old.height() != order.settings().height()
        || !old.region().equals(order.settings().region())) {
      throw new InputException(
          order.folder(),
          "",
          "holds a delivery of %d x %d pixels or of another region; choose another folder"
              .formatted(old.width(), old.height()));
    }
  }

  /** The records of an earlier run, of layers that there still are. */
  private Map<Unit.Key, UnitRecord> there() throws InputException {
    if (order.onto() == DeliveryOrder.Onto.NEW || !Delivery.isDelivery(order.folder())) {
      return Map.of();
    }
    checkSize(Delivery.manifest(order.folder()));
    try {
      Map<Unit.Key, UnitRecord> out = new LinkedHashMap<>();
      records
          .read()
          .records()
          .forEach((key, record) -> {
            if (key.uncut() || shot.plan().layer(key.layer()).isPresent()) {
              out.put(key, record);
            }
          });
      return out;
    } catch (IOException e) {
      throw new InputException(order.folder(), "", "cannot be read: " + e.getMessage(), e);
    }
  }

  /** Which of them depend on what is no longer the same. */
  private Set<Unit.Key> stale() throws InputException {
    Set<Unit.Key> out = new LinkedHashSet<>();
    there.values().stream()
        .map(UnitRecord::unit)
        .sorted(
            Comparator.comparingInt(Unit::frame)
                .thenComparingInt(u -> files.contents().column(u.key())))
        .filter(u -> !u.digest().equals(digests.of(files.contents().column(u.key()), u.frame())))
        .forEach(u -> out.add(u.key()));
    if (!out.isEmpty() && order.onto() == DeliveryOrder.Onto.RESUME) {
      Unit.Key first = out.iterator().next();
      throw new InputException(
          order.folder(),
          "",
          ("%d of %d files are of an earlier state of plan, scene or settings, the first is '%s' at"
                  + " frame %d; render these again with --changed, or choose another folder")
              .formatted(out.size(), there.size(), first.layer(), first.frame()));
    }
    return out;
  }

  /** Returns the units that an order needs, in the order of rendering. */
  public List<Unit> units() {
    return wanted;
  }

  /** Stops {@link #run} from another thread; finished files stay. */
  public void stop() {
    renderer.stop();
    gate.shut(false);
  }

  /** Lets the work rest, or go on, from another thread; what is traced is kept in memory. */
  public void pause(boolean rest) {
    gate.shut(rest && !renderer.isStopped());
  }

  /** Renders some units before the others, from the next one on; from any thread. */
  public void prefer(Set<Unit.Key> first) {
    preferred = Set.copyOf(first);
  }

  /** Returns the cost of each trace, added up over the frames. */
  public List<RenderedFrame.ClassTime> classes() {
    return List.copyOf(classes);
  }

  /** Returns the peak memory of a frame's sums, in bytes. */
  public long peakBytes() {
    return peakBytes;
  }

  /** Returns the number of invalid fragments: NaN, infinite or negative; they are left out. */
  public long invalidSamples() {
    return invalidSamples;
  }

  /** Returns how many volume paths were terminated, because they took too many steps. */
  public long cutShort() {
    return cutShort;
  }

  /** Renders and returns the delivery. */
  public Delivery run(Progress progress) throws IOException {
    begin();
    if (order.share().equals(DeliveryOrder.Share.ALL) && Files.isDirectory(order.folder())) {
      AtomicFile.sweep(order.folder());
    }
    // who ends last merges the records; the others do not read them
    try (Closeable _ =
        () -> {
          if (!isShared() || records.count() >= wanted.size()) {
            manifest.write(wanted, true);
          }
        }) {
      loop().run(gated(progress));
    }
    if (isShared() && records.count() < wanted.size()) {
      return Delivery.manifest(order.folder()).withRecords(own());
    }
    Delivery done = Delivery.read(order.folder());
    Set<Integer> whole = Set.copyOf(done.frames());
    for (int frame : order.frames()) {
      if (whole.contains(frame)) {
        files.frame(done, frame);
      }
    }
    return done;
  }

  private UnitLoop loop() {
    return new UnitLoop(
        shot,
        order,
        renderer,
        files,
        records,
        this::bands,
        this::addTimes,
        wanted,
        () -> preferred);
  }

  /**
   * Returns in which shares of the work anything is missing, ascending from 1.
   *
   * @param of how many shares there are
   */
  public List<Integer> openShares(int of) {
    return loop().open(of);
  }

  /** Every thread that traces tells its progress, and rests there while the gate is shut. */
  private Progress gated(Progress progress) {
    return new Progress() {
      @Override
      public void at(int frame, double frameShare, double share) {
        progress.at(frame, frameShare, share);
        gate.pass();
      }

      @Override
      public void unit(Unit unit, UnitState state) {
        progress.unit(unit, state);
      }

      @Override
      public boolean goesOn(IOException why) {
        return progress.goesOn(why);
      }
    };
  }

  /** Writes the manifest with the plan and what is to be made, and removes what is stale. */
  private void begin() throws IOException {
    if (Delivery.isDelivery(order.folder()) && order.onto() == DeliveryOrder.Onto.NEW) {
      throw new InputException(
          order.folder(),
          "",
          "already holds a delivery; continue it with --resume, or choose another folder");
    }
    for (Unit unit : wanted) {
      UnitRecord old = there.get(unit.key());
      if (old == null) {
        continue;
      }
      if (!old.unit().digest().equals(unit.digest()) || !files.fits(old)) {
        records.forget(unit.key());
        continue;
      }
      UnitRecord whole = files.withCopies(old);
      if (!whole.unit().heldAt().containsAll(unit.heldAt())) {
        records.write(whole.heldToo(unit.heldAt()));
      }
    }
    if (!isShared() || !manifest.tells(wanted)) {
      manifest.write(wanted, !isShared());
    }
    copyRecipePictures();
  }

  /** Copies what the recipe shows into the delivery, so that it rejoins by itself. */
  private void copyRecipePictures() throws IOException {
    NumberedPictures all = shot.numberedPictures();
    RootFolder folder = new RootFolder(order.folder());
    for (String name : shot.plan().recipe().pictures()) {
      for (int frame : order.frames()) {
        Path from = all.file(name, frame);
        String own = NumberedPictures.at(name, frame);
        RootFolder.check(own, shot.file(), "recipe");
        String to = Delivery.PICTURES + "/" + own;
        if (!folder.isFile(to) || Files.mismatch(from, folder.file(to)) >= 0) {
          // what is no picture is nobody's to copy
          all.picture(name, frame);
          folder.write(to, out -> Files.copy(from, out));
        }
      }
    }
  }

  /** Returns the bands that a frame is rendered in. */
  private List<Region> bands(int frame) {
    int chunk = shot.plan().output().compression().linesPerChunk();
    return FrameBands.of(
        shot.resolve(frame), order.settings(), Math.max(FrameBands.LINES, chunk), bandPixels);
  }

  private void addTimes(RenderedFrame rendered) {
    peakBytes = Math.max(peakBytes, rendered.bytes());
    invalidSamples += rendered.invalidSamples();
    cutShort += rendered.cutShort();
    for (RenderedFrame.ClassTime time : rendered.classes()) {
      int at = -1;
      for (int i = 0; i < classes.size(); i++) {
        at = classes.get(i).layers().equals(time.layers()) ? i : at;
      }
      if (at < 0) {
        classes.add(time);
      } else {
        classes.set(at, classes.get(at).plus(time));
      }
    }
  }
}
