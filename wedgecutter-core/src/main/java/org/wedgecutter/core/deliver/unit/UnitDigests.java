package org.wedgecutter.core.deliver.unit;

import java.io.UncheckedIOException;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.stream.IntStream;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.io.ContentDigest;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.plan.FileNames;
import org.wedgecutter.core.plan.Output;
import org.wedgecutter.core.plan.Shot;
import org.wedgecutter.core.plan.Value;
import org.wedgecutter.core.render.FrameRenderer;
import org.wedgecutter.core.resolve.AppearanceOverride;
import org.wedgecutter.core.resolve.Decisions;
import org.wedgecutter.core.resolve.EntitySet;
import org.wedgecutter.core.resolve.Reach;
import org.wedgecutter.core.resolve.ResolvedLayer;
import org.wedgecutter.core.resolve.ResolvedShot;
import org.wedgecutter.core.resolve.TransportClass;
import org.wedgecutter.core.scene.Entity;
import org.wedgecutter.core.scene.Material;
import org.wedgecutter.core.scene.Scene;
import org.wedgecutter.core.scene.TextureRef;

/**
 * The digest of everything that a layer's file depends on at a frame: size, samples and format;
 * roles, and what is present with its shape, materials, textures, light and motion over the
 * shutter; how light is traced; what passes ask for. Two files with the same digest have the same
 * pixels, whichever letters in plan or scene differ; where an edit does not change the digest, a
 * finished file stays valid.
 */
public final class UnitDigests {
  /**
   * Counts up when the same digest no longer means the same pixels: after any change of the tracer
   * that moves one. A test compares pixels with those that were kept for this number.
   */
  static final int VERSION = 2;

  private final LoadedShot shot;
  private final Scene scene;
  private final FrameRenderer.Settings settings;
  private final Map<Integer, String> images = new HashMap<>();
  private final Map<Integer, String> meshes = new HashMap<>();
  private final Map<Integer, String> materials = new HashMap<>();
  private final @Nullable String[] entities;

  /** Of the plate at the frames that were asked for. */
  private final Map<Integer, String> plates = new HashMap<>();

  private @Nullable String paths;

  /** Classes of the frame that was asked for last: its layers share them. */
  private final Map<TransportClass, String> classes = new HashMap<>();

  /** What is left out of the digest that is made now. */
  private EntitySet without = EntitySet.NONE;

  private int frame = Integer.MIN_VALUE;
  private @Nullable ResolvedShot resolved;

  /**
   * @param settings by which the units are rendered
   */
  public UnitDigests(LoadedShot shot, FrameRenderer.Settings settings) {
    this.shot = shot;
    this.scene = shot.scene();
    this.settings = settings;
    entities = new String[scene.entities().size()];
  }

  /**
   * Returns the digest of a column at a frame, hexadecimal.
   *
   * @param column number of the layer; the number of layers for the uncut frame
   */
  public String of(int column, int atFrame) {
    return of(column, atFrame, EntitySet.NONE);
  }

  /**
   * Returns the digest that a column would have whatever some entities are like: two are the same
   * if nothing else differs.
   *
   * @param leftOut entities that take no part in any light of the column: the camera alone meets
   *     them
   */
  String of(int column, int atFrame, EntitySet leftOut) {
    ResolvedShot now = resolved;
    if (now == null || frame != atFrame) {
      now = shot.resolve(atFrame);
      resolved = now;
      frame = atFrame;
      classes.clear();
    }
    List<@Nullable Object> parts = new ArrayList<>();
    parts.add(VERSION);
    parts.add(List.of(settings.width(), settings.height(), settings.region(), settings.samples()));
    without = leftOut;
    boolean uncut = column == now.layers().size();
    format(now, uncut ? "" : now.layers().get(column).name(), parts);
    boolean showsPlate = uncut || now.layers().get(column).seen().meets(now.platePart());
    parts.add(now.asked().plate() != null && showsPlate ? plate() : null);
    double denoise = uncut ? now.asked().denoise() : now.asked().denoise(column);
    parts.add(denoise);
    if (uncut) {
      parts.add(FileNames.UNCUT);
      parts.add(now.uncut());
      parts.add(seen(now.uncut(), EntitySet.NONE));
    } else {
      ResolvedLayer layer = now.layers().get(column);
      parts.add(layer.name());
      parts.add(roles(layer.decisions()));
      parts.add(layer.seen().minus(leftOut));
      parts.add(layer.skipped().minus(leftOut));
      parts.add(layer.transport());
      parts.add(layer.catcher());
      parts.add(seen(layer.transport(), layer.skipped()));
      // the noise filter reads the uncut frame
      parts.add(denoise > 0 ? now.uncut() : null);
    }
    return digest(parts);
  }

  /** What the camera sees that takes no part in the light: the class does not tell it. */
  private List<Object> seen(TransportClass t, EntitySet skipped) {
    List<Object> out = new ArrayList<>();
    for (int e = 0; e < t.entities(); e++) {
      if (t.reach(e).isNone() && !skipped.contains(e) && !without.contains(e)) {
        out.add(e);
        out.add(entity(e));
        out.add(t.time().digest(e));
      }
    }
    return out;
  }

