package org.wedgecutter.core.deliver.unit;

import java.io.IOException;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.CancellationException;
import java.util.function.DoubleConsumer;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.deliver.Delivery;
import org.wedgecutter.core.deliver.Unit;
import org.wedgecutter.core.deliver.UnitFolder;
import org.wedgecutter.core.deliver.UnitRecord;
import org.wedgecutter.core.deliver.UnitState;
import org.wedgecutter.core.fragment.Denoiser;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.image.Region;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.measure.InterplayTable;
import org.wedgecutter.core.plan.Cell;
import org.wedgecutter.core.plan.CellOverride;
import org.wedgecutter.core.plan.CollectionDef;
import org.wedgecutter.core.plan.LayerDef;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.Property;
import org.wedgecutter.core.plan.Role;
import org.wedgecutter.core.plan.Value;
import org.wedgecutter.core.render.FrameRenderer;
import org.wedgecutter.core.render.RenderedFrame;
import org.wedgecutter.core.resolve.EntitySet;
import org.wedgecutter.core.resolve.Reach;
import org.wedgecutter.core.resolve.ResolvedLayer;
import org.wedgecutter.core.resolve.ResolvedShot;
import org.wedgecutter.exr.Compression;

/**
 * Renders a part of a layer again and drops it into a finished delivery: bit for bit what a full
 * render gives there. Where the edit reaches further, by shadow, reflection or bounced light, it
 * tells which units that are, and by how much.
 */
public final class Patcher {
  /** Lines across of the quick trace that measures how far an edit reaches. */
  private static final int QUICK_LINES = 90;

  private static final int QUICK_SAMPLES = 8;
  private static final String PATCHED = "patched";

  private final LoadedShot shot;
  private final Delivery delivery;
  private final Order order;
  private final FrameRenderer.Settings settings;
  private final FrameRenderer renderer;
  private final UnitDigests digests;
  private final UnitFiles files;
  private final UnitFolder records;
  private final int column;

  /**
   * What is rendered again.
   *
   * @param layer name of the layer
   * @param frames frames at which the layer has files; empty means all
   * @param region the pixels; null means where the entities are seen
   * @param entities what was edited; empty for a region alone
   */
  public record Order(
      String layer, List<Integer> frames, @Nullable Region region, EntitySet entities) {
    public Order {
      frames = List.copyOf(frames);
    }
  }

  /**
   * What was done to a unit of the layer.
   *
   * @param frame its frame
   * @param region the pixels that were rendered again; empty if the entities are not seen there
   * @param whole whether the unit is now what a full render gives
   */
  public record Patch(int frame, Optional<Region> region, boolean whole) {}

  /**
   * A unit that the edit touches elsewhere.
   *
   * @param layer its layer
   * @param frame its frame
   * @param share of the light of what the layer shows, how much what was edited reflects, lets
   *     through or blocks, 0 to 1 and more; NaN if no entities were named
   */
  public record Touched(String layer, int frame, double share) {}

  /**
   * What was done.
   *
   * @param patches of the layer
   * @param touched other units, and those of the layer outside the pixels rendered again; the most
   *     affected first
   */
  public record Done(List<Patch> patches, List<Touched> touched) {}

  /**
   * Prepares; nothing is written yet.
   *
   * @param threads how many threads render
   * @throws InputException if the layer has no files in the delivery, or has a size of its own
   */
  public Patcher(LoadedShot shot, Delivery delivery, Order order, int threads)
      throws InputException {
    this.shot = shot;
    this.delivery = delivery;
    this.order = order;
    var s = shot.plan().requireShot();
    column = shot.plan().layerIndex(order.layer());
    boolean has = delivery.files().stream().anyMatch(f -> f.layer().equals(order.layer()));
    if (column < 0 || !has) {
      throw new InputException(
          delivery.folder(), "", "holds no file of layer '%s'".formatted(order.layer()));
    }
    if (shot.plan().layers().get(column).setting(Property.SIZE).isPresent()) {
      throw new InputException(
          delivery.folder(),
          "",
          "layer '%s' has a size of its own; render it whole with --changed"
              .formatted(order.layer()));
    }
    Compression packed = shot.plan().output().compression();
    if (packed == Compression.DWAA || packed == Compression.DWAB) {
      throw new InputException(
          delivery.folder(),
          "",
          "is packed by %s, which changes pixels each time; render layer '%s' whole with --changed"
              .formatted(packed.name().toLowerCase(Locale.ROOT), order.layer()));
    }
    if (Math.abs((double) delivery.width() / s.width() * s.height() - delivery.height()) > 1) {
      throw new InputException(
          delivery.folder(),
          "",
          "is of %d x %d pixels, the plan of %d x %d"
              .formatted(delivery.width(), delivery.height(), s.width(), s.height()));
    }
    settings = delivery.settings(threads);
    renderer = new FrameRenderer(shot, settings).forFiles();
    digests = new UnitDigests(shot, settings);
    files =
        new UnitFiles(
            shot, delivery.folder(), settings, UnitContents.names(shot, delivery.folder()));
    records = new UnitFolder(delivery.folder());
  }

