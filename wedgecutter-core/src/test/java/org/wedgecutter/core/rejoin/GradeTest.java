package org.wedgecutter.core.rejoin;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.EnumSource;
import org.junit.jupiter.params.provider.ValueSource;
import org.wedgecutter.core.plan.Correction;
import org.wedgecutter.core.plan.Correction.Type;

/** What each correction does to a pixel, held against what is known of it from elsewhere. */
class GradeTest {
  private static final float[] COLOUR = {0.7f, 0.2f, 1.3f, 1};

  @ParameterizedTest
  @ValueSource(ints = {-300, -90, 30, 90, 180, 225})
  void aTurnOfHueKeepsGreyAndLuminance(int degrees) {
    close(graded(Type.HUE, new float[] {0.4f, 0.4f, 0.4f, 1}, degrees), 0.4, 0.4, 0.4);
    float[] turned = graded(Type.HUE, COLOUR, degrees);
    assertThat(luminance(turned)).isCloseTo(luminance(COLOUR), within(2e-3));
  }

  @Test
  void turnsOfHueAddUpAndAWholeOneIsNone() {
    float[] apart = graded(Type.HUE, graded(Type.HUE, COLOUR, 40), 70);
    float[] together = graded(Type.HUE, COLOUR, 110);
    close(together, apart[0], apart[1], apart[2], 2e-3);
    close(graded(Type.HUE, COLOUR, 360), 0.7, 0.2, 1.3);
    close(graded(Type.HUE, COLOUR, 0), 0.7, 0.2, 1.3);
    // half a turn mirrors a colour at the grey of its luminance
    double y = luminance(COLOUR);
    close(graded(Type.HUE, COLOUR, 180), 2 * y - 0.7, 2 * y - 0.2, 2 * y - 1.3);
  }

  @Test
  void aQuarterTurnOfHueIsTheMatrixOfTheStandard() {
    // Filter Effects Module Level 1, hueRotate, cos 0 and sin 1, with luminance to four places
    close(graded(Type.HUE, new float[] {1, 0, 0, 1}, 90), 0, 0.2126 + 0.143, 0.2126 - 0.7874);
    close(graded(Type.HUE, new float[] {0, 1, 0, 1}, 90), 0, 0.7152 + 0.140, 2 * 0.7152);
    close(graded(Type.HUE, new float[] {0, 0, 1, 1}, 90), 1, 0.0722 - 0.283, 0.0722 + 0.0722);
  }

  @Test
  void saturationMovesColoursFromTheGreyOfTheirLuminance() {
    double y = 0.2126 * 0.7 + 0.7152 * 0.2 + 0.0722 * 1.3;
    close(graded(Type.SATURATION, COLOUR, 0), y, y, y);
    close(graded(Type.SATURATION, COLOUR, 1), 0.7, 0.2, 1.3);
    close(
        graded(Type.SATURATION, COLOUR, 2.5),
        y + 2.5 * (0.7 - y),
        y + 2.5 * (0.2 - y),
        y + 2.5 * (1.3 - y));
  }

  @Test
  void luminanceIsThatOfBt709() {
    // ITU-R BT.709, item 3.2
    assertThat(Grade.luminance(1, 2, 3)).isCloseTo(0.2126 + 2 * 0.7152 + 3 * 0.0722, within(1e-9));
  }

  /** Chromaticity of a black body by Planck's law and the observer of the CIE of 1931. */
  @ParameterizedTest
  @CsvSource({
    "2000, 0.5267, 0.4133",
    "2222, 0.5046, 0.4153",
    "2856, 0.4476, 0.4074",
    "4000, 0.3805, 0.3768",
    "5000, 0.3451, 0.3516",
    "10000, 0.2807, 0.2884",
    "25000, 0.2525, 0.2523",
    "40000, 0.2525, 0.2523"
  })
  void whiteBecomesTheColourOfABlackBody(double kelvin, double x, double y) {
    float[] white = graded(Type.TEMPERATURE, new float[] {1, 1, 1, 1}, kelvin);
    assertThat(luminance(white)).isCloseTo(1, within(1e-5));
    double[] there = fromChromaticity(x, y);
    double[] here = fromChromaticity(0.3135, 0.3237);
    double[] gains = new double[3];
    for (int c = 0; c < 3; c++) {
      gains[c] = Math.max(0, there[c]) / here[c];
    }
    double sum = 0.2126 * gains[0] + 0.7152 * gains[1] + 0.0722 * gains[2];
    close(white, gains[0] / sum, gains[1] / sum, gains[2] / sum, 0.025);
  }

