package org.wedgecutter.core.scene;

import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.joml.Matrix4f;
import org.wedgecutter.core.image.TextureImage;

/**
 * The scene of a shot, as read from its file.
 *
 * @param file where it was read from
 * @param nodes the hierarchy, parents before children
 * @param entities everything that can be given a role; the environment is the last
 * @param meshes shapes, shared by entities
 * @param materials surfaces
 * @param images images of textures
 * @param lights lights without a surface
 * @param media participating media
 * @param deformations deformations by index of the entity
 * @param cameras perspective cameras, in the file's order
 * @param time the time that it covers
 * @param variants names of the file's sets of materials, of which one can be chosen when reading
 * @param unsupported what the file holds that is not supported, one line each
 * @param missing files that the scene asks for and that are not there or not read, each with who
 *     asks
 */
public record Scene(
    Path file,
    List<Node> nodes,
    List<Entity> entities,
    List<Mesh> meshes,
    List<Material> materials,
    List<TextureImage> images,
    List<Light> lights,
    List<Medium> media,
    Map<Integer, Deformation> deformations,
    List<SceneCamera> cameras,
    TimeRange time,
    List<String> variants,
    List<String> unsupported,
    List<String> missing) {
  /** The path of the entity that stands for the environment. */
  public static final String ENVIRONMENT_PATH = "/environment";

  public Scene {
    nodes = List.copyOf(nodes);
    entities = List.copyOf(entities);
    meshes = List.copyOf(meshes);
    materials = List.copyOf(materials);
    images = List.copyOf(images);
    lights = List.copyOf(lights);
    media = List.copyOf(media);
    deformations = Map.copyOf(deformations);
    variants = List.copyOf(variants);
    cameras = List.copyOf(cameras);
    unsupported = List.copyOf(unsupported);
    missing = List.copyOf(missing);
    for (int i = 0; i < entities.size(); i++) {
      if (entities.get(i).index() != i) {
        throw new IllegalArgumentException(
            "entity %d has index %d".formatted(i, entities.get(i).index()));
      }
    }
    if (entities.isEmpty() || entities.getLast().kind() != EntityKind.ENVIRONMENT) {
      throw new IllegalArgumentException("the last entity must be the environment");
    }
  }

  /** Returns the scene with its entities marked as those that move or do not. */
  public Scene withMovesTold() {
    TimeDigest changes = new TimeDigest(this);
    return new Scene(
        file,
        nodes,
        entities.stream().map(e -> e.withMoves(changes.moves(e))).toList(),
        meshes,
        materials,
        images,
        lights,
        media,
        deformations,
        cameras,
        time,
        variants,
        unsupported,
        missing);
  }

  /** A scene of which nothing is missing. */
  public Scene(
      Path file,
      List<Node> nodes,
      List<Entity> entities,
      List<Mesh> meshes,
      List<Material> materials,
      List<TextureImage> images,
      List<Light> lights,
      List<Medium> media,
      Map<Integer, Deformation> deformations,
      List<SceneCamera> cameras,
      TimeRange time,
      List<String> variants,
      List<String> unsupported) {
    this(
        file,
        nodes,
        entities,
        meshes,
        materials,
        images,
        lights,
        media,
        deformations,
        cameras,
        time,
        variants,
        unsupported,
        List.of());
  }

  /** Returns the second at which it ends. */
  public float duration() {
    return time.last();
  }

  /** A scene without media and deformations. */
  public Scene(
      Path file,
      List<Node> nodes,
      List<Entity> entities,
      List<Mesh> meshes,
      List<Material> materials,
      List<TextureImage> images,
      List<Light> lights,
      List<SceneCamera> cameras,
      TimeRange time,
      List<String> unsupported) {
    this(
        file,
        nodes,
        entities,
        meshes,
        materials,
        images,
        lights,
        List.of(),
        Map.of(),
        cameras,
        time,
        List.of(),
        unsupported);
  }

  /** Returns the world transform of every node at a time in seconds. */
  public Matrix4f[] pose(double time) {
    Matrix4f[] world = new Matrix4f[nodes.size()];
    for (int i = 0; i < world.length; i++) {
      Node node = nodes.get(i);
      Matrix4f local = node.local(time);
      world[i] = node.parent() < 0 ? local : new Matrix4f(world[node.parent()]).mul(local);
    }
    return world;
  }

  /** Returns which nodes are there, with all their parents, at a time in seconds. */
  public boolean[] visible(double time) {
    boolean[] out = new boolean[nodes.size()];
    for (int i = 0; i < out.length; i++) {
      Node node = nodes.get(i);
      out[i] = (node.parent() < 0 || out[node.parent()]) && node.isVisible(time);
    }
    return out;
  }

  /** Returns the entity that stands for the environment. */
  public Entity environment() {
    return entities.getLast();
  }

  /** Returns the entity of this path. */
  public Optional<Entity> entity(String path) {
    return entities.stream().filter(e -> e.path().equals(path)).findFirst();
  }

  /** Whether an entity is a mesh of which a part emits light. */
  public boolean emits(Entity e) {
    if (e.kind() != EntityKind.MESH) {
      return false;
    }
    int last = -1;
    for (int m : meshes.get(e.payload()).triangleMaterials()) {
      if (m != last && materials.get(m).emits()) {
        return true;
      }
      last = m;
    }
    return false;
  }

  /** Returns the camera of a name; the empty name, or one that is unknown, is the first. */
  public SceneCamera camera(String name) {
    return cameras.stream()
        .filter(c -> c.name().equals(name))
        .findFirst()
        .orElseGet(cameras::getFirst);
  }

  /** Returns the material of this name. */
  public Optional<Material> material(String name) {
    return materials.stream().filter(m -> m.name().equals(name)).findFirst();
  }

  /** Returns the number of triangles over all entities, shared meshes counted each time. */
  public long triangles() {
    return entities.stream()
        .filter(e -> e.kind() == EntityKind.MESH)
        .mapToLong(e -> meshes.get(e.payload()).triangles())
        .sum();
  }
}
