package org.wedgecutter.core.scene;

/** Scene-linear red, green, blue with BT.709 primaries. */
public record Rgb(float r, float g, float b) {
  public static final Rgb BLACK = new Rgb(0, 0, 0);
  public static final Rgb WHITE = new Rgb(1, 1, 1);

  /** Returns each component times a factor. */
  public Rgb times(float factor) {
    return new Rgb(r * factor, g * factor, b * factor);
  }

  /** Returns the largest component. */
  public float max() {
    return Math.max(r, Math.max(g, b));
  }
}
