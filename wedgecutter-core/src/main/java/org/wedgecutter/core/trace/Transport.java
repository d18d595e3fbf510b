package org.wedgecutter.core.trace;

import java.util.Arrays;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.pass.LightPass;
import org.wedgecutter.core.plan.Bounces;
import org.wedgecutter.core.resolve.Reach;
import org.wedgecutter.core.resolve.TransportClass;
import org.wedgecutter.core.scene.Rgb;

/**
 * The light that leaves what a camera sample meets: everything beyond the camera segment.
 *
 * <p>A path tracer with next-event estimation: at the first surface one sample for every emitter
 * (for few emitters), later one emitter picked by its strength; one direction sampled from one kind
 * of lobe, or from a medium's phase function; both ways of finding an emitter weighted by the power
 * heuristic. Kinds of lobes are estimated separately, because entities may be visible to one and
 * not to the other. What has gaps is met or passed by chance; light inside glass is found by
 * refracted rays alone. Russian roulette from the third bounce.
 *
 * <p>Random numbers depend on seed, pixel, sample and the path's own steps alone, not on what was
 * passed before on the camera segment.
 *
 * <p>Sources: J. Kajiya, "The Rendering Equation", 1986; E. Veach, "Robust Monte Carlo Methods for
 * Light Transport Simulation", 1997 (multiple importance sampling, russian roulette).
 *
 * <p>One object serves one thread; nothing is allocated per sample.
 */
final class Transport {
  private static final int MAX_ALL_EMITTERS = 8;
  private static final int ROULETTE_FROM = 3;

  // pairs of random dimensions: one block a bounce, one a light of the first surface
  private static final int FIRST_LIGHT_PAIR = 1000;
  private static final int PAIRS_PER_BOUNCE = 8;
  private static final int LOBE_PAIR = 1;
  private static final int DIRECTION_PAIR = 2;
  private static final int PICK_PAIR = 3;
  private static final int LIGHT_PAIR = 4;
  private static final int EXTRA_PAIR = 5;

  /** Apart from blocks of pairs of surfaces: each medium's camera fragment has its own. */
  private static final int MEDIUM_BLOCK = 100_000;

  private static final int MEDIUM = 3;
  private static final int[] BITS = {
    Reach.BOUNCE, Reach.REFLECTION, Reach.TRANSMISSION, Reach.BOUNCE
  };

  private final FrameWorld frame;
  private final World world;
  private final Emitters emitters;
  private final TransportClass transport;
  private final Bounces bounces;
  private final LightSplit split;
  private final int[] groupOf;
  private final byte[] masks;
  private final boolean[] clear;
  private final boolean[] caster;
  private final @Nullable Rgb[] returned;
  private final Caster ray;
  private final Sampler random;
  private final SurfaceReader reader;
  private final LightSampler lights;
  private final MediaSampler media;
  private final Visibility visibility;
  private final boolean[][] feels = new boolean[4][];
  private final boolean[] anyFelt = new boolean[4];
  private final Hit hit = new Hit();
  private final float[] sky = new float[3];
  private final float[] through = new float[3];
  private final float[] absorption = new float[3];

  /** Where light is added. */
  private final float[] light;

  /** Lights that were blocked and ways that light took, or null. */
  private final @Nullable Interplay interplay;

  /** The surface of the vertex that light leaves. */
  final Surface surface = new Surface();

  private int instance;
  private boolean inMedium;
  private int mediumNumber;
  private float mx;
  private float my;
  private float mz;
  private float travelX;
  private float travelY;
  private float travelZ;

  private int base;
  private int firstEntity;
  private int firstKind;
  private boolean byCaster;