  @Test
  void theColourOfDaylightChangesNothing() {
    close(graded(Type.TEMPERATURE, COLOUR, 6504), 0.7, 0.2, 1.3);
  }

  @Test
  void aCurveGoesThroughItsPointsAndOnStraight() {
    // slopes 1, 2, 3 by the mean of the secants; cubic of Hermite between
    double[] points = {0, 0, 1, 1, 2, 4};
    close(grey(Type.CURVE, 0.5, points), 0.375);
    close(grey(Type.CURVE, 1, points), 1);
    close(grey(Type.CURVE, 1.5, points), 2.375);
    close(grey(Type.CURVE, 3.5, points), 4 + 1.5 * 3);
    close(grey(Type.CURVE, -0.25, points), -0.25);
    // places that are not one apart: two secants of slope 2 and 1
    double[] wide = {-1, 0, 1, 4, 5, 8};
    close(grey(Type.CURVE, 3, wide), 0.5 * 4 + 0.125 * 4 * 1.5 + 0.5 * 8 - 0.125 * 4);
    close(grey(Type.CURVE, 2, wide), hermite(0.25, 4, 4, 1.5, 8, 1));
  }

  @Test
  void aCurveDoesNotOvershoot() {
    // Fritsch and Carlson: the vector of both slopes over the secant is shortened to three
    double[] steep = {0, 0, 1, 1, 2, 101};
    double shortened = 3 / Math.hypot(1, 50.5);
    close(grey(Type.CURVE, 0.5, steep), hermite(0.5, 1, 0, shortened, 1, 50.5 * shortened));
    close(grey(Type.CURVE, 1.5, steep), hermite(0.5, 1, 1, 50.5 * shortened, 101, 100), 1e-3);
    // flat between two equal points, and at a peak
    double[] flat = {0, 0, 1, 1, 2, 1, 3, 0};
    close(grey(Type.CURVE, 1.5, flat), 1);
    assertThat(grey(Type.CURVE, 0.99, flat)).isLessThanOrEqualTo(1);
    double[] peak = {0, 0, 1, 1, 2, 0.5};
    close(grey(Type.CURVE, 0.5, peak), hermite(0.5, 1, 0, 1, 1, 0));
    close(grey(Type.CURVE, 1.5, peak), hermite(0.5, 1, 1, 0, 0.5, -0.5));
  }

  @Test
  void functionsOfAChannelMirrorWhatIsBelowZero() {
    close(grey(Type.GAMMA, 0.25, 2), 0.5);
    close(grey(Type.GAMMA, -0.25, 2), -0.5);
    close(grey(Type.CONTRAST, 0.36, 2, 0.18), 0.72);
    close(grey(Type.CONTRAST, -0.36, 2, 0.18), -0.72);
    close(grey(Type.CONTRAST, 0.18, 3, 0.18), 0.18);
    close(grey(Type.SOFT_CLIP, 0.7, 0.8, 2), 0.7);
    close(grey(Type.SOFT_CLIP, 2, 0.8, 2), 0.8 + 1.2 * (1 - Math.exp(-1)));
    assertThat(grey(Type.SOFT_CLIP, 1e6, 0.8, 2)).isLessThanOrEqualTo(2);
    // far beyond the table, and far below it
    close(grey(Type.GAMMA, 1e8, 2), 1e4, 0.01);
    close(grey(Type.GAMMA, 1e-8, 2), 1e-4, 1e-9);
    close(grey(Type.GAMMA, -1e8, 2), -1e4, 0.01);
  }

  @Test
  void colourIsDividedByAlphaForAFunctionAndNotForAMatrix() {
    float[] half = {0.125f, 0.125f, 0.125f, 0.5f};
    close(graded(Type.GAMMA, half, 2), 0.25, 0.25, 0.25);
    close(graded(Type.OFFSET, half, 0.1, 0.2, 0.3), 0.175, 0.225, 0.275);
    close(graded(Type.GAIN, half, 1, 2, 3), 0.125, 0.25, 0.375);
    float[] faded = graded(Type.FADE, half, 0.25);
    close(faded, 0.03125, 0.03125, 0.03125);
    assertThat(faded[3]).isEqualTo(0.125f);
    assertThat(graded(Type.EXPOSURE, half, 1)[3]).isEqualTo(0.5f);
    assertThat(graded(Type.GAMMA, half, 2)[3]).isEqualTo(0.5f);
  }

