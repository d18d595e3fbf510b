package org.wedgecutter.core.plan;

import java.util.List;

/**
 * The shot that is cut.
 *
 * @param scene path of the scene file, relative to the plan
 * @param camera name of the camera; empty means the scene's first
 * @param frames frames of the shot
 * @param fps frames per second; frame 1 is at the scene's time 0
 * @param width picture width in pixels
 * @param height picture height in pixels
 * @param samples samples per pixel of a final
 * @param bounces most bounces of light
 * @param seed changes the noise
 * @param clamp most that one indirect path may bring; 0 means no bound
 * @param soften least roughness of surfaces met after a diffuse bounce, as microfacet width
 * @param environment what surrounds the scene
 * @param known paths of the entities that the scene had when the plan was last saved, in order;
 *     empty if that is not known
 * @param extra unknown keys
 */
public record Shot(
    String scene,
    String camera,
    FrameRange frames,
    double fps,
    int width,
    int height,
    int samples,
    int bounces,
    long seed,
    float clamp,
    float soften,
    EnvironmentDef environment,
    List<String> known,
    Extra extra) {
  public Shot {
    known = List.copyOf(known);
  }

  /**
   * What surrounds the scene.
   *
   * @param image path of an .hdr image, relative to the plan; empty means darkness
   * @param turn degrees about the vertical
   * @param level factor on its light
   * @param extra unknown keys
   */
  public record EnvironmentDef(String image, double turn, double level, Extra extra) {}

  /** Returns the scene's time at a frame, in seconds. */
  public double time(int frame) {
    return (frame - 1) / fps;
  }

  /** Returns the shot with another seed. */
  public Shot withSeed(long next) {
    return new Shot(
        scene,
        camera,
        frames,
        fps,
        width,
        height,
        samples,
        bounces,
        next,
        clamp,
        soften,
        environment,
        known,
        extra);
  }

  /** Returns the shot with another scene file. */
  public Shot withScene(String next) {
    return new Shot(
        next,
        camera,
        frames,
        fps,
        width,
        height,
        samples,
        bounces,
        seed,
        clamp,
        soften,
        environment,
        known,
        extra);
  }

  /** Returns the shot with another camera. */
  public Shot withCamera(String next) {
    return new Shot(
        scene,
        next,
        frames,
        fps,
        width,
        height,
        samples,
        bounces,
        seed,
        clamp,
        soften,
        environment,
        known,
        extra);
  }

  /** Returns the shot with another environment. */
  public Shot withEnvironment(EnvironmentDef next) {
    return new Shot(
        scene, camera, frames, fps, width, height, samples, bounces, seed, clamp, soften, next,
        known, extra);
  }

  /** Returns the shot with other known entities. */
  public Shot withKnown(List<String> next) {
    return new Shot(
        scene,
        camera,
        frames,
        fps,
        width,
        height,
        samples,
        bounces,
        seed,
        clamp,
        soften,
        environment,
        next,
        extra);
  }
}
