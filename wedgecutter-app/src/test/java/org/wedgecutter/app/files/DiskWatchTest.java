package org.wedgecutter.app.files;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class DiskWatchTest {
  @TempDir Path dir;

  /** A save that ends when another plan is open already leaves the watch on that one. */
  @Test
  void whatIsWrittenElsewhereDoesNotMoveTheWatch() throws Exception {
    Path first = Files.writeString(dir.resolve("a"), "a");
    Path second = Files.writeString(dir.resolve("b"), "b");
    DiskWatch watch = new DiskWatch();
    watch.know(second);
    Files.writeString(first, "saved");
    watch.written(first);
    assertThat(watch.isOf(first)).isFalse();
    assertThat(watch.changed()).isFalse();
    Files.writeString(second, "a colleague's");
    assertThat(watch.changed()).isTrue();
    watch.written(second);
    assertThat(watch.changed()).isFalse();
  }
}
