package org.wedgecutter.core.fragment;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.util.List;
import java.util.Map;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.Test;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.plan.CatcherOutput;
import org.wedgecutter.core.plan.CatcherTuning;
import org.wedgecutter.core.plan.Extra;
import org.wedgecutter.core.plan.Join;
import org.wedgecutter.core.plan.Output;
import org.wedgecutter.core.plan.Role;
import org.wedgecutter.core.plan.Value;
import org.wedgecutter.core.rejoin.Rejoiner;
import org.wedgecutter.core.resolve.CatcherSpec;
import org.wedgecutter.core.resolve.Decisions;
import org.wedgecutter.core.resolve.EntitySet;
import org.wedgecutter.core.resolve.Reach;
import org.wedgecutter.core.resolve.ResolvedLayer;
import org.wedgecutter.core.resolve.ResolvedShot;
import org.wedgecutter.core.resolve.TransportClass;
import org.wedgecutter.core.scene.Scene;
import org.wedgecutter.core.testing.SceneMaker;
import org.wedgecutter.core.testing.Traces;
import org.wedgecutter.core.trace.CameraView;
import org.wedgecutter.core.trace.Environment;
import org.wedgecutter.core.trace.Plane;
import org.wedgecutter.exr.Compression;

/** What a ball does to the floor, in parts, tuned, by light, within a reach, and onto a plate. */
class CatcherPartsTest {
  private static final int W = 40;
  private static final int H = 30;

  private static Scene scene(double specular) {
    return new SceneMaker()
        .mesh(
            "/floor",
            SceneMaker.floor(6, 6),
            SceneMaker.surface(0.5, 0, 0.3, specular, 0),
            0,
            -0.6,
            0)
        .mesh("/ball", SceneMaker.sphere(0.5, 24), SceneMaker.colored(0.8, 0.3, 0.2), 0, 0, 0)
        .pointLight("/left", 12, -2, 2.5, 1)
        .pointLight("/right", 9, 2, 2.5, 1)
        .camera(0.6, 0, 0.4, 5)
        .scene();
  }

  private static LayerPictures pictures(
      Scene scene, CatcherOutput output, CatcherTuning tuning, EntitySet lights) {
    TransportClass without = Traces.whole(scene, 2).without(Traces.set(scene, "/ball"));
    return pictures(scene, output, tuning, lights, without, Traces.uniform(0.4));
  }

  private static LayerPictures pictures(
      Scene scene,
      CatcherOutput output,
      CatcherTuning tuning,
      EntitySet lights,
      TransportClass without,
      Environment environment) {
    TransportClass whole = Traces.whole(scene, 2);
    EntitySet floor = Traces.set(scene, "/floor");
    EntitySet ball = Traces.set(scene, "/ball");
    Decisions held = Decisions.all(scene.entities().size(), Role.HOLDOUT);
    CatcherSpec spec = new CatcherSpec(floor, ball, without, output, tuning, lights);
    ResolvedLayer layer =
        new ResolvedLayer("caught", held, EntitySet.NONE, EntitySet.NONE, whole, spec);
    ResolvedLayer clean = new ResolvedLayer("clean", held, floor, EntitySet.NONE, without, null);
    ResolvedLayer full = new ResolvedLayer("full", held, floor, EntitySet.NONE, whole, null);
    List<ResolvedShot.Group> emitters = new java.util.ArrayList<>();
    for (String name : new String[] {"/left", "/right", "/environment"}) {
      emitters.add(new ResolvedShot.Group(name.substring(1), Traces.set(scene, name)));
    }
    ResolvedShot.Asked asked =
        new ResolvedShot.Asked(
            new Output(Output.DEFAULT_NAME, false, Compression.ZIP, true, Extra.NONE)
                .withMore(Set.of(Output.More.LIGHTS)),
            emitters,
            List.of(),
            null,
            0,
            List.of(),
            Map.of());
    ResolvedShot shot =
        new ResolvedShot(List.of(layer, clean, full), whole, scene.entities().size(), asked);
    JobPlan plan = new JobPlan(shot, l -> true, false, c -> false);
    List<FragmentSums> sums =
        plan.jobs().stream().map(j -> Traces.trace(scene, environment, j, W, H, 24)).toList();
    return new LayerPictures(shot, plan, sums, stage(scene));
  }

