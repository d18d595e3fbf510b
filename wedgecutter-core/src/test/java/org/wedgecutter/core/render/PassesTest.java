package org.wedgecutter.core.render;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.nio.file.Path;
import java.util.EnumSet;
import java.util.List;
import java.util.Map;
import java.util.function.Function;
import java.util.stream.Collectors;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.measure.InterplayTable;
import org.wedgecutter.core.pass.IdMattes;
import org.wedgecutter.core.pass.PassPicture;
import org.wedgecutter.core.plan.Output;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.resolve.EntitySet;
import org.wedgecutter.core.testing.ShotFolder;
import org.wedgecutter.core.testing.Traces;

/** Passes, mattes, filtered noise and interplay of a small shot. */
class PassesTest {
  @TempDir Path dir;
  private LoadedShot shot;

  @BeforeEach
  void load() throws Exception {
    shot = ShotFolder.load(dir);
  }

  private RenderedFrame render(Plan plan) {
    LoadedShot with = shot.withPlan(plan);
    FrameRenderer.Settings settings = FrameRenderer.Settings.of(with, 1, 12, 2, false);
    RenderedFrame frame = new FrameRenderer(with, settings).render(2, l -> true, true, p -> {});
    assertThat(frame.invalidSamples()).as("no light that is no number").isZero();
    return frame;
  }

  private Plan everything() {
    Output o = shot.plan().output();
    return shot.plan().withOutput(o.withMore(EnumSet.allOf(Output.More.class)));
  }

  private static Map<String, PassPicture> named(List<PassPicture> passes) {
    return passes.stream()
        .collect(
            Collectors.toMap(
                p -> p.name().isEmpty() ? p.channel(0) : p.name(), Function.identity()));
  }

  private static void addsUp(List<PassPicture> passes, String prefix, Picture beauty) {
    double worst = 0;
    double all = 0;
    for (int p = 0; p < beauty.width() * beauty.height(); p++) {
      for (int c = 0; c < 3; c++) {
        double sum = 0;
        for (PassPicture pass : passes) {
          boolean byEvent =
              org.wedgecutter.core.pass.LightPass.PASSES.stream()
                  .anyMatch(n -> n.name().equals(pass.name()));
          if (prefix.isEmpty() ? byEvent : pass.name().startsWith(prefix)) {
            sum += pass.values()[3 * p + c];
          }
        }
        float b = beauty.rgba()[4 * p + c];
        all += b;
        worst = Math.max(worst, Math.abs(sum - b) / (1 + Math.abs(b)));
      }
    }
    assertThat(all).isGreaterThan(0);
    assertThat(worst).isLessThan(5e-6);
  }

  @Test
  void titlesNameThePassesThatAreMadeAndOneCanBeMadeAlone() {
    RenderedFrame frame = render(everything());
    LoadedShot with = shot.withPlan(everything());
    var resolved = with.resolve(2);
    var jobs = new org.wedgecutter.core.fragment.JobPlan(resolved, l -> true, true, c -> true);
    List<org.wedgecutter.core.fragment.FragmentSums> sums = new java.util.ArrayList<>();
    jobs.jobs().forEach(j -> sums.add(new org.wedgecutter.core.fragment.FragmentSums(j, 40, 24)));
    var placed = with.frame(2);
    new org.wedgecutter.core.fragment.FrameTrace(f -> placed, with.camera(), sums)
        .run(12, 2, p -> {});
    var pictures =
        new org.wedgecutter.core.fragment.LayerPictures(
            resolved, jobs, sums, with.stage(f -> placed, 2));
    List<String> made = frame.uncutPasses().stream().map(PassPicture::title).toList();
    assertThat(pictures.passTitles()).containsExactlyInAnyOrderElementsOf(made);
    for (PassPicture pass : frame.uncutPasses()) {
      List<PassPicture> alone = pictures.uncutPasses(pass.title()::equals);
      assertThat(alone).as(pass.title()).hasSize(1);
      PassPicture own = alone.getFirst();
      assertThat(own.channels()).isEqualTo(pass.channels());
      assertThat(own.values()).as(pass.title()).isEqualTo(pass.values());
    }
    assertThat(pictures.uncutPasses(t -> false)).isEmpty();
    assertThat(pictures.invalidSamples()).isZero();
  }

  @Test
  void passesAddUpByEventAndByEmitter() {
    RenderedFrame frame = render(everything());
    for (int l = 0; l < shot.plan().layers().size(); l++) {
      addsUp(frame.passes(l), "", frame.layer(l));
      addsUp(frame.passes(l), "light.", frame.layer(l));
    }
    addsUp(frame.uncutPasses(), "", frame.uncut());
    addsUp(frame.uncutPasses(), "light.", frame.uncut());
  }

