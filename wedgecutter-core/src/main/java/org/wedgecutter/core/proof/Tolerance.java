package org.wedgecutter.core.proof;

/**
 * How far a rejoined number may be from the uncut one: {@code absolute + relative * light}, where
 * light is the larger of the uncut number and the scale of error of the rejoined one (rounding goes
 * with what is added and taken away, not with what is left; what is covered is gone).
 *
 * @param absolute in the scene's unit of light
 * @param relative share of the light
 */
public record Tolerance(float absolute, float relative) {
  /** For pictures in 32-bit float. */
  public static final Tolerance FLOAT = new Tolerance(1e-4f, 1e-3f);

  /** For pictures that were rounded to half float. */
  public static final Tolerance HALF = new Tolerance(1e-4f, 4e-3f);
}