  /**
   * Adds what is written and by which format; not under which name.
   *
   * @param layer empty for the uncut frame, which has no passes of its own and none by depth
   */
  private void format(ResolvedShot now, String layer, List<@Nullable Object> parts) {
    ResolvedShot.Asked asked = now.asked();
    Output out = asked.output();
    Set<Output.More> more = out.more(layer);
    if (layer.isEmpty()) {
      more.remove(Output.More.DEEP);
    }
    parts.add(List.of(out.half(), out.compression(), out.passes(layer), more, out.lightGroups()));
    parts.add(List.of(out.occlusion(), out.near(), out.far(), out.floats()));
    if (out.beautyApart()) {
      // told only where it is so: digests of deliveries from before stay
      parts.add("beauty apart");
    }
    List<Object> limits = new ArrayList<>();
    more.forEach(m -> {
      EntitySet only = asked.limits().get(m.word());
      if (only != null) {
        limits.add(m);
        limits.add(only);
      }
    });
    parts.add(limits);
    boolean byLight = more.contains(Output.More.LIGHTS);
    boolean caught =
        now.layers().stream().anyMatch(l -> l.catcher() != null && l.catcher().lights() != null);
    parts.add(byLight || caught ? asked.emitters() : null);
    boolean ids = more.contains(Output.More.IDS);
    parts.add(ids ? List.of(asked.collections(), paths()) : null);
    Shot s = shot.plan().requireShot();
    parts.add(List.of(s.fps(), s.shutter(), shot.camera()));
    parts.add(asked.plate());
  }

  /** Names of all that an ID matte may name. */
  private String paths() {
    String known = paths;
    if (known == null) {
      known = ContentDigest.of(scene.entities().stream().map(e -> e.path()).toList());
      paths = known;
    }
    return known;
  }

  private String plate() {
    boolean moves = shot.plan().requireShot().plate().isNumbered();
    return plates.computeIfAbsent(moves ? frame : 0, this::plateAt);
  }

  private String plateAt(int atFrame) {
    try {
      return ContentDigest.of(shot.plate(atFrame));
    } catch (UncheckedIOException e) {
      // the state of a delivery can be asked for all the same; rendering tells what is missing
      return "missing";
    }
  }

  private String digest(@Nullable Object value) {
    return ContentDigest.of(this::stands, value);
  }

  /** Returns what counts in the place of a part. */
  private @Nullable Object stands(@Nullable Object part) {
    return switch (part) {
      case EntitySet s -> s.indices();
      case Reach r -> r.flags();
      case TransportClass t -> classDigest(t);
      case TextureRef t -> List.of(image(t.image()), t.repeatU(), t.repeatV(), optional(t));
      case AppearanceOverride a -> List.of(a.changes(), named(a));
      case Record r -> DigestFields.of(r);
      case null, default -> part;
    };
  }

  /** Roles by entity; of those that are left out none. */
  private int[] roles(Decisions d) {
    return IntStream.range(0, d.size())
        .map(e -> without.contains(e) ? -1 : d.role(e).ordinal())
        .toArray();
  }

  private static java.util.Optional<TextureRef.Placing> optional(TextureRef t) {
    return java.util.Optional.ofNullable(t.placing());
  }

  /** The scene's materials that an override names. */
  private List<String> named(AppearanceOverride a) {
    List<String> out = new ArrayList<>();
    for (AppearanceOverride.Change c : a.changes()) {
      for (int m = 0; c.value() instanceof Value.Text t && m < scene.materials().size(); m++) {
        if (scene.materials().get(m).name().equals(t.word())) {
          out.add(material(m));
        }
      }
    }
    return out;
  }

  private String classDigest(TransportClass t) {
    String known = without.isEmpty() ? classes.get(t) : null;
    if (known == null) {
      List<@Nullable Object> parts = new ArrayList<>();
      Map<Integer, AppearanceOverride> looks = new TreeMap<>(t.looks());
      looks.keySet().removeIf(without::contains);
      parts.add(looks);
      parts.add(t.links());
      parts.add(t.settings());
      parts.add(t.time().cameraDigest());
      for (int e = 0; e < t.entities(); e++) {
        Reach reach = t.reach(e);
        if (reach.isNone() || without.contains(e)) {
          parts.add(null);
        } else {
          parts.add(reach);
          parts.add(entity(e));
          parts.add(t.time().digest(e));
        }
      }
      known = digest(parts);
      if (without.isEmpty()) {
        classes.put(t, known);
      }
    }
    return known;
  }

  /** The digest of what an entity is, without where it is. */
  private String entity(int index) {
    String known = entities[index];
    if (known == null) {
      Entity e = scene.entities().get(index);
      List<@Nullable Object> parts = new ArrayList<>(List.of(e.path(), e.kind(), e.tags()));
      switch (e.kind()) {
        case MESH -> parts.add(mesh(e.payload()));
        case LIGHT -> parts.add(scene.lights().get(e.payload()));
        case MEDIUM -> parts.add(scene.media().get(e.payload()));
        case ENVIRONMENT -> parts.add(shot.environment());
      }
      parts.add(scene.deformations().get(index));
      known = digest(parts);
      entities[index] = known;
    }
    return known;
  }

  private String mesh(int index) {
    return meshes.computeIfAbsent(
        index,
        i -> {
          var mesh = scene.meshes().get(i);
          TreeSet<Integer> used = new TreeSet<>();
          for (int m : mesh.triangleMaterials()) {
            used.add(m);
          }
          return digest(List.of(mesh, used.stream().map(this::material).toList()));
        });
  }

  private String material(int index) {
    return materials.computeIfAbsent(
        index,
        m -> {
          Material material = scene.materials().get(m);
          return digest(material);
        });
  }

  private String image(int index) {
    return images.computeIfAbsent(index, i -> ContentDigest.of(scene.images().get(i)));
  }
}