  @Test
  void askingForMoreChangesNoBitOfTheBeauty() {
    RenderedFrame plain = render(shot.plan());
    RenderedFrame rich = render(everything());
    assertThat(rich.uncut().rgba()).isEqualTo(plain.uncut().rgba());
    for (int l = 0; l < shot.plan().layers().size(); l++) {
      assertThat(rich.layer(l).rgba()).isEqualTo(plain.layer(l).rgba());
    }
  }

  @Test
  void mattesAddUpToAlphaAndAreNamedInTheHeader() {
    RenderedFrame frame = render(everything());
    for (String kind : new String[] {"CryptoObject", "CryptoMaterial", "CryptoCollection"}) {
      for (int l = 0; l < shot.plan().layers().size(); l++) {
        Map<String, PassPicture> passes = named(frame.passes(l));
        Picture beauty = frame.layer(l);
        double worst = 0;
        for (int p = 0; p < beauty.width() * beauty.height(); p++) {
          double cover = 0;
          float before = 1;
          for (int rank = 0; rank < IdMattes.RANKS; rank++) {
            PassPicture pair = passes.get("%s%02d".formatted(kind, rank / 2));
            float own = pair.values()[4 * p + 2 * (rank % 2) + 1];
            assertThat(own).as("largest first").isLessThanOrEqualTo(before + 1e-6f);
            before = own;
            cover += own;
          }
          worst = Math.max(worst, Math.abs(cover - beauty.rgba()[4 * p + 3]));
        }
        assertThat(worst).as(kind).isLessThan(1e-5);
      }
    }
    Map<String, String> header = frame.idHeader(-1);
    assertThat(header.keySet()).allMatch(k -> k.startsWith("cryptomatte/"));
    assertThat(header.values()).contains("CryptoObject", "MurmurHash3_32", "uint32_to_float32");
    String id = "%08x".formatted(Float.floatToRawIntBits(IdMattes.id("/front")));
    assertThat(header.values()).anyMatch(v -> v.contains("\"/front\":\"" + id + "\""));
  }

  @Test
  void everyIdOfAFileIsInItsManifest() {
    RenderedFrame frame = render(everything());
    String all = String.join(" ", frame.idHeader(-1).values());
    int told = 0;
    for (PassPicture pass : frame.uncutPasses()) {
      if (!pass.name().startsWith("Crypto")) {
        continue;
      }
      for (int i = 0; i < pass.values().length; i += 2) {
        if (pass.values()[i + 1] > 0) {
          String id = "%08x".formatted(Float.floatToRawIntBits(pass.values()[i]));
          assertThat(all).as(pass.name()).contains("\"" + id + "\"");
          told++;
        }
      }
    }
    assertThat(told).isGreaterThan(1000);
  }

  @Test
  void theHashIsTheConventions() {
    // reference values of MurmurHash3_x86_32, seed 0
    assertThat(Float.floatToRawIntBits(IdMattes.id("hello"))).isEqualTo(0x248bfa47);
    assertThat(Float.floatToRawIntBits(IdMattes.id("hello, world"))).isEqualTo(0x149bbb7f);
    assertThat(IdMattes.id("The quick brown fox jumps over the lazy dog"))
        .isEqualTo(Float.intBitsToFloat(0x2e4ff723));
    for (int k = 0; k < 5000; k++) {
      assertThat(Float.isFinite(IdMattes.id("name" + k))).isTrue();
      assertThat(Math.abs(IdMattes.id("name" + k))).isGreaterThanOrEqualTo(Float.MIN_NORMAL);
    }
  }

  @Test
  void dataAreOfTheThingThatCoversMost() {
    RenderedFrame frame = render(everything());
    Map<String, PassPicture> front = named(frame.passes(2));
    Picture beauty = frame.layer(2);
    PassPicture depth = front.get("Z");
    PassPicture normal = front.get("N");
    PassPicture place = front.get("P");
    int covered = 0;
    for (int p = 0; p < beauty.width() * beauty.height(); p++) {
      if (beauty.rgba()[4 * p + 3] == 0) {
        assertThat(depth.values()[p]).isInfinite();
        continue;
      }
      covered++;
      assertThat(depth.values()[p]).isBetween(3f, 7f);
      // the camera looks along -z from z = 5
      assertThat(5 - place.values()[3 * p + 2]).isCloseTo(depth.values()[p], within(1e-3f));
      float x = normal.values()[3 * p];
      float y = normal.values()[3 * p + 1];
      float z = normal.values()[3 * p + 2];
      assertThat(x * x + y * y + z * z).isCloseTo(1, within(1e-4f));
      assertThat(front.get("occlusion").values()[p]).isBetween(0f, 1f);
      for (int c = 0; c < 3; c++) {
        assertThat(front.get("shadow").values()[3 * p + c]).isBetween(0f, 1.001f);
      }
    }
    assertThat(covered).isGreaterThan(20);
    Map<String, PassPicture> back = named(frame.passes(1));
    boolean moves = false;
    for (float v : front.get("forward").values()) {
      moves |= Math.abs(v) > 0.01f;
    }
    assertThat(moves).as("the front turns").isTrue();
    for (float v : back.get("forward").values()) {
      assertThat(v).as("the back stands").isCloseTo(0, within(1e-3f));
    }
  }

