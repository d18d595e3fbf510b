package org.wedgecutter.core.scene.obj;

import de.javagl.obj.FloatTuple;
import de.javagl.obj.Mtl;
import de.javagl.obj.MtlReader;
import de.javagl.obj.Obj;
import de.javagl.obj.ObjData;
import de.javagl.obj.ObjFace;
import de.javagl.obj.ObjGroup;
import de.javagl.obj.ObjUtils;
import java.io.IOException;
import java.io.InputStream;
import java.io.InputStreamReader;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.IntFunction;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.image.TextureImage;
import org.wedgecutter.core.io.Budget;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.core.io.InputFile;
import org.wedgecutter.core.io.SafePath;
import org.wedgecutter.core.scene.Entity;
import org.wedgecutter.core.scene.EntityKind;
import org.wedgecutter.core.scene.Material;
import org.wedgecutter.core.scene.Mesh;
import org.wedgecutter.core.scene.Node;
import org.wedgecutter.core.scene.Rgb;
import org.wedgecutter.core.scene.Scene;
import org.wedgecutter.core.scene.SceneCamera;
import org.wedgecutter.core.scene.TextureRef;
import org.wedgecutter.core.scene.TimeRange;

/**
 * Reads Wavefront OBJ: polygons by object and group, each group of an object an entity below it,
 * and the materials of its MTL files. Lengths are metres, y is up. Phong's exponent becomes a
 * roughness of sqrt(2 / (Ns + 2)), to the power 1/2 for its perceptual form (B. Walter et al.,
 * 2007); {@code d} or {@code Tr} is cover, {@code Ke} emission, {@code map_Kd} the image of the
 * base colour, {@code Ni} the index of refraction; {@code illum} 4, 6, 7 and 9 make glass. The
 * format has no camera: one is added that sees everything from the front. What else the files hold
 * is listed.
 */
public final class ObjReader {
  private static final long MAX_MEBIBYTES = 1024;

  private final Path file;
  private final Path folder;
  private final Set<String> unsupported = new LinkedHashSet<>();
  private final List<Material> materials = new ArrayList<>();
  private final Budget budget;
  private final List<TextureImage> images = new ArrayList<>();
  private final Map<String, Integer> materialByName = new LinkedHashMap<>();
  private final Map<String, Integer> imageByName = new HashMap<>();

  private ObjReader(Path file, Path folder) {
    budget = Budget.of(file);
    this.file = file;
    this.folder = folder;
  }

  /**
   * Reads a file.
   *
   * @throws InputException with file, place and expectation if anything in it cannot be used
   */
  public static Scene read(Path file) throws InputException {
    Path folder = file.toAbsolutePath().normalize().getParent();
    if (folder == null) {
      throw new InputException(file, "", "not a file");
    }
    return new ObjReader(file, folder).scene();
  }

  private InputStream open(Path path) throws InputException {
    return InputFile.open(path, MAX_MEBIBYTES);
  }

  private Scene scene() throws InputException {
    Obj obj;
    try (InputStream in = open(file)) {
      Obj raw =
          de.javagl.obj.ObjReader.read(
              new ObjectLines(
                  new InputStreamReader(new ShortLines(in, file), StandardCharsets.UTF_8)));
      checkFaces(raw);
      obj = ObjUtils.triangulate(raw);
    } catch (InputException e) {
      throw e;
    } catch (IOException | RuntimeException e) {
      throw InputException.unreadable(file, "", "not readable as OBJ", e);
    }
    for (String library : obj.getMtlFileNames()) {
      materials(SafePath.inside(folder, library, file, "mtllib"));
    }
    materialByName.put("", materials.size());
    materials.add(Material.plain("default", new Rgb(0.8f, 0.8f, 0.8f)));
    List<Node> nodes = new ArrayList<>();
    List<Entity> entities = new ArrayList<>();
    List<Mesh> meshes = new ArrayList<>();
    float[] box = {
      Float.MAX_VALUE, Float.MAX_VALUE, Float.MAX_VALUE,
      -Float.MAX_VALUE, -Float.MAX_VALUE, -Float.MAX_VALUE
    };
    Map<ObjFace, Integer> painted = painted(obj);
    Set<String> paths = new LinkedHashSet<>();
    Map<String, Integer> placed = new HashMap<>();
    for (int g = 0; g < obj.getNumGroups(); g++) {
      ObjGroup group = obj.getGroup(g);
      if (group.getNumFaces() > 0) {
        Mesh mesh = mesh(obj, group, painted, box);
        String name = group.getName().replace('/', '_').replace(ObjectLines.SPACE, ' ');
        String stem = "/" + name.replace(ObjectLines.WITHIN, '/');
        String path = stem;
        for (int k = 2; !paths.add(path); k++) {
          path = stem + "~" + k;
        }
        int end = path.lastIndexOf('/');
        int parent = end > 0 ? node(path.substring(0, end), -1, nodes, placed) : -1;
        int node = node(path, parent, nodes, placed);
        Set<String> names = new LinkedHashSet<>();
        for (int m : mesh.triangleMaterials()) {
          names.add(materials.get(m).name());
        }
        entities.add(
            new Entity(
                entities.size(),
                path,
                EntityKind.MESH,
                node,
                meshes.size(),
                List.copyOf(names),
                List.of(),
                false));
        meshes.add(mesh);
      }
    }
    if (meshes.isEmpty()) {
      throw new InputException(file, "", "has no faces");
    }
    nodes.add(new Node("/camera", -1, before(box), List.of()));
    entities.add(Entity.environment(entities.size()));
    return new Scene(
        file,
        nodes,
        entities,
        meshes,
        materials,
        images,
        List.of(),
        List.of(new SceneCamera("front", nodes.size() - 1, (float) Math.toRadians(35))),
        TimeRange.until(0),
        List.copyOf(unsupported));
  }