  @Test
  void lightWithoutAlphaIsCorrectedAsItIsAndNothingStaysNothing() {
    close(graded(Type.GAMMA, new float[] {0.25f, 0, 4, 0}, 2), 0.5, 0, 2);
    close(graded(Type.GAMMA, new float[] {0, 0.25f, 0, 0}, 2), 0, 0.5, 0);
    double[] lifts = {0, 0.5, 1, 1};
    close(graded(Type.CURVE, new float[] {0, 0, 0, 0}, lifts), 0, 0, 0);
    close(graded(Type.CURVE, new float[] {0, 0, 0, 0.5f}, lifts), 0.25, 0.25, 0.25);
    close(graded(Type.OFFSET, new float[] {0, 0, 0, 0}, 1, 1, 1), 0, 0, 0);
  }

  @Test
  void aMatrixAddsUpTheSizesOfErrors() {
    float[] c = {1, 1, 1, 1};
    float[] scale = {1, 2, 3, 1};
    grade(Type.HUE, 180).apply(c, scale);
    double[][] size = {
      {0.5748, 1.4304, 0.1444}, {0.4252, 0.4304, 0.1444}, {0.4252, 1.4304, 0.8556}
    };
    for (int k = 0; k < 3; k++) {
      assertThat(scale[k])
          .isCloseTo((float) (size[k][0] + 2 * size[k][1] + 3 * size[k][2]), within(1e-4f));
    }
    float[] offset = {1, 1, 1, 1};
    grade(Type.OFFSET, -1, 0.5, -2).apply(c, offset);
    close(offset, 2, 1.5, 3);
  }

  @Test
  void aFunctionMultipliesErrorsByItsSlope() {
    float[] c = {0.25f, 0.04f, -0.25f, 1};
    float[] scale = {1, 0.5f, 1, 1};
    grade(Type.GAMMA, 2).apply(c, scale);
    // slope of the root: half of one over it
    close(scale, 1, 0.5 * 2.5, 1, 0.02);
    float[] none = {0.25f, 0, 0, 0};
    float[] there = {1, 0, 1, 0};
    grade(Type.GAMMA, 2).apply(none, there);
    assertThat(there[0]).isCloseTo(1, within(0.01f));
    assertThat(there[1]).isZero();
    // from nothing, an error of a thousandth becomes one of its root
    assertThat(there[2]).isCloseTo((float) (Math.sqrt(1e-3) / 1e-3), within(0.1f));
  }

  @Test
  void noResultIsInfiniteOrNoNumber() {
    float most = Float.MAX_VALUE;
    assertThat(graded(Type.EXPOSURE, new float[] {1e38f, -1e38f, 0, 1}, 20))
        .containsExactly(most, -most, 0, 1);
    assertThat(graded(Type.EXPOSURE, new float[] {Float.NaN, 1, 1, 1}, 0)[0]).isZero();
    float both = Float.POSITIVE_INFINITY;
    assertThat(graded(Type.HUE, new float[] {both, both, both, 1}, 90)[0]).isZero();
    assertThat(graded(Type.CONTRAST, new float[] {1e30f, -1e30f, 0, 1}, 3, 0.001))
        .containsExactly(most, -most, 0, 1);
    assertThat(graded(Type.GAMMA, new float[] {Float.NaN, 0.25f, 0, 1}, 2)[0]).isZero();
    assertThat(Grade.bounded(-5)).isEqualTo(-5);
    assertThat(Grade.bounded(Float.NEGATIVE_INFINITY)).isEqualTo(-most);
  }

  @Test
  void onlyALinearCorrectionWithoutAnOffsetIsAMatrix() {
    assertThat(Grade.matrix(correction(Type.GAIN, 1, 2, 3)))
        .containsExactly(1, 0, 0, 0, 2, 0, 0, 0, 3);
    assertThat(Grade.matrix(correction(Type.EXPOSURE, 2)))
        .containsExactly(4, 0, 0, 0, 4, 0, 0, 0, 4);
    assertThat(Grade.matrix(correction(Type.OFFSET, 1, 2, 3))).isNull();
    assertThat(Grade.matrix(correction(Type.GAMMA, 2))).isNull();
    assertThat(Grade.matrix(correction(Type.BLUR, 2))).isNull();
    Correction shadow = Correction.of("Hero", "", Type.SHADOW, 1.0, 0.0, 0.0, 0.0);
    assertThat(Grade.matrix(shadow)).isNull();
  }

