package org.wedgecutter.core.trace;

import static org.wedgecutter.core.pass.LightPass.DIFFUSE_BOUNCED;
import static org.wedgecutter.core.pass.LightPass.DIFFUSE_BY_CASTERS;
import static org.wedgecutter.core.pass.LightPass.DIFFUSE_ENVIRONMENT;
import static org.wedgecutter.core.pass.LightPass.DIFFUSE_LIGHTS;
import static org.wedgecutter.core.pass.LightPass.EMISSION;
import static org.wedgecutter.core.pass.LightPass.SPECULAR_DIRECT;
import static org.wedgecutter.core.pass.LightPass.SPECULAR_INDIRECT;

import java.util.Arrays;
import org.wedgecutter.core.pass.LightPass;
import org.wedgecutter.core.resolve.Reach;
import org.wedgecutter.core.resolve.TransportClass;

/**
 * Follows camera samples of one job: the camera segment of each, and the light that leaves what it
 * meets.
 *
 * <p><b>The camera segment.</b> The ray goes straight on and meets entities in order. Each view
 * keeps what throughput is left to it; an entity that the view skips takes nothing from it and
 * leaves no fragment. Shading happens once for all views, and only if one of them wants it. Random
 * numbers of the shading depend on seed, pixel and sample alone, not on what was passed before, so
 * that every view gets the same light.
 *
 * <p><b>Transport.</b> A path tracer with next-event estimation: at the first surface one sample
 * for every emitter (for few emitters), later one emitter picked by its strength; one direction
 * sampled from the diffuse or the specular lobe; both ways of finding an emitter weighted by the
 * power heuristic. The two lobes are estimated separately, because entities may be visible to one
 * and not to the other. Russian roulette from the third bounce.
 *
 * <p>Sources: J. Kajiya, "The Rendering Equation", 1986; E. Veach, "Robust Monte Carlo Methods for
 * Light Transport Simulation", 1997 (multiple importance sampling, russian roulette).
 *
 * <p>One object serves one thread; nothing is allocated per sample.
 */
final class PathTracer {
  /** Bit of an instance's mask: some view of the job does not skip it. */
  static final int CAMERA = 16;

  private static final int MAX_ALL_EMITTERS = 8;
  private static final int ROULETTE_FROM = 3;

  // pairs of random dimensions: the pixel's, one block a bounce, one a light of the first surface
  private static final int PIXEL_PAIR = 0;
  private static final int FIRST_LIGHT_PAIR = 1000;
  private static final int PAIRS_PER_BOUNCE = 8;
  private static final int LOBE_PAIR = 1;
  private static final int DIRECTION_PAIR = 2;
  private static final int PICK_PAIR = 3;
  private static final int LIGHT_PAIR = 4;

  private final FrameWorld frame;
  private final World world;
  private final Emitters emitters;
  private final TransportClass transport;
  private final byte[] masks;
  private final boolean[][] skipped;
  private final boolean[][] wanted;
  private final boolean[] caster;
  private final CameraRays camera;
  private final Caster ray;
  private final Caster shadow;
  private final Sampler random = new Sampler();
  private final SurfaceReader reader;
  private final LightSampler lights;
  private final Surface surface = new Surface();
  private final Hit hit = new Hit();
  private final Hit pathHit = new Hit();
  private final Hit scratch = new Hit();
  private final float[] left;
  private final float[] light = new float[LightPass.NUMBERS];
  private final float[] sky = new float[3];
  private final float[] through = new float[3];

  PathTracer(FrameWorld frame, TraceJob job, CameraRays camera) {
    this.frame = frame;
    this.camera = camera;
    world = frame.world();
    emitters = frame.emitters();
    transport = job.transport();
    ray = new Caster(world);
    shadow = new Caster(world);
    reader = new SurfaceReader(frame);
    lights = new LightSampler(frame, reader);
    int entities = world.scene.entities().size();
    caster = job.casters().toArray(entities);
    int views = job.views().size();
    skipped = new boolean[views][];
    wanted = new boolean[views][];
    left = new float[views];
    for (int v = 0; v < views; v++) {
      skipped[v] = job.views().get(v).skipped().toArray(entities);
      wanted[v] = job.views().get(v).wanted().toArray(entities);
    }
    masks = new byte[world.instances];
    for (int i = 0; i < masks.length; i++) {
      int entity = world.entity[i];
      boolean met = false;
      for (int v = 0; v < views; v++) {
        met |= !skipped[v][entity];
      }
      int bits = transport.reach(entity) & (Reach.REFLECTION | Reach.BOUNCE | Reach.SHADOW);
      masks[i] = (byte) (bits | (met ? CAMERA : 0));
    }
  }

