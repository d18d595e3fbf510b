package org.wedgecutter.app.files;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.awaitility.Awaitility.await;

import java.nio.file.Files;
import java.nio.file.Path;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.PlanReader;
import org.wedgecutter.core.testing.ShotFolder;

/** The first shot is read before it is asked for, once. */
class ReadAheadTest {
  @TempDir Path dir;

  @Test
  void whatWasBegunIsTakenOnceAndReadAnewLater() throws Exception {
    Path file = ShotFolder.make(dir);
    ReadAhead ahead = new ReadAhead(file);
    ahead.hurry();
    await().until(ahead::waits);
    Plan before = PlanReader.read(file);
    String changed = Files.readString(file).replace("\"Floor\"", "\"Ground\"");
    Files.writeString(file, changed);
    LoadedShot first = ahead.take(file);
    assertThat(first.file()).isEqualTo(file);
    assertThat(first.plan()).isEqualTo(before);
    assertThat(ahead.waits()).isFalse();
    assertThat(ahead.take(file).plan()).isNotEqualTo(before);
  }

  @Test
  void anotherFileIsReadItself() throws Exception {
    Path file = ShotFolder.make(dir);
    Path copy = Files.copy(file, file.resolveSibling("copy.wedge"));
    ReadAhead ahead = new ReadAhead(file);
    assertThat(ahead.take(copy).file()).isEqualTo(copy);
    // what was begun is not kept for later
    Files.writeString(file, "{");
    assertThatThrownBy(() -> ahead.take(file)).isInstanceOf(InputException.class);
  }

  @Test
  void whatIsWrongIsToldWhenItIsTaken() {
    Path missing = dir.resolve("missing.wedge");
    ReadAhead ahead = new ReadAhead(missing);
    assertThatThrownBy(() -> ahead.take(missing))
        .isInstanceOf(java.io.IOException.class)
        .hasMessageContaining("missing.wedge");
  }
}
