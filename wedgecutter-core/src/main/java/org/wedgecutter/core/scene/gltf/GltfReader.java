package org.wedgecutter.core.scene.gltf;

import static org.wedgecutter.core.scene.gltf.GltfSource.list;

import java.io.UncheckedIOException;
import java.nio.ByteBuffer;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.image.TextureImage;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.core.scene.Deformation;
import org.wedgecutter.core.scene.Entity;
import org.wedgecutter.core.scene.EntityKind;
import org.wedgecutter.core.scene.Light;
import org.wedgecutter.core.scene.Medium;
import org.wedgecutter.core.scene.Rgb;
import org.wedgecutter.core.scene.Scene;
import org.wedgecutter.core.scene.SceneCamera;
import org.wedgecutter.core.scene.TimeRange;
import org.wedgecutter.core.scene.Track;

/**
 * Reads glTF 2.0: hierarchy, meshes, instances, materials, textures, cameras, lights, animation of
 * transforms and shapes, and the extensions that {@link #UNDERSTOOD} names. What else the file
 * holds is listed in {@link Scene#unsupported()}.
 *
 * <p>Source: the glTF 2.0 specification of the Khronos Group and its extensions. Light units:
 * candela and lux are taken as the scene's unit of light as they stand.
 *
 * <p>Extensions of this project are read from {@code extras} (lengths in metres, angles in
 * degrees):
 *
 * <ul>
 *   <li>of a node {@code tags}: texts that become the tags of its entity and of all below;
 *   <li>of a node {@code light}: a light with an area, {@code {"type": "rectangle" | "disc" |
 *       "sphere", "radiance": [r, g, b], "width": w, "height": h}}; a disc and a sphere have their
 *       diameter as width; a directional light's angle is {@code {"angle": degrees}};
 *   <li>of a node {@code medium}: {@code {"density": per metre, "color": [r, g, b], "anisotropy":
 *       g, "emission": [r, g, b], "everywhere": bool, "falloff": h, "base": y, "puff": {"cells",
 *       "octaves", "threshold", "foot", "head", "sway", "rise", "seed"}}}, see {@link Medium};
 *   <li>of a camera {@code lens}: {@code {"sensor": height, "fStop": n, "focus": distance}}.
 * </ul>
 */
public final class GltfReader {
  private static final Set<String> UNDERSTOOD =
      Set.of(
          "KHR_lights_punctual",
          "KHR_materials_emissive_strength",
          "KHR_materials_specular",
          "KHR_materials_ior",
          "KHR_materials_transmission",
          "KHR_materials_volume",
          "KHR_materials_clearcoat",
          "KHR_materials_sheen",
          "KHR_materials_unlit",
          "KHR_materials_variants",
          "KHR_texture_transform",
          "KHR_mesh_quantization",
          "EXT_mesh_gpu_instancing");

  private final GltfSource source;
  private final Set<String> unsupported = new LinkedHashSet<>();

  private GltfReader(GltfSource source) {
    this.source = source;
  }

  /**
   * Reads a file.
   *
   * @throws InputException with file, place and expectation if anything in it cannot be used
   */
  public static Scene read(Path file) throws InputException {
    return read(file, "");
  }

  /**
   * Reads a file with one of its sets of materials.
   *
   * @param variant name of the set (KHR_materials_variants); empty means as in the file
   */
  public static Scene read(Path file, String variant) throws InputException {
    return new GltfReader(GltfSource.open(file)).scene(variant);
  }

  private final List<Entity> entities = new ArrayList<>();
  private final List<Light> lights = new ArrayList<>();
  private final List<Medium> media = new ArrayList<>();
  private final Map<Integer, Deformation> deformations = new HashMap<>();

  private Scene scene(String variant) throws InputException {
    noteExtensions();
    List<TextureImage> images = images();
    GltfMaterials materials = new GltfMaterials(source, unsupported);
    GltfMeshes meshes = new GltfMeshes(source, unsupported);
    GltfNodes nodes = new GltfNodes(source, unsupported);
    List<GltfMeshes.Read> meshList = meshes.read(materials.all().size() - 1, variant);
    lights.addAll(lights());
    List<SceneCamera> cameras = new ArrayList<>();
    for (int n = 0; n < nodes.all().size(); n++) {
      if (!nodes.isInstance(n)) {
        addEntities(n, nodes, meshList, materials);
        addCamera(n, nodes, cameras);
      }
    }
    entities.add(Entity.environment(entities.size()));
    return new Scene(
            source.file,
            nodes.all(),
            entities,
            meshList.stream().map(GltfMeshes.Read::mesh).toList(),
            materials.all(),
            images,
            lights,
            media,
            deformations,
            cameras,
            TimeRange.until(nodes.duration()),
            GltfMeshes.variants(source),
            List.copyOf(unsupported))
        .withMovesTold();
  }

