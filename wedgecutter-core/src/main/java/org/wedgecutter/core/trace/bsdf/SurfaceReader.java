package org.wedgecutter.core.trace.bsdf;

import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.plan.BuiltInMaterial;
import org.wedgecutter.core.scene.Material;
import org.wedgecutter.core.scene.Mesh;
import org.wedgecutter.core.scene.Rgb;
import org.wedgecutter.core.scene.TextureRef;
import org.wedgecutter.core.trace.accel.Hit;
import org.wedgecutter.core.trace.accel.MeshTree;
import org.wedgecutter.core.trace.accel.Moment;
import org.wedgecutter.core.trace.accel.RayCaster;
import org.wedgecutter.core.trace.world.Appearance;
import org.wedgecutter.core.trace.world.Textures;
import org.wedgecutter.core.trace.world.World;

/**
 * Fills a {@link Surface} from a hit: position, normals, textures, lobes. Textures are averaged
 * over the width of the ray's cone where it meets the surface. One object serves one thread.
 */
public final class SurfaceReader {
  private final World world;
  private final Appearance appearance;
  private final Textures textures;
  private final float[] texel = new float[4];
  private final float[] corners = new float[9];
  private final Surface.Paint paint = new Surface.Paint();
  private final float[] normal = new float[3];
  private final float[] geometric = new float[3];
  private final float[] du = new float[3];
  private float u;
  private float v;
  private float footprint;
  private final Moment moment;

  /**
   * @param moment of this thread
   */
  public SurfaceReader(World world, Moment moment, Appearance appearance, Textures textures) {
    this.moment = moment;
    this.world = world;
    this.appearance = appearance;
    this.textures = textures;
  }

  /**
   * Fills a surface.
   *
   * @param ray the ray that met it
   * @param cone width of the ray's cone at the hit, metres
   * @param minAlpha least microfacet width
   */
  public void read(Hit hit, RayCaster ray, float cone, float minAlpha, Surface out) {
    int instance = hit.instance;
    MeshTree tree = moment.shape(instance);
    Mesh mesh = tree.mesh;
    int triangle = hit.triangle;
    moment.place(instance);
    tree.corners(triangle, moment.part(instance), corners);
    int number = mesh.triangleMaterials()[triangle];
    Material material = appearance.material(instance, number);
    out.entity = world.entity[instance];
    out.material = number;
    out.px = ray.ox + hit.t * ray.dx;
    out.py = ray.oy + hit.t * ray.dy;
    out.pz = ray.oz + hit.t * ray.dz;
    out.wx = -ray.dx;
    out.wy = -ray.dy;
    out.wz = -ray.dz;
    normals(hit, tree, triangle, instance, out);
    readUv(mesh, triangle, hit.u, hit.v);
    footprint = 0;
    boolean painted = mesh.uvs() != null;
    if (painted) {
      // half a pixel, and not stretched with the slant: the many samples of a pixel average the
      // rest
      footprint = 0.5f * cone * uvDensity(mesh, triangle, instance);
    }
    if (material.normalTexture() != null && painted) {
      bend(material, mesh, triangle, instance, out);
    }
    float facing = out.wx * normal[0] + out.wy * normal[1] + out.wz * normal[2];
    if (facing < 1e-3f) {
      // a bent normal that looks away from the viewer is tilted back to the horizon
      float lift = 1e-3f - facing;
      for (int c = 0; c < 3; c++) {
        float w = c == 0 ? out.wx : c == 1 ? out.wy : out.wz;
        normal[c] += lift * w;
      }
      normalise(normal);
    }
    out.frame(normal[0], normal[1], normal[2]);
    paint(material, mesh, triangle, hit, painted, out);
    out.lobes(paint, minAlpha);
  }

  /** Sets the texture coordinates of the hit that was read last. */
  public void uv(float[] out) {
    out[0] = u;
    out[1] = v;
  }

  /** Sets the light that a point of an emitting triangle emits. */
  public void emission(int instance, int triangle, float b, float c, float[] out) {
    Mesh mesh = world.tree[instance].mesh;
    Material material = appearance.material(instance, mesh.triangleMaterials()[triangle]);
    set(material.emission(), out);
    if (material.emissionTexture() != null && mesh.uvs() != null) {
      readUv(mesh, triangle, b, c);
      footprint = 1e-3f;
      multiply(material.emissionTexture(), true, out);
    }
  }