  private static Stage stage(Scene scene) {
    return new Stage() {
      @Override
      public Scene scene() {
        return scene;
      }

      @Override
      public Picture plate(int width, int height) {
        return Picture.empty(width, height);
      }

      @Override
      public CameraView view(int width, int height) {
        return Traces.frame(scene, Traces.uniform(1))
            .view(scene.cameras().getFirst(), width, height);
      }

      @Override
      public Plane plane(
          EntitySet surfaces, EntitySet things, double @Nullable [] given, double size) {
        return Traces.frame(scene, Traces.uniform(1)).plane(surfaces, things, given, size);
      }
    };
  }

  private static Picture caught(Scene scene, CatcherOutput output) {
    return pictures(scene, output, CatcherTuning.USUAL, null).layer(0);
  }

  /** A glowing ball over a matte floor, with or without other light. */
  private static Scene glowing(boolean lit) {
    SceneMaker maker =
        new SceneMaker()
            .mesh("/floor", SceneMaker.floor(6, 6), SceneMaker.matte(0.5), 0, -0.6, 0)
            .mesh("/wall", SceneMaker.wall(3, 2), SceneMaker.matte(0.7), 0, 1, -2)
            .mesh("/ball", SceneMaker.sphere(0.5, 24), SceneMaker.glowing(3), 0, 0, 0);
    if (lit) {
      maker.pointLight("/left", 12, -2, 2.5, 1);
    }
    return maker.camera(0.6, 0, 0.4, 5).scene();
  }

  @Test
  void theLightOfAGlowingCasterIsCaughtAsBounce() {
    Scene scene = glowing(true);
    LayerPictures p = pictures(scene, CatcherOutput.BOUNCE, CatcherTuning.USUAL, null);
    float[] bounce = p.layer(0).rgba();
    float[] shadow = caught(scene, CatcherOutput.SHADOW).rgba();
    float[] occlusion = caught(scene, CatcherOutput.OCCLUSION).rgba();
    float[] difference = caught(scene, CatcherOutput.DIFFERENCE).rgba();
    double sum = 0;
    for (int px = 0; px < W * H; px++) {
      int i = 4 * px;
      sum += bounce[i];
      assertThat(bounce[i])
          .as("what darkens is not in it")
          .isGreaterThanOrEqualTo(difference[i] - 1e-5f);
      assertThat(shadow[i]).isBetween(0f, 1f);
      assertThat(occlusion[i]).isBetween(0f, 1f);
      if (shadow[i] == 1 && occlusion[i] == 1) {
        assertThat(bounce[i]).isCloseTo(difference[i], within(2e-5f + 2e-5f * bounce[i]));
      }
    }
    assertThat(sum / (W * H)).isGreaterThan(0.02);
    for (CatcherOutput output : List.of(CatcherOutput.SHADOW, CatcherOutput.OCCLUSION)) {
      double lost = pictures(scene, output, CatcherTuning.USUAL, null).lostByClamping(0);
      assertThat(lost).as("light of casters is in neither").isLessThan(1e-6);
    }
  }

  @Test
  void aRatioOfADarkFloorLosesTheCastersLightAndSaysHowMuch() {
    Scene scene = glowing(false);
    TransportClass whole = Traces.whole(scene, 2);
    LayerPictures p = dark(scene, CatcherOutput.RATIO, whole);
    Picture full = p.layer(2);
    double light = 0;
    for (int i = 0; i < full.rgba().length; i++) {
      light += (i & 3) == 3 ? 0 : full.rgba()[i] / (3.0 * W * H);
    }
    assertThat(light).isGreaterThan(0.01);
    assertThat(p.lostByClamping(0)).isCloseTo(light, within(1e-3 * light));
    Picture joined = p.layer(1).copy();
    Rejoiner.join(joined, dark(scene, CatcherOutput.CATCH, whole).layer(0), Join.CATCH);
    for (int i = 0; i < full.rgba().length; i++) {
      assertThat(joined.rgba()[i]).isCloseTo(full.rgba()[i], within(2e-5f));
    }
  }

