package org.wedgecutter.core.trace;

import org.wedgecutter.core.resolve.Reach;
import org.wedgecutter.core.resolve.TransportClass;
import org.wedgecutter.core.trace.accel.Hit;
import org.wedgecutter.core.trace.accel.RayCaster;
import org.wedgecutter.core.trace.bsdf.Surface;
import org.wedgecutter.core.trace.bsdf.SurfaceReader;
import org.wedgecutter.core.trace.light.Emitters;
import org.wedgecutter.core.trace.light.EnvironmentMap;
import org.wedgecutter.core.trace.light.LightPicker;
import org.wedgecutter.core.trace.light.LightSampler;

/**
 * The light of emitters that a sampled direction meets, weighted against next-event estimation: the
 * other half of {@link DirectLight}. One object serves one thread.
 */
final class EmitterHit {
  private final EnvironmentMap environment;
  private final Emitters emitters;
  private final TransportClass transport;
  private final LightPicker picker;
  private final LightSampler lights;
  private final PathVertex at;
  private final LightRecorder book;
  private final EnvironmentMap.Pick around = new EnvironmentMap.Pick();
  private final int[] stack;
  private final int[] metLights;

  private final SurfaceReader reader;
  private final Surface mesh = new Surface();
  private final Hit meshHit = new Hit();
  private final float[] seen = new float[3];

  /** Masks of the instances that are emitters. */
  private final byte[] areas;

  private final boolean anyArea;

  /** Kind of lobe by which the path left the vertex. */
  int kind;

  /** Density over solid angle of the sampled direction; infinite for a specular one. */
  float pdf;

  /** Whether all emitters were equally likely to be picked at the vertex. */
  boolean evenly;

  /** Number of emitters that were picked at the vertex. */
  int picks;

  /** Entity that the path left. */
  int cameFrom;

  EmitterHit(
      PreparedFrame frame,
      TransportClass transport,
      LightPicker picker,
      LightSampler lights,
      SurfaceReader reader,
      PathVertex at,
      LightRecorder book) {
    this.reader = reader;
    areas = new byte[frame.emitters().ofInstance.length];
    boolean any = false;
    for (int i = 0; i < areas.length; i++) {
      boolean emits = frame.emitters().ofInstance[i] >= 0;
      areas[i] = (byte) (emits ? 1 : 0);
      any |= emits;
    }
    anyArea = any;
    environment = frame.environment();
    emitters = frame.emitters();
    this.transport = transport;
    this.picker = picker;
    this.lights = lights;
    this.at = at;
    this.book = book;
    stack = new int[emitters.tree.depth()];
    metLights = new int[emitters.all.size()];
  }

  /** Returns the probability with which an emitter was picked at the vertex, times the picks. */
  private float chance(int number) {
    return evenly ? 1f / emitters.all.size() : picks * picker.chance(number);
  }

  private float misWeight(float other) {
    return pdf == Float.POSITIVE_INFINITY ? 1 : DirectLight.powerHeuristic(pdf, other);
  }

  /**
   * Adds the environment in the direction of a ray that left the scene.
   *
   * @param every whether the vertex took a sample of every emitter
   */
  void environment(RayCaster ray, boolean every) {
    int entity = transport.entities() - 1;
    Reach reach = transport.reach(entity);
    if (emitters.surround < 0
        || !reach.has(Transport.REACH[kind])
        || !reach.emits()
        || !transport.lights(entity, cameFrom)) {
      return;
    }
    toRadiance(ray);
    float weight = misWeight(around.pdf * (every ? 1 : chance(emitters.surround)));
    add(around.radiance, weight, entity, true, at.bounce == 1);
  }

  /** Adds the emission of the surface that a ray met. */
  void surface(RayCaster ray, Hit hit, Surface surface, boolean every) {
    int number = emitters.ofInstance[hit.instance];
    if (surface.emission[0] + surface.emission[1] + surface.emission[2] <= 0
        || !transport.reach(surface.entity).emits()
        || !transport.lights(surface.entity, cameFrom)) {
      return;
    }
    // unlit surfaces shine without being emitters: they are found by their rays alone
    float weight = 1;
    if (number >= 0) {
      Emitters.Area area = (Emitters.Area) emitters.all.get(number);
      weight = misWeight(lights.pdfOf(area, hit, ray) * (every ? 1 : chance(number)));
    }
    add(surface.emission, weight, surface.entity, false, at.bounce == 1);
  }

  /** Adds the area lights that a ray meets between two distances. */
  void lights(RayCaster ray, float from, float upTo, boolean every) {
    for (int number : emitters.discs) {
      light(ray, number, from, upTo, every);
    }
    int count = emitters.tree.met(ray, upTo, stack, metLights);
    for (int k = 0; k < count; k++) {
      light(ray, metLights[k], from, upTo, every);
    }
  }

