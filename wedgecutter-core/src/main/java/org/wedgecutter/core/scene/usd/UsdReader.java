package org.wedgecutter.core.scene.usd;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.IdentityHashMap;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.core.scene.Channel;
import org.wedgecutter.core.scene.Deformation;
import org.wedgecutter.core.scene.Entity;
import org.wedgecutter.core.scene.EntityKind;
import org.wedgecutter.core.scene.Light;
import org.wedgecutter.core.scene.Mesh;
import org.wedgecutter.core.scene.Node;
import org.wedgecutter.core.scene.Projection;
import org.wedgecutter.core.scene.Scene;
import org.wedgecutter.core.scene.SceneCamera;
import org.wedgecutter.core.scene.TimeRange;
import org.wedgecutter.core.scene.usd.stage.AssetPath;
import org.wedgecutter.core.scene.usd.stage.Assets;
import org.wedgecutter.core.scene.usd.stage.Stage;
import org.wedgecutter.core.scene.usd.stage.StagePrim;

/**
 * Reads a stage of OpenUSD as a scene.
 *
 * <p>Meshes, lights and cameras keep the paths of their prims. A collection of a prim becomes a tag
 * of its name on what it includes. Each instance of a point instancer is a group below it, named by
 * its id. Lengths are brought to metres and the up axis to y by a node above all others.
 */
public final class UsdReader {
  /** What prims are drawn for in a picture; proxies and guides are not. */
  private static final Set<String> DRAWN = Set.of("default", "render");

  private static final int MAX_PROTOTYPES = 16;

  /** Most things that instancers may fill a scene up to. */
  private static final int MAX_INSTANCED = 100_000;

  private final Path file;
  private final Stage stage;
  private final List<String> unsupported = new ArrayList<>();
  private final Map<String, StagePrim> byPath = new LinkedHashMap<>();
  private final UsdMaterials materials;
  private final UsdMeshes shapes;
  private final UsdTime time;
  private final UsdTransforms transforms;
  private final UsdInstancers instancers;
  private final UsdLights lamps;
  private final List<Deforming> bound = new ArrayList<>();
  private final List<String> missing = new ArrayList<>();
  private final Map<Mesh, Integer> numberOf = new IdentityHashMap<>();
  private final Map<String, Integer> nodeOf = new HashMap<>();
  private final Map<String, Above> homes = new HashMap<>();
  private final List<Node> nodes = new ArrayList<>();
  private final List<Entity> entities = new ArrayList<>();
  private final List<Mesh> meshes = new ArrayList<>();
  private final List<Light> lights = new ArrayList<>();
  private final List<SceneCamera> cameras = new ArrayList<>();
  private final Map<String, Set<String>> tags = new LinkedHashMap<>();

  private UsdReader(Path file, Stage stage, Assets assets) {
    this.file = file;
    this.stage = stage;
    materials = new UsdMaterials(file, byPath, assets, unsupported);
    time = new UsdTime(stage.timeCodesPerSecond());
    shapes = new UsdMeshes(file, materials, time, unsupported);
    transforms = new UsdTransforms(time, unsupported);
    instancers = new UsdInstancers(file, time, unsupported);
    lamps = new UsdLights(unsupported);
  }

  /**
   * Reads a stage, whatever the form of its file.
   *
   * @param chosen variants that are chosen, as {@link Variants} writes them; empty means as in the
   *     stage
   * @throws InputException with file, place and expectation
   */
  public static Scene read(Path file, String chosen) throws InputException {
    Assets assets = new Assets(file, List.of());
    Stage stage = Stage.open(assets, Variants.parse(chosen));
    return new UsdReader(file, stage, assets).scene();
  }

  /** Reads a stage's text; the file is for messages and for what stands beside it. */
  public static Scene parse(String text, Path file) throws InputException {
    Assets assets = new Assets(file, List.of());
    return new UsdReader(file, Stage.parse(text, assets), assets).scene();
  }