  @Test
  void bounceLeftOutStaysInTheBackgroundAndIsNotTakenForAShadow() {
    Scene scene = glowing(true);
    TransportClass whole = Traces.whole(scene, 2);
    EntitySet ball = Traces.set(scene, "/ball");
    TransportClass without =
        whole.without(
            ball, Set.of(Reach.Flag.SHADOW, Reach.Flag.REFLECTION, Reach.Flag.TRANSMISSION));
    float[] bounce = caught(scene, CatcherOutput.BOUNCE, without).layer(0).rgba();
    LayerPictures p = caught(scene, CatcherOutput.CATCH, without);
    for (int i = 0; i < bounce.length; i++) {
      assertThat(bounce[i]).as("the ball adds nothing to what is there").isLessThan(1e-4f);
    }
    assertThat(p.layer(0).rgba()[4 * (W * (H - 2) + 2) + 3])
        .as("far from the ball")
        .isLessThan(0.02f);
  }

  private static LayerPictures caught(Scene scene, CatcherOutput output, TransportClass without) {
    return pictures(scene, output, CatcherTuning.USUAL, null, without, Traces.uniform(0.4));
  }

  private static LayerPictures dark(Scene scene, CatcherOutput output, TransportClass whole) {
    TransportClass without = whole.without(Traces.set(scene, "/ball"));
    return pictures(scene, output, CatcherTuning.USUAL, null, without, Environment.DARK);
  }

  @Test
  void ratioTimesBackgroundIsTheUncutFloorWhereItIsMatte() {
    Scene matte = scene(0);
    LayerPictures p = pictures(matte, CatcherOutput.RATIO, CatcherTuning.USUAL, null);
    Picture ratio = p.layer(0);
    Picture clean = p.layer(1);
    Picture full = p.layer(2);
    for (int i = 0; i < full.rgba().length; i++) {
      if ((i & 3) != 3) {
        assertThat(ratio.rgba()[i] * clean.rgba()[i])
            .isCloseTo(full.rgba()[i], within(2e-5f * (1 + full.rgba()[i])));
      }
    }
  }

  @Test
  void partsByPassesGiveTheWholeBack() {
    Scene shiny = scene(1);
    LayerPictures p = pictures(shiny, CatcherOutput.SHADOW, CatcherTuning.USUAL, null);
    float[] s = p.layer(0).rgba();
    float[] o = caught(shiny, CatcherOutput.OCCLUSION).rgba();
    float[] b = caught(shiny, CatcherOutput.BOUNCE).rgba();
    float[] f = caught(shiny, CatcherOutput.REFLECTION).rgba();
    var clean = p.passes(1);
    float[] full = p.layer(2).rgba();
    float[] direct = clean.get(0).values();
    double shadow = 0;
    double bounced = 0;
    double reflected = 0;
    for (int px = 0; px < W * H; px++) {
      for (int c = 0; c < 3; c++) {
        int i = 4 * px + c;
        assertThat(s[i]).isBetween(0f, 1f);
        assertThat(o[i]).isBetween(0f, 1f);
        assertThat(b[i]).isNotNegative();
        shadow += 1 - s[i];
        bounced += b[i];
        reflected += Math.abs(f[i]);
      }
      // diffuse.direct of the layer holds lights and environment: split by what each is worth
      assertThat(direct[3 * px]).isNotNegative();
    }
    assertThat(shadow).isGreaterThan(5);
    assertThat(bounced).isGreaterThan(0.5);
    assertThat(reflected).isGreaterThan(0.1);
    float[] difference = caught(shiny, CatcherOutput.DIFFERENCE).rgba();
    float[] before = p.layer(1).rgba();
    for (int i = 0; i < full.length; i++) {
      if ((i & 3) != 3) {
        assertThat(before[i] + difference[i]).isCloseTo(full[i], within(1e-5f * (1 + full[i])));
      }
    }
  }

  @Test
  void shadowsOfOneLightAloneLeaveTheOthersAlone() {
    Scene scene = scene(0);
    float[] left =
        pictures(scene, CatcherOutput.SHADOW, CatcherTuning.USUAL, Traces.set(scene, "/left"))
            .layer(0)
            .rgba();
    float[] right =
        pictures(scene, CatcherOutput.SHADOW, CatcherTuning.USUAL, Traces.set(scene, "/right"))
            .layer(0)
            .rgba();
    float[] both = caught(scene, CatcherOutput.SHADOW).rgba();
    double ofLeft = 0;
    double ofRight = 0;
    for (int px = 0; px < W * H; px++) {
      int i = 4 * px;
      assertThat(1 - both[i]).isCloseTo((1 - left[i]) + (1 - right[i]), within(2e-5f));
      boolean west = px % W < W / 2;
      // the light on the left throws its shadow to the right
      ofLeft += (west ? -1 : 1) * (1 - left[i]);
      ofRight += (west ? 1 : -1) * (1 - right[i]);
    }
    assertThat(ofLeft).isGreaterThan(1);
    assertThat(ofRight).isGreaterThan(1);
  }

