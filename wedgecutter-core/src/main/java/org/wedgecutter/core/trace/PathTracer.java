package org.wedgecutter.core.trace;

import static org.wedgecutter.core.pass.LightPass.EMISSION;
import static org.wedgecutter.core.pass.LightPass.MEDIUM;

import java.util.Arrays;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.resolve.TransportClass;
import org.wedgecutter.core.trace.accel.Hit;
import org.wedgecutter.core.trace.accel.Moment;
import org.wedgecutter.core.trace.accel.RayCaster;
import org.wedgecutter.core.trace.bsdf.Surface;
import org.wedgecutter.core.trace.bsdf.SurfaceReader;
import org.wedgecutter.core.trace.sample.Sampler;
import org.wedgecutter.core.trace.volume.MediumSampler;
import org.wedgecutter.core.trace.volume.PreparedMedium;
import org.wedgecutter.core.trace.world.World;

/**
 * Traces camera samples of one job along their camera segments.
 *
 * <p>The ray goes straight on and meets entities in order. Each view keeps what throughput is left
 * to it; an entity that the view skips takes nothing from it and leaves no fragment. What covers
 * only a part (holes, thin opacity, clear walls where the class sees through glass) lets the rest
 * go on. Media fill the ways between surfaces: a view's way begins where it last met a surface that
 * it does not skip, so that a view gets the same numbers whatever other views there are. Light is
 * gathered once for all views, by a {@link Transport}, and only if one of them wants it.
 *
 * <p>One object serves one thread; nothing is allocated per sample.
 */
final class PathTracer {
  private static final float LEAST = 1e-6f;

  // pairs of random dimensions of the camera
  private static final int PIXEL_PAIR = 0;
  private static final int LENS_PAIR = 1;
  private static final int TIME_PAIR = 2;
  private static final int INTERVAL_KEY = 900_000_000;

  /** Told where the light of the first view comes from, or null. */
  private final @Nullable LightAccount account;

  private final PreparedFrame frame;
  private final World world;
  private final TransportClass transport;
  private final LightSplit split;
  private final byte[] masks;
  private final boolean[] clear;
  private final boolean[][] skipped;
  private final boolean[][] wanted;
  private final CameraRays camera;
  private final Moment moment;
  private final boolean moves;

  /** Whether any view is kept by depth. */
  private final boolean deep;

  private final RayCaster ray;
  private final Sampler random;
  private final SurfaceReader reader;
  private final Transport light;
  private final MediumSampler media;
  private final Fragment fragment;
  private final Fragment inMedia;
  private final Hit hit = new Hit();
  private final float[] sky = new float[3];
  private final float[] pass = new float[3];
  private final float[] target = new float[3];
  private final float[] object = new float[3];
  private final float[] earlier = new float[3];
  private final float[] later = new float[3];

  /** Of each view: remaining throughput (RGB); where its interval began; number of surfaces met. */
  private final float[] left;

  private final float[] begun;
  private final int[] met;
  private final boolean[] waits;

  /**
   * Of each view and medium: whether the camera meets it. Of each medium: whether a view wants its
   * light.
   */
  private final boolean[][] sees;

  private final boolean[] gathers;

  /** Cosine between the sample's ray and the camera's axis. */
  private float axis;

  private final float[] before;
  private final float[] after;

  PathTracer(
      PreparedFrame frame,
      TraceJob job,
      CameraRays camera,
      @Nullable Interplay interplay,
      @Nullable LightAccount account) {
    this.account = account;
    this.frame = frame;
    random = new Sampler(frame.points());
    this.camera = camera;
    world = frame.world();
    transport = job.transport();
    split = job.split();
    fragment = new Fragment(split.numbers());
    inMedia = new Fragment(split.numbers());
    moment = new Moment(world);
    moves = frame.motion().moves();
    ray = RayCaster.of(world, moment);
    int entities = world.scene.entities().size();
    int views = job.views().size();
    deep = job.views().stream().anyMatch(v -> !v.deep().isEmpty());
    skipped = new boolean[views][];
    wanted = new boolean[views][];
    left = new float[3 * views];
    begun = new float[views];
    met = new int[views];
    waits = new boolean[views];
    for (int v = 0; v < views; v++) {
      skipped[v] = job.views().get(v).skipped().toArray(entities);
      wanted[v] = job.views().get(v).wanted().toArray(entities);
    }
    masks = new byte[world.instances];
    clear = new boolean[world.instances];
    for (int i = 0; i < masks.length; i++) {
      masks[i] = mask(i);
    }
    light =
        new Transport(frame, job, moment, masks, clear, random, fragment.light, interplay, account);
    reader = light.reader();
    media = new MediumSampler(frame.matter(), random);
    sees = new boolean[views][media.matter.length];
    gathers = new boolean[media.matter.length];
    for (int m = 0; m < gathers.length; m++) {
      int e = media.matter[m].entity;
      for (int v = 0; v < views; v++) {
        sees[v][m] = !skipped[v][e];
        gathers[m] |= sees[v][m] && wanted[v][e];
      }
    }
    before = split.data() ? placed(frame.before()) : new float[0];
    after = split.data() ? placed(frame.after()) : new float[0];
  }

