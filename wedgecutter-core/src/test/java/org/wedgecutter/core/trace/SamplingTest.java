package org.wedgecutter.core.trace;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.image.TextureImage;
import org.wedgecutter.core.trace.bsdf.Microfacet;
import org.wedgecutter.core.trace.light.EnvironmentMap;
import org.wedgecutter.core.trace.sample.SamplePattern;
import org.wedgecutter.core.trace.sample.Sampler;
import org.wedgecutter.core.trace.world.MipTexture;

class SamplingTest {
  @Test
  void numbersDependOnSeedPixelSampleAndPairAlone() {
    Sampler a = new Sampler(SamplePattern.BLUE_NOISE);
    Sampler b = new Sampler(SamplePattern.BLUE_NOISE);
    a.start(7, 11, 13, 5);
    b.start(1, 2, 3, 4);
    b.pair(9);
    b.start(7, 11, 13, 5);
    b.pair(3);
    b.pair(2);
    a.pair(2);
    assertThat(a.u).isEqualTo(b.u);
    assertThat(a.v).isEqualTo(b.v);
    float u = a.u;
    for (int[] other :
        new int[][] {{8, 11, 13, 5}, {7, 12, 13, 5}, {7, 11, 14, 5}, {7, 11, 13, 6}}) {
      a.start(other[0], other[1], other[2], other[3]);
      a.pair(2);
      assertThat(a.u).isNotEqualTo(u);
    }
  }

  @ParameterizedTest
  @ValueSource(ints = {16, 64, 256})
  void everyElementaryBoxGetsItsShare(int n) {
    // a (0,2)-sequence in base 2: each box of area 1/n holds one of the first n points
    Sampler s = new Sampler(SamplePattern.BLUE_NOISE);
    for (int pixel = 0; pixel < 20; pixel++) {
      for (int wide = 1; wide <= n; wide *= 2) {
        int high = n / wide;
        int[] hits = new int[n];
        for (int i = 0; i < n; i++) {
          s.start(3, pixel, 100 - pixel, i);
          s.pair(pixel % 5);
          assertThat(s.u).isBetween(0f, Math.nextDown(1f));
          hits[(int) (s.u * wide) * high + (int) (s.v * high)]++;
        }
        assertThat(hits).containsOnly(1);
      }
    }
  }

  @Test
  void pixelsAndPairsAreUnrelated() {
    Sampler s = new Sampler(SamplePattern.BLUE_NOISE);
    double product = 0;
    int n = 20000;
    for (int i = 0; i < n; i++) {
      s.start(1, i % 200, i / 200, 0);
      s.pair(1);
      double a = s.u - 0.5;
      s.pair(2);
      product += a * (s.u - 0.5);
    }
    assertThat(product / n).isCloseTo(0, within(0.002));
  }

  @ParameterizedTest
  @ValueSource(longs = {1, 2, 3})
  void theSkysDensityIntegratesToOneAndPicksFollowIt(long seed) {
    Random random = new Random(seed);
    Picture sky = Picture.empty(24, 12);
    for (int i = 0; i < sky.rgba().length; i++) {
      sky.rgba()[i] = random.nextInt(4) == 0 ? random.nextFloat() * 20 : random.nextFloat();
    }
    EnvironmentMap environment = new EnvironmentMap(sky, 0.7 * seed, 2);
    double integral = 0;
    int n = 400;
    for (int y = 0; y < n; y++) {
      double cos = 1 - 2 * (y + 0.5) / n;
      double sin = Math.sqrt(1 - cos * cos);
      for (int x = 0; x < n; x++) {
        double a = 2 * Math.PI * (x + 0.5) / n;
        integral +=
            density(environment, sin * Math.cos(a), cos, sin * Math.sin(a))
                * 4
                * Math.PI
                / ((double) n * n);
      }
    }
    assertThat(integral).isCloseTo(1, within(0.01));
    EnvironmentMap.Pick pick = new EnvironmentMap.Pick();
    double mean = 0;
    for (int k = 0; k < 20000; k++) {
      environment.sample(random.nextFloat(), random.nextFloat(), pick);
      assertThat(pick.x * pick.x + pick.y * pick.y + pick.z * pick.z).isCloseTo(1, within(1e-5f));
      // the density told with the pick is the density of its direction, but for edges of pixels
      if (Math.abs(density(environment, pick.x, pick.y, pick.z) / pick.pdf - 1) < 1e-4) {
        mean += 1 / pick.pdf / 20000;
      }
    }
    assertThat(mean)
        .as("the sphere's solid angle by importance sampling")
        .isCloseTo(4 * Math.PI, within(0.5));
  }

  private static float density(EnvironmentMap environment, double x, double y, double z) {
    EnvironmentMap.Pick at = new EnvironmentMap.Pick();
    at.x = (float) x;
    at.y = (float) y;
    at.z = (float) z;
    environment.at(at);
    return at.pdf;
  }

