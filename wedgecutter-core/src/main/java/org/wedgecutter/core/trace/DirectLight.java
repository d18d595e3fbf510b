package org.wedgecutter.core.trace;

import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.resolve.Reach;
import org.wedgecutter.core.resolve.TransportClass;
import org.wedgecutter.core.trace.bsdf.Surface;
import org.wedgecutter.core.trace.light.Emitters;
import org.wedgecutter.core.trace.light.LightPicker;
import org.wedgecutter.core.trace.light.LightSampler;
import org.wedgecutter.core.trace.sample.Sampler;
import org.wedgecutter.core.trace.volume.PreparedMedium;

/**
 * Next-event estimation: the light that a sampled point on an emitter sends to a path vertex,
 * weighted by the power heuristic against sampling the BSDF.
 *
 * <p>Source: E. Veach, "Robust Monte Carlo Methods for Light Transport Simulation", 1997.
 */
final class DirectLight {
  private final Emitters emitters;
  private final TransportClass transport;
  private final Sampler random;
  private final LightPicker picker;
  private final LightSampler lights;
  private final Visibility visibility;
  private final PreparedMedium[] matter;
  private final PathVertex at;
  private final LightRecorder book;

  /** Lights that were blocked, or null. */
  private final @Nullable Interplay interplay;

  DirectLight(
      PreparedFrame frame,
      TransportClass transport,
      Sampler random,
      LightPicker picker,
      LightSampler lights,
      Visibility visibility,
      PathVertex at,
      LightRecorder book,
      @Nullable Interplay interplay) {
    emitters = frame.emitters();
    matter = frame.matter();
    this.transport = transport;
    this.random = random;
    this.picker = picker;
    this.lights = lights;
    this.visibility = visibility;
    this.at = at;
    this.book = book;
    this.interplay = interplay;
  }

  /**
   * Adds the light of emitters picked by their likely contribution at the vertex.
   *
   * @param picks how many, stratified over the probabilities
   */
  void fromSome(int pairs, int picks, boolean first) {
    random.pair(pairs + Transport.PICK_PAIR);
    float u = random.u;
    for (int k = 0; k < picks; k++) {
      int number = picker.pick((k + u) / picks);
      if (number >= 0) {
        random.pair(pairs + (k == 0 ? Transport.LIGHT_PAIR : Transport.FIRST_LIGHT_PAIR + k));
        from(number, picks * picker.chance, first);
      }
    }
  }

  /**
   * Whether the surface does not receive all shadows: a direction that meets a blocker then says
   * nothing about the light behind it.
   */
  boolean isUnshadowed() {
    Reach reach = transport.reach(at.surface.entity);
    return reach.receivesNoShadows() || reach.castsNoSelfShadow();
  }

  /**
   * Adds the light of one emitter at the vertex, by one point on it.
   *
   * @param probability of the pick, times the number of picks
   * @param first whether the vertex is what the camera sees
   */
  void from(int number, float chance, boolean first) {
    Emitters.Emitter emitter = emitters.all.get(number);
    Reach reach = transport.reach(emitter.entity());
    if (!reach.emits() || !transport.lights(emitter.entity(), at.entity())) {
      return;
    }
    boolean surround = emitter instanceof Emitters.Surround;
    int key = Sampler.key(Transport.SHADOWS, bounceKey(first), number);
    if (at.inMedium) {
      toMedium(emitter, reach, chance, first, surround, key);
      return;
    }
    Surface surface = at.surface;
    if (!lights.sample(emitter, surface.px, surface.py, surface.pz, random.u, random.v)) {
      return;
    }
    boolean known = false;
    boolean blocked = false;
    for (int k = 0; k < 3; k++) {
      if (!surface.takes(k) || !reach.has(Transport.REACH[k]) || (blocked && !asks(k, first))) {
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
                surface, at.instance, lights.x, lights.y, lights.z, lights.distance, key);
      }
      addDirect(k, chance, first, surround, emitter.entity(), blocked);
    }
  }

  /** Whether light that is blocked is of interest. */
  private boolean asks(int lobe, boolean first) {
    return first
        && (interplay != null || book.accounts() || (book.unshadowed() && lobe == Surface.DIFFUSE));
  }

  private int bounceKey(boolean first) {
    return at.base + (first ? 0 : at.bounce);
  }

  private void toMedium(
      Emitters.Emitter emitter,
      Reach reach,
      float chance,
      boolean first,
      boolean surround,
      int key) {
    if (!reach.has(Reach.Flag.BOUNCE)
        || !lights.sample(emitter, at.mx, at.my, at.mz, random.u, random.v)
        || !visibility.reaches(
            at.mx, at.my, at.mz, lights.x, lights.y, lights.z, lights.distance, key)) {
      return;
    }
    float cos = lights.x * at.travelX + lights.y * at.travelY + lights.z * at.travelZ;
    float phase = matter[at.medium].phase(cos);
    float d = lights.pdf * chance;
    float weight = lights.point ? 1 / chance : powerHeuristic(d, phase) / d;
    float[] through = at.through;
    book.put(
        LightRecorder.target(first ? PathVertex.MEDIUM : at.firstKind, first, surround),
        through[0] * phase * lights.radiance[0] * weight * visibility.transmittance[0],
        through[1] * phase * lights.radiance[1] * weight * visibility.transmittance[1],
        through[2] * phase * lights.radiance[2] * weight * visibility.transmittance[2],
        !first,
        emitter.entity(),
        !first && at.byCaster,
        false);
  }

  private void addDirect(
      int lobe, float chance, boolean first, boolean surround, int emitter, boolean blocked) {
    Surface surface = at.surface;
    float[] through = at.through;
    float d = lights.pdf * chance;
    float weight =
        lights.point ? 1 / chance : powerHeuristic(d, surface.chance[lobe] * surface.pdf) / d;
    float r = through[0] * surface.value[0] * lights.radiance[0] * weight;
    float g = through[1] * surface.value[1] * lights.radiance[1] * weight;
    float b = through[2] * surface.value[2] * lights.radiance[2] * weight;
    boolean straight = first && lobe == Surface.DIFFUSE;
    if (blocked) {
      if (straight) {
        book.keptOut(r, g, b);
      }
      if (first && visibility.blocker >= 0) {
        book.blockedBy(emitter, visibility.blocker, r, g, b);
      }
      if (first && interplay != null && visibility.blocker >= 0) {
        interplay.blocked(surface.entity, visibility.blocker, 0.2126 * r + 0.7152 * g + 0.0722 * b);
      }
      return;
    }
    float[] let = visibility.transmittance;
    int where = LightRecorder.target(first ? lobe : at.firstKind, first, surround);
    boolean byCaster = !first && at.byCaster;
    book.put(where, r * let[0], g * let[1], b * let[2], !first, emitter, byCaster, straight);
    if (straight) {
      book.keptOut(r * (1 - let[0]), g * (1 - let[1]), b * (1 - let[2]));
    }
  }

  /** The power heuristic: the weight of a pdf against another. */
  static float powerHeuristic(float a, float b) {
    float ratio = b / a;
    return 1 / (1 + ratio * ratio);
  }
}
