package org.wedgecutter.core.fragment;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.util.List;
import java.util.Map;
import java.util.Random;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.Test;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.plan.CatcherOutput;
import org.wedgecutter.core.plan.Extra;
import org.wedgecutter.core.plan.Output;
import org.wedgecutter.core.plan.Role;
import org.wedgecutter.core.resolve.CatcherSpec;
import org.wedgecutter.core.resolve.Decisions;
import org.wedgecutter.core.resolve.EntitySet;
import org.wedgecutter.core.resolve.ResolvedLayer;
import org.wedgecutter.core.resolve.ResolvedShot;
import org.wedgecutter.core.resolve.TraceSettings;
import org.wedgecutter.core.resolve.TransportClass;
import org.wedgecutter.core.scene.Material;
import org.wedgecutter.core.scene.Rgb;
import org.wedgecutter.core.scene.Scene;
import org.wedgecutter.core.testing.SceneMaker;
import org.wedgecutter.core.testing.Traces;
import org.wedgecutter.core.trace.CameraView;
import org.wedgecutter.core.trace.Plane;
import org.wedgecutter.core.trace.TraceJob;
import org.wedgecutter.exr.Compression;

/** Alpha, and a plate, behind coloured panes that the camera sees through. */
class ColouredGlassTest {
  private static final int SIZE = 6;

  private static Material pane(double r, double g, double b) {
    return SceneMaker.colored(r, g, b)
        .with(m -> {
          // no reflection: what passes is the colour itself
          m.specular(0);
          m.roughness = 0;
          m.glass = new Material.Glass(1, null, false, Rgb.WHITE, 1);
        });
  }

  private static Scene panes(Material... materials) {
    SceneMaker maker = new SceneMaker();
    for (int k = 0; k < materials.length; k++) {
      maker.mesh("/pane" + k, SceneMaker.wall(4, 4), materials[k], 0, 0, -k);
    }
    return maker.camera(0.2, 0, 0, 5).scene();
  }

  private static TransportClass seeing(Scene scene) {
    return TransportClass.whole(
        scene.entities().size(), TraceSettings.unbiased(2, 1).withSeeThrough(true));
  }

  @Test
  void alphaBehindColouredPanesAddsUpToOne() {
    Random random = new Random(5);
    for (int run = 0; run < 12; run++) {
      Material[] materials = new Material[2 + run % 3];
      double[] passed = {1, 1, 1};
      double[][] pass = new double[materials.length][3];
      for (int k = 0; k < materials.length; k++) {
        for (int c = 0; c < 3; c++) {
          // the first are red and cyan: nothing gets through both
          pass[k][c] = run == 0 ? (c == 0) == (k == 0) ? 1 : 0 : random.nextDouble();
        }
        materials[k] = pane(pass[k][0], pass[k][1], pass[k][2]);
      }
      Scene scene = panes(materials);
      TraceJob job =
          new TraceJob(
              seeing(scene),
              EntitySet.NONE,
              List.of(new TraceJob.View(EntitySet.NONE, Traces.all(scene))));
      FragmentSums sums = Traces.trace(scene, Traces.uniform(1), job, SIZE, SIZE, 4);
      double total = 0;
      for (int k = 0; k <= materials.length; k++) {
        String path = k == materials.length ? Scene.ENVIRONMENT_PATH : "/pane" + k;
        double alpha = Traces.middle(sums.picture(0, Traces.set(scene, path)), 3);
        double expected = 0;
        for (int c = 0; c < 3; c++) {
          double own = k == materials.length ? 0 : pass[k][c];
          expected += passed[c] * (1 - own) / 3;
          passed[c] *= own;
        }
        assertThat(alpha).as("pane %d of run %d", k, run).isCloseTo(expected, within(1e-5));
        total += alpha;
      }
      assertThat(total).isCloseTo(1, within(1e-5));
    }
  }

  @Test
  void aPlateIsTintedByThePaneInFrontOfIt() {
    Scene scene = panes(pane(0.9, 0.5, 0.1));
    TransportClass whole = seeing(scene);
    EntitySet pane = Traces.set(scene, "/pane0");
    CatcherSpec plate =
        new CatcherSpec(EntitySet.NONE, pane, whole.without(pane), CatcherOutput.DIFFERENCE);
    ResolvedShot.Asked asked =
        new ResolvedShot.Asked(
            new Output(Output.DEFAULT_NAME, true, Compression.ZIP, true, Extra.NONE),
            List.of(),
            List.of(),
            plate,
            0,
            List.of(),
            Map.of());
    ResolvedLayer layer =
        new ResolvedLayer(
            "sky",
            Decisions.all(scene.entities().size(), Role.HOLDOUT),
            Traces.set(scene, Scene.ENVIRONMENT_PATH),
            EntitySet.NONE,
            whole,
            null);
    ResolvedShot shot = new ResolvedShot(List.of(layer), whole, scene.entities().size(), asked);
    JobPlan plan = new JobPlan(shot, l -> true, true, c -> false);
    List<FragmentSums> sums =
        plan.jobs().stream()
            .map(j -> Traces.trace(scene, Traces.uniform(0), j, SIZE, SIZE, 2))
            .toList();
    LayerPictures pictures = new LayerPictures(shot, plan, sums, stage(scene));
    for (Picture p : List.of(pictures.layer(0), pictures.uncut())) {
      assertThat(Traces.middle(p, 0)).isCloseTo(0.9 * 2, within(1e-5));
      assertThat(Traces.middle(p, 1)).isCloseTo(0.5 * 2, within(1e-5));
      assertThat(Traces.middle(p, 2)).isCloseTo(0.1 * 2, within(1e-5));
    }
    assertThat(Traces.middle(pictures.layer(0), 3)).isCloseTo(0.5, within(1e-5));
    float[] pass = pictures.passes(0, "plate"::equals).getFirst().values();
    assertThat(pass[0]).isCloseTo(1.8f, within(1e-5f));
    assertThat(pass[2]).isCloseTo(0.2f, within(1e-5f));
  }

  private static Stage stage(Scene scene) {
    return new Stage() {
      @Override
      public Scene scene() {
        return scene;
      }

      @Override
      public Picture plate(int width, int height) {
        Picture out = Picture.empty(width, height);
        java.util.Arrays.fill(out.rgba(), 2);
        return out;
      }

      @Override
      public CameraView view(int width, int height) {
        throw new AssertionError("no place is asked for");
      }

      @Override
      public Plane plane(
          EntitySet surfaces, EntitySet things, double @Nullable [] given, double size) {
        throw new AssertionError("no place is asked for");
      }
    };
  }
}