  /** Returns the node of a path: an object may have faces of its own, and groups below it. */
  private static int node(String path, int parent, List<Node> nodes, Map<String, Integer> placed) {
    return placed.computeIfAbsent(
        path,
        p -> {
          nodes.add(new Node(p, parent, still(0, 0, 0), List.of()));
          return nodes.size() - 1;
        });
  }

  private void checkFaces(Obj obj) throws InputException {
    numbers("v", obj.getNumVertices(), 3, obj::getVertex);
    numbers("vn", obj.getNumNormals(), 3, obj::getNormal);
    numbers("vt", obj.getNumTexCoords(), 2, obj::getTexCoord);
    for (int f = 0; f < obj.getNumFaces(); f++) {
      ObjFace face = obj.getFace(f);
      for (int k = 0; k < face.getNumVertices(); k++) {
        boolean wrong =
            isBeyond(face.getVertexIndex(k), obj.getNumVertices())
                || (face.containsTexCoordIndices()
                    && isBeyond(face.getTexCoordIndex(k), obj.getNumTexCoords()))
                || (face.containsNormalIndices()
                    && isBeyond(face.getNormalIndex(k), obj.getNumNormals()));
        if (wrong) {
          throw new InputException(
              file, "face " + (f + 1), "an index is beyond what the file lists before it");
        }
      }
    }
  }

  private void numbers(String line, int count, int wanted, IntFunction<FloatTuple> tuples)
      throws InputException {
    for (int i = 0; i < count; i++) {
      FloatTuple tuple = tuples.apply(i);
      if (tuple.getDimensions() < wanted) {
        throw new InputException(
            file,
            "%s line %d".formatted(line, i + 1),
            "expected %d numbers, found %d".formatted(wanted, tuple.getDimensions()));
      }
    }
  }

  private static boolean isBeyond(int index, int count) {
    return index < 0 || index >= count;
  }

  private static Node.Local still(float x, float y, float z) {
    return new Node.Local(new float[] {x, y, z}, new float[] {0, 0, 0, 1}, new float[] {1, 1, 1});
  }

  /** A position from which a camera that looks along -z sees a box. */
  private static Node.Local before(float[] box) {
    float high = Math.max(box[4] - box[1], 0.6f * (box[3] - box[0]));
    float back = 0.6f * high / (float) Math.tan(Math.toRadians(17.5));
    return still((box[0] + box[3]) / 2, (box[1] + box[4]) / 2, box[5] + Math.max(1e-3f, back));
  }

  private Map<ObjFace, Integer> painted(Obj obj) {
    Map<ObjFace, Integer> out = new java.util.IdentityHashMap<>();
    for (int g = 0; g < obj.getNumMaterialGroups(); g++) {
      ObjGroup group = obj.getMaterialGroup(g);
      Integer material = materialByName.get(group.getName());
      if (material == null) {
        unsupported.add("material %s: no MTL file has it".formatted(group.getName()));
        material = materialByName.get("");
      }
      for (int f = 0; f < group.getNumFaces(); f++) {
        out.put(group.getFace(f), material);
      }
    }
    return out;
  }