  Transport(
      FrameWorld frame,
      TraceJob job,
      byte[] masks,
      boolean[] clear,
      Sampler random,
      float[] light,
      @Nullable Interplay interplay) {
    this.frame = frame;
    this.random = random;
    this.light = light;
    this.masks = masks;
    this.clear = clear;
    this.interplay = interplay;
    world = frame.world();
    emitters = frame.emitters();
    transport = job.transport();
    bounces = transport.settings().bounces();
    split = job.split();
    int entities = world.scene.entities().size();
    groupOf = new int[entities];
    Arrays.setAll(groupOf, split::group);
    caster = job.casters().toArray(entities);
    returned = new Rgb[world.instances];
    for (int i = 0; i < returned.length; i++) {
      returned[i] = frame.appearance().returned(i);
    }
    ray = new Caster(world);
    reader = new SurfaceReader(frame);
    lights = new LightSampler(frame, reader);
    media = new MediaSampler(frame.matter(), random);
    visibility = new Visibility(frame, transport, masks, media, reader);
    for (int k = 0; k < 4; k++) {
      feels[k] = new boolean[media.matter.length];
      for (int m = 0; m < feels[k].length; m++) {
        feels[k][m] = (transport.reach(media.matter[m].entity) & BITS[k]) != 0;
        anyFelt[k] |= feels[k][m];
      }
    }
  }

  long rays() {
    return ray.rays + visibility.rays();
  }

  void moment(int moment) {
    ray.moment = moment;
    lights.moment = moment;
    visibility.moment(moment);
  }

  SurfaceReader reader() {
    return reader;
  }