  /** Stops {@link #run} from another thread; finished files stay. */
  public void stop() {
    renderer.stop();
  }

  /** Renders and drops in. */
  public Done run(DoubleConsumer progress) throws IOException {
    List<UnitRecord> own = new ArrayList<>();
    for (Unit unit : delivery.units()) {
      boolean asked = order.frames().isEmpty() || order.frames().contains(unit.frame());
      if (asked && !unit.uncut() && unit.layer().equals(order.layer())) {
        records.record(unit.key()).ifPresent(own::add);
      }
    }
    if (own.isEmpty()) {
      throw new InputException(
          delivery.folder(),
          "",
          "layer '%s' has no finished file at these frames".formatted(order.layer()));
    }
    List<Patch> patches = new ArrayList<>();
    for (int k = 0; k < own.size(); k++) {
      double before = k;
      patches.add(patch(own.get(k), p -> progress.accept((before + p) / own.size())));
    }
    delivery.withRecords(records.read().records()).write();
    return new Done(patches, touched(patches));
  }

  private Patch patch(UnitRecord record, DoubleConsumer progress) throws IOException {
    int frame = record.unit().frame();
    String now = digests.of(column, frame);
    LoadedShot before = before(record);
    boolean whole = now.equals(record.unit().digest()) || isOnlyOf(before, frame);
    Optional<Region> region = region(before, frame, progress);
    if (region.isPresent()) {
      RenderedFrame rendered =
          renderer.render(frame, region.get(), l -> l == column, false, progress);
      UnitRecord next = whole ? record.withDigest(now) : record.patched(region.get());
      files.drop(next, region.get(), rendered);
    }
    return new Patch(frame, region, whole);
  }

  /**
   * The shot as a unit was rendered: the plan of the delivery over the scene as it is now. Null if
   * the unit is not of that: the scene was changed, or a part of it was patched before.
   */
  private @Nullable LoadedShot before(UnitRecord record) {
    int own = delivery.plan().layerIndex(order.layer());
    if (own < 0 || !record.patches().isEmpty()) {
      return null;
    }
    LoadedShot then;
    try {
      then = shot.of(delivery.plan());
    } catch (InputException e) {
      // something that it was made of is gone
      return null;
    }
    String digest = new UnitDigests(then, settings).of(own, record.unit().frame());
    return digest.equals(record.unit().digest()) ? then : null;
  }

  /**
   * Whether the named entities alone differ from what was rendered, and change no light: with them
   * left out nothing is different, and only the camera meets them, then and now.
   */
  private boolean isOnlyOf(@Nullable LoadedShot before, int frame) {
    if (before == null
        || order.entities().isEmpty()
        || order.region() != null
        || shot.resolve(frame).asked().filters()) {
      return false;
    }
    int own = before.plan().layerIndex(order.layer());
    return isSeenOnly(before, own, frame)
        && isSeenOnly(shot, column, frame)
        && new UnitDigests(before, settings)
            .of(own, frame, order.entities())
            .equals(digests.of(column, frame, order.entities()));
  }

  /** The pixels that are rendered again: where the entities were, and where they are. */
  private Optional<Region> region(@Nullable LoadedShot before, int frame, DoubleConsumer progress) {
    Region asked = order.region();
    if (asked != null) {
      return Optional.of(asked);
    }
    Optional<Region> seen = footprint(shot.plan(), column, frame, progress);
    if (before != null && !before.plan().equals(shot.plan())) {
      int own = before.plan().layerIndex(order.layer());
      Optional<Region> was = footprint(before.plan(), own, frame, progress);
      seen =
          seen.isPresent() && was.isPresent() ? seen.map(r -> r.or(was.get())) : seen.or(() -> was);
    }
    boolean filtered = shot.resolve(frame).asked().filters();
    return filtered
        ? seen.map(r -> r.grown(Denoiser.MARGIN, settings.width(), settings.height()))
        : seen;
  }