  private Mesh mesh(Obj obj, ObjGroup group, Map<ObjFace, Integer> painted, float[] box)
      throws InputException {
    Obj part = ObjUtils.convertToRenderable(ObjUtils.groupToObj(obj, group, null));
    float[] positions = ObjData.getVerticesArray(part);
    for (int i = 0; i < positions.length; i++) {
      if (!Float.isFinite(positions[i])) {
        throw new InputException(
            file, "group " + group.getName(), "a vertex is not of finite numbers");
      }
      box[i % 3] = Math.min(box[i % 3], positions[i]);
      box[3 + i % 3] = Math.max(box[3 + i % 3], positions[i]);
    }
    float[] normals = part.getNumNormals() > 0 ? ObjData.getNormalsArray(part) : null;
    float[] uvs = part.getNumTexCoords() > 0 ? ObjData.getTexCoordsArray(part, 2, true) : null;
    int[] of = new int[group.getNumFaces()];
    Integer plain = materialByName.get("");
    for (int f = 0; f < of.length; f++) {
      Integer known = painted.get(group.getFace(f));
      of[f] = known == null ? java.util.Objects.requireNonNull(plain) : known;
    }
    return new Mesh(
        group.getName(), positions, normals, uvs, ObjData.getFaceVertexIndicesArray(part), of);
  }

  private void materials(Path library) throws InputException {
    List<Mtl> all;
    try (InputStream in = open(library)) {
      all = MtlReader.read(in);
    } catch (InputException e) {
      throw e;
    } catch (IOException | RuntimeException e) {
      throw InputException.unreadable(library, "", "not readable as MTL", e);
    }
    for (Mtl m : all) {
      materialByName.put(m.getName(), materials.size());
      materials.add(material(m, library));
    }
  }

  private Material material(Mtl m, Path library) throws InputException {
    Material.Draft out = new Material.Draft(m.getName(), rgb(m.getKd(), 0.8f));
    float shine = m.getNs() == null ? 0 : Math.max(0, m.getNs());
    out.roughness = (float) Math.pow(2 / (shine + 2), 0.25);
    out.specular(m.getKs() == null ? 1 : Math.min(1, 25 * rgb(m.getKs(), 0).max()));
    out.opacity = m.getD() == null ? 1 : Math.max(0, Math.min(1, m.getD()));
    if (m.getKe() != null) {
      out.emission = light(m.getKe());
    }
    float ior = m.getNi() == null ? 1.5f : Math.max(1, m.getNi());
    out.dielectric =
        new Material.Dielectric(
            out.dielectric.specular(), null, Rgb.WHITE, null, ior == 1 ? 1.5f : ior);
    int model = m.getIllum() == null ? 2 : m.getIllum();
    if (model == 4 || model == 6 || model == 7 || model == 9) {
      out.glass = new Material.Glass(1, null, true, Rgb.WHITE, Float.POSITIVE_INFINITY);
      out.opacity = 1;
    }
    String map = m.getMapKd();
    if (map != null && !map.isBlank()) {
      out.baseColorTexture = new TextureRef(image(map, library), true, true);
      out.baseColor = Rgb.WHITE;
    }
    return out.build();
  }

  private int image(String name, Path library) throws InputException {
    Integer known = imageByName.get(name);
    if (known != null) {
      return known;
    }
    Path path = SafePath.inside(folder, name.replace('\\', '/'), library, "map_Kd");
    try (InputStream in = open(path)) {
      budget.and(path);
      images.add(TextureImage.decode(in.readAllBytes(), name, path, "", budget));
    } catch (InputException e) {
      throw e;
    } catch (IOException e) {
      throw new InputException(path, "", "cannot be read: " + e.getMessage(), e);
    }
    imageByName.put(name, images.size() - 1);
    return images.size() - 1;
  }

  private static Rgb rgb(@Nullable FloatTuple t, float otherwise) {
    if (t == null) {
      return new Rgb(otherwise, otherwise, otherwise);
    }
    Rgb c = light(t);
    return new Rgb(Math.min(1, c.r()), Math.min(1, c.g()), Math.min(1, c.b()));
  }

  private static Rgb light(FloatTuple t) {
    return new Rgb(Math.max(0, t.getX()), Math.max(0, t.getY()), Math.max(0, t.getZ()));
  }
}