  /**
   * Makes a surface show numbers as light that it emits; it is black already.
   *
   * @param hit the hit that the surface was read at
   */
  public void show(BuiltInMaterial view, Hit hit, Surface out) {
    float[] e = out.emission;
    switch (view) {
      case DATA_NORMAL -> {
        e[0] = 0.5f + 0.5f * out.nx;
        e[1] = 0.5f + 0.5f * out.ny;
        e[2] = 0.5f + 0.5f * out.nz;
      }
      case DATA_POSITION -> {
        e[0] = out.px;
        e[1] = out.py;
        e[2] = out.pz;
      }
      case DATA_UV -> {
        e[0] = u;
        e[1] = v;
        e[2] = 0;
      }
      case DATA_DEPTH -> e[0] = e[1] = e[2] = hit.t;
      case DATA_ALBEDO -> {
        Mesh mesh = world.tree[hit.instance].mesh;
        int triangle = hit.triangle;
        Material before = appearance.before(mesh.triangleMaterials()[triangle]);
        set(before.baseColor(), e);
        if (mesh.uvs() != null) {
          multiply(before.baseColorTexture(), true, e);
        }
      }
      case CLAY, BLACK, WHITE -> {}
    }
  }

  private void normals(Hit hit, MeshTree tree, int triangle, int instance, Surface out) {
    Mesh mesh = tree.mesh;
    float[] k = corners;
    float x = k[4] * k[8] - k[5] * k[7];
    float y = k[5] * k[6] - k[3] * k[8];
    float z = k[3] * k[7] - k[4] * k[6];
    toWorldNormal(instance, x, y, z, geometric);
    float facing = out.wx * geometric[0] + out.wy * geometric[1] + out.wz * geometric[2];
    out.inside = facing < 0;
    float side = facing < 0 ? -1 : 1;
    out.gx = side * geometric[0];
    out.gy = side * geometric[1];
    out.gz = side * geometric[2];
    float[] n = mesh.normals();
    if (n == null) {
      normal[0] = out.gx;
      normal[1] = out.gy;
      normal[2] = out.gz;
      return;
    }
    int i0 = 3 * mesh.indices()[3 * triangle];
    int i1 = 3 * mesh.indices()[3 * triangle + 1];
    int i2 = 3 * mesh.indices()[3 * triangle + 2];
    float w = 1 - hit.u - hit.v;
    float nx = w * n[i0] + hit.u * n[i1] + hit.v * n[i2];
    float ny = w * n[i0 + 1] + hit.u * n[i1 + 1] + hit.v * n[i2 + 1];
    float nz = w * n[i0 + 2] + hit.u * n[i1 + 2] + hit.v * n[i2 + 2];
    if (tree.last != null && tree.last.normals() != null) {
      float[] e = tree.last.normals();
      float part = moment.part(instance);
      nx += part * (w * e[i0] + hit.u * e[i1] + hit.v * e[i2] - nx);
      ny += part * (w * e[i0 + 1] + hit.u * e[i1 + 1] + hit.v * e[i2 + 1] - ny);
      nz += part * (w * e[i0 + 2] + hit.u * e[i1 + 2] + hit.v * e[i2 + 2] - nz);
    }
    toWorldNormal(instance, nx, ny, nz, normal);
    float match = normal[0] * out.gx + normal[1] * out.gy + normal[2] * out.gz;
    if (match < 0) {
      for (int c = 0; c < 3; c++) {
        normal[c] = -normal[c];
      }
    }
  }

  /** Normals go by the transposed inverse. */
  private void toWorldNormal(int instance, float x, float y, float z, float[] out) {
    float[] m = moment.toObject;
    int r = 12 * instance;
    out[0] = m[r] * x + m[r + 4] * y + m[r + 8] * z;
    out[1] = m[r + 1] * x + m[r + 5] * y + m[r + 9] * z;
    out[2] = m[r + 2] * x + m[r + 6] * y + m[r + 10] * z;
    normalise(out);
  }

  private void readUv(Mesh mesh, int triangle, float b, float c) {
    float[] uvs = mesh.uvs();
    if (uvs == null) {
      u = v = 0;
      return;
    }
    int i0 = 2 * mesh.indices()[3 * triangle];
    int i1 = 2 * mesh.indices()[3 * triangle + 1];
    int i2 = 2 * mesh.indices()[3 * triangle + 2];
    float a = 1 - b - c;
    u = a * uvs[i0] + b * uvs[i1] + c * uvs[i2];
    v = a * uvs[i0 + 1] + b * uvs[i1 + 1] + c * uvs[i2 + 1];
  }

