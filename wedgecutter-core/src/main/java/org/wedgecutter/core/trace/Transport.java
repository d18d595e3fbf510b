package org.wedgecutter.core.trace;

import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.plan.Bounces;
import org.wedgecutter.core.resolve.Reach;
import org.wedgecutter.core.resolve.TransportClass;
import org.wedgecutter.core.scene.Rgb;
import org.wedgecutter.core.trace.accel.Hit;
import org.wedgecutter.core.trace.accel.Moment;
import org.wedgecutter.core.trace.accel.RayCaster;
import org.wedgecutter.core.trace.bsdf.ShadingFrame;
import org.wedgecutter.core.trace.bsdf.Surface;
import org.wedgecutter.core.trace.bsdf.SurfaceReader;
import org.wedgecutter.core.trace.light.Emitters;
import org.wedgecutter.core.trace.light.LightPicker;
import org.wedgecutter.core.trace.light.LightSampler;
import org.wedgecutter.core.trace.sample.Sampler;
import org.wedgecutter.core.trace.volume.MediumSampler;
import org.wedgecutter.core.trace.volume.PreparedMedium;
import org.wedgecutter.core.trace.world.World;

/**
 * Estimates the light that leaves what a camera sample hits: everything beyond the camera segment.
 *
 * <p>A path tracer with next-event estimation: at the first surface one sample for every emitter
 * (for few emitters), later one emitter picked by its likely contribution; one direction sampled
 * from one kind of lobe, or from a medium's phase function; both techniques weighted by the power
 * heuristic (multiple importance sampling). Kinds of lobes are estimated separately, because
 * entities may be visible to one and not to the other. Partly opaque surfaces are hit or passed at
 * random; light inside glass is found by refracted rays alone. Russian roulette from the third
 * bounce.
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

  /** Emitters picked at the first surface where there are more. */
  private static final int FIRST_PICKS = 4;

  private static final int ROULETTE_FROM = 3;

  // what rows of random numbers are for
  static final int COLLISIONS = 1;
  static final int PASSES = 2;
  static final int SHADOWS = 3;
  static final int UNSHADOWED = 4;

  // pairs of random dimensions: one block a bounce, one a light of the first surface
  static final int FIRST_LIGHT_PAIR = 50_000;
  private static final int PAIRS_PER_BOUNCE = 8;
  private static final int LOBE_PAIR = 1;
  private static final int DIRECTION_PAIR = 2;
  static final int PICK_PAIR = 3;
  static final int LIGHT_PAIR = 4;
  private static final int EXTRA_PAIR = 5;

  /** Apart from blocks of pairs of surfaces: each medium's camera fragment has its own. */
  static final int MEDIUM_BLOCK = 100_000;

  /** For each kind of lobe, the visibility that an entity needs for its rays to meet it. */
  static final Reach.Flag[] REACH = {
    Reach.Flag.BOUNCE, Reach.Flag.REFLECTION, Reach.Flag.TRANSMISSION, Reach.Flag.BOUNCE
  };

  /** Bits of the masks that stop rays of each kind of lobe. */
  private static final int[] MASK = {
    RayKind.DIFFUSE.bit(),
    RayKind.REFLECTION.bit(),
    RayKind.TRANSMISSION.bit(),
    RayKind.DIFFUSE.bit()
  };

  private final World world;
  private final Moment moment;
  private final Emitters emitters;
  private final TransportClass transport;
  private final Bounces bounces;
  private final byte[] masks;
  private final boolean[] clear;
  private final boolean[] caster;
  private final @Nullable Rgb[] returned;
  private final RayCaster ray;
  private final Sampler random;
  private final SurfaceReader reader;
  private final LightPicker picker;
  private final LightSampler lights;
  private final MediumSampler media;
  private final Visibility visibility;
  private final boolean[][] feels = new boolean[4][];
  private final boolean[] anyFelt = new boolean[4];
  private final Hit hit = new Hit();
  private final float[] sky = new float[3];
  private final float[] through;
  private final float[] absorption = new float[3];

  /** Receives interplay, or null. */
  private final @Nullable Interplay interplay;

  /** Told of every way of light, or null. */
  private final @Nullable LightAccount account;

  /** The current vertex of the path. */
  private final PathVertex at;

  private final LightRecorder book;
  private final DirectLight direct;
  private final ShadingFrame axis = new ShadingFrame();
  private final EmitterHit met;

  /** Whether the first surface takes light from every emitter. */
  private final boolean few;

  /** The surface of the vertex that light leaves. */
  final Surface surface;

  private int firstEntity;

  Transport(
      PreparedFrame frame,
      TraceJob job,
      Moment moment,
      byte[] masks,
      boolean[] clear,
      Sampler random,
      float[] light,
      @Nullable Interplay interplay,
      @Nullable LightAccount account) {
    this.account = account;
    this.random = random;
    this.masks = masks;
    this.clear = clear;
    this.interplay = interplay;
    world = frame.world();
    emitters = frame.emitters();
    few = emitters.all.size() <= MAX_ALL_EMITTERS;
    transport = job.transport();
    bounces = transport.settings().bounces();
    int entities = world.scene.entities().size();
    caster = job.casters().toArray(entities);
    book = new LightRecorder(job.split(), caster, transport.settings().clamp(), light, account);
    returned = new Rgb[world.instances];
    for (int i = 0; i < returned.length; i++) {
      returned[i] = frame.appearance().returned(i);
    }
    this.moment = moment;
    ray = RayCaster.of(world, moment);
    reader = new SurfaceReader(world, moment, frame.appearance(), frame.textures());
    picker = new LightPicker(emitters);
    lights = new LightSampler(moment, frame.environment(), reader);
    media = new MediumSampler(frame.matter(), random);
    visibility = new Visibility(frame, moment, transport, masks, media, reader);
    at = new PathVertex(frame.matter());
    surface = at.surface;
    through = at.through;
    direct =
        new DirectLight(frame, transport, random, picker, lights, visibility, at, book, interplay);
    met = new EmitterHit(frame, transport, picker, lights, reader, at, book);
    for (int k = 0; k < 4; k++) {
      feels[k] = new boolean[media.matter.length];
      for (int m = 0; m < feels[k].length; m++) {
        feels[k][m] = transport.reach(media.matter[m].entity).has(REACH[k]);
        anyFelt[k] |= feels[k][m];
      }
    }
  }

  /** Returns where the pairs of random dimensions of a bounce begin, from the path's first. */
  static int pairs(int bounce) {
    return PAIRS_PER_BOUNCE * bounce;
  }

  long rays() {
    return ray.rays + visibility.rays();
  }

  long cutShort() {
    return media.cutShort;
  }

  /** Sees the media at a moment; all else shares the moment itself. */
  void moment(float next) {
    media.set(next);
  }

  SurfaceReader reader() {
    return reader;
  }

  /** Estimates the light that leaves {@link #surface} towards the camera, without its emission. */
  void leaving(int ofInstance, float cone) {
    at.base = 0;
    at.arrive(ofInstance);
    firstEntity = surface.entity;
    through[0] = through[1] = through[2] = 1;
    if (book.occlusionReach() > 0) {
      occlusion();
    }
    if (surface.chance[0] + surface.chance[1] + surface.chance[2] <= 0) {
      return;
    }
    if (few) {
      for (int e = 0; e < emitters.all.size(); e++) {
        random.pair(FIRST_LIGHT_PAIR + e);
        direct.from(e, 1, true);
      }
    } else {
      weighEmitters();
      direct.fromSome(0, FIRST_PICKS, true);
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
    // near an emitter only its own light counts, however weak it is elsewhere: all are equally
    // likely
    random.pair(MEDIUM_BLOCK * (number + 1) + PICK_PAIR);
    return Math.min(emitters.all.size() - 1, (int) (random.u * emitters.all.size()));
  }

  /** Sets the position of an emitter; returns whether it has one. */
  boolean place(int emitter, float[] out) {
    if (emitter < 0) {
      return false;
    }
    return switch (emitters.all.get(emitter)) {
      case Emitters.Shining s -> {
        float[] m = lights.placed(s);
        out[0] = m[3];
        out[1] = m[7];
        out[2] = m[11];
        yield s.light().type() != org.wedgecutter.core.scene.Light.Type.DIRECTIONAL;
      }
      case Emitters.Area a -> {
        Emitters.corners(moment, a.instance(), a.triangles()[a.pick(0.5f)], corners);
        System.arraycopy(corners, 0, out, 0, 3);
        yield true;
      }
      case Emitters.Surround s -> false;
    };
  }

  private final float[] corners = new float[9];

  /**
   * Estimates the light that a medium scatters towards the camera at a place of a camera ray.
   *
   * @param number of the medium
   * @param eye the camera ray
   * @param distance along it
   * @param weight of what is gathered there
   * @param emitter whose light is gathered, or -1
   */
  void scattered(int number, RayCaster eye, float distance, float weight, int emitter, float cone) {
    PreparedMedium matter = media.matter[number];
    at.base = MEDIUM_BLOCK * (number + 1);
    at.arrive(number, eye, distance);
    firstEntity = matter.entity;
    through[0] = weight * matter.medium.color().r();
    through[1] = weight * matter.medium.color().g();
    through[2] = weight * matter.medium.color().b();
    if (emitter >= 0) {
      random.pair(at.base + LIGHT_PAIR);
      direct.from(emitter, 1f / emitters.all.size(), true);
    }
    // thin media weigh little: their paths are followed more rarely, and then count more
    float most = Math.max(through[0], Math.max(through[1], through[2]));
    float chance = Math.max(0.1f, Math.min(1, 4 * most));
    random.pair(at.base + EXTRA_PAIR);
    if (random.u < chance) {
      for (int c = 0; c < 3; c++) {
        through[c] /= chance;
      }
      path(cone);
    }
  }

  // ---- the path

  private int surfacesMet;
  private int glassMet;
  private int mediaMet;
  private boolean beganInMedium;

  private void path(float startCone) {
    float cone = startCone;
    at.byCaster = false;
    surfacesMet = glassMet = 0;
    mediaMet = at.inMedium ? 1 : 0;
    absorption[0] = absorption[1] = absorption[2] = 0;
    float minAlpha = 0;
    boolean atMedium = at.inMedium;
    beganInMedium = atMedium;
    double before = interplay == null ? 0 : book.luma();
    int next = -1;
    for (at.bounce = 1; ; at.bounce++) {
      int pairs = at.base + pairs(at.bounce);
      if (!setOut(pairs)) {
        break;
      }
      if (met.kind == Surface.DIFFUSE || met.kind == PathVertex.MEDIUM) {
        minAlpha = transport.settings().soften();
      }
      // in one direction alone there is nothing to weigh: the ray finds what is there
      boolean unshadowed = !at.inMedium && direct.isUnshadowed() && !surface.isDelta;
      boolean every = at.bounce == 1 && !atMedium && few;
      met.picks = at.bounce == 1 && !atMedium ? FIRST_PICKS : 1;
      met.evenly = at.bounce == 1 && atMedium;
      boolean wasInside = !at.inMedium && surface.thick && surface.inside;
      float spread =
          at.inMedium || met.kind == Surface.DIFFUSE ? 0.5f : 0.5f * surface.alpha + 1e-3f;
      met.cameFrom = at.entity();
      if (unshadowed) {
        int key = Sampler.key(UNSHADOWED, pairs, 0);
        met.unshadowed(ray, visibility, surface, at.instance, every, key);
      }
      float length = go(pairs, minAlpha, cone, spread, every, unshadowed);
      if (length < 0) {
        next = next < 0 ? transport.entities() - 1 : next;
        break;
      }
      cone += length * spread;
      int entity = at.entity();
      next = next < 0 ? entity : next;
      if (account != null) {
        account.via(next);
      }
      if (!at.inMedium && !(unshadowed && emitters.ofInstance[hit.instance] >= 0)) {
        met.surface(ray, hit, surface, every);
      }
      if (!counts(wasInside)) {
        break;
      }
      Rgb factors = at.inMedium ? null : returned[at.instance];
      if (factors != null) {
        at.scale(factors.r(), factors.g(), factors.b());
      }
      weighEmitters();
      direct.fromSome(pairs, 1, false);
    }
    if (interplay != null && next >= 0) {
      interplay.way(firstEntity, next, book.luma() - before);
    }
  }

  /** Whether the path continues beyond its current vertex. */
  private boolean counts(boolean wasInside) {
    if (beganInMedium && bounces.media() == 0) {
      // light that is scattered once, straight from emitters
      return false;
    }
    if (at.inMedium) {
      return ++mediaMet <= bounces.media();
    }
    if (met.kind == Surface.TRANSMISSION || wasInside) {
      return ++glassMet <= bounces.glass();
    }
    return ++surfacesMet <= bounces.surfaces();
  }

  /** Samples a direction at the vertex and sets the ray; returns whether the path goes on. */
  private boolean setOut(int pairs) {
    random.pair(pairs + LOBE_PAIR);
    float lobe = random.u;
    if (!survivesRoulette(random.v)) {
      return false;
    }
    random.pair(pairs + DIRECTION_PAIR);
    if (at.inMedium) {
      met.kind = PathVertex.MEDIUM;
      at.firstKind = at.bounce == 1 ? PathVertex.MEDIUM : at.firstKind;
      scatter(random.u, random.v);
      return true;
    }
    if (surface.chance[0] + surface.chance[1] + surface.chance[2] <= 0) {
      return false;
    }
    met.kind = 0;
    while (met.kind < 2 && lobe >= surface.chance[met.kind]) {
      lobe -= surface.chance[met.kind];
      met.kind++;
    }
    float share = surface.chance[met.kind];
    if (share <= 0
        || !surface.sample(met.kind, random.u, random.v, Math.min(0.999999f, lobe / share))) {
      return false;
    }
    at.firstKind = at.bounce == 1 ? met.kind : at.firstKind;
    for (int c = 0; c < 3; c++) {
      through[c] *= surface.value[c] / (surface.pdf * share);
    }
    met.pdf = surface.isDelta ? Float.POSITIVE_INFINITY : surface.pdf * share;
    if (met.kind == Surface.TRANSMISSION && surface.thick) {
      boolean in = surface.isInward();
      for (int c = 0; c < 3; c++) {
        absorption[c] = in ? surface.absorption[c] : 0;
      }
    }
    Visibility.leave(surface, ray, surface.ix, surface.iy, surface.iz);
    return true;
  }

  private void scatter(float u, float v) {
    PreparedMedium matter = media.matter[at.medium];
    float cos = matter.scattered(u);
    float sin = (float) Math.sqrt(Math.max(0, 1 - cos * cos));
    float phi = 2 * (float) Math.PI * v;
    float a = sin * (float) Math.cos(phi);
    float b = sin * (float) Math.sin(phi);
    axis.about(at.travelX, at.travelY, at.travelZ);
    ray.ray(at.mx, at.my, at.mz, axis.x(a, b, cos), axis.y(a, b, cos), axis.z(a, b, cos));
    met.pdf = matter.phase(cos);
  }

  private boolean survivesRoulette(float u) {
    if (at.bounce <= ROULETTE_FROM) {
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
      int pairs, float minAlpha, float cone, float spread, boolean every, boolean unshadowed) {
    int bit = MASK[met.kind];
    int travels = met.kind;
    ray.nearest(masks, bit, hit);
    float from = 0;
    for (int passed = 0; ; passed++) {
      float far = hit.found() ? hit.t : Float.POSITIVE_INFINITY;
      int key = Sampler.key(COLLISIONS, pairs, passed);
      int collided = anyFelt[travels] ? media.collide(ray, from, far, feels[travels], key) : -1;
      float upTo = collided >= 0 ? media.t : far;
      if (!unshadowed) {
        met.lights(ray, from, upTo, every);
      }
      if (collided >= 0) {
        absorb(upTo);
        at.arrive(collided, ray, upTo);
        noteCaster();
        PreparedMedium matter = media.matter[collided];
        gather(matter);
        Rgb colour = matter.medium.color();
        at.scale(colour.r(), colour.g(), colour.b());
        return upTo;
      }
      if (!hit.found()) {
        if (!unshadowed) {
          met.environment(ray, every);
        }
        return -1;
      }
      reader.read(hit, ray, cone + hit.t * spread, minAlpha, surface);
      if (!clear[hit.instance] || !passes(Sampler.key(PASSES, pairs, passed))) {
        at.arrive(hit.instance);
        noteCaster();
        absorb(hit.t);
        return hit.t;
      }
      from = hit.t;
      ray.next(masks, bit, hit);
    }
  }

  private void noteCaster() {
    at.byCaster |= at.firstKind == Surface.DIFFUSE && caster[at.entity()];
  }

  /** Light that a medium emits where a path collides with it. */
  private void gather(PreparedMedium matter) {
    var e = matter.medium.emission();
    if (e.max() > 0 && transport.reach(matter.entity).emits()) {
      sky[0] = e.r();
      sky[1] = e.g();
      sky[2] = e.b();
      met.add(sky, 1, matter.entity, false, false);
    }
  }

  private void absorb(float length) {
    if (absorption[0] + absorption[1] + absorption[2] > 0) {
      for (int c = 0; c < 3; c++) {
        through[c] *= (float) Math.exp(-absorption[c] * length);
      }
    }
  }

  /** Whether the ray continues through the surface that it hit; else that surface is shaded. */
  private boolean passes(int key) {
    float open = 1 - surface.opacity;
    float r = open + surface.opacity * surface.straight[0];
    float g = open + surface.opacity * surface.straight[1];
    float b = open + surface.opacity * surface.straight[2];
    float chance = Math.max(0, Math.min(1, (r + g + b) / 3));
    random.stream(key);
    if (chance > 0 && random.next() < chance) {
      through[0] *= r / chance;
      through[1] *= g / chance;
      through[2] *= b / chance;
      return true;
    }
    float rest = surface.opacity / (1 - chance);
    at.scale(rest);
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

  /** Weighs the emitters as seen from the vertex. */
  private void weighEmitters() {
    if (at.inMedium) {
      picker.stand(at.mx, at.my, at.mz);
    } else {
      picker.stand(at.surface);
    }
  }

  private void occlusion() {
    random.pair(FIRST_LIGHT_PAIR - 1);
    float r = (float) Math.sqrt(random.u);
    double phi = 2 * Math.PI * random.v;
    float z = (float) Math.sqrt(Math.max(0, 1 - random.u));
    float a = r * (float) Math.cos(phi);
    float b = r * (float) Math.sin(phi);
    ShadingFrame f = surface.frame;
    book.open(
        visibility.isUnoccluded(
            surface, f.x(a, b, z), f.y(a, b, z), f.z(a, b, z), book.occlusionReach()));
  }
}
