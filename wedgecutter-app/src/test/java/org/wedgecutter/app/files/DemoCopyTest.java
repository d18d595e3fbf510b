package org.wedgecutter.app.files;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.stream.Stream;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class DemoCopyTest {
  @TempDir Path dir;
  private Path shipped;

  @BeforeEach
  void ship() throws Exception {
    shipped = Files.createDirectories(dir.resolve("program/orrery"));
    Files.writeString(shipped.resolve("orrery.wedge"), "plan");
    Files.writeString(shipped.resolve("orrery.glb"), "scene");
    Files.createDirectories(shipped.resolve("orrery-v001"));
  }

  private Path copy(boolean fresh) throws Exception {
    return DemoCopy.of(shipped, dir.resolve("state"), fresh);
  }

  @Test
  void whatTheUserEditsIsNotTheProgramsAndStays() throws Exception {
    Path copy = copy(false);
    assertThat(copy.resolve("orrery.glb")).hasContent("scene");
    assertThat(copy.resolve("orrery-v001")).doesNotExist();
    Files.writeString(copy.resolve("orrery.wedge"), "edited");
    Files.writeString(shipped.resolve("orrery.glb"), "a newer scene");
    assertThat(copy(false)).isEqualTo(copy);
    assertThat(copy.resolve("orrery.wedge")).hasContent("edited");
    assertThat(copy.resolve("orrery.glb")).hasContent("a newer scene");
    assertThat(shipped.resolve("orrery.wedge")).hasContent("plan");
  }

  @Test
  void aFreshDemoKeepsWhatWasEditedBesideIt() throws Exception {
    Path copy = copy(false);
    for (String text : new String[] {"first", "second"}) {
      Files.writeString(copy.resolve("orrery.wedge"), text);
      copy(true);
      assertThat(copy.resolve("orrery.wedge")).hasContent("plan");
    }
    copy(true);
    try (Stream<Path> all = Files.list(copy)) {
      assertThat(all.map(f -> f.getFileName().toString()))
          .containsExactlyInAnyOrder(
              "orrery.wedge", "orrery.glb", "orrery-edited-1.wedge", "orrery-edited-2.wedge");
    }
    assertThat(copy.resolve("orrery-edited-2.wedge")).hasContent("second");
  }
}