  private Scene scene() throws InputException {
    StagePrim root = stage.root();
    unsupported.addAll(stage.unsupported());
    index(root);
    int top = top(root);
    for (StagePrim prim : root.children()) {
      prim(prim, top, Above.NOTHING);
    }
    entities.add(Entity.environment(entities.size()));
    Map<Integer, Deformation> deformations = deformations();
    return new Scene(
            file,
            nodes,
            entities,
            meshes,
            materials.all,
            materials.images,
            lights,
            List.of(),
            deformations,
            cameras,
            range(root),
            Variants.of(root),
            unsupported.stream().distinct().toList(),
            Stream.of(stage.missing(), materials.missing, missing)
                .flatMap(List::stream)
                .distinct()
                .toList())
        .withMovesTold();
  }

  /** The stage's own time codes where it tells them, else those of its keys. */
  private TimeRange range(StagePrim root) {
    double rate = stage.timeCodesPerSecond();
    float fps =
        root.fields().get("framesPerSecond") instanceof Double d && d > 0 ? d.floatValue() : 24;
    if (root.fields().get("startTimeCode") instanceof Double from
        && root.fields().get("endTimeCode") instanceof Double to
        && to >= from) {
      // frame 1 is at the scene's second 0
      return new TimeRange((float) ((from - 1) / rate), (float) ((to - 1) / rate), fps);
    }
    float first = Float.POSITIVE_INFINITY;
    float last = Float.NEGATIVE_INFINITY;
    for (Node node : nodes) {
      for (Channel c : node.channels()) {
        first = Math.min(first, c.times()[0]);
        last = Math.max(last, c.times()[c.times().length - 1]);
      }
    }
    return first > last ? new TimeRange(0, 0, fps) : new TimeRange(first, last, fps);
  }

  /** Finds every prim by its path, and what collections include. */
  private void index(StagePrim prim) {
    byPath.put(prim.path(), prim);
    prim.properties().keySet().stream()
        .filter(n -> n.startsWith("collection:") && n.endsWith(":includes"))
        .forEach(n ->
            tags.computeIfAbsent(n.split(":")[1], k -> new LinkedHashSet<>())
                .addAll(prim.targets(n)));
    prim.children().forEach(this::index);
  }

  /** The node that brings lengths to metres and the up axis to y; -1 if that is so already. */
  private int top(StagePrim root) {
    double metres = root.fields().get("metersPerUnit") instanceof Double d ? d : 0.01;
    boolean zUp = "Z".equals(root.fields().get("upAxis"));
    if (metres == 1 && !zUp) {
      return -1;
    }
    float s = (float) metres;
    float turn = zUp ? (float) -Math.sqrt(0.5) : 0;
    nodes.add(
        new Node(
            "",
            -1,
            new Node.Local(
                new float[3], new float[] {turn, 0, 0, zUp ? -turn : 1}, new float[] {s, s, s}),
            List.of()));
    return 0;
  }

  /**
   * What a prim has from those above it.
   *
   * @param from path of the prototype that is drawn elsewhere; empty if none is
   * @param to where it is drawn
   * @param prototypes how many prototypes are around
   * @param bound path of the material that is bound
   * @param hidden whether it is not drawn
   * @param purpose what for it is drawn
   * @param primvars constant primvars
   * @param skeleton path of the skeleton that it is bound to
   * @param animation path of what moves skeletons
   */
  private record Above(
      String from,
      String to,
      int prototypes,
      String bound,
      boolean hidden,
      String purpose,
      Map<String, StagePrim.Property> primvars,
      String skeleton,
      String animation) {
    static final Above NOTHING = new Above("", "", 0, "", false, "default", Map.of(), "", "");

    /** Returns where a prim is drawn. */
    String path(String path) {
      return !from.isEmpty() && within(path, from) ? to + path.substring(from.length()) : path;
    }

    Above under(StagePrim prim) {
      Map<String, StagePrim.Property> constant = new LinkedHashMap<>(primvars);
      for (StagePrim.Property p : prim.properties().values()) {
        if (p.name().startsWith("primvars:")
            && p.fields().getOrDefault("interpolation", "constant").equals("constant")) {
          constant.put(p.name(), p);
        }
      }
      return new Above(
          from,
          to,
          prototypes,
          first(prim, "material:binding", bound),
          hidden,
          prim.text("purpose", purpose),
          constant,
          first(prim, "skel:skeleton", skeleton),
          first(prim, "skel:animationSource", animation));
    }

    Above asHidden() {
      return new Above(from, to, prototypes, bound, true, purpose, primvars, skeleton, animation);
    }

    /** Returns it for a prototype that is drawn in a place, within so many others. */
    Above at(String prototype, String place, int within) {
      return new Above(
          prototype, place, within, bound, hidden, purpose, primvars, skeleton, animation);
    }

    private static String first(StagePrim prim, String name, String otherwise) {
      List<String> targets = prim.targets(name);
      return targets.isEmpty() ? otherwise : targets.getFirst();
    }

    /** Finds a primvar of a prim or of those above it. */
    StagePrim.@Nullable Property primvar(StagePrim prim, String name) {
      StagePrim.Property own = prim.properties().get(name);
      return own == null ? primvars.get(name) : own;
    }
  }

