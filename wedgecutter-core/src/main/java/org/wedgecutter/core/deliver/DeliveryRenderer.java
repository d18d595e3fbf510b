package org.wedgecutter.core.deliver;

import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.DigestInputStream;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HashSet;
import java.util.HexFormat;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import org.wedgecutter.core.fragment.LayerPictures;
import org.wedgecutter.core.image.Region;
import org.wedgecutter.core.io.AtomicFile;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.plan.FileNames;
import org.wedgecutter.core.plan.LayerDef;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.render.FrameRenderer;
import org.wedgecutter.core.render.RenderedFrame;
import org.wedgecutter.core.resolve.ResolvedShot;
import org.wedgecutter.exr.Box;
import org.wedgecutter.exr.ExrWriter;

/**
 * Renders a plan into a delivery, frame by frame, and a frame band by band. Each file, and then the
 * record of its unit, is moved into place whole, so that a stop at any moment leaves only whole
 * files, which a later run does not render again as long as nothing that they depend on changes.
 * Several processes may render into one delivery.
 */
public final class DeliveryRenderer {
  /** Lines of bands are a multiple of this, which tiles and the chunks of most files divide. */
  private static final int BAND = 32;

  /** Pixels of a band, about. */
  public static final int BAND_PIXELS = 1 << 18;

  private final LoadedShot shot;
  private final Order order;
  private final FrameRenderer renderer;
  private final List<RenderedFrame.ClassTime> classes = new ArrayList<>();
  private long peakBytes;
  private long invalidSamples;
  private long cutShort;

  private final DeliveryUnits units;
  private final UnitDigests digests;
  private final UnitFiles files;
  private final UnitFolder records;
  private final Map<Unit.Key, UnitRecord> there;
  private final Set<Unit.Key> stale;
  private final List<Unit> wanted;
  private final Gate gate = new Gate();
  private volatile Set<Unit.Key> preferred = Set.of();

  /**
   * What to render.
   *
   * @param folder the delivery
   * @param layers names of the layers; empty means all that the plan enables
   * @param frames which frames
   * @param uncut whether the uncut frame is written too
   * @param settings size, samples, threads
   * @param onto what becomes of files of an earlier run
   * @param everyFrame whether frames that are the same are rendered and written each
   * @param share which share of the work is done here
   * @param cells by layer the only frames that are rendered; empty means all that are asked for
   */
  public record Order(
      Path folder,
      List<String> layers,
      List<Integer> frames,
      boolean uncut,
      FrameRenderer.Settings settings,
      Onto onto,
      boolean everyFrame,
      Share share,
      Map<String, Set<Integer>> cells) {
    public Order {
      layers = List.copyOf(layers);
      frames = List.copyOf(frames);
      cells = Map.copyOf(cells);
    }

    /** Returns the order for a share of the work. */
    public Order withShare(Share next) {
      return new Order(folder, layers, frames, uncut, settings, onto, everyFrame, next, cells);
    }

    /** Returns the order with every frame rendered, or with those held that are the same. */
    public Order withEveryFrame(boolean next) {
      return new Order(folder, layers, frames, uncut, settings, onto, next, share, cells);
    }

    /** Returns the order with what has changed since an earlier run rendered again, or not. */
    public Order changing(boolean next) {
      Onto then = next ? Onto.CHANGED : onto;
      return new Order(folder, layers, frames, uncut, settings, then, everyFrame, share, cells);
    }

    /** Returns the order for some frames of some layers alone. */
    public Order withCells(Map<String, Set<Integer>> next) {
      return new Order(folder, layers, frames, uncut, settings, onto, everyFrame, share, next);
    }

    /** An order in which a picture that is the same at several frames is written once. */
    public Order(
        Path folder,
        List<String> layers,
        List<Integer> frames,
        boolean uncut,
        FrameRenderer.Settings settings,
        boolean resume) {
      this(
          folder,
          layers,
          frames,
          uncut,
          settings,
          resume ? Onto.RESUME : Onto.NEW,
          false,
          Share.ALL,
          Map.of());
    }
  }

  /** What becomes of files of an earlier run. */
  public enum Onto {
    /** There must be none. */
    NEW,
    /** They stay; all must be of the same plan and scene as far as they depend on them. */
    RESUME,
    /** Those stay that a change of plan or scene does not touch; the others are made again. */
    CHANGED
  }