  /** Units of u or v per metre in the world: root of the ratio of the triangle's areas. */
  private float uvDensity(Mesh mesh, int triangle, int instance) {
    float[] uvs = java.util.Objects.requireNonNull(mesh.uvs());
    int i0 = 2 * mesh.indices()[3 * triangle];
    int i1 = 2 * mesh.indices()[3 * triangle + 1];
    int i2 = 2 * mesh.indices()[3 * triangle + 2];
    float uvArea =
        Math.abs(
            (uvs[i1] - uvs[i0]) * (uvs[i2 + 1] - uvs[i0 + 1])
                - (uvs[i2] - uvs[i0]) * (uvs[i1 + 1] - uvs[i0 + 1]));
    float[] e = edge;
    direction(instance, corners[3], corners[4], corners[5], e);
    direction(instance, corners[6], corners[7], corners[8], du);
    float x = e[1] * du[2] - e[2] * du[1];
    float y = e[2] * du[0] - e[0] * du[2];
    float z = e[0] * du[1] - e[1] * du[0];
    float area = (float) Math.sqrt(x * x + y * y + z * z);
    return (float) Math.sqrt(uvArea / Math.max(area, 1e-20f));
  }

  private final float[] edge = new float[3];

  private void direction(int instance, float x, float y, float z, float[] out) {
    float[] m = moment.toWorld;
    int r = 12 * instance;
    out[0] = m[r] * x + m[r + 1] * y + m[r + 2] * z;
    out[1] = m[r + 4] * x + m[r + 5] * y + m[r + 6] * z;
    out[2] = m[r + 8] * x + m[r + 9] * y + m[r + 10] * z;
  }

  /** Tilts the normal by the normal texture, in the tangent frame of the texture's own axes. */
  private void bend(Material material, Mesh mesh, int triangle, int instance, Surface out) {
    float[] uvs = java.util.Objects.requireNonNull(mesh.uvs());
    int i0 = 2 * mesh.indices()[3 * triangle];
    int i1 = 2 * mesh.indices()[3 * triangle + 1];
    int i2 = 2 * mesh.indices()[3 * triangle + 2];
    float u1 = uvs[i1] - uvs[i0];
    float v1 = uvs[i1 + 1] - uvs[i0 + 1];
    float u2 = uvs[i2] - uvs[i0];
    float v2 = uvs[i2 + 1] - uvs[i0 + 1];
    float det = u1 * v2 - u2 * v1;
    if (Math.abs(det) < 1e-20f) {
      return;
    }
    direction(
        instance,
        (corners[3] * v2 - corners[6] * v1) / det,
        (corners[4] * v2 - corners[7] * v1) / det,
        (corners[5] * v2 - corners[8] * v1) / det,
        du);
    float along = du[0] * normal[0] + du[1] * normal[1] + du[2] * normal[2];
    for (int c = 0; c < 3; c++) {
      du[c] -= along * normal[c];
    }
    normalise(du);
    // the second tangent is the image's upward direction: v runs downwards, so a texture that is
    // not
    // mirrored has a negative determinant
    float hand = det < 0 ? 1 : -1;
    float bx = hand * (normal[1] * du[2] - normal[2] * du[1]);
    float by = hand * (normal[2] * du[0] - normal[0] * du[2]);
    float bz = hand * (normal[0] * du[1] - normal[1] * du[0]);
    read(java.util.Objects.requireNonNull(material.normalTexture()), false);
    float x = (2 * texel[0] - 1) * material.normalScale();
    float y = (2 * texel[1] - 1) * material.normalScale();
    float z = 2 * texel[2] - 1;
    // red tilts to the image's right, green to its top
    normal[0] = x * du[0] + y * bx + z * normal[0];
    normal[1] = x * du[1] + y * by + z * normal[1];
    normal[2] = x * du[2] + y * bz + z * normal[2];
    normalise(normal);
    if (normal[0] * out.gx + normal[1] * out.gy + normal[2] * out.gz < 0) {
      normal[0] = out.gx;
      normal[1] = out.gy;
      normal[2] = out.gz;
    }
  }

