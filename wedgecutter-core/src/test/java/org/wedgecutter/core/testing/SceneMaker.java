package org.wedgecutter.core.testing;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import org.wedgecutter.core.image.TextureImage;
import org.wedgecutter.core.scene.Channel;
import org.wedgecutter.core.scene.Deformation;
import org.wedgecutter.core.scene.Entity;
import org.wedgecutter.core.scene.EntityKind;
import org.wedgecutter.core.scene.Light;
import org.wedgecutter.core.scene.Material;
import org.wedgecutter.core.scene.Medium;
import org.wedgecutter.core.scene.Mesh;
import org.wedgecutter.core.scene.Node;
import org.wedgecutter.core.scene.Rgb;
import org.wedgecutter.core.scene.Scene;
import org.wedgecutter.core.scene.SceneCamera;
import org.wedgecutter.core.scene.TextureRef;
import org.wedgecutter.core.scene.TimeRange;

/** Makes small scenes for tests. Things get the names they are given, under the root. */
public final class SceneMaker {
  private final List<Node> nodes = new ArrayList<>();
  private final List<Entity> entities = new ArrayList<>();
  private final List<Mesh> meshes = new ArrayList<>();
  private final List<Material> materials = new ArrayList<>();
  private final List<Light> lights = new ArrayList<>();
  private final List<Medium> media = new ArrayList<>();
  private final java.util.Map<Integer, Deformation> deformations = new java.util.HashMap<>();
  private final List<SceneCamera> cameras = new ArrayList<>();
  private final List<TextureImage> images = new ArrayList<>();
  private float duration;

  /** A surface that scatters the same in all directions, and nothing else. */
  public static Material matte(double albedo) {
    return surface(albedo, 0, 1, 0, 0);
  }

  /** A matte surface that emits light. */
  public static Material glowing(double radiance) {
    return surface(0, 0, 1, 0, radiance);
  }

  public static Material surface(
      double albedo, double metallic, double roughness, double specular, double radiance) {
    return Material.plain("m", Rgb.WHITE.times((float) albedo))
        .with(m -> {
          m.metallic = (float) metallic;
          m.roughness = (float) roughness;
          m.specular((float) specular);
          m.emission = Rgb.WHITE.times((float) radiance);
        });
  }

  public static Material colored(double r, double g, double b) {
    return Material.plain("m", new Rgb((float) r, (float) g, (float) b))
        .with(m -> m.roughness = 0.4f);
  }

  private int node(String path, List<Channel> channels, double... at) {
    Node.Local local =
        new Node.Local(
            new float[] {(float) at[0], (float) at[1], (float) at[2]},
            new float[] {0, 0, 0, 1},
            new float[] {1, 1, 1});
    nodes.add(new Node(path, -1, local, channels));
    return nodes.size() - 1;
  }

  /** Adds a mesh at a place. */
  public SceneMaker mesh(String path, Mesh mesh, Material material, double... at) {
    return mesh(path, mesh, material, List.of(), List.of(), at);
  }

  /** Adds a mesh with tags and animation. */
  public SceneMaker mesh(
      String path,
      Mesh mesh,
      Material material,
      List<String> tags,
      List<Channel> channels,
      double... at) {
    int node = node(path, channels, at);
    materials.add(material);
    int[] own = new int[mesh.triangles()];
    java.util.Arrays.fill(own, materials.size() - 1);
    meshes.add(
        new Mesh(
            path,
            mesh.positions(),
            mesh.normals(),
            mesh.uvs(),
            mesh.colors(),
            mesh.indices(),
            own));
    boolean moves = channels.stream().anyMatch(Channel::changes);
    entities.add(
        new Entity(
            entities.size(),
            path,
            EntityKind.MESH,
            node,
            meshes.size() - 1,
            List.of(material.name()),
            tags,
            moves));
    for (Channel c : channels) {
      duration = Math.max(duration, c.times()[c.times().length - 1]);
    }
    return this;
  }

  public SceneMaker pointLight(String path, double intensity, double x, double y, double z) {
    int node = node(path, List.of(), x, y, z);
    lights.add(
        new Light(Light.Type.POINT, Rgb.WHITE.times((float) intensity), 0, (float) (Math.PI / 4)));
    return light(path, node);
  }

  /** A spot at a place that shines along -z. */
  public SceneMaker spotLight(
      String path, double intensity, double inner, double outer, double x, double y, double z) {
    int node = node(path, List.of(), x, y, z);
    lights.add(
        new Light(
            Light.Type.SPOT, Rgb.WHITE.times((float) intensity), (float) inner, (float) outer));
    return light(path, node);
  }

  /** A directional light that shines straight down. */
  public SceneMaker sunFromAbove(String path, double irradiance) {
    float h = (float) Math.sqrt(0.5);
    nodes.add(
        new Node(
            path,
            -1,
            new Node.Local(new float[3], new float[] {-h, 0, 0, h}, new float[] {1, 1, 1}),
            List.of()));
    lights.add(new Light(Light.Type.DIRECTIONAL, Rgb.WHITE.times((float) irradiance), 0, 1));
    return light(path, nodes.size() - 1);
  }

