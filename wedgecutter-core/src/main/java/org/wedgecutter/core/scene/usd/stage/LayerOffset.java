package org.wedgecutter.core.scene.usd.stage;

/**
 * How time codes of a layer that is brought in become those of the one that brings it in: {@code
 * scale * time + offset}.
 */
public record LayerOffset(double offset, double scale) {
  /** Time codes as they are. */
  public static final LayerOffset NONE = new LayerOffset(0, 1);

  /** Returns a time code in the layer that brings it in. */
  public double at(double time) {
    return scale * time + offset;
  }

  /** Returns both in one: this first, then the outer one. */
  LayerOffset then(LayerOffset outer) {
    return new LayerOffset(outer.at(offset), scale * outer.scale);
  }
}
