package org.wedgecutter.core.io;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.condition.EnabledOnOs;
import org.junit.jupiter.api.condition.OS;

/** The system's own account tells which threads give way. */
class LowPriorityTest {
  /** The nice value of the thread that reads it: the nineteenth field, behind the name. */
  private static int nice() {
    try {
      String stat = Files.readString(Path.of("/proc/thread-self/stat"));
      return Integer.parseInt(stat.substring(stat.lastIndexOf(')') + 2).split(" ")[16]);
    } catch (java.io.IOException e) {
      throw new java.io.UncheckedIOException(e);
    }
  }

  @Test
  @EnabledOnOs(OS.LINUX)
  void aThreadAndThoseThatItStartsGiveWayAndNoOthers() throws Exception {
    int before = nice();
    List<Integer> found = new ArrayList<>();
    Thread low =
        Thread.ofPlatform()
            .start(() -> {
              assertThat(LowPriority.here()).isTrue();
              found.add(nice());
              Thread started = Thread.ofPlatform().start(() -> found.add(nice()));
              try {
                started.join();
              } catch (InterruptedException e) {
                Thread.currentThread().interrupt();
              }
            });
    low.join();
    assertThat(found).containsExactly(LowPriority.NICE, LowPriority.NICE);
    assertThat(nice()).isEqualTo(before).isLessThan(LowPriority.NICE);
  }
}
