package org.wedgecutter.core.deliver.unit;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.InputStream;
import java.nio.ByteBuffer;
import java.nio.file.Files;
import java.nio.file.Path;
import org.junit.jupiter.api.Test;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.render.FrameRenderer;
import org.wedgecutter.core.render.RenderedFrame;
import org.wedgecutter.core.scene.Light;
import org.wedgecutter.core.scene.Material;
import org.wedgecutter.core.scene.Rgb;
import org.wedgecutter.core.scene.Scene;
import org.wedgecutter.core.scene.SceneCamera;
import org.wedgecutter.core.testing.SceneMaker;
import org.wedgecutter.core.testing.Shots;

/**
 * Pixels that were kept for the version of digests: a change of the tracer that moves one fails
 * here unless the version is counted up, by which files of before become stale. On processors of
 * another kind the last bits may differ, so numbers are compared within {@link #ROUNDING}.
 *
 * <p>After such a change: count up {@code UnitDigests.VERSION} and run this test with {@code
 * -Dwedgecutter.golden=keep}, which overwrites the pixels.
 */
class GoldenPixelsTest {
  private static final float ROUNDING = 2e-5f;
  private static final String KEPT = "golden-pixels.bin";

  /** Surfaces of all kinds, lights of all kinds, media, a blurred moving thing, a lens. */
  private static LoadedShot shot() {
    Material glass =
        SceneMaker.colored(1, 1, 1)
            .with(m -> m.glass = new Material.Glass(1, null, true, new Rgb(0.7f, 0.9f, 0.8f), 1));
    Material metal =
        SceneMaker.colored(0.9, 0.6, 0.3)
            .with(m -> {
              m.metallic = 1;
              m.roughness = 0.25f;
            });
    Material pane = SceneMaker.colored(0.2, 0.5, 0.9).with(m -> m.opacity = 0.4f);
    Material coated =
        SceneMaker.colored(0.7, 0.1, 0.1)
            .with(m -> {
              m.coat = new Material.Coat(1, null, 0.05f, null);
              m.sheen = new Material.Sheen(new Rgb(0.3f, 0.3f, 0.4f), null, 0.4f);
              m.roughness = 0.5f;
            });
    Scene scene =
        new SceneMaker()
            .mesh("/floor", SceneMaker.floor(4, 4), SceneMaker.matte(0.5), 0, -1, 0)
            .mesh("/glass", SceneMaker.sphere(0.4, 10), glass, -0.9, -0.5, 1)
            .mesh("/metal", SceneMaker.sphere(0.5, 10), metal, 0.1, -0.5, 0)
            .mesh("/pane", SceneMaker.wall(0.5, 0.8), pane, 0.9, -0.2, 1.2)
            .mesh("/coated", SceneMaker.box(0.4), coated, 1.2, -0.6, -0.4)
            .mesh("/lamp", SceneMaker.wall(0.2, 0.2), SceneMaker.glowing(6), -1.2, 0.8, -0.5)
            .mesh(
                "/mover",
                SceneMaker.box(0.2),
                SceneMaker.matte(0.8),
                java.util.List.of(),
                SceneMaker.slide(0, 1, 2),
                0,
                0.2,
                0.6)
            .medium("/haze", SceneMaker.haze(0.15, 0.8), 4, 3, 4, 0, 0, 0)
            .medium("/smoke", SceneMaker.puff(2, 0.7), 1, 1, 1, -0.4, 0.4, -0.6)
            .pointLight("/point", 12, 1, 2, 2)
            .areaLight("/area", Light.Type.RECTANGLE, 3, 1, 1, 0, 2.5, 0)
            .camera(0.9, new SceneCamera.Lens(0.024f, 2.8f, 5), 0, 0.2, 5)
            .scene();
    return Shots.of(
        scene, "1-2", "\"samples\": 4, \"bounces\": 3, \"shutter\": 0.5, \"seed\": 7", "");
  }

  private static Picture traced() {
    LoadedShot shot = shot();
    FrameRenderer.Settings settings = FrameRenderer.Settings.of(shot, 0.5, 4, 2, false);
    RenderedFrame frame = new FrameRenderer(shot, settings).render(1, l -> true, true, p -> {});
    return frame.uncut();
  }

  @Test
  void pixelsAreThoseOfTheVersion() throws Exception {
    Picture now = traced();
    if ("keep".equals(System.getProperty("wedgecutter.golden"))) {
      keep(now);
    }
    ByteBuffer kept;
    try (InputStream in = GoldenPixelsTest.class.getResourceAsStream(KEPT)) {
      kept = ByteBuffer.wrap(in.readAllBytes());
    }
    assertThat(kept.getInt())
        .as("the version of digests for which pixels are kept; see the head of this test")
        .isEqualTo(UnitDigests.VERSION);
    assertThat(kept.remaining()).isEqualTo(4 * now.rgba().length);
    int moved = 0;
    for (float v : now.rgba()) {
      float was = kept.getFloat();
      moved += Math.abs(v - was) <= ROUNDING * Math.max(1, Math.abs(was)) ? 0 : 1;
    }
    assertThat(moved).as("numbers that moved: count up the version of digests").isZero();
  }

  private static void keep(Picture now) throws Exception {
    ByteBuffer out = ByteBuffer.allocate(4 + 4 * now.rgba().length);
    out.putInt(UnitDigests.VERSION);
    for (float v : now.rgba()) {
      out.putFloat(v);
    }
    Path file =
        Path.of(System.getProperty("wedgecutter.root"))
            .resolve("wedgecutter-core/src/test/resources/org/wedgecutter/core/deliver/unit")
            .resolve(KEPT);
    Files.createDirectories(file.getParent());
    Files.write(file, out.array());
  }
}