  private void prim(StagePrim prim, int parent, Above above) throws InputException {
    if (List.of("Material", "Shader", "GeomSubset", "BlendShape", "SkelAnimation")
        .contains(prim.type())) {
      return;
    }
    int number = nodes.size();
    String path = above.path(prim.path());
    nodes.add(transforms.node(prim, path, parent));
    nodeOf.put(path, number);
    Above own = above.under(prim);
    boolean elsewhere = !DRAWN.contains(own.purpose);
    boolean unseen =
        prim.text("visibility", "inherited").equals("invisible") && time.visible(prim) == null;
    if (!above.hidden && (unseen || elsewhere)) {
      unsupported.add(
          prim.path()
              + (unseen ? ": invisible; skipped" : ": for %s; skipped".formatted(own.purpose)));
      own = own.asHidden();
    }
    if (!own.hidden) {
      kind(prim, number, own);
    }
    if (!prim.type().equals("PointInstancer")) {
      for (StagePrim child : prim.children()) {
        prim(child, number, own);
      }
    }
  }

  private void kind(StagePrim prim, int node, Above above) throws InputException {
    switch (prim.type()) {
      case "Mesh" -> {
        UsdMeshes.Shape shape = shapes.shape(prim, above.bound, name -> above.primvar(prim, name));
        mesh(prim, node, above, shape.mesh());
        if (!above.skeleton.isEmpty()
            || shape.moved() != null
            || prim.properties().containsKey("skel:blendShapes")) {
          bound.add(new Deforming(entities.size() - 1, prim, shape, above));
        }
      }
      case "Cube", "Sphere", "Cylinder", "Cone", "Capsule", "Plane" ->
          mesh(prim, node, above, shapes.solid(prim, above.bound, n -> above.primvar(prim, n)));
      case "PointInstancer" -> instances(prim, node, above);
      case "Camera" -> camera(prim, node);
      case "DistantLight", "SphereLight", "DiskLight", "RectLight" -> {
        lights.add(lamps.light(prim));
        entity(prim, EntityKind.LIGHT, node, above, lights.size() - 1, List.of());
      }
      case "CylinderLight" -> {
        double radius = prim.number("inputs:radius", 0.5);
        double length = prim.number("inputs:length", 1);
        int material =
            materials.light(
                prim.name() + " light", lamps.radiance(prim, 2 * Math.PI * radius * length));
        mesh(prim, node, above, UsdShapes.tube(prim.name(), radius, length, material));
      }
      case "DomeLight" ->
          unsupported.add(
              "%s: set %s as the plan's environment"
                  .formatted(
                      prim.path(),
                      prim.value("inputs:texture:file") instanceof AssetPath a
                          ? a.written()
                          : "an image"));
      case "", "Xform", "Scope", "SkelRoot", "Skeleton" -> {}
      default -> unsupported.add(prim.path() + ": " + prim.type());
    }
  }

  /** Draws the prototypes of an instancer where its instances stand. */
  private void instances(StagePrim prim, int node, Above above) throws InputException {
    if (above.prototypes >= MAX_PROTOTYPES) {
      throw new InputException(file, prim.path(), "instancers are nested too deep");
    }
    for (UsdInstancers.Instance i : instancers.of(prim)) {
      if (entities.size() > MAX_INSTANCED || nodes.size() > 10 * MAX_INSTANCED) {
        unsupported.add(
            "%s: more than %d things stand in the scene; its other instances are left out"
                .formatted(prim.path(), MAX_INSTANCED));
        return;
      }
      StagePrim prototype = find(i.prototype());
      if (prototype == null) {
        missing.add("%s: the prototype <%s> is not there".formatted(prim.path(), i.prototype()));
        continue;
      }
      String place = above.path(prim.path()) + "/" + i.name();
      int own = nodes.size();
      nodes.add(new Node(place, node, i.rest(), i.channels()));
      Above home = homes.get(prototype.path());
      if (home == null) {
        home = home(prototype.path());
        homes.put(prototype.path(), home);
      }
      String to = place + "/" + prototype.name();
      prim(prototype, own, home.at(prototype.path(), to, above.prototypes + 1));
    }
  }

