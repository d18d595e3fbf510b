package org.wedgecutter.core.scene;

import java.util.List;

/**
 * Something that can be given a role in a layer.
 *
 * @param index its place in {@link Scene#entities()}; fragments are summed under this number
 * @param path place in the hierarchy, names joined by slashes, unique in the scene: {@code
 *     /orrery/arms/arm1}
 * @param kind its kind
 * @param node index of its node, or -1 for the environment
 * @param payload index of its mesh or light; 0 for the environment
 * @param materials names of the materials on it, without repeats
 * @param tags words that the scene's author gave it or one of its parents
 * @param moves whether anything about it changes over the scene's time: its transform, its shape, a
 *     medium's density; {@link Scene} tells it by {@link TimeDigest}
 */
public record Entity(
    int index,
    String path,
    EntityKind kind,
    int node,
    int payload,
    List<String> materials,
    List<String> tags,
    boolean moves) {
  public Entity {
    materials = List.copyOf(materials);
    tags = List.copyOf(tags);
  }

  /** The entity that stands for the environment, which is a scene's last. */
  public static Entity environment(int index) {
    return new Entity(
        index, Scene.ENVIRONMENT_PATH, EntityKind.ENVIRONMENT, -1, 0, List.of(), List.of(), false);
  }

  /** Returns it as if it had one of its materials alone. */
  public Entity withMaterial(String material) {
    return new Entity(index, path, kind, node, payload, List.of(material), tags, moves);
  }

  /** Returns it as one that moves, or does not. */
  Entity withMoves(boolean next) {
    return new Entity(index, path, kind, node, payload, materials, tags, next);
  }

  /** Returns the last part of the path. */
  public String name() {
    return path.substring(path.lastIndexOf('/') + 1);
  }
}