  /** Rays cast so far. */
  long rays() {
    return ray.rays + shadow.rays;
  }

  /** Follows one camera sample; its fragments go to the sink under the tile's pixel number. */
  void sample(int x, int y, int sample, int pixel, FragmentSink sink) {
    random.start(transport.settings().seed(), x, y, sample);
    random.pair(PIXEL_PAIR);
    camera.aim(x, y, random.u, random.v, ray);
    float ox = ray.ox;
    float oy = ray.oy;
    float oz = ray.oz;
    float dx = ray.dx;
    float dy = ray.dy;
    float dz = ray.dz;
    Arrays.fill(left, 1);
    ray.nearest(masks, CAMERA, hit);
    while (true) {
      int entity = hit.found() ? world.entity[hit.instance] : transport.entities() - 1;
      if (anyWants(entity)) {
        Arrays.fill(light, 0);
        if (hit.found()) {
          shade();
        } else {
          environmentSeen();
        }
        for (int v = 0; v < left.length; v++) {
          if (left[v] > 0 && !skipped[v][entity] && wanted[v][entity]) {
            sink.fragment(v, pixel, entity, left[v], light, 1);
          }
        }
      }
      boolean open = false;
      for (int v = 0; v < left.length; v++) {
        if (!skipped[v][entity]) {
          left[v] = 0;
        }
        open |= left[v] > 0;
      }
      if (!open || !hit.found()) {
        return;
      }
      ray.ray(ox, oy, oz, dx, dy, dz);
      ray.next(masks, CAMERA, hit);
    }
  }

  private boolean anyWants(int entity) {
    for (int v = 0; v < left.length; v++) {
      if (left[v] > 0 && !skipped[v][entity] && wanted[v][entity]) {
        return true;
      }
    }
    return false;
  }

  private void environmentSeen() {
    frame.environment().radiance(ray.dx, ray.dy, ray.dz, sky);
    System.arraycopy(sky, 0, light, EMISSION.at(), 3);
  }

  /** Adds up the light that leaves the hit of the camera ray towards the camera. */
  private void shade() {
    float cone = hit.t * camera.spread();
    reader.read(hit, ray, cone, 0, surface);
    var view = frame.appearance().dataView(hit.instance);
    if (view != null) {
      reader.show(view, hit, surface);
    }
    instance = hit.instance;
    takeLight();
    System.arraycopy(surface.emission, 0, light, EMISSION.at(), 3);
    through[0] = through[1] = through[2] = 1;
    int count = emitters.all.size();
    if (count <= MAX_ALL_EMITTERS) {
      for (int e = 0; e < count; e++) {
        random.pair(FIRST_LIGHT_PAIR + e);
        direct(e, 1, true);
      }
    } else {
      directFromOne(0, true);
    }
    path(cone);
  }