  private void noteExtensions() throws InputException {
    unsupported.addAll(source.ignored);
    for (String required : list(source.gltf.getExtensionsRequired())) {
      if (!UNDERSTOOD.contains(required)) {
        throw new InputException(
            source.file,
            "extensionsRequired",
            "needs %s, which is unsupported".formatted(required));
      }
    }
    for (String used : list(source.gltf.getExtensionsUsed())) {
      if (!UNDERSTOOD.contains(used)) {
        unsupported.add("extension " + used);
      }
    }
  }

  private void addEntities(
      int n, GltfNodes nodes, List<GltfMeshes.Read> meshes, GltfMaterials materials)
      throws InputException {
    var raw = nodes.raw(n);
    String path = nodes.all().get(n).path();
    if (raw.getMesh() != null) {
      GltfMeshes.Read mesh =
          source.element(meshes, raw.getMesh(), nodes.place(n) + ".mesh", "meshes");
      Set<String> names = new LinkedHashSet<>();
      for (int m : mesh.mesh().triangleMaterials()) {
        names.add(materials.all().get(m).name());
      }
      List<Integer> places = nodes.instances(n);
      for (int place : places.isEmpty() ? List.of(n) : places) {
        Deformation deformation = deformation(n, nodes, mesh);
        if (deformation != null) {
          deformations.put(entities.size(), deformation);
        }
        entities.add(
            new Entity(
                entities.size(),
                nodes.all().get(place).path(),
                EntityKind.MESH,
                place,
                raw.getMesh(),
                List.copyOf(names),
                nodes.tags(n),
                false));
      }
    }
    addLight(n, nodes, path);
    Json medium = new Json(raw.getExtras()).get("medium");
    if (medium.exists()) {
      media.add(medium(medium, path.substring(path.lastIndexOf('/') + 1), nodes.place(n)));
      entities.add(
          entity(
              raw.getMesh() == null ? path : path + "/medium",
              EntityKind.MEDIUM,
              n,
              media.size() - 1,
              nodes));
    }
  }

  private void addLight(int n, GltfNodes nodes, String path) throws InputException {
    var raw = nodes.raw(n);
    String own = raw.getMesh() == null ? path : path + "/light";
    Json light = new Json(raw.getExtensions()).get("KHR_lights_punctual").get("light");
    Json extra = new Json(raw.getExtras()).get("light");
    if (light.exists()) {
      String place = nodes.place(n) + ".extensions.KHR_lights_punctual.light";
      int index = (int) light.number(-1);
      Light punctual = source.element(lights, index, place, "lights");
      if (extra.get("angle").exists()) {
        float angle = (float) Math.toRadians(extra.get("angle").number(0));
        lights.add(
            new Light(
                punctual.type(),
                punctual.intensity(),
                punctual.innerCone(),
                punctual.outerCone(),
                Math.max(0, Math.min(3, angle)),
                0));
        index = lights.size() - 1;
      }
      entities.add(entity(own, EntityKind.LIGHT, n, index, nodes));
    } else if (extra.exists()) {
      String place = nodes.place(n) + ".extras.light";
      Light.Type type =
          switch (extra.get("type").text("")) {
            case "rectangle" -> Light.Type.RECTANGLE;
            case "disc" -> Light.Type.DISC;
            case "sphere" -> Light.Type.SPHERE;
            default ->
                throw new InputException(
                    source.file,
                    place + ".type",
                    "'%s', expected rectangle, disc or sphere"
                        .formatted(extra.get("type").text("")));
          };
      float width = extra.get("width").number(1);
      float height = extra.get("height").number(width);
      if (!(width > 0 && height > 0)) {
        throw new InputException(source.file, place, "expected width and height above 0");
      }
      lights.add(new Light(type, light(extra.get("radiance"), 1), 0, 0, width, height));
      entities.add(entity(own, EntityKind.LIGHT, n, lights.size() - 1, nodes));
    }
  }

