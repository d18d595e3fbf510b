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

  /** Looks at an interval read nothing while size and time stay; a save looks at the content. */
  @Test
  void aChangeOfTheSameSizeAndTimeIsSeenBeforeASaveAndAfterAFewLooks() throws Exception {
    Path file = Files.writeString(dir.resolve("plan"), "mine");
    var time = Files.getLastModifiedTime(file);
    DiskWatch watch = new DiskWatch();
    watch.know(file);
    assertThat(watch.changedAtAGlance()).isFalse();
    Files.writeString(file, "hers");
    Files.setLastModifiedTime(file, time);
    assertThat(watch.changedAtAGlance()).as("nothing to be seen at a glance").isFalse();
    assertThat(watch.changed()).as("before a save").isTrue();
    boolean seen = false;
    for (int k = 0; k < 10; k++) {
      seen |= watch.changedAtAGlance();
    }
    assertThat(seen).isTrue();
    Files.writeString(file, "hers, longer");
    assertThat(watch.changedAtAGlance()).isTrue();
    assertThat(watch.changedAtAGlance()).as("as long as it is not known").isTrue();
    watch.know(file);
    assertThat(watch.changedAtAGlance()).isFalse();
  }
}