  private SceneMaker light(String path, int node) {
    entities.add(
        new Entity(
            entities.size(),
            path,
            EntityKind.LIGHT,
            node,
            lights.size() - 1,
            List.of(),
            List.of(),
            false));
    return this;
  }

  /** A light with an area at a place; it shines along -z. */
  public SceneMaker areaLight(
      String path,
      Light.Type type,
      double radiance,
      double width,
      double height,
      double x,
      double y,
      double z) {
    int node = node(path, List.of(), x, y, z);
    lights.add(
        new Light(type, Rgb.WHITE.times((float) radiance), 0, 0, (float) width, (float) height));
    return light(path, node);
  }

  /** The same scene with another first light. */
  public static Scene withLight(Scene scene, Light light) {
    return new Scene(
        scene.file(),
        scene.nodes(),
        scene.entities(),
        scene.meshes(),
        scene.materials(),
        scene.images(),
        List.of(light),
        scene.cameras(),
        scene.time(),
        List.of());
  }

  /** A medium in a box of sides w, h, d about a place; everywhere if w is 0. */
  public SceneMaker medium(
      String path, Medium medium, double w, double h, double d, double x, double y, double z) {
    nodes.add(
        new Node(
            path,
            -1,
            new Node.Local(
                new float[] {(float) x, (float) y, (float) z},
                new float[] {0, 0, 0, 1},
                w == 0 ? new float[] {1, 1, 1} : new float[] {(float) w, (float) h, (float) d}),
            List.of()));
    media.add(medium);
    entities.add(
        new Entity(
            entities.size(),
            path,
            EntityKind.MEDIUM,
            nodes.size() - 1,
            media.size() - 1,
            List.of(),
            List.of(),
            false));
    return this;
  }

  /** An even medium. */
  public static Medium haze(double density, double albedo) {
    return new Medium(
        "haze",
        false,
        (float) density,
        Rgb.WHITE.times((float) albedo),
        0.3f,
        Rgb.BLACK,
        0,
        0,
        null);
  }

  /** Even medium of any extent. */
  public static Medium everywhere(double density, double albedo) {
    return new Medium(
        "air", true, (float) density, Rgb.WHITE.times((float) albedo), 0, Rgb.BLACK, 0, 0, null);
  }

  /** A medium whose density is noise. */
  public static Medium puff(double density, double albedo) {
    Medium.Puff puff = new Medium.Puff(5, 3, 0.2f, 1, 1, 0.2f, 1, 3);
    return new Medium(
        "puff", false, (float) density, Rgb.WHITE.times((float) albedo), 0, Rgb.BLACK, 0, 0, puff);
  }

  /** Changes the shape of the mesh that was added last. */
  public SceneMaker deform(Deformation deformation) {
    deformations.put(entities.size() - 1, deformation);
    return this;
  }

  /** A shift along x from one time to another. */
  public static List<Channel> slide(double from, double to, double seconds) {
    return List.of(
        new Channel(
            Channel.Target.TRANSLATION,
            Channel.Between.LINEAR,
            new float[] {0, (float) seconds},
            new float[] {(float) from, 0, 0, (float) to, 0, 0}));
  }

  /** A camera at a place that looks along -z. */
  public SceneMaker camera(double view, double x, double y, double z) {
    return camera(view, SceneCamera.Lens.PINHOLE, x, y, z);
  }

  /** A camera with a lens. */
  public SceneMaker camera(double view, SceneCamera.Lens lens, double x, double y, double z) {
    cameras.add(new SceneCamera("main", node("/camera", List.of(), x, y, z), (float) view, lens));
    return this;
  }

  /** A camera of any kind. */
  public SceneMaker camera(SceneCamera camera) {
    cameras.add(camera);
    return this;
  }

  /** A camera at a place that looks straight down, -z of the world up in the picture. */
  public SceneMaker cameraFromAbove(double view, double x, double y, double z) {
    float h = (float) Math.sqrt(0.5);
    nodes.add(
        new Node(
            "/camera",
            -1,
            new Node.Local(
                new float[] {(float) x, (float) y, (float) z},
                new float[] {-h, 0, 0, h},
                new float[] {1, 1, 1}),
            List.of()));
    cameras.add(new SceneCamera("main", nodes.size() - 1, (float) view));
    return this;
  }

  public Scene scene() {
    List<Entity> all = new ArrayList<>(entities);
    all.add(
        new Entity(
            all.size(),
            Scene.ENVIRONMENT_PATH,
            EntityKind.ENVIRONMENT,
            -1,
            0,
            List.of(),
            List.of(),
            false));
    return new Scene(
        Path.of("made-for-a-test.glb"),
        nodes,
        all,
        meshes,
        materials,
        images,
        lights,
        media,
        deformations,
        cameras,
        TimeRange.until(duration),
        List.of(),
        List.of());
  }