  private static Rgb light(Json json, float otherwise) {
    float[] c = json.numbers(otherwise, otherwise, otherwise);
    return new Rgb(Math.max(0, c[0]), Math.max(0, c[1]), Math.max(0, c[2]));
  }

  private Medium medium(Json m, String name, String place) throws InputException {
    float density = m.get("density").number(-1);
    if (!(density >= 0)) {
      throw new InputException(
          source.file, place + ".extras.medium.density", "expected a density per metre, 0 or more");
    }
    Json p = m.get("puff");
    Medium.Puff puff =
        !p.exists()
            ? null
            : new Medium.Puff(
                within(p.get("cells").number(8), 0.01f, 1000),
                (int) within(p.get("octaves").number(3), 1, 8),
                within(p.get("threshold").number(0.4f), 0, 0.99f),
                within(p.get("foot").number(1), 0, 1),
                within(p.get("head").number(1), 0, 1),
                within(p.get("sway").number(0), 0, 1),
                p.get("rise").number(0),
                (int) p.get("seed").number(1));
    Rgb color = light(m.get("color"), 1);
    return new Medium(
        name,
        Boolean.TRUE.equals(m.get("everywhere").value()),
        density,
        new Rgb(Math.min(1, color.r()), Math.min(1, color.g()), Math.min(1, color.b())),
        within(m.get("anisotropy").number(0), -0.99f, 0.99f),
        light(m.get("emission"), 0),
        Math.max(0, m.get("falloff").number(0)),
        m.get("base").number(0),
        puff);
  }

  private static float within(float value, float least, float most) {
    return Math.max(least, Math.min(most, value));
  }

  private @Nullable Deformation deformation(int n, GltfNodes nodes, GltfMeshes.Read mesh)
      throws InputException {
    Deformation.Morph morph = null;
    if (mesh.morphs().length > 0) {
      float[] rest = mesh.rest();
      List<Float> own = list(nodes.raw(n).getWeights());
      for (int t = 0; t < Math.min(own.size(), rest.length); t++) {
        rest = rest.clone();
        rest[t] = own.get(t);
      }
      Track weights = nodes.weights(n, rest.length);
      morph = new Deformation.Morph(mesh.morphs(), mesh.morphNormals(), rest, weights);
    }
    Integer skin = nodes.raw(n).getSkin();
    Deformation.Skin joints = null;
    if (skin != null && mesh.joints().length > 0) {
      joints = skin(skin, nodes, mesh, nodes.place(n) + ".skin");
    }
    return morph == null && joints == null ? null : new Deformation(morph, joints);
  }

  private Deformation.Skin skin(int index, GltfNodes nodes, GltfMeshes.Read mesh, String place)
      throws InputException {
    var skin = source.element(source.gltf.getSkins(), index, place, "skins");
    int count = list(skin.getJoints()).size();
    int[] joints = new int[count];
    for (int j = 0; j < count; j++) {
      joints[j] = nodes.ofRaw(skin.getJoints().get(j));
      if (joints[j] < 0) {
        throw new InputException(
            source.file,
            "skins[%d].joints[%d]".formatted(index, j),
            "nodes[%d] is not in the scene".formatted(skin.getJoints().get(j)));
      }
    }
    float[] inverse = new float[16 * count];
    if (skin.getInverseBindMatrices() == null) {
      for (int i = 0; i < inverse.length; i++) {
        inverse[i] = i % 16 % 5 == 0 ? 1 : 0;
      }
    } else {
      String own = "skins[%d].inverseBindMatrices".formatted(index);
      float[] read = source.floats(skin.getInverseBindMatrices(), own, "MAT4");
      if (read.length < inverse.length) {
        throw new InputException(source.file, own, "fewer matrices than joints");
      }
      System.arraycopy(read, 0, inverse, 0, inverse.length);
    }
    for (int joint : mesh.joints()) {
      if (joint < 0 || joint >= count) {
        throw new InputException(
            source.file, place, "a vertex has joint %d of %d".formatted(joint, count));
      }
    }
    return new Deformation.Skin(joints, inverse, mesh.joints(), mesh.weights());
  }

  private Entity entity(String path, EntityKind kind, int node, int payload, GltfNodes nodes) {
    return new Entity(
        entities.size(), path, kind, node, payload, List.of(), nodes.tags(node), false);
  }

