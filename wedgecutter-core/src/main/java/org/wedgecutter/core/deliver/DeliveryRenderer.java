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
import java.util.HashMap;
import java.util.HexFormat;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.function.DoubleConsumer;
import java.util.function.IntPredicate;
import java.util.function.Predicate;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.fragment.LayerPictures;
import org.wedgecutter.core.image.Region;
import org.wedgecutter.core.io.AtomicFile;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.pass.LightPass;
import org.wedgecutter.core.pass.PassPicture;
import org.wedgecutter.core.plan.FileNames;
import org.wedgecutter.core.plan.LayerDef;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.Property;
import org.wedgecutter.core.plan.Shot;
import org.wedgecutter.core.plan.Value;
import org.wedgecutter.core.render.FrameRenderer;
import org.wedgecutter.core.render.RenderedFrame;
import org.wedgecutter.core.resolve.LayerSettings;
import org.wedgecutter.core.resolve.ResolvedShot;
import org.wedgecutter.core.resolve.TransportClass;
import org.wedgecutter.exr.Attribute;
import org.wedgecutter.exr.Box;
import org.wedgecutter.exr.ExrWriter;

/**
 * Renders a plan into a delivery, frame by frame, and a frame band by band. Each file, and the
 * manifest after each frame, is moved into place whole, so that a stop at any moment leaves only
 * whole files, which a later run with the same settings does not render again.
 */
public final class DeliveryRenderer {
  /** Lines of bands are a multiple of this, which all compressions' chunks and tiles divide. */
  private static final int BAND = 32;

  /** Pixels of a band, about. */
  private static final int BAND_PIXELS = 1 << 18;

  private final LoadedShot shot;
  private final Order order;
  private final FrameRenderer renderer;
  private final FileNames names;
  private final List<RenderedFrame.ClassTime> classes = new ArrayList<>();
  private long peakBytes;
  private long invalidSamples;
  private long cutShort;

  private final DeliveryUnits units;