  private void paint(
      Material material, Mesh mesh, int triangle, Hit hit, boolean painted, Surface out) {
    Surface.Paint p = paint;
    set(material.baseColor(), p.base);
    out.opacity = material.isPartlyTransparent() ? cover(material, mesh, triangle, hit) : 1;
    float[] colors = mesh.colors();
    if (colors != null) {
      vertexColor(mesh, colors, triangle, hit);
      for (int c = 0; c < 3; c++) {
        p.base[c] *= texel[c];
      }
    }
    p.metallic = material.metallic();
    p.roughness = material.roughness();
    p.unlit = material.unlit();
    p.transmission = material.glass().transmission();
    p.thick = material.glass().thick();
    p.ior = material.dielectric().ior();
    p.specularity = material.dielectric().specular();
    p.reflectance = material.dielectric().reflectance();
    p.coat = material.coat().strength();
    p.coatRoughness = material.coat().roughness();
    p.sheenRoughness = material.sheen().roughness();
    set(material.dielectric().color(), p.specularColor);
    set(material.sheen().color(), p.sheenColor);
    set(material.emission(), out.emission);
    if (painted) {
      multiply(material.baseColorTexture(), true, p.base);
      if (material.metallicRoughnessTexture() != null) {
        read(material.metallicRoughnessTexture(), false);
        p.roughness *= texel[1];
        p.metallic *= texel[2];
      }
      if (material.emits()) {
        multiply(material.emissionTexture(), true, out.emission);
      }
      rarer(material, p);
    }
    absorb(material.glass(), p.absorption);
    System.arraycopy(p.base, 0, out.albedo, 0, 3);
  }

  private void rarer(Material material, Surface.Paint p) {
    multiply(material.dielectric().colorTexture(), true, p.specularColor);
    multiply(material.sheen().colorTexture(), true, p.sheenColor);
    p.specularity *= part(material.dielectric().specularTexture(), 3);
    p.transmission *= part(material.glass().transmissionTexture(), 0);
    p.coat *= part(material.coat().strengthTexture(), 0);
    p.coatRoughness *= part(material.coat().roughnessTexture(), 1);
  }

  private float part(@Nullable TextureRef ref, int channel) {
    if (ref == null) {
      return 1;
    }
    read(ref, false);
    return texel[channel];
  }

  /** The law of Beer and Lambert: what is left after a distance is the attenuation colour. */
  private static void absorb(Material.Glass glass, float[] out) {
    boolean clear = glass.transmission() == 0 || Float.isInfinite(glass.distance());
    Rgb a = glass.attenuation();
    out[0] = clear ? 0 : (float) -Math.log(Math.max(1e-6f, a.r())) / glass.distance();
    out[1] = clear ? 0 : (float) -Math.log(Math.max(1e-6f, a.g())) / glass.distance();
    out[2] = clear ? 0 : (float) -Math.log(Math.max(1e-6f, a.b())) / glass.distance();
  }

  private float cover(Material material, Mesh mesh, int triangle, Hit hit) {
    float cover = material.opacity();
    if (material.fades()) {
      if (material.baseColorTexture() != null && mesh.uvs() != null) {
        read(material.baseColorTexture(), true);
        cover *= texel[3];
      }
      if (mesh.colors() != null) {
        vertexColor(mesh, mesh.colors(), triangle, hit);
        cover *= texel[3];
      }
    }
    return material.cutoff() > 0 ? (cover < material.cutoff() ? 0 : 1) : cover;
  }

  private void vertexColor(Mesh mesh, float[] colors, int triangle, Hit hit) {
    int i0 = 4 * mesh.indices()[3 * triangle];
    int i1 = 4 * mesh.indices()[3 * triangle + 1];
    int i2 = 4 * mesh.indices()[3 * triangle + 2];
    float w = 1 - hit.u - hit.v;
    for (int c = 0; c < 4; c++) {
      texel[c] = w * colors[i0 + c] + hit.u * colors[i1 + c] + hit.v * colors[i2 + c];
    }
  }

  private void multiply(@Nullable TextureRef ref, boolean srgb, float[] by) {
    if (ref == null) {
      return;
    }
    read(ref, srgb);
    by[0] *= texel[0];
    by[1] *= texel[1];
    by[2] *= texel[2];
  }

  private void read(TextureRef ref, boolean srgb) {
    float x = u;
    float y = v;
    float width = footprint;
    TextureRef.Placing placing = ref.placing();
    if (placing != null) {
      x = placing.uu() * u + placing.uv() * v + placing.u();
      y = placing.vu() * u + placing.vv() * v + placing.v();
      width *= (float) Math.sqrt(placing.growth());
    }
    textures.get(ref.image(), srgb).sample(x, y, width, ref.repeatU(), ref.repeatV(), texel);
  }

  private static void set(Rgb from, float[] to) {
    to[0] = from.r();
    to[1] = from.g();
    to[2] = from.b();
  }

  private static void normalise(float[] v) {
    float length = (float) Math.sqrt(v[0] * v[0] + v[1] * v[1] + v[2] * v[2]);
    float inv = length > 0 ? 1 / length : 0;
    v[0] *= inv;
    v[1] *= inv;
    v[2] *= inv;
  }
}
