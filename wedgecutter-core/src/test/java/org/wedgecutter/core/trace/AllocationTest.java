package org.wedgecutter.core.trace;

import static org.assertj.core.api.Assertions.assertThat;

import com.sun.management.ThreadMXBean;
import java.lang.management.ManagementFactory;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.resolve.EntitySet;
import org.wedgecutter.core.resolve.Reach;
import org.wedgecutter.core.resolve.TraceSettings;
import org.wedgecutter.core.resolve.TransportClass;
import org.wedgecutter.core.scene.Light;
import org.wedgecutter.core.scene.Material;
import org.wedgecutter.core.scene.Medium;
import org.wedgecutter.core.scene.Rgb;
import org.wedgecutter.core.scene.Scene;
import org.wedgecutter.core.testing.SceneMaker;
import org.wedgecutter.core.testing.Traces;

/** Nothing is made for a ray or a sample, so that collectors have nothing to do while it traces. */
class AllocationTest {
  private static final int SIDE = 24;

  /** Glass, metal, cloth, haze, many lights of every kind and links between them. */
  private static Scene scene() {
    SceneMaker maker = new SceneMaker();
    // numbers of entities beyond those that the runtime keeps as objects
    for (int k = 0; k < 150; k++) {
      maker.pointLight("/lamp" + k, 0.1, k % 12 - 6, 3, k / 12 - 6);
    }
    Material glass =
        SceneMaker.matte(1)
            .with(m -> {
              m.roughness = 0.1f;
              m.glass = new Material.Glass(1, null, true, new Rgb(0.8f, 0.9f, 1), 0.5f);
            });
    return maker
        .mesh("/floor", SceneMaker.floor(9, 9), SceneMaker.matte(0.6), 0, -1, 0)
        .mesh("/pane", SceneMaker.wall(2, 2), glass, 0, 0, 1)
        .mesh("/back", SceneMaker.wall(6, 4), SceneMaker.matte(0.4), 0, 0, -3)
        .mesh("/glow", SceneMaker.wall(1, 1), SceneMaker.glowing(3), 1, 1, -2)
        .areaLight("/disc", Light.Type.DISC, 2, 1, 1, -1, 2, 1)
        .areaLight("/ball", Light.Type.SPHERE, 2, 1, 1, 2, 2, 1)
        .sunFromAbove("/sun", 1)
        .medium("/haze", haze(), 8, 6, 8, 0, 0, 0)
        .camera(0.9, 0, 0, 5)
        .scene();
  }

  private static Medium haze() {
    return new Medium("haze", false, 0.05f, Rgb.WHITE, 0.3f, Rgb.BLACK, 0, 0, null);
  }

  @Test
  void samplesMakeNoObjects() {
    Scene scene = scene();
    Reach[] reach = new Reach[scene.entities().size()];
    Arrays.fill(reach, Reach.ALL);
    int sun = scene.entity("/sun").orElseThrow().index();
    TransportClass transport =
        new TransportClass(
            reach,
            Map.of(),
            Map.of(sun, Traces.set(scene, "/floor")),
            TraceSettings.unbiased(4, 1));
    TraceJob job =
        new TraceJob(
            transport,
            EntitySet.NONE,
            List.of(
                new TraceJob.View(EntitySet.NONE, Traces.all(scene)),
                new TraceJob.View(Traces.set(scene, "/pane"), Traces.all(scene))));
    Picture sky = Picture.empty(16, 8);
    Arrays.fill(sky.rgba(), 0.3f);
    SceneTracer.Worker worker =
        Traces.frame(scene, new Environment(sky, 0, 1))
            .worker(job, scene.cameras().getFirst(), SIDE, SIDE, null);
    int[] fragments = new int[1];
    FragmentSink sink = (view, pixel, fragment) -> fragments[0]++;
    ThreadMXBean threads = (ThreadMXBean) ManagementFactory.getThreadMXBean();
    List<Double> perSample = new ArrayList<>();
    for (int round = 0; round < 6; round++) {
      long before = threads.getCurrentThreadAllocatedBytes();
      int samples = 0;
      for (int s = 0; s < 8; s++) {
        for (int p = 0; p < SIDE * SIDE; p++) {
          worker.sample(p % SIDE, p / SIDE, 8 * round + s, p, sink);
          samples++;
        }
      }
      long bytes = threads.getCurrentThreadAllocatedBytes() - before;
      perSample.add(bytes / (double) samples);
    }
    assertThat(fragments[0]).isGreaterThan(6 * 8 * SIDE * SIDE);
    // the first rounds load classes and make tables; one object for each ray would be hundreds
    assertThat(perSample.stream().mapToDouble(d -> d).min().orElseThrow()).isLessThan(1);
  }
}