  private float[] placed(org.joml.Matrix4f[] pose) {
    float[] out = new float[12 * world.instances];
    for (int i = 0; i < world.instances; i++) {
      World.store(pose[world.scene.entities().get(world.entity[i]).node()], out, 12 * i);
    }
    return out;
  }

  private byte mask(int instance) {
    int entity = world.entity[instance];
    boolean seen = false;
    for (boolean[] skips : skipped) {
      seen |= !skips[entity];
    }
    clear[instance] = frame.appearance().isPartlyTransparent(instance);
    return RayKind.mask(transport.reach(entity), clear[instance], seen);
  }

  /** Whether rays are cast with vector instructions. */
  boolean vector() {
    return ray.vector();
  }

  /** Walks through media that were cut short so far. */
  long cutShort() {
    return media.cutShort + light.cutShort();
  }

  /** Rays cast so far. */
  long rays() {
    return ray.rays + light.rays();
  }

  /** Traces one camera sample; its fragments go to the sink under the tile's pixel number. */
  void sample(int x, int y, int sample, int pixel, FragmentSink sink) {
    random.start(transport.settings().seed(), x, y, sample);
    aim(x, y);
    float ox = ray.ox;
    float oy = ray.oy;
    float oz = ray.oz;
    float dx = ray.dx;
    float dy = ray.dy;
    float dz = ray.dz;
    Arrays.fill(left, 1);
    Arrays.fill(begun, 0);
    Arrays.fill(met, 0);
    ray.nearest(masks, RayKind.CAMERA.bit(), hit);
    while (true) {
      int entity = hit.found() ? world.entity[hit.instance] : transport.entities() - 1;
      if (media.matter.length > 0) {
        ways(entity, pixel, sink);
      }
      boolean wants = anyWants(entity);
      pass[0] = pass[1] = pass[2] = 0;
      if (wants || (hit.found() && clear[hit.instance])) {
        meet(wants);
      }
      if (wants) {
        give(entity, pixel, sink);
      }
      if (!goesOn(entity) || !hit.found()) {
        return;
      }
      ray.ray(ox, oy, oz, dx, dy, dz);
      ray.next(masks, RayKind.CAMERA.bit(), hit);
    }
  }

  private void aim(int x, int y) {
    if (moves) {
      random.pair(TIME_PAIR);
      moment.set(random.u);
      media.set(random.u);
      light.moment(random.u);
    }
    float lensU = 0;
    float lensV = 0;
    if (camera.hasLens()) {
      random.pair(LENS_PAIR);
      lensU = random.u;
      lensV = random.v;
    }
    random.pair(PIXEL_PAIR);
    camera.aim(x, y, random.u, random.v, lensU, lensV, ray);
    axis = camera.along(ray);
  }

  private boolean alive(int view) {
    return left[3 * view] + left[3 * view + 1] + left[3 * view + 2] > LEAST;
  }

  private boolean anyWants(int entity) {
    for (int v = 0; v < met.length; v++) {
      if (alive(v) && !skipped[v][entity] && wanted[v][entity]) {
        return true;
      }
    }
    return false;
  }

  /** Reduces the remaining throughput by what was hit; returns whether any is left. */
  private boolean goesOn(int entity) {
    boolean open = false;
    for (int v = 0; v < met.length; v++) {
      if (!skipped[v][entity]) {
        for (int c = 0; c < 3; c++) {
          left[3 * v + c] *= pass[c];
        }
        met[v]++;
        begun[v] = hit.t;
      }
      open |= alive(v);
    }
    return open;
  }