  private void addCamera(int n, GltfNodes nodes, List<SceneCamera> out) throws InputException {
    Integer index = nodes.raw(n).getCamera();
    if (index == null) {
      return;
    }
    var camera =
        source.element(source.gltf.getCameras(), index, nodes.place(n) + ".camera", "cameras");
    if (camera.getPerspective() == null) {
      unsupported.add("cameras[%d]: orthographic camera".formatted(index));
      return;
    }
    float view = camera.getPerspective().getYfov();
    if (!(view > 0 && view < Math.PI)) {
      throw new InputException(
          source.file,
          "cameras[%d].perspective.yfov".formatted(index),
          view + " radians, expected more than 0 and less than pi");
    }
    String name = camera.getName() == null ? nodes.all().get(n).path() : camera.getName();
    Json lens = new Json(camera.getExtras()).get("lens");
    SceneCamera.Lens made = SceneCamera.Lens.PINHOLE;
    if (lens.exists()) {
      made =
          new SceneCamera.Lens(
              lens.get("sensor").number(made.sensor()),
              lens.get("fStop").number(made.fStop()),
              lens.get("focus").number(made.focus()));
      if (!(made.sensor() > 0 && made.fStop() >= 0 && made.focus() > 0)) {
        throw new InputException(
            source.file,
            "cameras[%d].extras.lens".formatted(index),
            "expected sensor and focus above 0, fStop 0 or more");
      }
    }
    out.add(new SceneCamera(name, n, view, made));
  }

  private List<TextureImage> images() throws InputException {
    List<Encoded> out = new ArrayList<>();
    Map<Object, Integer> first = new HashMap<>();
    List<Integer> of = new ArrayList<>();
    List<String> names = new ArrayList<>();
    var images = list(source.gltf.getImages());
    for (int i = 0; i < images.size(); i++) {
      String place = "images[" + i + "]";
      var image = images.get(i);
      names.add(image.getName() == null ? "image" + i : image.getName());
      Object key = image.getUri() != null ? image.getUri() : image.getBufferView();
      Integer known = key == null ? null : first.putIfAbsent(key, out.size());
      of.add(known == null ? out.size() : known);
      if (known != null) {
        continue;
      }
      byte[] bytes;
      if (image.getUri() != null) {
        bytes = source.resolve(image.getUri(), place + ".uri");
      } else {
        ByteBuffer view = source.view(image.getBufferView(), place + ".bufferView");
        bytes = new byte[view.remaining()];
        view.get(bytes);
      }
      out.add(new Encoded(bytes, names.get(i), place));
    }
    try {
      // several at once: decoding is most of the time that reading takes
      List<TextureImage> made = out.parallelStream().map(this::decoded).toList();
      List<TextureImage> all = new ArrayList<>();
      for (int i = 0; i < images.size(); i++) {
        all.add(made.get(of.get(i)).named(names.get(i)));
      }
      return all;
    } catch (UncheckedIOException e) {
      if (e.getCause() instanceof InputException wrong) {
        throw wrong;
      }
      throw e;
    }
  }

  /** An image as it is in the file. */
  private record Encoded(byte[] bytes, String name, String place) {}

  private TextureImage decoded(Encoded image) {
    try {
      return TextureImage.decode(image.bytes, image.name, source.file, image.place, source.budget);
    } catch (InputException e) {
      throw new UncheckedIOException(e);
    }
  }

  private List<Light> lights() throws InputException {
    List<Light> out = new ArrayList<>();
    Json all = new Json(source.gltf.getExtensions()).get("KHR_lights_punctual").get("lights");
    for (int i = 0; i < all.items().size(); i++) {
      Json light = all.items().get(i);
      float[] color = light.get("color").numbers(1, 1, 1);
      float intensity = light.get("intensity").number(1);
      String type = light.get("type").text("");
      Light.Type kind =
          switch (type) {
            case "point" -> Light.Type.POINT;
            case "spot" -> Light.Type.SPOT;
            case "directional" -> Light.Type.DIRECTIONAL;
            default ->
                throw new InputException(
                    source.file,
                    "extensions.KHR_lights_punctual.lights[%d].type".formatted(i),
                    "'%s', expected point, spot or directional".formatted(type));
          };
      out.add(
          new Light(
              kind,
              new Rgb(color[0], color[1], color[2]).times(Math.max(0, intensity)),
              light.get("spot").get("innerConeAngle").number(0),
              light.get("spot").get("outerConeAngle").number((float) (Math.PI / 4))));
    }
    return out;
  }
}