  @Test
  void aDarkSkyGivesNothing() {
    EnvironmentMap none = new EnvironmentMap(Picture.empty(1, 1), 0, 0);
    assertThat(none.dark()).isTrue();
    assertThat(density(none, 0, 1, 0)).isZero();
  }

  @Test
  void visibleNormalsFollowTheirDensity() {
    // the share of picked normals weighted by 1/density is the area they cover: compare two halves
    Random random = new Random(5);
    float alpha = 0.4f;
    float x = 0.6f;
    float z = 0.8f;
    float[] h = new float[3];
    double estimate = 0;
    int n = 200000;
    for (int k = 0; k < n; k++) {
      Microfacet.sampleVisible(x, 0, z, alpha, random.nextFloat(), random.nextFloat(), h);
      double dot = Math.max(0, x * h[0] + z * h[2]);
      double density = Microfacet.g1(z, alpha) * dot * Microfacet.ndf(h[2], alpha) / z;
      // integrate cos(theta_h) * D: projected area of all facets is 1
      estimate += Microfacet.ndf(h[2], alpha) * h[2] / density / n;
    }
    // only facets that are seen count; nearly all are at this angle
    assertThat(estimate).isCloseTo(1, within(0.03));
  }

  @Test
  void reflectedSharesAreSharesAndGrowTowardsTheHorizon() {
    for (float rough = 0; rough <= 1; rough += 0.1f) {
      for (float cos = 0.05f; cos <= 1; cos += 0.05f) {
        float a = Microfacet.albedoScale(cos, rough);
        float b = Microfacet.albedoBias(cos, rough);
        assertThat(a).isBetween(0f, 1.001f);
        assertThat(b).isBetween(0f, 1.001f);
        assertThat(a + b).isLessThanOrEqualTo(1.001f);
      }
      assertThat(Microfacet.albedoBias(0.1f, rough))
          .isGreaterThan(Microfacet.albedoBias(0.9f, rough));
    }
    assertThat(Microfacet.albedoScale(0.9f, 0) + Microfacet.albedoBias(0.9f, 0))
        .isCloseTo(1, within(1e-3f));
  }

  private static TextureImage checker(int size) {
    byte[] rgba = new byte[4 * size * size];
    for (int p = 0; p < size * size; p++) {
      byte v = (byte) ((p % size + p / size) % 2 == 0 ? 255 : 0);
      for (int c = 0; c < 3; c++) {
        rgba[4 * p + c] = v;
      }
    }
    return new TextureImage("checker", size, size, rgba);
  }

  @Test
  void aWideFootprintReadsTheMeanAndANarrowOneThePixel() {
    MipTexture t = new MipTexture(checker(16), false);
    float[] out = new float[4];
    t.sample(0.3f, 0.7f, 1, true, true, out);
    assertThat(out[0]).isCloseTo(0.5f, within(1e-5f));
    t.sample(0.5f / 16, 0.5f / 16, 0, true, true, out);
    assertThat(out[0]).isCloseTo(1, within(1e-5f));
    t.sample(1.5f / 16, 0.5f / 16, 0, true, true, out);
    assertThat(out[0]).isCloseTo(0, within(1e-5f));
    t.sample(1f / 16, 0.5f / 16, 0, true, true, out);
    assertThat(out[0]).as("halfway between two pixels").isCloseTo(0.5f, within(1e-5f));
  }

  @Test
  void texturesRepeatOrEndAsTold() {
    byte[] rgba = new byte[4 * 4];
    rgba[0] = (byte) 255;
    MipTexture t = new MipTexture(new TextureImage("line", 4, 1, rgba), false);
    float[] out = new float[4];
    t.sample(0.125f + 3, 0.5f, 0, true, true, out);
    assertThat(out[0]).isCloseTo(1, within(1e-5f));
    t.sample(3, 0.5f, 0, false, true, out);
    assertThat(out[0]).isZero();
    t.sample(-3, 0.5f, 0, false, true, out);
    assertThat(out[0]).isCloseTo(1, within(1e-5f));
    t.sample(Float.NaN, 0.5f, 0, true, true, out);
    assertThat(out[0]).isFinite();
  }

  @Test
  void coloursAreDecodedFromSrgb() {
    byte[] rgba = {(byte) 188, 0, (byte) 255, (byte) 255};
    MipTexture t = new MipTexture(new TextureImage("one", 1, 1, rgba), true);
    float[] out = new float[4];
    t.sample(0.5f, 0.5f, 0, true, true, out);
    assertThat(out[0]).isCloseTo(0.5f, within(0.01f));
    assertThat(out[2]).isEqualTo(1);
  }
}