  private void path(float cone) {
    boolean firstDiffuse = false;
    boolean byCaster = false;
    float minAlpha = 0;
    int bounces = transport.settings().bounces();
    for (int bounce = 1; ; bounce++) {
      int pairs = PAIRS_PER_BOUNCE * bounce;
      random.pair(pairs + LOBE_PAIR);
      boolean specular = random.u < surface.specularChance;
      float lobe = specular ? surface.specularChance : 1 - surface.specularChance;
      if (!survives(bounce)) {
        return;
      }
      boolean byLights = lightsOnly;
      random.pair(pairs + DIRECTION_PAIR);
      boolean goes =
          specular
              ? surface.sampleSpecular(random.u, random.v)
              : surface.sampleDiffuse(random.u, random.v);
      if (!goes) {
        return;
      }
      for (int c = 0; c < 3; c++) {
        through[c] *= surface.value[c] / (surface.pdf * lobe);
      }
      float density = surface.pdf * lobe;
      int bit = specular ? Reach.REFLECTION : Reach.BOUNCE;
      if (bounce == 1) {
        firstDiffuse = !specular;
      }
      if (!specular) {
        minAlpha = transport.settings().soften();
      }
      leave(ray, surface.ix, surface.iy, surface.iz);
      ray.nearest(masks, bit, pathHit);
      boolean every = bounce == 1 && emitters.all.size() <= MAX_ALL_EMITTERS;
      if (!pathHit.found()) {
        if (!byLights) {
          environmentMet(bit, density, bounce, firstDiffuse, byCaster, every);
        }
        return;
      }
      // the cone opens with the lobe's width: enough to read blurred textures after rough bounces
      cone += pathHit.t * (specular ? 0.5f * surface.alpha + 1e-3f : 0.5f);
      reader.read(pathHit, ray, cone, minAlpha, surface);
      int entity = surface.entity;
      if (bounce == 1) {
        byCaster = firstDiffuse && caster[entity];
      }
      instance = pathHit.instance;
      takeLight();
      if (!byLights) {
        emitterMet(density, bounce, firstDiffuse, byCaster, every);
      }
      if (bounce > bounces) {
        return;
      }
      target(false, bounce + 1, firstDiffuse, byCaster);
      directFromOne(pairs, false);
    }
  }

  private boolean survives(int bounce) {
    if (bounce <= ROULETTE_FROM) {
      return true;
    }
    float most = Math.max(through[0], Math.max(through[1], through[2]));
    float chance = Math.max(0.05f, Math.min(1, most));
    if (random.v >= chance) {
      return false;
    }
    for (int c = 0; c < 3; c++) {
      through[c] /= chance;
    }
    return true;
  }

  /** Sets out from the surface, moved off it to the side of the direction. */
  private void leave(Caster caster, float x, float y, float z) {
    Surface s = surface;
    float largest = Math.max(Math.abs(s.px), Math.max(Math.abs(s.py), Math.abs(s.pz)));
    float away = 2e-5f + 4e-6f * largest;
    caster.ray(s.px + away * s.gx, s.py + away * s.gy, s.pz + away * s.gz, x, y, z);
  }

  // ---- emitters met by a sampled direction

  private void environmentMet(
      int bit, float density, int bounce, boolean firstDiffuse, boolean byCaster, boolean every) {
    int reach = transport.reach(transport.entities() - 1);
    if (emitters.surround < 0 || (reach & bit) == 0 || (reach & Reach.SHINES) == 0) {
      return;
    }
    frame.environment().radiance(ray.dx, ray.dy, ray.dz, sky);
    float other = frame.environment().pdf(ray.dx, ray.dy, ray.dz);
    float weight = power(density, other * (every ? 1 : emitters.chance[emitters.surround]));
    target(true, bounce, firstDiffuse, byCaster);
    add(sky, weight, bounce);
  }

  private void emitterMet(
      float density, int bounce, boolean firstDiffuse, boolean byCaster, boolean every) {
    int number = emitters.ofInstance[pathHit.instance];
    if (number < 0
        || surface.emission[0] + surface.emission[1] + surface.emission[2] <= 0
        || (transport.reach(surface.entity) & Reach.SHINES) == 0) {
      return;
    }
    Emitters.Area area = (Emitters.Area) emitters.all.get(number);
    float cos = Math.abs(ray.dx * surface.gx + ray.dy * surface.gy + ray.dz * surface.gz);
    float other = pathHit.t * pathHit.t / (Math.max(1e-6f, cos) * area.area());
    float weight = power(density, other * (every ? 1 : emitters.chance[number]));
    target(false, bounce, firstDiffuse, byCaster);
    add(surface.emission, weight, bounce);
  }

  private int diffuseTarget;
  private int specularTarget;

  /**
   * Chooses where light that comes in at a bounce is counted: at the first bounce it is direct,
   * later indirect, by the lobe of the first surface.
   */
  private void target(boolean surround, int bounce, boolean firstDiffuse, boolean byCaster) {
    int at;
    if (bounce == 1) {
      at =
          !firstDiffuse
              ? SPECULAR_DIRECT.at()
              : surround ? DIFFUSE_ENVIRONMENT.at() : DIFFUSE_LIGHTS.at();
    } else {
      at =
          !firstDiffuse
              ? SPECULAR_INDIRECT.at()
              : byCaster ? DIFFUSE_BY_CASTERS.at() : DIFFUSE_BOUNCED.at();
    }
    diffuseTarget = at;
    specularTarget = at;
  }