  /**
   * A share of the work, for several processes that work on one delivery.
   *
   * @param number of this share, from 1
   * @param of how many shares there are
   */
  public record Share(int number, int of) {
    /** All of it. */
    public static final Share ALL = new Share(1, 1);

    public Share {
      if (of < 1 || number < 1 || number > of) {
        throw new IllegalArgumentException(
            "%d/%d, expected K/N with K from 1 to N".formatted(number, of));
      }
    }

    boolean isMine(long task) {
      return task % of == number - 1;
    }
  }

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
  public DeliveryRenderer(LoadedShot shot, Order order) throws InputException {
    this.shot = shot;
    this.order = order;
    renderer = new FrameRenderer(shot, order.settings()).forFiles();
    FileNames names = names(shot, order.folder());
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
    checkCollisions();
    checkChannels();
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

  private boolean isShared() {
    return order.share().of() > 1;
  }

  /** The records of an earlier run, of the units of this share. */
  private Map<Unit.Key, UnitRecord> own() throws InputException {
    if (order.onto() == Onto.NEW || !Delivery.isDelivery(order.folder())) {
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
    if (order.onto() == Onto.NEW || !Delivery.isDelivery(order.folder())) {
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
        .sorted(Comparator.comparingInt(Unit::frame).thenComparingInt(u -> files.column(u.key())))
        .filter(u -> !u.digest().equals(digests.of(files.column(u.key()), u.frame())))
        .forEach(u -> out.add(u.key()));
    if (!out.isEmpty() && order.onto() == Onto.RESUME) {
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

  /**
   * Names of channels come from names in the scene and the plan, and have a bound in the format.
   */
  private void checkChannels() throws InputException {
    ResolvedShot atFirst = shot.resolve(order.frames().getFirst());
    for (String title : LayerPictures.passTitles(atFirst)) {
      int bytes = (title + ".R").getBytes(StandardCharsets.UTF_8).length;
      if (bytes > ExrWriter.MOST_NAME) {
        throw new InputException(
            shot.file(),
            "output/more",
            "the pass '%s…' has a name of %d bytes; OpenEXR takes %d"
                .formatted(title.substring(0, 40), bytes, ExrWriter.MOST_NAME));
      }
    }
  }

  private void checkCollisions() throws InputException {
    Map<String, String> taken = new HashMap<>();
    for (Unit unit : wanted) {
      String name = files.name(unit.key());
      String other = taken.putIfAbsent(name, unit.layer());
      if (other != null) {
        throw new InputException(
            shot.file(),
            "output/name",
            "layers '%s' and '%s' would share the file %s".formatted(other, unit.layer(), name));
      }
    }
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

  /** Returns how many walks through media were cut short, because they took too many steps. */
  public long cutShort() {
    return cutShort;
  }

  /** Renders and returns the delivery. */
  public Delivery run(Progress progress) throws IOException {
    begin();
    if (order.share().equals(Share.ALL) && Files.isDirectory(order.folder())) {
      AtomicFile.sweep(order.folder());
    }
    try {
      loop().run(gated(progress));
    } finally {
      // who ends last merges the records; the others do not read them
      if (!isShared() || records.count() >= wanted.size()) {
        write(true);
      }
    }
    if (isShared() && records.count() < wanted.size()) {
      return Delivery.manifest(order.folder()).withRecords(own());
    }
    Delivery done = Delivery.read(order.folder());
    for (int frame : order.frames()) {
      if (done.frames().contains(frame)) {
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
    if (Delivery.isDelivery(order.folder()) && order.onto() == Onto.NEW) {
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
    if (!isShared() || !isTold()) {
      write(!isShared());
    }
  }

  /** Whether the manifest tells all of this plan's units, as they are now. */
  private boolean isTold() throws IOException {
    if (!Delivery.isDelivery(order.folder())) {
      return false;
    }
    Delivery told = Delivery.manifest(order.folder());
    return told.plan().equals(shot.plan()) && new HashSet<>(told.units()).containsAll(wanted);
  }

  /**
   * Writes the manifest: what was asked for now and before.
   *
   * @param merged whether also what there is of it
   */
  private void write(boolean merged) throws IOException {
    Map<Unit.Key, Unit> all = new LinkedHashMap<>();
    if (Delivery.isDelivery(order.folder())) {
      for (Unit u : Delivery.manifest(order.folder()).units()) {
        if (u.uncut() || shot.plan().layer(u.layer()).isPresent()) {
          all.put(u.key(), u);
        }
      }
    }
    for (Unit u : wanted) {
      Unit before = all.get(u.key());
      TreeSet<Integer> held = new TreeSet<>(u.heldAt());
      if (before != null) {
        held.addAll(before.heldAt());
      }
      all.put(u.key(), u.withHeldAt(List.copyOf(held)));
    }
    List<Unit> sorted = new ArrayList<>(all.values());
    sorted.sort(Comparator.comparingInt(Unit::frame).thenComparingInt(u -> files.column(u.key())));
    Plan plan = shot.plan();
    Delivery told =
        new Delivery(
            order.folder(),
            plan,
            order.settings().width(),
            order.settings().height(),
            order.settings().region(),
            order.settings().samples(),
            plan.requireShot().seed(),
            source(),
            sorted,
            List.of());
    (merged ? told.withRecords(records.read().records()) : told).write();
  }

  /** The plan's file as seen from the delivery; its full path if they have no folder in common. */
  private String source() {
    Path file = shot.file().toAbsolutePath().normalize();
    Path folder = order.folder().toAbsolutePath().normalize();
    Path root = file.getRoot();
    return root != null && root.equals(folder.getRoot())
        ? folder.relativize(file).toString()
        : file.toString();
  }

  /**
   * Returns the parts that a frame is rendered in, from the top: bands, so that sums and files take
   * no more memory than a band's, however large the frame. Layers of sizes of their own have other
   * lines: such frames are rendered whole.
   */
  private List<Region> bands(int frame) {
    Region all = order.settings().region();
    FrameRenderer.Settings settings = order.settings();
    ResolvedShot resolved = shot.resolve(frame);
    boolean sized =
        resolved.layers().stream()
            .map(l -> l.transport().settings())
            .anyMatch(own ->
                own.width(settings.width()) != settings.width()
                    || own.height(settings.height()) != settings.height());
    if (sized || settings.separately()) {
      return List.of(all);
    }
    List<Region> out = new ArrayList<>();
    int chunk = Math.max(BAND, shot.plan().output().compression().linesPerChunk());
    int lines = Math.max(chunk, BAND_PIXELS / all.width() / chunk * chunk);
    for (int y = 0; y < all.height(); y += lines) {
      out.add(new Region(all.x(), all.y() + y, all.width(), Math.min(lines, all.height() - y)));
    }
    return out;
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

  /** Returns a region as the files tell it. */
  static Box box(Region r) {
    return new Box(r.x(), r.y(), r.x() + r.width() - 1, r.y() + r.height() - 1);
  }

  /** Returns the SHA-256 of a file, hexadecimal. */
  static String sha256(Path file) throws IOException {
    try {
      MessageDigest digest = MessageDigest.getInstance("SHA-256");
      try (InputStream in = new DigestInputStream(Files.newInputStream(file), digest)) {
        in.transferTo(java.io.OutputStream.nullOutputStream());
      }
      return HexFormat.of().formatHex(digest.digest());
    } catch (NoSuchAlgorithmException e) {
      throw new IllegalStateException(e);
    }
  }

  /**
   * Returns the order for all that is missing or stale in a delivery.
   *
   * @param threads how many threads render
   * @throws InputException if it is not one of this plan's size
   */
  public static Order rest(LoadedShot shot, Path folder, int threads) throws InputException {
    Delivery d = Delivery.read(folder);
    Map<String, Set<Integer>> cells = new LinkedHashMap<>();
    TreeSet<Integer> frames = new TreeSet<>();
    boolean uncut = false;
    for (Unit u : d.units()) {
      if (u.uncut() || shot.plan().layer(u.layer()).isPresent()) {
        Set<Integer> of = cells.computeIfAbsent(u.layer(), l -> new TreeSet<>());
        of.add(u.frame());
        of.addAll(u.heldAt());
        frames.add(u.frame());
        frames.addAll(u.heldAt());
        uncut |= u.uncut();
      }
    }
    if (frames.isEmpty()) {
      throw new InputException(folder, "", "does not tell what is to be rendered");
    }
    return new Order(folder, List.of(), List.copyOf(frames), uncut, d.settings(threads), true)
        .withCells(cells)
        .changing(true);
  }
}