  /**
   * Evaluates what was hit: its transmittance and, if a view wants it, the light that leaves it.
   */
  private void meet(boolean wants) {
    Surface s = light.surface;
    if (!hit.found()) {
      clearLight(fragment);
      environmentSeen();
      return;
    }
    float cone = hit.t * camera.spread();
    reader.read(hit, ray, cone, 0, s);
    boolean through = transport.settings().seeThrough() && s.isStraight;
    for (int c = 0; c < 3; c++) {
      pass[c] = 1 - s.opacity + (through ? s.opacity * s.straight[c] : 0);
    }
    if (!wants) {
      return;
    }
    clearLight(fragment);
    fragment.material = s.material;
    for (int c = 0; c < 3; c++) {
      fragment.opacity[c] = 1 - pass[c];
    }
    if (split.data()) {
      data(s);
    }
    if (isClear(fragment)) {
      return;
    }
    if (through) {
      s.withoutStraight();
    }
    var view = frame.appearance().dataView(hit.instance);
    if (view != null) {
      reader.show(view, hit, s);
    }
    float[] out = fragment.light;
    System.arraycopy(s.emission, 0, out, EMISSION.at(), 3);
    if (account != null) {
      account.begin(s.entity);
      account.light(s.entity, false, s.emission[0], s.emission[1], s.emission[2]);
    }
    group(s.entity, s.emission[0], s.emission[1], s.emission[2], out);
    float opacity = s.opacity;
    // the path goes on in the same surface
    light.leaving(hit.instance, cone);
    if (opacity < 1) {
      for (int i = 0; i < out.length; i++) {
        out[i] *= opacity;
      }
    }
    covered(fragment);
  }

  private static boolean isClear(Fragment f) {
    return f.opacity[0] <= 0 && f.opacity[1] <= 0 && f.opacity[2] <= 0;
  }

  /** Keeps what a fragment covers by channel, where the job asks for it. */
  private void covered(Fragment f) {
    if (split.coverage()) {
      System.arraycopy(f.opacity, 0, f.light, split.coverageAt(), 3);
    }
  }

  private void group(int entity, float r, float g, float b, float[] out) {
    int group = split.group(entity);
    if (group >= 0) {
      int at = split.groupAt(group);
      out[at] += r;
      out[at + 1] += g;
      out[at + 2] += b;
    }
  }

  private static void clearLight(Fragment f) {
    Arrays.fill(f.light, 0);
  }

  private void environmentSeen() {
    frame.environment().radiance(ray.dx, ray.dy, ray.dz, sky);
    System.arraycopy(sky, 0, fragment.light, EMISSION.at(), 3);
    if (account != null) {
      account.begin(transport.entities() - 1);
      account.light(transport.entities() - 1, false, sky[0], sky[1], sky[2]);
    }
    group(transport.entities() - 1, sky[0], sky[1], sky[2], fragment.light);
    fragment.material = 0;
    Arrays.fill(fragment.opacity, 1);
    covered(fragment);
    if (split.data()) {
      far(fragment);
    }
  }

  private void give(int entity, int pixel, FragmentSink sink) {
    if (isClear(fragment)) {
      return;
    }
    fragment.entity = entity;
    fragment.front = hit.found() ? hit.t * axis : Float.POSITIVE_INFINITY;
    fragment.back = fragment.front;
    for (int v = 0; v < met.length; v++) {
      if (alive(v) && !skipped[v][entity] && wanted[v][entity]) {
        System.arraycopy(left, 3 * v, fragment.throughput, 0, 3);
        sink.fragment(v, pixel, fragment);
        if (account != null && v == 0) {
          float[] o = fragment.opacity;
          account.end(
              left,
              0,
              hit.found() ? light.surface.opacity : 1,
              (left[0] * o[0] + left[1] * o[1] + left[2] * o[2]) / 3);
        }
      }
    }
  }

  // ---- media between surfaces

  /** Adds the media in front of an entity for every view that sees it. */
  private void ways(int entity, int pixel, FragmentSink sink) {
    float end = hit.found() ? hit.t : Float.POSITIVE_INFINITY;
    for (int v = 0; v < met.length; v++) {
      // nothing comes after the sky: what a view that skips it has met of media counts all the same
      waits[v] = alive(v) && (!hit.found() || !skipped[v][entity]);
    }
    for (int v = 0; v < met.length; v++) {
      if (!waits[v]) {
        continue;
      }
      // all media gather light from the same emitter
      int emitter = light.pickFor(0);
      boolean has = light.place(emitter, target);
      media.interval(ray, begun[v], end, sees[v], target, has, INTERVAL_KEY + 1_000_003 * met[v]);
      for (int m = 0; m < gathers.length; m++) {
        if (media.alpha[m] > 0 && gathers[m]) {
          gather(m, emitter);
          share(v, m, pixel, sink);
        }
      }
      // views that went the same way get the same
      for (int w = met.length - 1; w >= v; w--) {
        if (waits[w] && alike(v, w)) {
          waits[w] = false;
          for (int c = 0; c < 3; c++) {
            left[3 * w + c] *= media.left;
          }
        }
      }
    }
  }