  /** Adds up the light that leaves {@link #surface} towards the eye, but for its own. */
  void leaving(int ofInstance, float cone) {
    base = 0;
    inMedium = false;
    instance = ofInstance;
    firstEntity = surface.entity;
    through[0] = through[1] = through[2] = 1;
    if (split.occlusion() > 0) {
      occlusion();
    }
    if (surface.chance[0] + surface.chance[1] + surface.chance[2] <= 0) {
      return;
    }
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

  /**
   * Picks the emitter whose light a medium's fragment gathers and returns its number, or -1.
   *
   * @param number of the medium
   */
  int pickFor(int number) {
    if (emitters.all.isEmpty()) {
      return -1;
    }
    // near an emitter only its own light counts, however weak it is elsewhere: all alike
    random.pair(MEDIUM_BLOCK * (number + 1) + PICK_PAIR);
    return Math.min(emitters.all.size() - 1, (int) (random.u * emitters.all.size()));
  }

  /** Sets the place that an emitter shines from; says whether there is one. */
  boolean place(int emitter, float[] out) {
    if (emitter < 0) {
      return false;
    }
    return switch (emitters.all.get(emitter)) {
      case Emitters.Shining s -> {
        float[] m = s.placing()[ray.moment];
        out[0] = m[3];
        out[1] = m[7];
        out[2] = m[11];
        yield s.light().type() != org.wedgecutter.core.scene.Light.Type.DIRECTIONAL;
      }
      case Emitters.Area a -> {
        Emitters.corners(world, a.instance(), a.triangles()[a.pick(0.5f)], ray.moment, corners);
        System.arraycopy(corners, 0, out, 0, 3);
        yield true;
      }
      case Emitters.Surround s -> false;
    };
  }

  private final float[] corners = new float[9];

  /**
   * Adds up the light that a medium scatters to the eye at a place of a camera ray.
   *
   * @param number of the medium
   * @param eye the camera ray
   * @param at distance along it
   * @param weight of what is gathered there
   * @param emitter whose light is gathered, or -1
   */
  void scattered(int number, Caster eye, float at, float weight, int emitter, float cone) {
    Matter matter = media.matter[number];
    base = MEDIUM_BLOCK * (number + 1);
    arrive(number, eye, at);
    firstEntity = matter.entity;
    through[0] = weight * matter.medium.color().r();
    through[1] = weight * matter.medium.color().g();
    through[2] = weight * matter.medium.color().b();
    if (emitter >= 0) {
      random.pair(base + LIGHT_PAIR);
      direct(emitter, 1f / emitters.all.size(), true);
    }
    // thin media weigh little: their paths are followed more rarely, and then count more
    float most = Math.max(through[0], Math.max(through[1], through[2]));
    float chance = Math.max(0.1f, Math.min(1, 4 * most));
    random.pair(base + EXTRA_PAIR);
    if (random.u < chance && bounces.media() > 0) {
      for (int c = 0; c < 3; c++) {
        through[c] /= chance;
      }
      path(cone);
    }
  }

  private void arrive(int number, Caster along, float at) {
    inMedium = true;
    mediumNumber = number;
    mx = along.ox + at * along.dx;
    my = along.oy + at * along.dy;
    mz = along.oz + at * along.dz;
    travelX = along.dx;
    travelY = along.dy;
    travelZ = along.dz;
  }

  private int vertexEntity() {
    return inMedium ? media.matter[mediumNumber].entity : surface.entity;
  }

  // ---- the path

  private int kind;
  private float density;
  private boolean evenly;
  private int bounce;
  private int surfacesMet;
  private int glassMet;
  private int mediaMet;
  private int cameFrom;

  private void path(float startCone) {
    float cone = startCone;
    byCaster = false;
    surfacesMet = glassMet = 0;
    mediaMet = inMedium ? 1 : 0;
    absorption[0] = absorption[1] = absorption[2] = 0;
    float minAlpha = 0;
    boolean atMedium = inMedium;
    double before = interplay == null ? 0 : luma();
    int next = -1;
    for (bounce = 1; ; bounce++) {
      int pairs = base + PAIRS_PER_BOUNCE * bounce;
      if (!setOut(pairs)) {
        break;
      }
      if (kind == Surface.DIFFUSE || kind == MEDIUM) {
        minAlpha = transport.settings().soften();
      }
      boolean byLights = !inMedium && lightsOnly();
      boolean every = bounce == 1 && !atMedium && emitters.all.size() <= MAX_ALL_EMITTERS;
      evenly = bounce == 1 && atMedium;
      boolean wasInside = !inMedium && surface.thick && surface.inside;
      float spread = inMedium || kind == Surface.DIFFUSE ? 0.5f : 0.5f * surface.alpha + 1e-3f;
      cameFrom = vertexEntity();
      float length = go(pairs, minAlpha, cone, spread, every, byLights);
      if (length < 0) {
        next = next < 0 ? transport.entities() - 1 : next;
        break;
      }
      cone += length * spread;
      int entity = vertexEntity();
      next = next < 0 ? entity : next;
      if (bounce == 1) {
        byCaster = firstKind == Surface.DIFFUSE && caster[entity];
      }
      if (!inMedium && !byLights) {
        emitterMet(every);
      }
      if (!counts(wasInside)) {
        break;
      }
      Rgb factors = inMedium ? null : returned[instance];
      if (factors != null) {
        through[0] *= factors.r();
        through[1] *= factors.g();
        through[2] *= factors.b();
      }
      directFromOne(pairs, false);
    }
    if (interplay != null && next >= 0) {
      interplay.way(firstEntity, next, luma() - before);
    }
  }

  /** Says whether light is followed beyond the vertex that it came to. */
  private boolean counts(boolean wasInside) {
    if (inMedium) {
      return ++mediaMet <= bounces.media();
    }
    if (kind == Surface.TRANSMISSION || wasInside) {
      return ++glassMet <= bounces.glass();
    }
    return ++surfacesMet <= bounces.surfaces();
  }

  /** Picks a direction at the vertex and aims the ray; says whether the path goes on. */
  private boolean setOut(int pairs) {
    random.pair(pairs + LOBE_PAIR);
    float lobe = random.u;
    if (!survives(random.v)) {
      return false;
    }
    random.pair(pairs + DIRECTION_PAIR);
    if (inMedium) {
      kind = MEDIUM;
      firstKind = bounce == 1 ? MEDIUM : firstKind;
      scatter(random.u, random.v);
      return true;
    }
    if (surface.chance[0] + surface.chance[1] + surface.chance[2] <= 0) {
      return false;
    }
    kind = 0;
    while (kind < 2 && lobe >= surface.chance[kind]) {
      lobe -= surface.chance[kind];
      kind++;
    }
    float share = surface.chance[kind];
    if (share <= 0
        || !surface.sample(kind, random.u, random.v, Math.min(0.999999f, lobe / share))) {
      return false;
    }
    firstKind = bounce == 1 ? kind : firstKind;
    for (int c = 0; c < 3; c++) {
      through[c] *= surface.value[c] / (surface.pdf * share);
    }
    density = surface.sharp ? Float.POSITIVE_INFINITY : surface.pdf * share;
    if (kind == Surface.TRANSMISSION && surface.thick) {
      boolean in = surface.isInward();
      for (int c = 0; c < 3; c++) {
        absorption[c] = in ? surface.absorption[c] : 0;
      }
    }
    Visibility.leave(surface, ray, surface.ix, surface.iy, surface.iz);
    return true;
  }

  private void scatter(float u, float v) {
    Matter matter = media.matter[mediumNumber];
    float cos = matter.scattered(u);
    float sin = (float) Math.sqrt(Math.max(0, 1 - cos * cos));
    float phi = 2 * (float) Math.PI * v;
    float a = sin * (float) Math.cos(phi);
    float b = sin * (float) Math.sin(phi);
    float nx = travelX;
    float ny = travelY;
    float nz = travelZ;
    float sign = Math.copySign(1f, nz);
    float p = -1 / (sign + nz);
    float q = nx * ny * p;
    ray.ray(
        mx,
        my,
        mz,
        a * (1 + sign * nx * nx * p) + b * q + cos * nx,
        a * sign * q + b * (sign + ny * ny * p) + cos * ny,
        a * -sign * nx + b * -ny + cos * nz);
    density = matter.phase(cos);
  }

  private boolean survives(float u) {
    if (bounce <= ROULETTE_FROM) {
      return true;
    }
    float most = Math.max(through[0], Math.max(through[1], through[2]));
    float chance = Math.max(0.05f, Math.min(1, most));
    if (u >= chance) {
      return false;
    }
    for (int c = 0; c < 3; c++) {
      through[c] /= chance;
    }
    return true;
  }

  /**
   * Follows the ray to the next vertex, past what it goes through; adds the light of emitters that
   * it meets on the way. Returns the length of the way, or -1 if it leaves the scene.
   */
  private float go(
      int pairs, float minAlpha, float cone, float spread, boolean every, boolean byLights) {
    int bit = BITS[kind];
    int travels = kind;
    ray.nearest(masks, bit, hit);
    float from = 0;
    for (int passed = 0; ; passed++) {
      float far = hit.found() ? hit.t : Float.POSITIVE_INFINITY;
      int key = pairs + 7 * MEDIUM_BLOCK + passed * 17;
      int collided = anyFelt[travels] ? media.collide(ray, from, far, feels[travels], key) : -1;
      float upTo = collided >= 0 ? media.t : far;
      if (!byLights && emitters.extended.length > 0) {
        extendedMet(from, upTo, every);
      }
      if (collided >= 0) {
        absorb(upTo);
        arrive(collided, ray, upTo);
        Matter matter = media.matter[collided];
        gather(matter);
        through[0] *= matter.medium.color().r();
        through[1] *= matter.medium.color().g();
        through[2] *= matter.medium.color().b();
        return upTo;
      }
      if (!hit.found()) {
        if (!byLights) {
          environmentMet(bit, every);
        }
        return -1;
      }
      reader.read(hit, ray, cone + hit.t * spread, minAlpha, surface);
      if (!clear[hit.instance] || !passes(key)) {
        inMedium = false;
        instance = hit.instance;
        absorb(hit.t);
        return hit.t;
      }
      from = hit.t;
      ray.next(masks, bit, hit);
    }
  }

  /** Light that a medium gives off where a path collides with it. */
  private void gather(Matter matter) {
    var e = matter.medium.emission();
    if (e.max() > 0 && (transport.reach(matter.entity) & Reach.SHINES) != 0) {
      sky[0] = e.r();
      sky[1] = e.g();
      sky[2] = e.b();
      add(sky, 1, matter.entity, false, false);
    }
  }

  private void absorb(float length) {
    if (absorption[0] + absorption[1] + absorption[2] > 0) {
      for (int c = 0; c < 3; c++) {
        through[c] *= (float) Math.exp(-absorption[c] * length);
      }
    }
  }

  /** Whether the ray goes on through the surface that it met; else what it met is shaded alone. */
  private boolean passes(int key) {
    float open = 1 - surface.opacity;
    float r = open + surface.opacity * surface.straight[0];
    float g = open + surface.opacity * surface.straight[1];
    float b = open + surface.opacity * surface.straight[2];
    float chance = Math.max(0, Math.min(1, (r + g + b) / 3));
    random.stream(key + 1);
    if (chance > 0 && random.next() < chance) {
      through[0] *= r / chance;
      through[1] *= g / chance;
      through[2] *= b / chance;
      return true;
    }
    float rest = surface.opacity / (1 - chance);
    for (int c = 0; c < 3; c++) {
      through[c] *= rest;
    }
    if (surface.isStraight) {
      // what went straight on was taken out already
      float kept = 1 - surface.chance[Surface.TRANSMISSION];
      surface.withoutStraight();
      if (kept <= 0) {
        through[0] = through[1] = through[2] = 0;
      }
    }
    return false;
  }

  // ---- emitters met by a sampled direction

  /** Chance with which an emitter was picked at the vertex before. */
  private float chance(int number) {
    return evenly ? 1f / emitters.all.size() : emitters.chance[number];
  }

  private float weight(float other) {
    return density == Float.POSITIVE_INFINITY ? 1 : power(density, other);
  }

  private void environmentMet(int bit, boolean every) {
    int entity = transport.entities() - 1;
    int reach = transport.reach(entity);
    if (emitters.surround < 0
        || (reach & bit) == 0
        || (reach & Reach.SHINES) == 0
        || !transport.lights(entity, cameFrom)) {
      return;
    }
    frame.environment().radiance(ray.dx, ray.dy, ray.dz, sky);
    float other = frame.environment().pdf(ray.dx, ray.dy, ray.dz);
    add(sky, weight(other * (every ? 1 : chance(emitters.surround))), entity, true, bounce == 1);
  }

  private void emitterMet(boolean every) {
    int number = emitters.ofInstance[hit.instance];
    if (surface.emission[0] + surface.emission[1] + surface.emission[2] <= 0
        || (transport.reach(surface.entity) & Reach.SHINES) == 0
        || !transport.lights(surface.entity, cameFrom)) {
      return;
    }
    // unlit surfaces shine without being emitters: they are found by their rays alone
    float weight = 1;
    if (number >= 0) {
      Emitters.Area area = (Emitters.Area) emitters.all.get(number);
      weight = weight(lights.density(area, hit, ray) * (every ? 1 : chance(number)));
    }
    add(surface.emission, weight, surface.entity, false, bounce == 1);
  }

  private void extendedMet(float from, float upTo, boolean every) {
    for (int number : emitters.extended) {
      Emitters.Shining s = (Emitters.Shining) emitters.all.get(number);
      int reach = transport.reach(s.entity());
      if ((reach & BITS[kind]) != 0
          && (reach & Reach.SHINES) != 0
          && transport.lights(s.entity(), cameFrom)
          && lights.meets(s, ray, upTo)
          && lights.distance >= from) {
        float weight = weight(lights.pdf * (every ? 1 : chance(number)));
        add(lights.radiance, weight, s.entity(), false, bounce == 1);
      }
    }
  }

  private void add(float[] radiance, float weight, int emitter, boolean surround, boolean direct) {
    put(
        target(firstKind, direct, surround),
        through[0] * radiance[0] * weight,
        through[1] * radiance[1] * weight,
        through[2] * radiance[2] * weight,
        !direct,
        emitter,
        direct && firstKind == Surface.DIFFUSE);
  }

  /** Where light is counted: by the first event, and whether it came straight from an emitter. */
  private int target(int first, boolean direct, boolean surround) {
    LightPass pass =
        switch (first) {
          case Surface.DIFFUSE ->
              direct
                  ? surround ? LightPass.DIFFUSE_ENVIRONMENT : LightPass.DIFFUSE_LIGHTS
                  : byCaster ? LightPass.DIFFUSE_BY_CASTERS : LightPass.DIFFUSE_BOUNCED;
          case Surface.SPECULAR -> direct ? LightPass.SPECULAR_DIRECT : LightPass.SPECULAR_INDIRECT;
          case Surface.TRANSMISSION ->
              direct ? LightPass.TRANSMISSION_DIRECT : LightPass.TRANSMISSION_INDIRECT;
          default -> LightPass.MEDIUM;
        };
    return pass.at();
  }

  private void put(
      int at, float r, float g, float b, boolean indirect, int emitter, boolean straightDiffuse) {
    float clamp = transport.settings().clamp();
    float most = Math.max(r, Math.max(g, b));
    float scale = indirect && clamp > 0 && most > clamp ? clamp / most : 1;
    spread(at, r * scale, g * scale, b * scale);
    int group = groupOf[emitter];
    if (group >= 0) {
      spread(split.groupAt(group), r * scale, g * scale, b * scale);
      if (straightDiffuse) {
        spread(split.diffuseAt(group), r * scale, g * scale, b * scale);
      }
    }
    if (straightDiffuse && split.unshadowed()) {
      spread(split.unshadowedAt(), r * scale, g * scale, b * scale);
    }
  }

  private void spread(int at, float r, float g, float b) {
    light[at] += r;
    light[at + 1] += g;
    light[at + 2] += b;
  }

  private double luma() {
    double sum = 0;
    for (int p = 0; p < LightPass.NUMBERS; p += 3) {
      sum += 0.2126 * light[p] + 0.7152 * light[p + 1] + 0.0722 * light[p + 2];
    }
    return sum;
  }

  private void occlusion() {
    random.pair(FIRST_LIGHT_PAIR - 1);
    float r = (float) Math.sqrt(random.u);
    double phi = 2 * Math.PI * random.v;
    float z = (float) Math.sqrt(Math.max(0, 1 - random.u));
    float a = r * (float) Math.cos(phi);
    float b = r * (float) Math.sin(phi);
    float sign = Math.copySign(1f, surface.nz);
    float p = -1 / (sign + surface.nz);
    float q = surface.nx * surface.ny * p;
    float x = a * (1 + sign * surface.nx * surface.nx * p) + b * q + z * surface.nx;
    float y = a * sign * q + b * (sign + surface.ny * surface.ny * p) + z * surface.ny;
    float w = a * -sign * surface.nx + b * -surface.ny + z * surface.nz;
    light[split.occlusionAt()] = visibility.isFree(surface, x, y, w, split.occlusion()) ? 1 : 0;
  }

  // ---- emitters picked

  /** The emitter that the random number {@code u} picks. */
  private int picked() {
    int number = 0;
    while (number < emitters.cdf.length - 1 && random.u >= emitters.cdf[number]) {
      number++;
    }
    return number;
  }

  private void directFromOne(int pairs, boolean first) {
    if (emitters.all.isEmpty()) {
      return;
    }
    random.pair(pairs + PICK_PAIR);
    int number = picked();
    random.pair(pairs + LIGHT_PAIR);
    direct(number, emitters.chance[number], first);
  }

  /**
   * Whether the surface takes its direct light from picked points alone: where it does not feel all
   * shadows, a direction that meets a blocker says nothing about the light behind it.
   */
  private boolean lightsOnly() {
    return (transport.reach(surface.entity) & (Reach.LIT_THROUGH | Reach.NO_SELF_SHADOW)) != 0;
  }

  /** Adds the light of one emitter at the vertex, by one point on it. */
  private void direct(int number, float chance, boolean first) {
    Emitters.Emitter emitter = emitters.all.get(number);
    int reach = transport.reach(emitter.entity());
    if ((reach & Reach.SHINES) == 0 || !transport.lights(emitter.entity(), vertexEntity())) {
      return;
    }
    boolean surround = emitter instanceof Emitters.Surround;
    int key = 5 * MEDIUM_BLOCK + number + 31 * bounceKey(first);
    if (inMedium) {
      directToMedium(emitter, reach, chance, first, surround, key);
      return;
    }
    if (!lights.sample(emitter, surface.px, surface.py, surface.pz, random.u, random.v)) {
      return;
    }
    boolean known = false;
    boolean blocked = false;
    for (int k = 0; k < 3; k++) {
      if (!surface.takes(k) || (reach & BITS[k]) == 0 || (blocked && !asks(k, first))) {
        continue;
      }
      surface.evaluate(k, lights.x, lights.y, lights.z);
      if (!(surface.pdf > 0)) {
        continue;
      }
      if (!known) {
        known = true;
        blocked =
            !visibility.reaches(
                surface, instance, lights.x, lights.y, lights.z, lights.distance, key);
      }
      addDirect(k, chance, first, surround, emitter.entity(), blocked);
    }
  }

  /** Whether light that is blocked is of interest. */
  private boolean asks(int lobe, boolean first) {
    return first && (interplay != null || (split.unshadowed() && lobe == Surface.DIFFUSE));
  }

  private int bounceKey(boolean first) {
    return base + (first ? 0 : bounce);
  }

  private void directToMedium(
      Emitters.Emitter emitter, int reach, float chance, boolean first, boolean surround, int key) {
    if ((reach & Reach.BOUNCE) == 0
        || !lights.sample(emitter, mx, my, mz, random.u, random.v)
        || !visibility.reaches(mx, my, mz, lights.x, lights.y, lights.z, lights.distance, key)) {
      return;
    }
    float cos = lights.x * travelX + lights.y * travelY + lights.z * travelZ;
    float phase = media.matter[mediumNumber].phase(cos);
    float d = lights.pdf * chance;
    float weight = lights.point ? 1 / chance : power(d, phase) / d;
    put(
        target(first ? MEDIUM : firstKind, first, surround),
        through[0] * phase * lights.radiance[0] * weight * visibility.let[0],
        through[1] * phase * lights.radiance[1] * weight * visibility.let[1],
        through[2] * phase * lights.radiance[2] * weight * visibility.let[2],
        !first,
        emitter.entity(),
        false);
  }

  private void addDirect(
      int lobe, float chance, boolean first, boolean surround, int emitter, boolean blocked) {
    float d = lights.pdf * chance;
    float weight =
        lights.point
            ? 1 / chance
            : lightsOnly() ? 1 / d : power(d, surface.chance[lobe] * surface.pdf) / d;
    float r = through[0] * surface.value[0] * lights.radiance[0] * weight;
    float g = through[1] * surface.value[1] * lights.radiance[1] * weight;
    float b = through[2] * surface.value[2] * lights.radiance[2] * weight;
    boolean straight = first && lobe == Surface.DIFFUSE;
    if (blocked) {
      if (straight && split.unshadowed()) {
        spread(split.unshadowedAt(), r, g, b);
      }
      if (first && interplay != null && visibility.blocker >= 0) {
        interplay.blocked(surface.entity, visibility.blocker, 0.2126 * r + 0.7152 * g + 0.0722 * b);
      }
      return;
    }
    float[] let = visibility.let;
    int at = target(first ? lobe : firstKind, first, surround);
    put(at, r * let[0], g * let[1], b * let[2], !first, emitter, straight);
    if (straight && split.unshadowed()) {
      spread(split.unshadowedAt(), r * (1 - let[0]), g * (1 - let[1]), b * (1 - let[2]));
    }
  }

  private static float power(float a, float b) {
    float ratio = b / a;
    return 1 / (1 + ratio * ratio);
  }
}