  @ParameterizedTest
  @EnumSource(names = {"BLUR", "GLOW", "DEFOCUS", "DISTORTION"})
  void anEffectIsNoGrade(Type type) {
    Correction effect =
        switch (type) {
          case BLUR -> correction(type, 1);
          case DISTORTION -> correction(type, 0.1, 0.1);
          default -> correction(type, 1, 1, 0);
        };
    assertThatThrownBy(() -> Grade.of(effect)).hasMessageContaining(type.word());
  }

  private static double hermite(double t, double h, double y0, double m0, double y1, double m1) {
    double s = 1 - t;
    return (1 + 2 * t) * s * s * y0
        + t * s * s * h * m0
        + t * t * (3 - 2 * t) * y1
        - t * t * s * h * m1;
  }

  /** Light with primaries of BT.709 by solving for their amounts, of any brightness. */
  private static double[] fromChromaticity(double x, double y) {
    double[][] primaries = {{0.64, 0.33}, {0.30, 0.60}, {0.15, 0.06}};
    double[] amounts = solved(primaries, x / y, 1, (1 - x - y) / y);
    double[] white = solved(primaries, 0.95047, 1, 1.08883);
    return new double[] {amounts[0] / white[0], amounts[1] / white[1], amounts[2] / white[2]};
  }

  private static double[] solved(double[][] primaries, double x, double y, double z) {
    double[][] m = new double[3][3];
    for (int c = 0; c < 3; c++) {
      m[0][c] = primaries[c][0];
      m[1][c] = primaries[c][1];
      m[2][c] = 1 - primaries[c][0] - primaries[c][1];
    }
    double whole = determinant(m);
    double[] out = new double[3];
    for (int c = 0; c < 3; c++) {
      double[][] with = {m[0].clone(), m[1].clone(), m[2].clone()};
      with[0][c] = x;
      with[1][c] = y;
      with[2][c] = z;
      out[c] = determinant(with) / whole;
    }
    return out;
  }

  private static double determinant(double[][] m) {
    return m[0][0] * (m[1][1] * m[2][2] - m[1][2] * m[2][1])
        - m[0][1] * (m[1][0] * m[2][2] - m[1][2] * m[2][0])
        + m[0][2] * (m[1][0] * m[2][1] - m[1][1] * m[2][0]);
  }

  private static double luminance(float[] c) {
    return 0.2126 * c[0] + 0.7152 * c[1] + 0.0722 * c[2];
  }

  private static Correction correction(Type type, double... values) {
    Double[] boxed = new Double[values.length];
    for (int k = 0; k < values.length; k++) {
      boxed[k] = values[k];
    }
    return Correction.of("Hero", "", type, boxed);
  }

  private static Grade grade(Type type, double... values) {
    return Grade.of(correction(type, values));
  }

  private static float[] graded(Type type, float[] colour, double... values) {
    float[] c = colour.clone();
    grade(type, values).apply(c, null);
    return c;
  }

  private static float grey(Type type, double value, double... values) {
    float v = (float) value;
    float[] c = graded(type, new float[] {v, v, v, 1}, values);
    assertThat(c[1]).isEqualTo(c[0]);
    assertThat(c[2]).isEqualTo(c[0]);
    return c[0];
  }

  private static void close(float[] c, double r, double g, double b) {
    close(c, r, g, b, 1e-5);
  }

  private static void close(float[] c, double r, double g, double b, double tolerance) {
    assertThat((double) c[0]).isCloseTo(r, within(tolerance));
    assertThat((double) c[1]).isCloseTo(g, within(tolerance));
    assertThat((double) c[2]).isCloseTo(b, within(tolerance));
  }

  private static void close(float value, double expected) {
    close(value, expected, 1e-5);
  }

  private static void close(float value, double expected, double tolerance) {
    assertThat((double) value).isCloseTo(expected, within(tolerance));
  }
}
