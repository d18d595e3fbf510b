package org.wedgecutter.core.motion;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.util.List;
import org.junit.jupiter.api.Test;
import org.wedgecutter.core.plan.FrameRange;
import org.wedgecutter.core.plan.Shot;
import org.wedgecutter.core.scene.Channel;
import org.wedgecutter.core.scene.Deformation;
import org.wedgecutter.core.scene.Medium;
import org.wedgecutter.core.scene.Rgb;
import org.wedgecutter.core.scene.Scene;
import org.wedgecutter.core.scene.Track;
import org.wedgecutter.core.testing.SceneMaker;

/** How far things go from frame to frame, worked out by hand. */
class MotionTableTest {
  private static final double CLOSE = 1e-5;

  private static Shot shot(String frames, int fps) throws Exception {
    Shot.Draft draft = new Shot.Draft("s.glb", FrameRange.parse(frames));
    draft.fps = fps;
    return draft.build();
  }

  /** A shift along x: a second at one metre a second, then one at three. */
  private static List<Channel> faster() {
    return List.of(
        new Channel(
            Channel.Target.TRANSLATION,
            Channel.Between.LINEAR,
            new float[] {0, 1, 2},
            new float[] {0, 0, 0, 1, 0, 0, 4, 0, 0}));
  }

  private static List<Channel> turning() {
    float h = (float) Math.sqrt(0.5);
    return List.of(
        new Channel(
            Channel.Target.ROTATION,
            Channel.Between.LINEAR,
            new float[] {0, 1},
            new float[] {0, 0, 0, 1, 0, h, 0, h}));
  }

  private static void near(double[] found, double... expected) {
    assertThat(found).hasSize(expected.length);
    for (int k = 0; k < expected.length; k++) {
      assertThat(found[k]).isCloseTo(expected[k], within(CLOSE));
    }
  }

  @Test
  void aThingIsMeasuredByItsFastestFrame() throws Exception {
    Scene scene =
        new SceneMaker()
            .mesh("/still", SceneMaker.wall(1, 1), SceneMaker.matte(1), 0, 0, 0)
            .mesh("/goes", SceneMaker.wall(1, 1), SceneMaker.matte(1), List.of(), faster(), 0, 0, 0)
            .camera(1, 0, 0, 5)
            .scene()
            .withMovesTold();
    // half a second a frame; frame 1 is second 0
    MotionTable table = MotionTable.of(shot("1-5", 2), scene);
    assertThat(table.byEntity()[0]).isEmpty();
    near(table.byEntity()[1], 1 / 3.0, 1 / 3.0, 1, 1, 0);
    near(table.mean(), 1 / 3.0, 1 / 3.0, 1, 1, 0);
  }

  @Test
  void turningInPlaceCounts() throws Exception {
    Scene scene =
        new SceneMaker()
            .mesh(
                "/turns", SceneMaker.wall(1, 1), SceneMaker.matte(1), List.of(), turning(), 0, 0, 0)
            .mesh("/goes", SceneMaker.wall(1, 1), SceneMaker.matte(1), List.of(), faster(), 0, 0, 0)
            .camera(1, 0, 0, 5)
            .scene()
            .withMovesTold();
    MotionTable table = MotionTable.of(shot("1-3", 1), scene);
    near(table.byEntity()[0], 1, 0, 0);
    near(table.byEntity()[1], 1 / 3.0, 1, 0);
    near(table.mean(), 2 / 3.0, 0.5, 0);
  }

  @Test
  void jointsMorphsAndSmokeCount() throws Exception {
    Track weights =
        new Track(Channel.Between.LINEAR, new float[] {0, 1, 2}, new float[] {0, 0.5f, 0.25f}, 1);
    Deformation morphs =
        new Deformation(
            new Deformation.Morph(
                new float[][] {new float[12]},
                new float[][] {new float[12]},
                new float[1],
                weights),
            null);
    Medium smoke =
        new Medium(
            "smoke",
            false,
            1,
            Rgb.WHITE,
            0,
            Rgb.BLACK,
            0,
            0,
            new Medium.Puff(5, 3, 0.2f, 1, 1, 0.2f, -0.5f, 3));
    SceneMaker maker =
        new SceneMaker()
            .mesh(
                "/joint", SceneMaker.wall(1, 1), SceneMaker.matte(1), List.of(), faster(), 0, 0, 0)
            .mesh("/skin", SceneMaker.wall(1, 1), SceneMaker.matte(1), 0, 0, 0);
    maker.deform(
        new Deformation(
            null, new Deformation.Skin(new int[] {0}, new float[16], new int[16], new float[16])));
    Scene scene =
        maker
            .mesh("/face", SceneMaker.wall(1, 1), SceneMaker.matte(1), 0, 0, 0)
            .deform(morphs)
            .medium("/smoke", smoke, 1, 1, 1, 0, 0, 0)
            .medium("/haze", SceneMaker.haze(1, 1), 1, 1, 1, 0, 0, 0)
            .camera(1, 0, 0, 5)
            .scene()
            .withMovesTold();
    MotionTable table = MotionTable.of(shot("1-3", 1), scene);
    near(table.byEntity()[1], 1 / 3.0, 1, 0);
    near(table.byEntity()[2], 1, 0.5, 0);
    near(table.byEntity()[3], 1, 1, 1);
    assertThat(table.byEntity()[4]).isEmpty();
    assertThat(new MotionTable(new double[][] {{}, {}}).mean()).isEmpty();
  }
}
