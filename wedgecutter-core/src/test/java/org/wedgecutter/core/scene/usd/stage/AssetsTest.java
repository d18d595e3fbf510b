package org.wedgecutter.core.scene.usd.stage;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.zip.CRC32;
import java.util.zip.ZipEntry;
import java.util.zip.ZipOutputStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import org.wedgecutter.core.io.InputException;

/** From where the files of a stage are read, and from where they are not. */
class AssetsTest {
  private static final String BALL =
      "#usda 1.0\n(defaultPrim = \"ball\")\ndef \"ball\" { int n = 7 }\n";

  @TempDir Path dir;

  private static String naming(String asset) {
    return "#usda 1.0\ndef \"a\" (references = @%s@) { }\ndef \"b\" { }\n".formatted(asset);
  }

  private Path write(String name, String text) throws Exception {
    Path file = dir.resolve(name);
    Files.createDirectories(file.getParent());
    return Files.writeString(file, text);
  }

  private static void pack(Path file, Map<String, byte[]> entries, int method) throws Exception {
    try (OutputStream out = Files.newOutputStream(file);
        ZipOutputStream zip = new ZipOutputStream(out)) {
      for (var e : entries.entrySet()) {
        ZipEntry entry = new ZipEntry(e.getKey());
        entry.setMethod(method);
        CRC32 sum = new CRC32();
        sum.update(e.getValue());
        entry.setSize(e.getValue().length);
        entry.setCrc(sum.getValue());
        zip.putNextEntry(entry);
        zip.write(e.getValue());
      }
    }
  }

  private Stage open(Path file, Path... search) throws Exception {
    return Stage.open(new Assets(file, List.of(search)), Map.of());
  }

  private static Object n(Stage stage) {
    return stage.root().child("a").orElseThrow().value("n");
  }

  @ParameterizedTest
  @ValueSource(strings = {"sub/ball.usda", "./sub/ball.usda", "sub/../sub/ball.usda"})
  void filesBelowTheStageAreFound(String asset) throws Exception {
    write("shot/sub/ball.usda", BALL);
    assertThat(n(open(write("shot/root.usda", naming(asset))))).isEqualTo(7.0);
  }

  @Test
  void aLayerInASubfolderNamesFilesAboveItself() throws Exception {
    write("shot/ball.usda", BALL);
    write("shot/sub/mid.usda", naming("../ball.usda").replace("(ref", "(kind = \"x\" ref"));
    Path root = write("shot/root.usda", "#usda 1.0\n(subLayers = [@sub/mid.usda@])\n");
    assertThat(n(open(root))).isEqualTo(7.0);
  }

  @ParameterizedTest
  @ValueSource(strings = {"../ball.usda", "sub/../../ball.usda", "gone.usda", "link.usda"})
  void whatIsMissingOrOutsideIsToldByWhoAsksForItAndTheRestOpens(String asset) throws Exception {
    write("ball.usda", BALL);
    Path root = write("shot/root.usda", naming(asset));
    Files.createSymbolicLink(dir.resolve("shot/link.usda"), dir.resolve("ball.usda"));
    Stage stage = open(root);
    assertThat(n(stage)).isNull();
    assertThat(stage.root().child("b")).isPresent();
    assertThat(stage.missing())
        .singleElement()
        .asString()
        .contains("root.usda", "/a: references", asset);
  }

  @Test
  void anAbsolutePathOutsideIsNotReadUnlessItsFolderIsGiven() throws Exception {
    Path ball = write("library/ball.usda", BALL);
    Path root = write("shot/root.usda", naming(ball.toString()));
    assertThat(n(open(root))).isNull();
    assertThat(n(open(root, dir.resolve("library")))).isEqualTo(7.0);
    Path bare = write("shot/bare.usda", naming("ball.usda"));
    assertThat(n(open(bare, dir.resolve("library")))).isEqualTo(7.0);
  }