  @Test
  void tuningWeakensTintsAndBounds() {
    Scene scene = scene(0);
    float[] whole = caught(scene, CatcherOutput.SHADOW).rgba();
    CatcherTuning half =
        new CatcherTuning(0.5, new Value.Colour(0, 0, 1), 1, List.of(), null, List.of());
    float[] weak = pictures(scene, CatcherOutput.SHADOW, half, null).layer(0).rgba();
    for (int px = 0; px < W * H; px++) {
      assertThat(1 - weak[4 * px]).isCloseTo(0.5f * (1 - whole[4 * px]), within(1e-5f));
      assertThat(weak[4 * px + 2]).as("blue is lifted wholly").isCloseTo(1, within(1e-5f));
    }
    CatcherTuning near =
        new CatcherTuning(
            1,
            new Value.Colour(0, 0, 0),
            1,
            List.of(),
            new CatcherTuning.Reach(null, 0.4, 0.4, 0, 0.2),
            List.of());
    LayerPictures p = pictures(scene, CatcherOutput.DIFFERENCE, near, null);
    float[] bounded = p.layer(0).rgba();
    float[] all = caught(scene, CatcherOutput.DIFFERENCE).rgba();
    CameraView view = stage(scene).view(W, H);
    // the floor is level at -0.6, under the ball
    Plane floor = Plane.of(new double[] {0, -0.6, 0}, new double[] {0, 1, 0});
    double[] place = new double[2];
    int outside = 0;
    int same = 0;
    for (int px = 0; px < W * H; px++) {
      double r = view.onPlane(px % W, px / W, floor, place) ? Math.hypot(place[0], place[1]) : 1e9;
      if (r > 0.4) {
        assertThat(bounded[4 * px]).as("nothing out there").isCloseTo(0, within(1e-6f));
        outside += Math.abs(all[4 * px]) > 1e-3 ? 1 : 0;
      } else if (r < 0.3) {
        assertThat(bounded[4 * px]).isCloseTo(all[4 * px], within(1e-5f));
        same += Math.abs(all[4 * px]) > 1e-3 ? 1 : 0;
      }
    }
    assertThat(outside).isGreaterThan(5);
    assertThat(same).isGreaterThan(5);
  }

  @Test
  void layersRejoinWhileOneTraceIsAheadOfTheOther() {
    Scene scene = scene(0);
    TransportClass whole = Traces.whole(scene, 1);
    EntitySet floor = Traces.set(scene, "/floor");
    EntitySet ball = Traces.set(scene, "/ball");
    TransportClass clean = whole.without(ball);
    Decisions held = Decisions.all(scene.entities().size(), Role.HOLDOUT);
    EntitySet rest = Traces.all(scene).minus(floor);
    ResolvedShot shot =
        new ResolvedShot(
            List.of(
                new ResolvedLayer("floor", held, floor, EntitySet.NONE, clean, null),
                new ResolvedLayer(
                    "caught",
                    held,
                    EntitySet.NONE,
                    EntitySet.NONE,
                    whole,
                    new CatcherSpec(floor, ball, clean, CatcherOutput.DIFFERENCE)),
                new ResolvedLayer("rest", held, rest, EntitySet.NONE, whole, null)),
            whole,
            scene.entities().size());
    JobPlan plan = new JobPlan(shot, l -> true, true, c -> false);
    for (int ahead = 0; ahead < 2; ahead++) {
      List<FragmentSums> sums = new java.util.ArrayList<>();
      for (int j = 0; j < plan.jobs().size(); j++) {
        int samples = j == ahead ? 7 : 3;
        sums.add(Traces.trace(scene, Traces.uniform(0.4), plan.jobs().get(j), W, H, samples));
      }
      LayerPictures p = new LayerPictures(shot, plan, sums);
      float[] uncut = p.uncut().rgba();
      float[] a = p.layer(0).rgba();
      float[] b = p.layer(1).rgba();
      float[] c = p.layer(2).rgba();
      for (int i = 0; i < uncut.length; i++) {
        float sum = a[i] + b[i] + c[i];
        assertThat(sum).as("alpha too").isCloseTo(uncut[i], within(2e-6f * (1 + uncut[i])));
      }
    }
  }
}