  /** Adds an image of one colour a pixel, {@code 0xrrggbb}, and returns how to use it. */
  public TextureRef image(int width, int... rgb) {
    byte[] rgba = new byte[4 * rgb.length];
    for (int p = 0; p < rgb.length; p++) {
      rgba[4 * p] = (byte) (rgb[p] >> 16);
      rgba[4 * p + 1] = (byte) (rgb[p] >> 8);
      rgba[4 * p + 2] = (byte) rgb[p];
      rgba[4 * p + 3] = (byte) 255;
    }
    images.add(new TextureImage("image", width, rgb.length / width, rgba));
    return new TextureRef(images.size() - 1, false, false);
  }

  // ---- shapes

  /** A flat square about the origin that faces +z, with the whole image on it, upright. */
  public static Mesh canvas(double half) {
    Mesh wall = wall(half, half);
    float[] uvs = {0, 1, 1, 1, 1, 0, 0, 0};
    return new Mesh(
        "canvas", wall.positions(), null, uvs, wall.indices(), wall.triangleMaterials());
  }

  /** A flat rectangle about the origin that faces up. */
  public static Mesh floor(double halfX, double halfZ) {
    float x = (float) halfX;
    float z = (float) halfZ;
    return flat(new float[] {-x, 0, z, x, 0, z, x, 0, -z, -x, 0, -z}, new int[] {0, 1, 2, 0, 2, 3});
  }

  /** A flat rectangle about the origin that faces +z. */
  public static Mesh wall(double halfX, double halfY) {
    float x = (float) halfX;
    float y = (float) halfY;
    return flat(new float[] {-x, -y, 0, x, -y, 0, x, y, 0, -x, y, 0}, new int[] {0, 1, 2, 0, 2, 3});
  }

  /** A rectangle whose edge is at x = 0 and that reaches to -x, in the plane y = 0. */
  public static Mesh halfPlane(double reach) {
    float r = (float) reach;
    return flat(new float[] {-r, 0, r, 0, 0, r, 0, 0, -r, -r, 0, -r}, new int[] {0, 1, 2, 0, 2, 3});
  }

  /** A disc about the origin that faces down. */
  public static Mesh disc(double radius, int segments) {
    float[] p = new float[3 * (segments + 1)];
    int[] indices = new int[3 * segments];
    // as wide as to have the disc's own area
    double r = radius * Math.sqrt(Math.PI / (segments * 0.5 * Math.sin(2 * Math.PI / segments)));
    for (int s = 0; s < segments; s++) {
      double a = 2 * Math.PI * s / segments;
      p[3 * s] = (float) (r * Math.cos(a));
      p[3 * s + 2] = (float) (r * Math.sin(a));
      indices[3 * s] = segments;
      indices[3 * s + 1] = s;
      indices[3 * s + 2] = (s + 1) % segments;
    }
    return flat(p, indices);
  }

  /** A box about the origin, seen from outside or inside alike. */
  public static Mesh box(double half) {
    float h = (float) half;
    float[] p = new float[24];
    for (int c = 0; c < 8; c++) {
      p[3 * c] = (c & 1) == 0 ? -h : h;
      p[3 * c + 1] = (c & 2) == 0 ? -h : h;
      p[3 * c + 2] = (c & 4) == 0 ? -h : h;
    }
    return flat(
        p,
        new int[] {
          0, 2, 1, 1, 2, 3, 4, 5, 6, 5, 7, 6, 0, 1, 4, 1, 5, 4, 2, 6, 3, 3, 6, 7, 0, 4, 2, 2, 4, 6,
          1, 3, 5, 3, 7, 5
        });
  }

  private static Mesh flat(float[] positions, int[] indices) {
    return new Mesh("shape", positions, null, null, indices, new int[indices.length / 3]);
  }

  /** A smooth sphere about the origin. */
  public static Mesh sphere(double radius, int rows) {
    int segments = 2 * rows;
    float[] p = new float[3 * (rows + 1) * (segments + 1)];
    float[] n = new float[p.length];
    int[] indices = new int[6 * rows * segments];
    int i = 0;
    for (int r = 0; r <= rows; r++) {
      for (int s = 0; s <= segments; s++, i += 3) {
        double polar = Math.PI * r / rows;
        double a = 2 * Math.PI * s / segments;
        n[i] = (float) (Math.sin(polar) * Math.cos(a));
        n[i + 1] = (float) Math.cos(polar);
        n[i + 2] = (float) (Math.sin(polar) * Math.sin(a));
        for (int c = 0; c < 3; c++) {
          p[i + c] = (float) (radius * n[i + c]);
        }
      }
    }
    i = 0;
    for (int r = 0; r < rows; r++) {
      for (int s = 0; s < segments; s++) {
        int a = r * (segments + 1) + s;
        int b = a + segments + 1;
        indices[i++] = a;
        indices[i++] = a + 1;
        indices[i++] = b;
        indices[i++] = b;
        indices[i++] = a + 1;
        indices[i++] = b + 1;
      }
    }
    return new Mesh("sphere", p, n, null, indices, new int[indices.length / 3]);
  }
}