  @Test
  void aPackageHoldsItsFirstLayerAndWhatThatNames() throws Exception {
    Map<String, byte[]> entries = new LinkedHashMap<>();
    entries.put("first.usda", naming("parts/ball.usda").getBytes(StandardCharsets.UTF_8));
    entries.put("parts/ball.usda", BALL.getBytes(StandardCharsets.UTF_8));
    Path file = dir.resolve("p.usdz");
    pack(file, entries, ZipEntry.STORED);
    assertThat(n(open(file))).isEqualTo(7.0);
    Path root =
        write(
            "root.usda",
            naming("p.usdz[parts/ball.usda]")
                + naming("p.usdz")
                    .substring(10)
                    .replace("\"a\"", "\"c\"")
                    .replace("\"b\"", "\"d\"")
                    .replace("p.usdz@", "p.usdz@</a>"));
    Stage stage = open(root);
    assertThat(n(stage)).isEqualTo(7.0);
    assertThat(stage.root().child("c").orElseThrow().value("n")).isEqualTo(7.0);
  }

  @Test
  void aPackedPackageIsRefusedWithItsEntry() throws Exception {
    Path file = dir.resolve("p.usdz");
    pack(file, Map.of("first.usda", BALL.getBytes(StandardCharsets.UTF_8)), ZipEntry.DEFLATED);
    assertThatThrownBy(() -> open(file))
        .isInstanceOf(InputException.class)
        .hasMessageContaining("first.usda")
        .hasMessageContaining("stored");
  }

  @Test
  void aNameThatIsNoneIsRefused() throws Exception {
    Path file = dir.resolve("p.usdz");
    pack(file, Map.of("a\0b.usda", BALL.getBytes(StandardCharsets.UTF_8)), ZipEntry.STORED);
    assertThatThrownBy(() -> open(file))
        .isInstanceOf(InputException.class)
        .hasMessageContaining("name of a file");
  }

  @Test
  void layersThatBringOneAnotherInAreTold() throws Exception {
    write("b.usda", "#usda 1.0\n(subLayers = [@a.usda@])\ndef \"b\" { }\n");
    Stage stage = open(write("a.usda", "#usda 1.0\n(subLayers = [@b.usda@])\ndef \"a\" { }\n"));
    assertThat(stage.root().children()).hasSize(2);
    assertThat(stage.missing()).singleElement().asString().contains("b.usda", "circular");
    Path own = write("own.usda", naming("own.usda").replace("usda@)", "usda@</a>)"));
    assertThat(open(own).missing()).singleElement().asString().contains("circular");
  }

  @Test
  void sublayersThatDoubleWithEveryFileEndSoon() throws Exception {
    for (int k = 0; k < 30; k++) {
      String next = "@l%d.usda@".formatted(k + 1);
      write("l%d.usda".formatted(k), "#usda 1.0\n(subLayers = [%1$s, %1$s])\n".formatted(next));
    }
    write("l30.usda", BALL);
    Stage stage = open(dir.resolve("l0.usda"));
    assertThat(stage.root().child("ball")).isPresent();
    assertThat(stage.missing()).anyMatch(p -> p.contains("subLayers: more than"));
  }

  @Test
  void aVariantThatIsChosenOutsideIsStrongerThanTheStages() throws Exception {
    Path root =
        write(
            "v.usda",
            """
            #usda 1.0
            def "a" (variants = { string look = "red" } prepend variantSets = "look") {
              variantSet "look" = { "red" { int n = 1 } "blue" { int n = 2 } }
            }
            """);
    assertThat(n(open(root))).isEqualTo(1.0);
    Stage blue = Stage.open(new Assets(root, List.of()), Map.of("/a", Map.of("look", "blue")));
    assertThat(n(blue)).isEqualTo(2.0);
    assertThat(blue.root().children().getFirst().selections()).containsEntry("look", "blue");
    assertThat(blue.root().children().getFirst().variants())
        .containsEntry("look", List.of("red", "blue"));
  }
}
