package org.wedgecutter.core.plan;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.HashSet;
import java.util.Set;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import org.wedgecutter.core.io.AtomicFile;
import org.wedgecutter.core.testing.HostileNames;

/** Names of files: each its own, in the delivery, and short enough to be written. */
class FileNamesTest {
  @TempDir Path dir;

  private static FileNames names(String shot) {
    return new FileNames(Output.DEFAULT_NAME, shot, "camera", "v001");
  }

  @ParameterizedTest
  @ValueSource(strings = {"a", "é", "影", "🎬"})
  void longNamesKeepTheirFrameStayApartAndCanBeWritten(String letter) throws Exception {
    String stem = letter.repeat(400);
    FileNames names = names(stem);
    Set<String> all = new HashSet<>();
    for (String layer : new String[] {stem + "1", stem + "2", stem}) {
      for (String pass : new String[] {"", stem, stem + "x"}) {
        for (int frame : new int[] {1, 2, 12345}) {
          String name = names.name(layer, pass, frame, "exr");
          assertThat(name).contains(".%04d.exr".formatted(frame));
          assertThat(all.add(name)).as(name).isTrue();
          Path file = dir.resolve(name);
          AtomicFile.write(file, out -> out.write(1));
          assertThat(Files.size(file)).isEqualTo(1);
        }
      }
    }
    assertThat(FileNames.safe(stem + "1")).isNotEqualTo(FileNames.safe(stem + "2"));
    assertThat(names.cuts(stem)).isTrue();
    assertThat(names("shot").cuts("Hero/2")).isFalse();
  }

  @Test
  void hostileNamesStayInTheirFolderAndTheirLine() {
    for (String layer : HostileNames.all()) {
      String name = names(layer).name(layer, layer, 7, "exr");
      assertThat(name).endsWith(".0007.exr").doesNotContain("..");
      assertThat(name.split("/")).hasSize(3);
      assertThat(name.codePoints())
          .allMatch(c -> Character.isLetterOrDigit(c) || "-_.+/".indexOf(c) >= 0);
      assertThat(name.getBytes(StandardCharsets.UTF_8).length).isLessThan(700);
    }
  }

  @ParameterizedTest
  @ValueSource(strings = {"units", "Recipe", "HANDOVER"})
  void noLayerStandsInAFolderOfTheDeliverysOwn(String folder) {
    FileNames byLayer = new FileNames("{layer}/{frame:4}", "s", "c", "v");
    assertThat(byLayer.name(folder, 1, "exr")).isEqualTo("_" + folder + "/0001.exr");
    FileNames byText = new FileNames(folder + "/{layer}.{frame:4}", "s", "c", "v");
    assertThat(byText.name("Hero", 1, "exr")).isEqualTo("_" + folder + "/Hero.0001.exr");
  }

  @Test
  void aFrameOfNoDigitsAndTextThatIsTooLongAreToldApart() {
    assertThatThrownBy(() -> new FileNames("{layer}.{frame:0}", "s", "c", "v"))
        .hasMessageContaining("{frame:0}")
        .hasMessageContaining("expected");
    String text = "x".repeat(150);
    assertThatThrownBy(() -> new FileNames("{layer}" + text + "{frame:4}", "s", "c", "v"))
        .hasMessageContaining("longer than file names hold");
  }
}