  private void light(RayCaster ray, int number, float from, float upTo, boolean every) {
    Emitters.Shining s = (Emitters.Shining) emitters.all.get(number);
    Reach reach = transport.reach(s.entity());
    if (reach.has(Transport.REACH[kind])
        && reach.emits()
        && transport.lights(s.entity(), cameFrom)
        && lights.intersect(s, ray, upTo)
        && lights.distance >= from) {
      float weight = misWeight(lights.pdf * (every ? 1 : chance(number)));
      add(lights.radiance, weight, s.entity(), false, at.bounce == 1);
    }
  }

  /**
   * Adds the light of all emitters in a sampled direction from a surface that does not receive all
   * shadows, each as far as what blocks it there counts: the counterpart of next-event estimation,
   * where the nearest thing that the ray meets would not do.
   *
   * @param ray from the vertex in the sampled direction
   * @param key of the random numbers
   */
  void unshadowed(
      RayCaster ray, Visibility visibility, Surface vertex, int instance, boolean every, int key) {
    int around = transport.entities() - 1;
    if (emitters.surround >= 0 && takes(around)) {
      toRadiance(ray);
      float weight = misWeight(this.around.pdf * (every ? 1 : chance(emitters.surround)));
      through(ray, visibility, vertex, instance, Float.POSITIVE_INFINITY, key);
      add(visible(this.around.radiance, visibility), weight, around, true, at.bounce == 1);
    }
    for (int number : emitters.discs) {
      unshadowedLight(ray, visibility, vertex, instance, number, every, key);
    }
    int count = emitters.tree.met(ray, Float.POSITIVE_INFINITY, stack, metLights);
    for (int k = 0; k < count; k++) {
      unshadowedLight(ray, visibility, vertex, instance, metLights[k], every, key);
    }
    if (anyArea) {
      ray.nearest(areas, (byte) 1, meshHit);
      while (meshHit.found()) {
        unshadowedMesh(ray, visibility, vertex, instance, every, key);
        ray.next(areas, (byte) 1, meshHit);
      }
    }
  }

  private boolean takes(int entity) {
    Reach reach = transport.reach(entity);
    return reach.has(Transport.REACH[kind]) && reach.emits() && transport.lights(entity, cameFrom);
  }

  private static void through(
      RayCaster ray, Visibility visibility, Surface vertex, int instance, float far, int key) {
    if (!visibility.reaches(vertex, instance, ray.dx, ray.dy, ray.dz, far, key)) {
      java.util.Arrays.fill(visibility.transmittance, 0);
    }
  }

  private float[] visible(float[] radiance, Visibility visibility) {
    for (int c = 0; c < 3; c++) {
      seen[c] = radiance[c] * visibility.transmittance[c];
    }
    return seen;
  }

  private void unshadowedLight(
      RayCaster ray,
      Visibility visibility,
      Surface vertex,
      int instance,
      int number,
      boolean every,
      int key) {
    Emitters.Shining s = (Emitters.Shining) emitters.all.get(number);
    if (takes(s.entity()) && lights.intersect(s, ray, Float.POSITIVE_INFINITY)) {
      float weight = misWeight(lights.pdf * (every ? 1 : chance(number)));
      through(ray, visibility, vertex, instance, lights.distance * (1 - 1e-5f), key);
      add(visible(lights.radiance, visibility), weight, s.entity(), false, at.bounce == 1);
    }
  }

  private void unshadowedMesh(
      RayCaster ray, Visibility visibility, Surface vertex, int instance, boolean every, int key) {
    int number = emitters.ofInstance[meshHit.instance];
    Emitters.Area area = (Emitters.Area) emitters.all.get(number);
    if (!takes(area.entity())) {
      return;
    }
    reader.read(meshHit, ray, 0, 0, mesh);
    if (mesh.emission[0] + mesh.emission[1] + mesh.emission[2] > 0) {
      float weight = misWeight(lights.pdfOf(area, meshHit, ray) * (every ? 1 : chance(number)));
      through(ray, visibility, vertex, instance, meshHit.t * (1 - 1e-4f), key);
      add(visible(mesh.emission, visibility), weight, area.entity(), false, at.bounce == 1);
    }
  }

  private void toRadiance(RayCaster ray) {
    around.x = ray.dx;
    around.y = ray.dy;
    around.z = ray.dz;
    environment.at(around);
  }

  /** Adds light that reaches the vertex, to the pass that it belongs to. */
  void add(float[] radiance, float weight, int emitter, boolean surround, boolean direct) {
    float[] through = at.through;
    book.put(
        LightRecorder.target(at.firstKind, direct, surround),
        through[0] * radiance[0] * weight,
        through[1] * radiance[1] * weight,
        through[2] * radiance[2] * weight,
        !direct,
        emitter,
        at.byCaster,
        direct && at.firstKind == Surface.DIFFUSE);
  }
}
