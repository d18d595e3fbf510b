package org.wedgecutter.core.deliver.unit;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.api.parallel.Isolated;
import org.wedgecutter.core.deliver.Delivery;
import org.wedgecutter.core.deliver.Unit;
import org.wedgecutter.core.deliver.UnitState;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.plan.FrameRange;
import org.wedgecutter.core.render.FrameRenderer;
import org.wedgecutter.core.testing.ShotFolder;

/** A long render needs no more memory at its end than at its beginning. */
@Isolated("measures the memory of the process")
class ManyFramesTest {
  private static final int FRAMES = 400;
  private static final long SLACK = 8 << 20;

  @TempDir Path dir;

  private static long used() {
    Runtime runtime = Runtime.getRuntime();
    long least = Long.MAX_VALUE;
    for (int k = 0; k < 4; k++) {
      System.gc();
      least = Math.min(least, runtime.totalMemory() - runtime.freeMemory());
    }
    return least;
  }

  @Test
  void manyFramesLeaveNoMoreInMemoryThanAHundred() throws Exception {
    LoadedShot shot =
        ShotFolder.changed(
            dir.resolve("shot"),
            "\"frames\": \"1-2\", \"fps\": 1",
            "\"frames\": \"1-400\", \"fps\": 240");
    List<Integer> frames = FrameRange.parse("1-" + FRAMES).frames();
    FrameRenderer.Settings tiny = FrameRenderer.Settings.of(shot, 0.1, 1, 1, false);
    DeliveryRenderer renderer =
        new DeliveryRenderer(
            shot,
            new DeliveryOrder(dir.resolve("out"), List.of("Front"), frames, false, tiny, false));
    Map<Integer, Long> memory = new TreeMap<>();
    int[] done = {0};
    Delivery delivery =
        renderer.run(
            new DeliveryRenderer.Progress() {
              @Override
              public void at(int frame, double frameShare, double share) {}

              @Override
              public void unit(Unit unit, UnitState state) {
                if (state == UnitState.DONE && ++done[0] % 300 == 100) {
                  memory.put(done[0], used());
                }
              }
            });
    assertThat(delivery.files()).hasSize(FRAMES);
    assertThat(memory).hasSize(2);
    assertThat(memory.get(FRAMES) - memory.get(100)).as("bytes more: %s", memory).isLessThan(SLACK);
  }
}