  private boolean alike(int a, int b) {
    return begun[a] == begun[b] && met[a] == met[b] && Arrays.equals(sees[a], sees[b]);
  }

  private void gather(int m, int emitter) {
    PreparedMedium matter = media.matter[m];
    clearLight(fragment);
    boolean shines = transport.reach(matter.entity).emits();
    float glow = shines ? media.alpha[m] : 0;
    var e = matter.medium.emission();
    float[] out = fragment.light;
    out[MEDIUM.at()] = glow * e.r();
    out[MEDIUM.at() + 1] = glow * e.g();
    out[MEDIUM.at() + 2] = glow * e.b();
    group(matter.entity, glow * e.r(), glow * e.g(), glow * e.b(), out);
    if (account != null) {
      account.begin(matter.entity);
      account.light(matter.entity, false, glow * e.r(), glow * e.g(), glow * e.b());
    }
    float at = media.place[m];
    light.scattered(m, ray, at, media.weight[m], emitter, at * camera.spread());
    System.arraycopy(fragment.light, 0, inMedia.light, 0, inMedia.light.length);
    inMedia.entity = matter.entity;
    inMedia.material = 0;
    inMedia.front = media.entry(m) * axis;
    inMedia.back = media.exit(m) * axis;
    if (deep) {
      inMedia.slices = media.slices(ray, m, inMedia.cuts);
      for (int k = 0; k <= inMedia.slices; k++) {
        inMedia.cuts[k] *= axis;
      }
    }
    Arrays.fill(inMedia.opacity, media.alpha[m]);
    covered(inMedia);
    if (split.data()) {
      inMedia.position[0] = ray.ox + at * ray.dx;
      inMedia.position[1] = ray.oy + at * ray.dy;
      inMedia.position[2] = ray.oz + at * ray.dz;
      inMedia.depth = camera.depth(inMedia.position[0], inMedia.position[1], inMedia.position[2]);
      for (int c = 0; c < 3; c++) {
        inMedia.normal[c] = c == 0 ? -ray.dx : c == 1 ? -ray.dy : -ray.dz;
        inMedia.albedo[c] = 1;
      }
      camera.motion(inMedia.position, inMedia.position, inMedia.position, inMedia.motion);
    }
  }

  private void share(int view, int m, int pixel, FragmentSink sink) {
    int own = media.matter[m].entity;
    for (int v = view; v < met.length; v++) {
      if (waits[v] && alike(view, v) && wanted[v][own]) {
        System.arraycopy(left, 3 * v, inMedia.throughput, 0, 3);
        sink.fragment(v, pixel, inMedia);
        if (account != null && v == 0) {
          account.end(left, 0, 1, inMedia.opacity[0] * (left[0] + left[1] + left[2]) / 3);
        }
      }
    }
  }

  // ---- data

  private void data(Surface s) {
    Fragment f = fragment;
    f.position[0] = s.px;
    f.position[1] = s.py;
    f.position[2] = s.pz;
    f.normal[0] = s.nx;
    f.normal[1] = s.ny;
    f.normal[2] = s.nz;
    System.arraycopy(s.albedo, 0, f.albedo, 0, 3);
    reader.uv(f.uv);
    f.depth = camera.depth(s.px, s.py, s.pz);
    int i = hit.instance;
    move(moment.toObject, i, f.position, object);
    move(world.toWorld, i, object, target);
    move(before, i, object, earlier);
    move(after, i, object, later);
    camera.motion(target, earlier, later, f.motion);
  }

  private static void move(float[] m, int instance, float[] from, float[] to) {
    int r = 12 * instance;
    for (int axis = 0; axis < 3; axis++) {
      int k = r + 4 * axis;
      to[axis] = m[k] * from[0] + m[k + 1] * from[1] + m[k + 2] * from[2] + m[k + 3];
    }
  }

  private void far(Fragment f) {
    float distance = 1e6f;
    for (int c = 0; c < 3; c++) {
      float d = c == 0 ? ray.dx : c == 1 ? ray.dy : ray.dz;
      float o = c == 0 ? ray.ox : c == 1 ? ray.oy : ray.oz;
      f.position[c] = o + distance * d;
      f.normal[c] = -d;
      f.albedo[c] = 1;
    }
    f.uv[0] = f.uv[1] = 0;
    f.depth = Float.POSITIVE_INFINITY;
    camera.motion(f.position, f.position, f.position, f.motion);
  }
}
