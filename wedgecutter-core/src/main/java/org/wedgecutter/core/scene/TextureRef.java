package org.wedgecutter.core.scene;

import org.jspecify.annotations.Nullable;

/**
 * A use of an image.
 *
 * @param image index into {@link Scene#images()}
 * @param repeatU whether the image repeats along u (else its edge is extended)
 * @param repeatV whether the image repeats along v
 * @param placing the transform of u and v; null means none
 */
public record TextureRef(int image, boolean repeatU, boolean repeatV, @Nullable Placing placing) {
  /** A use of an image without a transform. */
  public TextureRef(int image, boolean repeatU, boolean repeatV) {
    this(image, repeatU, repeatV, null);
  }

  /**
   * A linear change of (u, v, 1), as KHR_texture_transform makes of offset, turn and scale.
   *
   * @param uu share of u in u
   * @param uv share of v in u
   * @param u shift of u
   * @param vu share of u in v
   * @param vv share of v in v
   * @param v shift of v
   */
  public record Placing(float uu, float uv, float u, float vu, float vv, float v) {
    /** Returns by how much areas of the image grow. */
    public float growth() {
      return Math.abs(uu * vv - uv * vu);
    }
  }
}