  /**
   * The pixels in which the camera sees the entities, whatever their opacity: those that a layer of
   * them alone, with the samples of the delivery, does not leave empty.
   */
  private Optional<Region> footprint(
      Plan plan, int layerIndex, int frame, DoubleConsumer progress) {
    LayerDef layer = plan.layers().get(layerIndex);
    List<String> paths = new ArrayList<>();
    for (int e : order.entities().indices()) {
      paths.add(shot.scene().entities().get(e).path());
    }
    Cell solid =
        Cell.of(Role.SEEN)
            .withOverrides(
                List.of(CellOverride.of(Property.OPACITY, Property.Verb.SET, new Value.Num(1))));
    Map<String, Cell> cells = new LinkedHashMap<>();
    cells.put(PATCHED, solid);
    Plan alone =
        plan.withCollections(List.of(CollectionDef.of(PATCHED, paths)))
            .withShot(
                plan.requireShot()
                    .with(s -> {
                      s.denoise = 0;
                      s.links = Map.of();
                    }))
            .withLayers(List.of(layer.withCells(cells).withRest(Cell.of(Role.UNSEEN))))
            .withOutput(plan.output().withPasses(false).withMore(Set.of()));
    RenderedFrame seen = renderer.of(alone, settings).render(frame, l -> true, false, progress);
    return bounds(seen.layer(0), settings.region());
  }

  /** The least region that holds all that is not empty. */
  private static Optional<Region> bounds(Picture picture, Region of) {
    int left = picture.width();
    int top = picture.height();
    int right = -1;
    int bottom = -1;
    for (int y = 0; y < picture.height(); y++) {
      for (int x = 0; x < picture.width(); x++) {
        if (picture.rgba()[4 * (y * picture.width() + x) + 3] != 0) {
          left = Math.min(left, x);
          right = Math.max(right, x);
          top = Math.min(top, y);
          bottom = Math.max(bottom, y);
        }
      }
    }
    return right < 0
        ? Optional.empty()
        : Optional.of(new Region(of.x() + left, of.y() + top, right - left + 1, bottom - top + 1));
  }

  /** Whether nothing but the camera meets the entities in the layer: then no light is changed. */
  private boolean isSeenOnly(LoadedShot of, int layerIndex, int frame) {
    ResolvedLayer layer = of.resolve(frame).layers().get(layerIndex);
    if (layer.catcher() != null) {
      return false;
    }
    for (int e : order.entities().indices()) {
      Reach reach = layer.transport().reach(e);
      if (!reach.isNone()) {
        return false;
      }
    }
    return true;
  }

  /** Finds what the edit touches elsewhere. */
  private List<Touched> touched(List<Patch> patches) throws IOException {
    Set<Integer> frames = new LinkedHashSet<>();
    patches.forEach(p -> frames.add(p.frame()));
    List<Touched> out = new ArrayList<>();
    Map<Integer, InterplayTable> measured = new LinkedHashMap<>();
    for (DeliveryStatus.Cell cell : DeliveryStatus.read(delivery.folder(), shot).cells()) {
      int frame = cell.unit().frame();
      if (cell.state() == UnitState.STALE && frames.contains(frame)) {
        double share = Double.NaN;
        if (!order.entities().isEmpty()) {
          InterplayTable table = measured.computeIfAbsent(frame, this::interplay);
          EntitySet others = shown(cell.unit(), frame).minus(order.entities());
          share = table.share(others, order.entities());
        }
        out.add(new Touched(cell.unit().layer(), frame, share));
      }
    }
    out.sort((a, b) -> Double.compare(b.share(), a.share()));
    return out;
  }

  private EntitySet shown(Unit unit, int frame) {
    ResolvedShot resolved = shot.resolve(frame);
    if (unit.uncut()) {
      return resolved.all();
    }
    ResolvedLayer layer = resolved.layers().get(shot.plan().layerIndex(unit.layer()));
    return layer.catcher() == null ? layer.seen() : layer.seen().or(layer.catcher().surfaces());
  }

  private InterplayTable interplay(int frame) {
    if (renderer.isStopped()) {
      throw new CancellationException("rendering was stopped");
    }
    double scale = Math.min(1, QUICK_LINES / (double) shot.plan().requireShot().height());
    FrameRenderer.Settings quick =
        FrameRenderer.Settings.of(shot, scale, QUICK_SAMPLES, settings.threads(), false);
    return renderer.of(shot.plan(), quick).render(frame, l -> false, true, p -> {}).interplay();
  }
}
