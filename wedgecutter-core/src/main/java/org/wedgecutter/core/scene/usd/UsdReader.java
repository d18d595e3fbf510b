package org.wedgecutter.core.scene.usd;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.Stream;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.core.scene.Channel;
import org.wedgecutter.core.scene.Entity;
import org.wedgecutter.core.scene.EntityKind;
import org.wedgecutter.core.scene.Light;
import org.wedgecutter.core.scene.Mesh;
import org.wedgecutter.core.scene.Node;
import org.wedgecutter.core.scene.Projection;
import org.wedgecutter.core.scene.Rgb;
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
 * of its name on what it includes. Area lights become meshes that emit light, on both sides.
 * Lengths are brought to metres and the up axis to y by a node above all others.
 */
public final class UsdReader {
  private final Path file;
  private final Stage stage;
  private final List<String> unsupported = new ArrayList<>();
  private final Map<String, StagePrim> byPath = new LinkedHashMap<>();
  private final UsdMaterials materials;
  private final UsdMeshes shapes;
  private final UsdTransforms transforms;
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
    shapes = new UsdMeshes(file, materials, unsupported);
    transforms = new UsdTransforms(stage.timeCodesPerSecond(), unsupported);
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
      prim(prim, top, "", false);
    }
    entities.add(Entity.environment(entities.size()));
    return new Scene(
            file,
            nodes,
            entities,
            meshes,
            materials.all,
            materials.images,
            lights,
            List.of(),
            Map.of(),
            cameras,
            time(root),
            Variants.of(root),
            unsupported.stream().distinct().toList(),
            Stream.concat(stage.missing().stream(), materials.missing.stream()).distinct().toList())
        .withMovesTold();
  }

  /** The stage's own time codes where it tells them, else those of its keys. */
  private TimeRange time(StagePrim root) {
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

  private void prim(StagePrim prim, int parent, String boundAbove, boolean hidden)
      throws InputException {
    if (List.of("Material", "Shader", "GeomSubset").contains(prim.type())) {
      return;
    }
    int number = nodes.size();
    nodes.add(transforms.node(prim, parent));
    List<String> own = prim.targets("material:binding");
    String bound = own.isEmpty() ? boundAbove : own.getFirst();
    boolean unseen = hidden || prim.text("visibility", "inherited").equals("invisible");
    if (unseen && !hidden) {
      unsupported.add(prim.path() + ": invisible; skipped");
    }
    if (!unseen) {
      kind(prim, number, bound);
    }
    for (StagePrim child : prim.children()) {
      prim(child, number, bound, unseen);
    }
  }

  private void kind(StagePrim prim, int node, String bound) throws InputException {
    switch (prim.type()) {
      case "Mesh" -> mesh(prim, node, shapes.mesh(prim, bound));
      case "Cube", "Sphere", "Cylinder", "Cone", "Capsule" ->
          mesh(prim, node, UsdShapes.mesh(prim, materials.number(bound)));
      case "Camera" -> camera(prim, node);
      case "DistantLight", "SphereLight", "DiskLight", "RectLight" -> light(prim, node);
      case "DomeLight" ->
          unsupported.add(
              "%s: set %s as the plan's environment"
                  .formatted(
                      prim.path(),
                      prim.value("inputs:texture:file") instanceof AssetPath a
                          ? a.written()
                          : "an image"));
      case "", "Xform", "Scope" -> {}
      default -> unsupported.add(prim.path() + ": " + prim.type());
    }
  }

  private void mesh(StagePrim prim, int node, Mesh mesh) {
    meshes.add(mesh);
    List<String> names = new ArrayList<>();
    int last = -1;
    for (int m : mesh.triangleMaterials()) {
      if (m != last && !names.contains(materials.all.get(m).name())) {
        names.add(materials.all.get(m).name());
      }
      last = m;
    }
    entity(prim, EntityKind.MESH, node, meshes.size() - 1, names);
  }

  private void entity(
      StagePrim prim, EntityKind kind, int node, int payload, List<String> materialNames) {
    List<String> own = new ArrayList<>();
    tags.forEach((tag, paths) -> {
      if (paths.stream().anyMatch(p -> prim.path().equals(p) || prim.path().startsWith(p + "/"))) {
        own.add(tag);
      }
    });
    entities.add(
        new Entity(entities.size(), prim.path(), kind, node, payload, materialNames, own, false));
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

  private void light(StagePrim prim, int node) {
    double level =
        prim.number("inputs:intensity", prim.type().equals("DistantLight") ? 50000 : 1)
            * Math.pow(2, prim.number("inputs:exposure", 0));
    Rgb color = UsdMaterials.color(prim, "inputs:color", 1).times((float) level);
    for (String name : prim.properties().keySet()) {
      if (name.startsWith("inputs:shaping") || name.startsWith("inputs:shadow")) {
        unsupported.add(prim.path() + "." + name);
      }
    }
    boolean normalize = prim.flag("inputs:normalize", false);
    double radius = prim.number("inputs:radius", 0.5);
    if (prim.type().equals("DistantLight")) {
      float angle = (float) Math.toRadians(Math.max(0, prim.number("inputs:angle", 0.53)));
      lights.add(new Light(Light.Type.DIRECTIONAL, color, 0, 0, Math.min(3, angle), 0));
      entity(prim, EntityKind.LIGHT, node, lights.size() - 1, List.of());
      return;
    }
    if (prim.type().equals("SphereLight") && prim.flag("treatAsPoint", false)) {
      // a sphere's strength in one direction: radiance by the area of its disc
      double disc = normalize ? 0.25 : Math.PI * radius * radius;
      lights.add(new Light(Light.Type.POINT, color.times((float) disc), 0, 0));
      entity(prim, EntityKind.LIGHT, node, lights.size() - 1, List.of());
      return;
    }
    double width = prim.number("inputs:width", 1);
    double height = prim.number("inputs:height", 1);
    double area =
        switch (prim.type()) {
          case "SphereLight" -> 4 * Math.PI * radius * radius;
          case "DiskLight" -> Math.PI * radius * radius;
          default -> width * height;
        };
    int material =
        materials.light(
            prim.name() + " light", normalize ? color.times((float) (1 / area)) : color);
    mesh(
        prim,
        node,
        switch (prim.type()) {
          case "SphereLight" -> UsdShapes.sphere(prim.name(), radius, material);
          case "DiskLight" -> UsdMeshes.disc(prim.name(), (float) radius, material);
          default -> UsdMeshes.rectangle(prim.name(), (float) width, (float) height, material);
        });
    if (!prim.type().equals("SphereLight")) {
      unsupported.add(prim.path() + ": emits to both sides here");
    }
  }
}
