package org.wedgecutter.core.trace;

import java.util.Arrays;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.pass.LightPass;
import org.wedgecutter.core.trace.bsdf.Surface;

/**
 * Records the light of one sample: by the first event, by the emitter that it came from, and
 * unshadowed. One object serves one thread.
 */
final class LightRecorder {
  private final LightSplit split;
  private final int[] groupOf;
  private final boolean[] caster;
  private final float clamp;

  /** As {@link LightSplit} lays it out. */
  private final float[] light;

  /** Told of every way of light, or null. */
  private final @Nullable LightAccount account;

  /**
   * @param caster which of the scene's entities are casters
   * @param clamp most that one indirect path may bring; 0 means no bound
   * @param light the array it is added to
   * @param account told of every way of light, or null
   */
  LightRecorder(
      LightSplit split,
      boolean[] caster,
      float clamp,
      float[] light,
      @Nullable LightAccount account) {
    this.account = account;
    this.split = split;
    this.caster = caster;
    this.clamp = clamp;
    this.light = light;
    groupOf = new int[caster.length];
    Arrays.setAll(groupOf, split::group);
  }

  /** Whether unshadowed light is asked for. */
  boolean unshadowed() {
    return split.unshadowed();
  }

  /** Returns up to which distance occlusion is asked for; 0 means not at all. */
  float occlusionReach() {
    return split.occlusion();
  }

  /** Records one sample of ambient occlusion. */
  void open(boolean free) {
    light[split.occlusionAt()] = free ? 1 : 0;
  }

  /**
   * Returns the place in the array where light is added.
   *
   * @param first kind of lobe of the first event, or the number of a medium's
   * @param direct whether it came straight from an emitter
   * @param surround whether that is the environment
   */
  static int target(int first, boolean direct, boolean surround) {
    LightPass pass =
        switch (first) {
          case Surface.DIFFUSE ->
              direct
                  ? surround ? LightPass.DIFFUSE_ENVIRONMENT : LightPass.DIFFUSE_LIGHTS
                  : LightPass.DIFFUSE_BOUNCED;
          case Surface.SPECULAR -> direct ? LightPass.SPECULAR_DIRECT : LightPass.SPECULAR_INDIRECT;
          case Surface.TRANSMISSION ->
              direct ? LightPass.TRANSMISSION_DIRECT : LightPass.TRANSMISSION_INDIRECT;
          default -> LightPass.MEDIUM;
        };
    return pass.at();
  }

  /**
   * Adds light.
   *
   * @param at where, by {@link #target}
   * @param indirect whether it is indirect, so that the clamp applies
   * @param emitter the entity that it came from
   * @param byCaster whether it came via a caster, after a diffuse first event
   * @param straightDiffuse whether it is diffuse light straight from an emitter
   */
  void put(
      int at,
      float r,
      float g,
      float b,
      boolean indirect,
      int emitter,
      boolean byCaster,
      boolean straightDiffuse) {
    float most = Math.max(r, Math.max(g, b));
    float scale = indirect && clamp > 0 && most > clamp ? clamp / most : 1;
    add(at, r * scale, g * scale, b * scale);
    if (account != null) {
      account.light(emitter, indirect, r * scale, g * scale, b * scale);
    }
    if (straightDiffuse && caster[emitter]) {
      add(split.emittedByCastersAt(), r * scale, g * scale, b * scale);
    } else if (at == LightPass.DIFFUSE_BOUNCED.at() && (byCaster || caster[emitter])) {
      add(split.bouncedByCastersAt(), r * scale, g * scale, b * scale);
    }
    int group = groupOf[emitter];
    if (group >= 0) {
      add(split.groupAt(group), r * scale, g * scale, b * scale);
      if (straightDiffuse) {
        add(split.diffuseAt(group), r * scale, g * scale, b * scale);
      }
    }
    if (straightDiffuse && split.unshadowed()) {
      add(split.unshadowedAt(), r * scale, g * scale, b * scale);
    }
  }

  /** Whether every way of light is accounted for. */
  boolean accounts() {
    return account != null;
  }

  /** Tells of light that something blocked. */
  void blockedBy(int emitter, int blocker, float r, float g, float b) {
    if (account != null) {
      account.blocked(emitter, blocker, r, g, b);
    }
  }

  /** Adds light that was blocked, where it is asked for. */
  void keptOut(float r, float g, float b) {
    if (split.unshadowed()) {
      add(split.unshadowedAt(), r, g, b);
    }
  }

  private void add(int at, float r, float g, float b) {
    light[at] += r;
    light[at + 1] += g;
    light[at + 2] += b;
  }

  /** Returns the luminance of all light of the sample. */
  double luma() {
    double sum = 0;
    for (int p = 0; p < LightPass.NUMBERS; p += 3) {
      sum += 0.2126 * light[p] + 0.7152 * light[p + 1] + 0.0722 * light[p + 2];
    }
    return sum;
  }
}
