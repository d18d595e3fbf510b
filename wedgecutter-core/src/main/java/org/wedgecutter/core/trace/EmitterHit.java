package org.wedgecutter.core.trace;

import org.wedgecutter.core.resolve.Reach;
import org.wedgecutter.core.resolve.TransportClass;
import org.wedgecutter.core.trace.accel.Hit;
import org.wedgecutter.core.trace.accel.RayCaster;
import org.wedgecutter.core.trace.bsdf.Surface;
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
      PathVertex at,
      LightRecorder book) {
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
    around.x = ray.dx;
    around.y = ray.dy;
    around.z = ray.dz;
    environment.at(around);
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