  /** What a prototype has from those above it, where it lies. */
  private Above home(String path) throws InputException {
    Above out = Above.NOTHING;
    for (int end = path.indexOf('/', 1); end > 0; end = path.indexOf('/', end + 1)) {
      StagePrim prim = find(path.substring(0, end));
      out = prim == null ? out : out.under(prim);
    }
    return out;
  }

  private @Nullable StagePrim find(String path) throws InputException {
    StagePrim known = byPath.get(path);
    if (known == null) {
      known = stage.undefined(path).orElse(null);
      if (known != null) {
        index(known);
      }
    }
    return known;
  }

  /** A mesh that deforms. */
  private record Deforming(int entity, StagePrim prim, UsdMeshes.Shape shape, Above above) {}

  /** Deformations, once all skeletons have their nodes. */
  private Map<Integer, Deformation> deformations() throws InputException {
    Map<Integer, Deformation> out = new LinkedHashMap<>();
    UsdSkeletons skeletons = new UsdSkeletons(file, time, nodes, unsupported);
    for (Deforming d : bound) {
      Above above = d.above;
      StagePrim skeleton = above.skeleton.isEmpty() ? null : byPath.get(above.skeleton);
      Integer node = nodeOf.get(above.path(above.skeleton));
      if (!above.skeleton.isEmpty() && (skeleton == null || node == null)) {
        missing.add("%s: the skeleton <%s> is not there".formatted(d.prim.path(), above.skeleton));
        skeleton = null;
      }
      Deformation deformation =
          skeletons.deformation(
              new UsdSkeletons.Bound(
                  d.prim, d.shape, skeleton, byPath.get(above.animation), node == null ? -1 : node),
              name -> above.primvar(d.prim, name),
              byPath::get);
      if (deformation != null) {
        out.put(d.entity, deformation);
      }
    }
    return out;
  }

  private void mesh(StagePrim prim, int node, Above above, Mesh mesh) {
    Integer known = numberOf.get(mesh);
    if (known == null) {
      known = meshes.size();
      meshes.add(mesh);
      numberOf.put(mesh, known);
    }
    List<String> names = new ArrayList<>();
    int last = -1;
    for (int m : mesh.triangleMaterials()) {
      if (m != last && !names.contains(materials.all.get(m).name())) {
        names.add(materials.all.get(m).name());
      }
      last = m;
    }
    entity(prim, EntityKind.MESH, node, above, known, names);
  }

  private void entity(
      StagePrim prim,
      EntityKind kind,
      int node,
      Above above,
      int payload,
      List<String> materialNames) {
    String path = above.path(prim.path());
    List<String> own = new ArrayList<>();
    tags.forEach((tag, paths) -> {
      if (paths.stream().anyMatch(p -> within(prim.path(), p) || within(path, p))) {
        own.add(tag);
      }
    });
    entities.add(new Entity(entities.size(), path, kind, node, payload, materialNames, own, false));
  }

  private static boolean within(String path, String other) {
    return path.equals(other) || path.startsWith(other + "/");
  }

  private void camera(StagePrim prim, int node) throws InputException {
    double focal = prim.number("focalLength", 50);
    double aperture = prim.number("verticalAperture", 15.2908);
    if (!(focal > 0) || !(aperture > 0)) {
      throw new InputException(file, prim.path(), "focalLength and verticalAperture above 0");
    }
    if (!prim.text("projection", "perspective").equals("perspective")) {
      unsupported.add(prim.path() + ": projection; taken as perspective");
    }
    cameras.add(
        new SceneCamera(
            prim.name(),
            node,
            null,
            (float) (2 * Math.atan(aperture / (2 * focal))),
            SceneCamera.Lens.PINHOLE,
            new Projection(
                prim.number("horizontalApertureOffset", 0) / aperture,
                prim.number("verticalApertureOffset", 0) / aperture,
                0,
                0)));
  }
}
