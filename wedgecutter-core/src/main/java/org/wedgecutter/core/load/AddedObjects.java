package org.wedgecutter.core.load;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.core.plan.AddedObject;
import org.wedgecutter.core.plan.Shot;
import org.wedgecutter.core.scene.Channel;
import org.wedgecutter.core.scene.Entity;
import org.wedgecutter.core.scene.EntityKind;
import org.wedgecutter.core.scene.Material;
import org.wedgecutter.core.scene.Medium;
import org.wedgecutter.core.scene.Mesh;
import org.wedgecutter.core.scene.Node;
import org.wedgecutter.core.scene.Rgb;
import org.wedgecutter.core.scene.Scene;
import org.wedgecutter.core.scene.Track;

/** Puts the objects that a plan adds into the scene that was read. */
public final class AddedObjects {
  private static final float[] NOWHERE = {0, 0, 0};
  private static final float[] NO_TURN = {0, 0, 0, 1};
  private static final float[] ONE = {1, 1, 1};

  private final Scene scene;
  private final Path plan;
  private final List<Node> nodes;
  private final List<Entity> entities;
  private final List<Mesh> meshes;
  private final List<Material> materials;
  private final List<Medium> media;
  private final Set<String> paths = new HashSet<>();
  private final int root;

  private AddedObjects(Scene scene, Path plan) {
    this.scene = scene;
    this.plan = plan;
    nodes = new ArrayList<>(scene.nodes());
    entities = new ArrayList<>(scene.entities());
    entities.removeLast();
    meshes = new ArrayList<>(scene.meshes());
    materials = new ArrayList<>(scene.materials());
    media = new ArrayList<>(scene.media());
    scene.entities().forEach(e -> paths.add(e.path()));
    root = nodes.size();
    nodes.add(node(AddedObject.ROOT, -1, NOWHERE, NO_TURN, ONE));
  }

  private static Node node(String path, int parent, float[] at, float[] turn, float[] size) {
    return new Node(path, parent, new Node.Local(at, turn, size), List.of());
  }

  /**
   * What a scene is made of beside its file: the same for two shots if the same is added to it.
   *
   * @param objects what is added
   * @param fps frames per second, which keys depend on; 0 where there are none
   */
  public record Made(List<AddedObject> objects, double fps) {
    public Made {
      objects = List.copyOf(objects);
    }

    /** Returns it of a shot. */
    public static Made of(Shot shot) {
      boolean keyed =
          shot.added().stream().anyMatch(a -> a instanceof AddedObject.Fog f && f.isKeyed());
      return new Made(shot.added(), keyed ? shot.fps() : 0);
    }
  }

  /**
   * Returns a scene with objects; entities that it had keep their numbers, but for the environment,
   * which stays the last.
   *
   * @param shot the plan's, whose objects are added
   * @param plan the plan's file, for errors
   * @throws InputException with the place in the plan, if a path is taken or a material unknown
   */
  public static Scene in(Scene scene, Shot shot, Path plan) throws InputException {
    List<AddedObject> added = shot.added();
    if (added.isEmpty()) {
      return scene;
    }
    AddedObjects all = new AddedObjects(scene, plan);
    for (int k = 0; k < added.size(); k++) {
      String place = "shot/added/" + k;
      AddedObject object = added.get(k);
      if (!all.paths.add(object.path())) {
        throw new InputException(
            plan, place + "/name", "'%s' is taken; expected another name".formatted(object.path()));
      }
      switch (object) {
        case AddedObject.Ground g -> all.add(g, place);
        case AddedObject.Fog f -> all.add(f, shot);
      }
    }
    return all.scene();
  }

  private Scene scene() {
    entities.add(Entity.environment(entities.size()));
    return new Scene(
            scene.file(),
            nodes,
            entities,
            meshes,
            materials,
            scene.images(),
            scene.lights(),
            media,
            scene.deformations(),
            scene.cameras(),
            scene.time(),
            scene.variants(),
            scene.unsupported(),
            scene.missing())
        .withMovesTold();
  }

  private void add(AddedObject.Ground g, String place) throws InputException {
    int material = materials.size();
    if (g.material().isEmpty()) {
      float roughness = (float) g.roughness();
      materials.add(Material.plain(g.name(), rgb(g.colour())).with(m -> m.roughness = roughness));
    } else {
      material = materials.stream().map(Material::name).toList().indexOf(g.material());
      if (material < 0) {
        throw new InputException(
            plan,
            place + "/material",
            "there is no material '%s'; expected one of the scene".formatted(g.material()));
      }
    }
    double half = Math.toRadians(g.turn()) / 2;
    float size = (float) g.size();
    entity(
        g,
        EntityKind.MESH,
        meshes.size(),
        List.of(materials.get(material).name()),
        node(
            g.path(),
            root,
            floats(g.at()),
            new float[] {0, (float) Math.sin(half), 0, (float) Math.cos(half)},
            new float[] {size, 1, size}));
    // without normals: a surface without a side to which its light is turned
    meshes.add(
        new Mesh(
            g.name(),
            new float[] {-0.5f, 0, -0.5f, -0.5f, 0, 0.5f, 0.5f, 0, 0.5f, 0.5f, 0, -0.5f},
            null,
            new float[] {0, 0, 0, 1, 1, 1, 1, 0},
            new int[] {0, 1, 2, 0, 2, 3},
            new int[] {material, material}));
  }

  private void add(AddedObject.Fog f, Shot shot) {
    AddedObject.Fog.Box box = f.box();
    entity(
        f,
        EntityKind.MEDIUM,
        media.size(),
        List.of(),
        node(
            f.path(),
            root,
            box == null ? NOWHERE : floats(box.at()),
            NO_TURN,
            box == null ? ONE : floats(box.size())));
    media.add(
        new Medium(
            f.name(),
            box == null,
            (float) f.densest(),
            rgb(f.colour()),
            (float) f.anisotropy(),
            rgb(f.emission()),
            (float) f.falloff(),
            (float) f.base(),
            null,
            f.isKeyed() ? factors(f, shot) : null));
  }

  private static Track factors(AddedObject.Fog f, Shot shot) {
    int keys = f.density().size();
    float[] times = new float[keys];
    float[] values = new float[keys];
    for (int k = 0; k < keys; k++) {
      times[k] = (float) shot.time(f.density().get(k).frame());
      values[k] = (float) (f.densest() > 0 ? f.density().get(k).perMetre() / f.densest() : 0);
    }
    return new Track(Channel.Between.LINEAR, times, values, 1);
  }

  private void entity(
      AddedObject of, EntityKind kind, int payload, List<String> materialNames, Node node) {
    entities.add(
        new Entity(
            entities.size(),
            of.path(),
            kind,
            nodes.size(),
            payload,
            materialNames,
            List.of(),
            false));
    nodes.add(node);
  }

  private static Rgb rgb(List<Double> c) {
    return new Rgb(c.get(0).floatValue(), c.get(1).floatValue(), c.get(2).floatValue());
  }

  private static float[] floats(List<Double> v) {
    return new float[] {v.get(0).floatValue(), v.get(1).floatValue(), v.get(2).floatValue()};
  }
}