  @Test
  void filteredLayersAddUpToTheFilteredUncutFrame() {
    Plan noisy = shot.plan();
    Plan plan = noisy.withShot(noisy.requireShot().with(s -> s.denoise = 1));
    RenderedFrame frame = render(plan);
    Picture uncut = frame.uncut();
    Picture raw = render(noisy).uncut();
    float[] sum = new float[uncut.rgba().length];
    for (int l = 0; l < plan.layers().size(); l++) {
      float[] own = frame.layer(l).rgba();
      for (int i = 0; i < sum.length; i++) {
        sum[i] += own[i];
      }
    }
    double change = 0;
    for (int i = 0; i < sum.length; i++) {
      assertThat(sum[i]).isCloseTo(uncut.rgba()[i], within(1e-5f + 1e-5f * Math.abs(sum[i])));
      change += Math.abs(uncut.rgba()[i] - raw.rgba()[i]);
      if ((i & 3) == 3) {
        assertThat(uncut.rgba()[i]).as("alpha is left alone").isEqualTo(raw.rgba()[i]);
      }
    }
    assertThat(change).as("it does something").isGreaterThan(1);
    addsUp(frame.passes(0), "", frame.layer(0));
    assertThat(roughness(uncut)).isLessThan(0.7 * roughness(raw));
    Plan half = noisy.withShot(noisy.requireShot().with(s -> s.denoise = 0.5));
    Picture between = render(half).uncut();
    for (int i = 0; i < sum.length; i++) {
      assertThat(between.rgba()[i]).isCloseTo((uncut.rgba()[i] + raw.rgba()[i]) / 2, within(1e-5f));
    }
  }

  /** Mean difference from pixel to pixel where the floor is. */
  private static double roughness(Picture p) {
    double sum = 0;
    for (int y = p.height() * 3 / 4; y < p.height() - 1; y++) {
      for (int x = 2; x < p.width() - 2; x++) {
        int at = 4 * (y * p.width() + x);
        sum += Math.abs(p.rgba()[at] - p.rgba()[at + 4]);
      }
    }
    return sum;
  }

  @Test
  void interplayTellsWhoTakesPartInWhoseLight() {
    InterplayTable table = render(shot.plan()).interplay();
    EntitySet floor = Traces.set(shot.scene(), "/floor");
    EntitySet back = Traces.set(shot.scene(), "/back");
    EntitySet front = Traces.set(shot.scene(), "/front");
    EntitySet sky = Traces.set(shot.scene(), "/environment");
    assertThat(table.light(floor)).isPositive();
    assertThat(table.share(floor, back.or(front))).as("they stand on it").isBetween(0.001, 3.0);
    assertThat(table.share(sky, floor)).as("nothing changes what the sky is").isZero();
    assertThat(table.shares(floor)).containsKeys(back.first(), sky.first());
    double total = 0;
    for (InterplayTable.Pair p : table.pairs()) {
      if (p.of() == floor.first()) {
        total += p.way();
      }
    }
    assertThat(total).as("not more than there is").isLessThanOrEqualTo(table.light(floor) * 1.0001);
  }

  @Test
  void aPassOfOneCollectionHoldsItsLightAndDataAlone() {
    Plan all = shot.plan().withOutput(withDepthAndLights(shot.plan().output()));
    Plan limited =
        all.withOutput(
            all.output()
                .withLimit(Output.More.DEPTH, "Back")
                .withLimit(Output.More.LIGHTS, "Back"));
    Map<String, PassPicture> whole = named(render(all).uncutPasses());
    Map<String, PassPicture> own = named(render(limited).uncutPasses());
    assertThat(own.keySet()).isEqualTo(whole.keySet());
    // the layer that shows the collection has its light
    Map<String, PassPicture> layer = named(render(all).passes(all.layerIndex("Back")));
    assertThat(own.get("light.environment").values())
        .isEqualTo(layer.get("light.environment").values());
    assertThat(own.get("light.environment").values())
        .isNotEqualTo(whole.get("light.environment").values());
    assertThat(own.get("Z").values()).isEqualTo(layer.get("Z").values());
    assertThat(own.get("diffuse.direct").values()).isEqualTo(whole.get("diffuse.direct").values());
    Map<String, PassPicture> front = named(render(limited).passes(all.layerIndex("Front")));
    assertThat(front.get("light.environment").values()).containsOnly(0);
    assertThat(front.get("Z").values()).containsOnly(Float.POSITIVE_INFINITY);
  }

  private static Output withDepthAndLights(Output output) {
    return output.withMore(EnumSet.of(Output.More.DEPTH, Output.More.LIGHTS));
  }
}
