package org.wedgecutter.core.proof;

import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.rejoin.Precision;

/**
 * How far a rejoined number may be from the uncut one: the one measure of every proof.
 *
 * <p>A number may be off by {@link #RELATIVE} of its light, where light is the larger of the uncut
 * number and the scale of error of the rejoined one; light that is kept in half floats counts four
 * times ({@link Precision#weight}). Alpha, which is a share, may be off by {@link #ALPHA} besides.
 * Colour has no such bound: exposing a whole shot, or a bright lamp in a dark room, changes no
 * verdict. Only the steps between the least half floats are allowed, and only where they are small
 * beside the frame: beyond that, a shot is too dark for halves, which a proof has to say.
 *
 * <p>What is not finite is beyond any tolerance.
 */
public final class Tolerance {
  /** Share of the light that 32-bit floats may be off. */
  public static final float RELATIVE = 1e-3f;

  /** What alpha may be off besides. */
  public static final float ALPHA = 1e-4f;

  /** Share of the frame's light that steps of half floats may amount to. */
  private static final float FRAME = 4e-3f;

  /** The light of a frame: as much or less is in this share of its pixels. */
  private static final double PERCENTILE = 0.99;

  /** What light that is not finite counts as, in sums, beside the largest of the frame. */
  private static final double INVALID = 1000;

  private final Picture uncut;
  private final Precision precision;
  private final float absolute;
  private final double invalid;

  private final boolean isDark;

  private Tolerance(
      Picture uncut, Precision precision, float absolute, boolean isDark, double invalid) {
    this.isDark = isDark;
    this.uncut = uncut;
    this.precision = precision;
    this.absolute = absolute;
    this.invalid = invalid;
  }

  /** Returns what is allowed beside an uncut frame where everything is in 32-bit floats. */
  public static Tolerance of(Picture uncut) {
    return of(uncut, Precision.FLOAT, 0);
  }

  /**
   * Returns what is allowed.
   *
   * @param uncut the uncut frame
   * @param precision how its numbers were kept
   * @param halves how many pictures that meet were rounded to half floats, the uncut frame too
   */
  public static Tolerance of(Picture uncut, Precision precision, int halves) {
    return of(uncut, precision, halves, new FrameLight().add(uncut));
  }

  /**
   * Returns what is allowed in a band of a frame.
   *
   * @param uncut a band of the uncut frame
   * @param precision how its numbers were kept
   * @param halves how many pictures that meet were rounded to half floats, the uncut frame too
   * @param light of the whole frame
   */
  public static Tolerance of(Picture uncut, Precision precision, int halves, FrameLight light) {
    float absolute = 0;
    boolean isDark = false;
    if (halves > 0) {
      float frame = light.percentile(PERCENTILE);
      absolute = Math.min(halves * Precision.HALF.step(), FRAME * frame);
      isDark = frame > 0 && absolute < halves * Precision.HALF.step();
    }
    double most = light.most() > 0 ? light.most() : 1;
    return new Tolerance(uncut, precision, absolute, isDark, INVALID * most);
  }

  /** Returns the uncut frame. */
  public Picture uncut() {
    return uncut;
  }

  /** Returns what any colour may be off, whatever its light: steps of half floats. */
  public float absolute() {
    return absolute;
  }

  /** Returns the share of the light that the uncut frame's numbers may be off. */
  public float relative() {
    return RELATIVE * precision.weight();
  }

  /** Whether the frame is so dark that half floats do not hold its light precisely. */
  public boolean isDark() {
    return isDark;
  }

  /**
   * Whether a number is near enough.
   *
   * @param i its place in the picture: four for each pixel
   * @param scale of its error
   */
  public boolean allows(int i, float rejoined, float scale) {
    float own = uncut.rgba()[i];
    float off = Math.abs(rejoined - own);
    if (!Float.isFinite(off) || !Float.isFinite(scale)) {
      return false;
    }
    float light = Math.max(precision.weight() * Math.abs(own), scale);
    return off <= ((i & 3) == 3 ? ALPHA : absolute) + RELATIVE * light;
  }

  /**
   * Returns how far a number is off if that is more than is allowed, else 0: for sums over a frame.
   */
  public double excess(int i, float rejoined, float scale) {
    if (allows(i, rejoined, scale)) {
      return 0;
    }
    float off = Math.abs(rejoined - uncut.rgba()[i]);
    return Float.isFinite(off) && Float.isFinite(scale) ? off : invalid;
  }

  /** Returns the sum of {@link #excess} over a picture. */
  public double excess(Picture rejoined, Picture scale) {
    double out = 0;
    float[] r = rejoined.rgba();
    for (int i = 0; i < r.length; i++) {
      out += excess(i, r[i], scale.rgba()[i]);
    }
    return out;
  }
}