  private void add(float[] radiance, float weight, int bounce) {
    float r = through[0] * radiance[0] * weight;
    float g = through[1] * radiance[1] * weight;
    float b = through[2] * radiance[2] * weight;
    put(diffuseTarget, r, g, b, bounce > 1);
  }

  private void put(int at, float r, float g, float b, boolean indirect) {
    float clamp = transport.settings().clamp();
    float most = Math.max(r, Math.max(g, b));
    float scale = indirect && clamp > 0 && most > clamp ? clamp / most : 1;
    light[at] += r * scale;
    light[at + 1] += g * scale;
    light[at + 2] += b * scale;
  }

  // ---- emitters picked

  private void directFromOne(int pairs, boolean first) {
    if (emitters.all.isEmpty()) {
      return;
    }
    random.pair(pairs + PICK_PAIR);
    int number = 0;
    while (number < emitters.cdf.length - 1 && random.u >= emitters.cdf[number]) {
      number++;
    }
    random.pair(pairs + LIGHT_PAIR);
    direct(number, emitters.chance[number], first);
  }

  /** Adds the light of one emitter at the surface, by one point on it. */
  private void direct(int number, float chance, boolean first) {
    Emitters.Emitter emitter = emitters.all.get(number);
    int reach = transport.reach(emitter.entity());
    if ((reach & Reach.SHINES) == 0
        || !lights.sample(emitter, surface, random.u, random.v)
        || lights.x * surface.gx + lights.y * surface.gy + lights.z * surface.gz <= 0) {
      return;
    }
    boolean surround = emitter instanceof Emitters.Surround;
    if (first) {
      diffuseTarget = surround ? DIFFUSE_ENVIRONMENT.at() : DIFFUSE_LIGHTS.at();
      specularTarget = SPECULAR_DIRECT.at();
    }
    boolean known = false;
    if (surface.hasDiffuse && (reach & Reach.BOUNCE) != 0) {
      surface.evaluateDiffuse(lights.x, lights.y, lights.z);
      if (surface.pdf > 0) {
        if (isBlocked()) {
          return;
        }
        known = true;
        addDirect(diffuseTarget, (1 - surface.specularChance) * surface.pdf, chance, !first);
      }
    }
    if (surface.hasSpecular && (reach & Reach.REFLECTION) != 0) {
      surface.evaluateSpecular(lights.x, lights.y, lights.z);
      if (surface.pdf > 0 && (known || !isBlocked())) {
        addDirect(specularTarget, surface.specularChance * surface.pdf, chance, !first);
      }
    }
  }

  /** Instance of the surface that takes light now. */
  private int instance;

  /**
   * Whether the surface takes its direct light from picked points alone: where it does not feel all
   * shadows, a direction that meets a blocker says nothing about the light behind it.
   */
  private boolean lightsOnly;

  private void takeLight() {
    lightsOnly =
        (transport.reach(surface.entity) & (Reach.LIT_THROUGH | Reach.NO_SELF_SHADOW)) != 0;
  }

  private boolean isBlocked() {
    if (lightsOnly && (transport.reach(surface.entity) & Reach.LIT_THROUGH) != 0) {
      return false;
    }
    leave(shadow, lights.x, lights.y, lights.z);
    if (!lightsOnly) {
      return shadow.blocked(masks, Reach.SHADOW, lights.distance, scratch);
    }
    byte own = masks[instance];
    masks[instance] = (byte) (own & ~Reach.SHADOW);
    boolean blocked = shadow.blocked(masks, Reach.SHADOW, lights.distance, scratch);
    masks[instance] = own;
    return blocked;
  }

  private void addDirect(int at, float lobeDensity, float chance, boolean indirect) {
    float density = lights.pdf * chance;
    float weight =
        lights.point
            ? 1 / chance
            : lightsOnly ? 1 / density : power(density, lobeDensity) / density;
    put(
        at,
        through[0] * surface.value[0] * lights.radiance[0] * weight,
        through[1] * surface.value[1] * lights.radiance[1] * weight,
        through[2] * surface.value[2] * lights.radiance[2] * weight,
        indirect);
  }

  private static float power(float a, float b) {
    float ratio = b / a;
    return 1 / (1 + ratio * ratio);
  }
}