  /**
   * What to render.
   *
   * @param folder the delivery
   * @param layers names of the layers; empty means all that the plan enables
   * @param frames which frames
   * @param uncut whether the uncut frame is written too
   * @param settings size, samples, threads
   * @param resume whether files of an earlier run stay
   * @param everyFrame whether frames that are the same are rendered and written each
   */
  public record Order(
      Path folder,
      List<String> layers,
      List<Integer> frames,
      boolean uncut,
      FrameRenderer.Settings settings,
      boolean resume,
      boolean everyFrame) {
    public Order {
      layers = List.copyOf(layers);
      frames = List.copyOf(frames);
    }

    /** An order in which a picture that is the same at several frames is written once. */
    public Order(
        Path folder,
        List<String> layers,
        List<Integer> frames,
        boolean uncut,
        FrameRenderer.Settings settings,
        boolean resume) {
      this(folder, layers, frames, uncut, settings, resume, false);
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
  }

  /**
   * Prepares; nothing is written yet.
   *
   * @throws InputException if a layer does not exist, or file names are wrong or collide
   */
  public DeliveryRenderer(LoadedShot shot, Order order) throws InputException {
    this.shot = shot;
    this.order = order;
    renderer = new FrameRenderer(shot, order.settings());
    try {
      names =
          new FileNames(
              shot.plan().output().name(),
              shot.name(),
              shot.camera().name(),
              String.valueOf(order.folder().getFileName()));
    } catch (IllegalArgumentException e) {
      throw new InputException(shot.file(), "output/name", String.valueOf(e.getMessage()), e);
    }
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
    units = new DeliveryUnits(shot, order, earlier());
    checkCollisions();
    checkChannels();
  }

  /** Whether a layer has a file of its own at a frame; at others an earlier one is held. */
  private boolean chosen(int layer, int frame) {
    return units.isRendered(layer, frame);
  }

  private boolean uncut(int frame) {
    return chosen(shot.plan().layers().size(), frame);
  }

  /**
   * Names of channels come from names in the scene and the plan, and have a bound in the format.
   */
  private void checkChannels() throws InputException {
    ResolvedShot resolved = shot.resolve(order.frames().getFirst());
    for (String title : LayerPictures.passTitles(resolved)) {
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
    for (int frame : units.frames()) {
      for (String layer : fileLayers(frame)) {
        String name = names.name(layer, frame, "exr");
        String other = taken.putIfAbsent(name, layer);
        if (other != null) {
          throw new InputException(
              shot.file(),
              "output/name",
              "layers '%s' and '%s' would share the file %s".formatted(other, layer, name));
        }
      }
    }
  }

  private List<String> fileLayers(int frame) {
    List<String> out = new ArrayList<>();
    List<LayerDef> layers = shot.plan().layers();
    for (int l = 0; l < layers.size(); l++) {
      if (chosen(l, frame)) {
        out.add(layers.get(l).name());
      }
    }
    if (uncut(frame)) {
      out.add(FileNames.UNCUT);
    }
    return out;
  }

  /** Stops {@link #run} from another thread; finished files stay. */
  public void stop() {
    renderer.stop();
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
    Delivery delivery = start();
    if (Files.isDirectory(order.folder())) {
      AtomicFile.sweep(order.folder());
    }
    List<Delivery.Entry> entries = new ArrayList<>(delivery.files());
    int f = 0;
    for (int frame : units.frames()) {
      double before = f++;
      if (!isDone(delivery, frame)) {
        List<Delivery.Entry> made =
            render(frame, p -> progress.at(frame, p, (before + p) / units.frames().size()));
        entries.removeIf(e -> e.frame() == frame && fileLayers(frame).contains(e.layer()));
        entries.addAll(made);
      }
      List<Delivery.Entry> next =
          entries.stream().map(e -> e.frame() == frame ? units.heldToo(e) : e).toList();
      if (!next.equals(delivery.files())) {
        entries = new ArrayList<>(next);
        delivery = delivery.withFiles(entries);
        delivery.write();
      }
    }
    return delivery;
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
    int lines = Math.max(BAND, BAND_PIXELS / all.width() / BAND * BAND);
    for (int y = 0; y < all.height(); y += lines) {
      out.add(new Region(all.x(), all.y() + y, all.width(), Math.min(lines, all.height() - y)));
    }
    return out;
  }

  private List<Delivery.Entry> render(int frame, DoubleConsumer progress) throws IOException {
    IntPredicate layers = l -> chosen(l, frame);
    List<Region> bands = bands(frame);
    Map<String, ExrFile> files = new LinkedHashMap<>();
    Map<String, List<String>> passes = new HashMap<>();
    List<RenderedFrame.ClassTime> times = new ArrayList<>();
    try {
      for (int b = 0; b < bands.size(); b++) {
        double before = b;
        RenderedFrame rendered =
            renderer.render(
                frame,
                bands.get(b),
                layers,
                uncut(frame),
                p -> progress.accept((before + p) / bands.size()));
        write(frame, rendered, files, passes);
        addTimes(rendered);
        times.addAll(rendered.classes());
      }
      for (ExrFile file : files.values()) {
        file.commit();
      }
    } finally {
      for (ExrFile file : files.values()) {
        file.close();
      }
    }
    ResolvedShot resolved = shot.resolve(frame);
    List<Delivery.Entry> out = new ArrayList<>();
    for (String layer : files.keySet()) {
      String name = names.name(layer, frame, "exr");
      Path file = order.folder().resolve(name);
      boolean uncut = layer.equals(FileNames.UNCUT) && uncut(frame);
      TransportClass transport =
          uncut
              ? resolved.uncut()
              : resolved.layers().get(shot.plan().layerIndex(layer)).transport();
      double seconds = 0;
      double rays = 0;
      for (RenderedFrame.ClassTime time : times) {
        if (time.layers().contains(layer)) {
          seconds += time.seconds() / time.layers().size();
          rays += (double) time.rays() / time.layers().size();
        }
      }
      out.add(
          new Delivery.Entry(
              name,
              layer,
              frame,
              uncut,
              passes.getOrDefault(layer, List.of()),
              sha256(file),
              Files.size(file),
              transport.settings().samples(order.settings().samples()),
              Math.round(seconds * 1000) / 1000.0,
              Math.round(rays),
              List.of()));
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

  private Delivery start() throws IOException {
    Plan plan = shot.plan();
    Delivery fresh =
        new Delivery(
            order.folder(),
            plan,
            order.settings().width(),
            order.settings().height(),
            order.settings().region(),
            order.settings().samples(),
            plan.requireShot().seed(),
            shot.contentDigest(),
            List.of());
    if (!Delivery.isDelivery(order.folder())) {
      return fresh;
    }
    if (!order.resume()) {
      throw new InputException(
          order.folder(),
          "",
          "already holds a delivery; continue it with --resume, or choose another folder");
    }
    Delivery old = Delivery.read(order.folder());
    if (!old.withFiles(List.of()).withContent(fresh.content()).equals(fresh)) {
      throw new InputException(
          order.folder(),
          "",
          "holds a delivery of another plan or with other settings; choose another folder");
    }
    if (!old.content().equals(fresh.content())) {
      throw new InputException(
          order.folder(),
          "",
          old.content().isEmpty()
              ? "does not tell of which scene it is; choose another folder"
              : "was begun when the scene or one of its images was another; choose another folder");
    }
    return old;
  }

  /** The files of an earlier run that is resumed. */
  private List<Delivery.Entry> earlier() throws InputException {
    return order.resume() && Delivery.isDelivery(order.folder())
        ? Delivery.read(order.folder()).files()
        : List.of();
  }

  private boolean isDone(Delivery delivery, int frame) throws IOException {
    for (String layer : fileLayers(frame)) {
      var entry = delivery.file(layer, layer.equals(FileNames.UNCUT), frame);
      if (entry.isEmpty()) {
        return false;
      }
      Path file = order.folder().resolve(entry.get().path());
      if (!Files.isRegularFile(file) || !sha256(file).equals(entry.get().sha256())) {
        return false;
      }
    }
    return true;
  }

  /** Writes a band into the files of a frame, which are begun with the first. */
  private void write(
      int frame,
      RenderedFrame rendered,
      Map<String, ExrFile> files,
      Map<String, List<String>> passNames)
      throws IOException {
    List<LayerDef> layers = shot.plan().layers();
    for (int l = 0; l <= layers.size(); l++) {
      boolean uncut = l == layers.size();
      if (uncut ? !uncut(frame) : !chosen(l, frame)) {
        continue;
      }
      String layer = uncut ? FileNames.UNCUT : layers.get(l).name();
      // the beauty's components can be left out; what else is asked for is written all the same
      boolean components = shot.plan().output().passes();
      Predicate<String> wanted = title -> components || !LightPass.isNamed(title);
      List<PassPicture> own = uncut ? rendered.uncutPasses(wanted) : rendered.passes(l, wanted);
      ExrFile file = files.get(layer);
      if (file == null) {
        file = begin(frame, layer, uncut, rendered.idHeader(uncut ? -1 : l));
        files.put(layer, file);
        passNames.put(
            layer, own.stream().map(PassPicture::name).map(n -> n.isEmpty() ? "Z" : n).toList());
      }
      file.write(uncut ? rendered.uncut() : rendered.layer(l), own);
    }
  }

  private ExrFile begin(int frame, String layer, boolean uncut, Map<String, String> idHeader)
      throws IOException {
    int[] size = size(layer, uncut, frame);
    FrameRenderer.Settings settings = order.settings();
    return new ExrFile(
        order.folder().resolve(names.name(layer, frame, "exr")),
        shot.plan().output(),
        Box.ofSize(size[0], size[1]),
        box(settings.region().scaled(size[0], size[1], settings.width(), settings.height())),
        attributes(shot.plan().requireShot(), layer, frame, idHeader));
  }

  private Map<String, Attribute> attributes(
      Shot s, String layer, int frame, Map<String, String> idHeader) {
    Map<String, Attribute> out =
        ExrFrames.attributes(
            s, layer, frame, shot.tracer().worldToCamera(shot.camera(), s.time(frame)));
    idHeader.forEach((key, value) -> out.put(key, new Attribute.Text(value)));
    return out;
  }

  /** Width and height of a layer's whole frame. */
  private int[] size(String layer, boolean uncut, int frame) {
    int width = order.settings().width();
    int height = order.settings().height();
    Shot s = shot.plan().requireShot();
    var def = uncut ? java.util.Optional.<LayerDef>empty() : shot.plan().layer(layer);
    if (def.isPresent()
        && LayerSettings.at(def.get(), s, Property.SIZE, frame) instanceof Value.Size own) {
      width = Math.max(1, (int) Math.round(width * (own.width() / (double) s.width())));
      height = Math.max(1, (int) Math.round(height * (own.height() / (double) s.height())));
    }
    return new int[] {width, height};
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
   * Returns the first folder {@code NAME-v001}, {@code NAME-v002} ... beside the plan that is free.
   */
  public static Path freeFolder(LoadedShot shot) {
    @Nullable Path parent = shot.file().toAbsolutePath().getParent();
    for (int version = 1; ; version++) {
      Path folder =
          Path.of(String.valueOf(parent)).resolve("%s-v%03d".formatted(shot.name(), version));
      if (!Files.exists(folder)) {
        return folder;
      }
    }
  }
}
