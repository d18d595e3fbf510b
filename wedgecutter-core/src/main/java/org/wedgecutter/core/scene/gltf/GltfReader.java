package org.wedgecutter.core.scene.gltf;

import static org.wedgecutter.core.scene.gltf.GltfSource.list;

import java.nio.ByteBuffer;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Set;
import org.wedgecutter.core.image.TextureImage;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.core.scene.Entity;
import org.wedgecutter.core.scene.EntityKind;
import org.wedgecutter.core.scene.Light;
import org.wedgecutter.core.scene.Mesh;
import org.wedgecutter.core.scene.Rgb;
import org.wedgecutter.core.scene.Scene;
import org.wedgecutter.core.scene.SceneCamera;

/**
 * Reads glTF 2.0: hierarchy, meshes, instances, metal and roughness materials, their textures,
 * cameras, punctual lights, emissive strength and transform animation. What else stands in the file
 * is listed in {@link Scene#notUnderstood()}.
 *
 * <p>Source: the glTF 2.0 specification of the Khronos Group, and its extensions
 * KHR_lights_punctual and KHR_materials_emissive_strength. Light units: candela and lux are taken
 * as the scene's unit of light as they stand. A node's {@code extras.tags} (texts) become the tags
 * of its entity and of all below.
 */
public final class GltfReader {
  private static final Set<String> UNDERSTOOD =
      Set.of("KHR_lights_punctual", "KHR_materials_emissive_strength", "KHR_materials_specular");

  private final GltfSource source;
  private final Set<String> notUnderstood = new LinkedHashSet<>();

  private GltfReader(GltfSource source) {
    this.source = source;
  }

  /**
   * Reads a file.
   *
   * @throws InputException with file, place and expectation if anything in it cannot be used
   */
  public static Scene read(Path file) throws InputException {
    GltfReader reader = new GltfReader(GltfSource.open(file));
    try {
      return reader.scene();
    } catch (RuntimeException e) {
      // the library's objects may hold nulls wherever the file leaves a required value out
      throw new InputException(
          file, "", "a required value is missing or wrong: " + e.getMessage(), e);
    }
  }

  private Scene scene() throws InputException {
    noteExtensions();
    List<TextureImage> images = images();
    GltfMaterials materials = new GltfMaterials(source, notUnderstood);
    GltfMeshes meshes = new GltfMeshes(source, notUnderstood);
    GltfNodes nodes = new GltfNodes(source, notUnderstood);
    List<Mesh> meshList = meshes.read(materials.all().size() - 1);
    List<Light> lights = lights();
    List<Entity> entities = new ArrayList<>();
    List<SceneCamera> cameras = new ArrayList<>();
    for (int n = 0; n < nodes.all().size(); n++) {
      addEntities(n, nodes, meshList, materials, lights, entities);
      addCamera(n, nodes, cameras);
    }
    entities.add(
        new Entity(
            entities.size(),
            Scene.ENVIRONMENT_PATH,
            EntityKind.ENVIRONMENT,
            -1,
            0,
            List.of(),
            List.of(),
            false));
    return new Scene(
        source.file,
        nodes.all(),
        entities,
        meshList,
        materials.all(),
        images,
        lights,
        cameras,
        nodes.duration(),
        List.copyOf(notUnderstood));
  }

  private void noteExtensions() throws InputException {
    notUnderstood.addAll(source.ignored);
    for (String required : list(source.gltf.getExtensionsRequired())) {
      if (!UNDERSTOOD.contains(required)) {
        throw new InputException(
            source.file, "extensionsRequired", "needs %s, which is not read".formatted(required));
      }
    }
    for (String used : list(source.gltf.getExtensionsUsed())) {
      if (!UNDERSTOOD.contains(used)) {
        notUnderstood.add("extension " + used);
      }
    }
    if (!list(source.gltf.getSkins()).isEmpty()) {
      notUnderstood.add("skins: meshes stand still in their rest pose");
    }
  }

  private void addEntities(
      int n,
      GltfNodes nodes,
      List<Mesh> meshes,
      GltfMaterials materials,
      List<Light> lights,
      List<Entity> out)
      throws InputException {
    var raw = nodes.raw(n);
    String path = nodes.all().get(n).path();
    if (raw.getMesh() != null) {
      String place = nodes.place(n) + ".mesh";
      Mesh mesh = source.element(meshes, raw.getMesh(), place, "meshes");
      Set<String> names = new LinkedHashSet<>();
      for (int m : mesh.triangleMaterials()) {
        names.add(materials.all().get(m).name());
      }
      out.add(
          entity(out.size(), path, EntityKind.MESH, n, raw.getMesh(), List.copyOf(names), nodes));
    }
    Json light = new Json(raw.getExtensions()).get("KHR_lights_punctual").get("light");
    if (light.exists()) {
      String place = nodes.place(n) + ".extensions.KHR_lights_punctual.light";
      int index = (int) light.number(-1);
      source.element(lights, index, place, "lights");
      String own = raw.getMesh() == null ? path : path + "/light";
      out.add(entity(out.size(), own, EntityKind.LIGHT, n, index, List.of(), nodes));
    }
  }

  private static Entity entity(
      int index,
      String path,
      EntityKind kind,
      int node,
      int payload,
      List<String> materials,
      GltfNodes nodes) {
    return new Entity(
        index, path, kind, node, payload, materials, nodes.tags(node), nodes.moves(node));
  }

  private void addCamera(int n, GltfNodes nodes, List<SceneCamera> out) throws InputException {
    Integer index = nodes.raw(n).getCamera();
    if (index == null) {
      return;
    }
    var camera =
        source.element(source.gltf.getCameras(), index, nodes.place(n) + ".camera", "cameras");
    if (camera.getPerspective() == null) {
      notUnderstood.add("cameras[%d]: orthographic camera".formatted(index));
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
    out.add(new SceneCamera(name, n, view));
  }

  private List<TextureImage> images() throws InputException {
    List<TextureImage> out = new ArrayList<>();
    var images = list(source.gltf.getImages());
    for (int i = 0; i < images.size(); i++) {
      String place = "images[" + i + "]";
      var image = images.get(i);
      byte[] bytes;
      if (image.getUri() != null) {
        bytes = source.resolve(image.getUri(), place + ".uri");
      } else {
        ByteBuffer view = source.view(image.getBufferView(), place + ".bufferView");
        bytes = new byte[view.remaining()];
        view.get(bytes);
      }
      String name = image.getName() == null ? "image" + i : image.getName();
      out.add(TextureImage.decode(bytes, name, source.file, place));
    }
    return out;
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
