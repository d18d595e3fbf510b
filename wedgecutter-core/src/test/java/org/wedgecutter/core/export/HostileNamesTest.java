package org.wedgecutter.core.export;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import java.io.ByteArrayInputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.concurrent.TimeUnit;
import java.util.stream.IntStream;
import javax.xml.parsers.DocumentBuilderFactory;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import org.w3c.dom.Element;
import org.wedgecutter.core.deliver.file.ExrFrames;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.io.Visible;
import org.wedgecutter.core.plan.Output;
import org.wedgecutter.core.testing.HostileNames;
import org.wedgecutter.core.testing.Programs;
import org.wedgecutter.core.testing.ReferenceStage;
import org.wedgecutter.core.testing.ShotFolder;
import org.wedgecutter.exr.Box;

/** Whatever a name holds, every language that is written for others takes it for a name. */
class HostileNamesTest {
  @TempDir Path dir;

  private static String withoutLoneSurrogates(String text) {
    return text.replaceAll(
        "[\\ud800-\\udfff](?![\\udc00-\\udfff])(?<![\\ud800-\\udbff].)", "\ufffd");
  }

  private void nothingRan() {
    assertThat(dir.resolve("pwned")).doesNotExist();
  }

  @ParameterizedTest
  @ValueSource(strings = {"bash", "sh"})
  void theShellReadsTheWord(String shell) throws Exception {
    StringBuilder script = new StringBuilder("set -eu\n");
    List<String> names =
        HostileNames.all().stream().map(HostileNamesTest::withoutLoneSurrogates).toList();
    for (String name : names) {
      script.append("# ").append(Quoting.comment(name)).append('\n');
      script.append("printf '%s\\0' ").append(Quoting.shell(name)).append('\n');
    }
    Files.writeString(dir.resolve("words.sh"), script);
    String told = Programs.run(dir, shell, "words.sh");
    assertThat(told.split("\0")).containsExactlyElementsOf(names);
    nothingRan();
  }

  @Test
  void theSchedulersFilesRunNothingOfThePlansName() throws Exception {
    Files.createDirectories(dir.resolve("bin"));
    Path sbatch = dir.resolve("bin/sbatch");
    Files.writeString(sbatch, "#!/bin/sh\necho 7\n");
    assertThat(sbatch.toFile().setExecutable(true)).isTrue();
    for (String name : HostileNames.files().toList()) {
      SlurmJobs jobs =
          new SlurmJobs(
              "printf '%s\\0'",
              dir.resolve(name),
              dir.resolve("out"),
              List.of("--frames", name),
              100,
              1000,
              new SlurmJobs.Wishes("night", "", "", 1, 10));
      for (Map.Entry<String, String> file : jobs.files().entrySet()) {
        Files.writeString(dir.resolve(file.getKey()), file.getValue());
      }
      Programs.run(
          dir, "env", "PATH=" + dir.resolve("bin") + ":/usr/bin:/bin", "bash", "submit.sh");
      String element =
          Programs.run(
              dir,
              "env",
              "SLURM_ARRAY_TASK_ID=1",
              "SLURM_CPUS_PER_TASK=1",
              "bash",
              "-c",
              "exec() { \"$@\"; }; . ./render.sbatch");
      assertThat(element.split("\0")).contains(dir.resolve(name).toString(), name);
      nothingRan();
    }
  }

  @ParameterizedTest
  @ValueSource(strings = {"night\n#SBATCH --uid=0", "a b", "a'b", "a\"b", "a;b", "$(x)"})
  void theSchedulerIsToldPlainWordsAlone(String word) {
    assertThatThrownBy(() -> new SlurmJobs.Wishes(word, "", "", 1, 1))
        .isInstanceOf(IllegalArgumentException.class);
    assertThatThrownBy(() -> new SlurmJobs.Wishes("", word, "", 1, 1))
        .isInstanceOf(IllegalArgumentException.class);
    assertThatThrownBy(() -> new SlurmJobs.Wishes("", "", word, 1, 1))
        .isInstanceOf(IllegalArgumentException.class);
  }

  @Test
  void theImageToolOpensTheFile() throws Exception {
    Output output = ShotFolder.load(dir.resolve("shot")).plan().output();
    Picture picture = Picture.empty(2, 2);
    Box box = Box.ofSize(2, 2);
    StringBuilder script = new StringBuilder("set -eu\noiiotool --wildcardoff --evaloff");
    int count = 0;
    for (String name : HostileNames.files().filter(Quoting::isImageFile).toList()) {
      String file = name + ".exr";
      ExrFrames.write(dir.resolve(file), picture, List.of(), output, box, box, Map.of());
      script.append(
          " \\\n  %s --ch R -o out%d.exr --pop".formatted(Quoting.imageFile(file), count++));
    }
    Files.writeString(dir.resolve("tool.sh"), script);
    Programs.run(dir, "sh", "tool.sh");
    for (int k = 0; k < count; k++) {
      assertThat(dir.resolve("out%d.exr".formatted(k))).isRegularFile();
    }
    nothingRan();
  }

  @Test
  void xmlHoldsTheName() throws Exception {
    StringBuilder xml = new StringBuilder("<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n<all>");
    for (String name : HostileNames.all()) {
      xml.append("<n v=\"").append(Quoting.xml(name)).append("\"/>");
    }
    xml.append("</all>");
    Path file = dir.resolve("names.xml");
    Files.writeString(file, xml);
    // expat, too
    Programs.run(
        dir,
        "/usr/bin/python3",
        "-c",
        "import xml.parsers.expat as e; e.ParserCreate().Parse(open('names.xml','rb').read(), True)");
    var all =
        DocumentBuilderFactory.newInstance()
            .newDocumentBuilder()
            .parse(new ByteArrayInputStream(Files.readAllBytes(file)))
            .getElementsByTagName("n");
    List<String> names = HostileNames.all();
    assertThat(all.getLength()).isEqualTo(names.size());
    for (int k = 0; k < names.size(); k++) {
      String held =
          withoutLoneSurrogates(names.get(k))
              .replaceAll("[\u0000-\u0008\u000b-\u001f\ufffe\uffff&&[^\r]]", "\ufffd");
      assertThat(((Element) all.item(k)).getAttribute("v")).isEqualTo(held);
    }
  }

  @Test
  void tablesHoldTheName() throws Exception {
    StringBuilder csv = new StringBuilder();
    List<String> names =
        HostileNames.all().stream().map(HostileNamesTest::withoutLoneSurrogates).toList();
    for (String name : names) {
      csv.append("1,").append(Quoting.csv(name)).append(",2\r\n");
    }
    Files.writeString(dir.resolve("names.csv"), csv);
    String told =
        Programs.run(
            dir,
            "/usr/bin/python3",
            "-c",
            """
            import csv, json
            rows = list(csv.reader(open('names.csv', encoding='utf-8', newline='')))
            print(json.dumps([r[1] for r in rows if len(r) == 3]))
            """);
    JsonNode read = new ObjectMapper().readTree(told);
    assertThat(read).hasSize(names.size());
    for (int k = 0; k < names.size(); k++) {
      assertThat(read.get(k).asText()).isEqualTo(names.get(k));
    }
  }

  @Test
  void aBrowserShowsTheNameAndRunsNothing() throws Exception {
    StringBuilder html =
        new StringBuilder("<!doctype html><meta charset=utf-8><title>fine</title>");
    for (String name : HostileNames.all()) {
      html.append("<p title=\"").append(Quoting.html(name)).append("\">");
      html.append(Quoting.html(name)).append("</p>\n");
    }
    Files.writeString(dir.resolve("names.html"), withoutLoneSurrogates(html.toString()));
    Process p =
        new ProcessBuilder(
                "/usr/bin/chromium",
                "--headless",
                "--no-sandbox",
                "--disable-gpu",
                "--user-data-dir=" + dir.resolve("profile"),
                "--dump-dom",
                dir.resolve("names.html").toUri().toString())
            .redirectError(ProcessBuilder.Redirect.DISCARD)
            .redirectOutput(dir.resolve("dom.html").toFile())
            .start();
    assertThat(p.waitFor(60, TimeUnit.SECONDS)).isTrue();
    String dom = Files.readString(dir.resolve("dom.html"));
    assertThat(dom).contains("<title>fine</title>", "&lt;img src=x").doesNotContain("<img");
    assertThat(dom.split("<p ", -1)).hasSize(HostileNames.all().size() + 1);
  }

  @Test
  void openUsdHoldsTheName() throws Exception {
    StringBuilder usda = new StringBuilder("#usda 1.0\n\ndef Scope \"World\"\n{\n");
    List<String> names = HostileNames.all();
    for (int k = 0; k < names.size(); k++) {
      usda.append("    custom string n%d = \"%s\"\n".formatted(k, Quoting.usd(names.get(k))));
    }
    usda.append("}\n");
    String text = usda.toString();
    // one line for each, as no name ends it
    assertThat(text.lines()).hasSize(names.size() + 5);
    assertThat(text.chars().filter(c -> c < ' ' && c != '\n')).isEmpty();
    Files.writeString(dir.resolve("names.usda"), text, StandardCharsets.UTF_8);
    List<String> attributes =
        IntStream.range(0, names.size()).mapToObj(k -> "/World.n" + k).toList();
    JsonNode values = ReferenceStage.read(dir.resolve("names.usda"), attributes).get("values");
    for (int k = 0; k < names.size(); k++) {
      // half a pair of UTF-16 has no UTF-8: it is the replacement character in any file
      String inUtf8 =
          new String(names.get(k).getBytes(StandardCharsets.UTF_16LE), StandardCharsets.UTF_16LE);
      assertThat(values.get("/World.n" + k).asText()).isEqualTo(inUtf8);
    }
  }

  @Test
  void onATerminalEachIsOneLineWithoutControl() {
    for (String name : HostileNames.all()) {
      String shown = Visible.of(name);
      assertThat(shown.codePoints())
          .allMatch(c -> c >= ' ' && !Character.isISOControl(c) && c != 0x202e && c != 0x2028);
      assertThat(shown.lines()).hasSize(1);
      assertThat(Visible.of(shown)).isEqualTo(shown);
    }
    assertThat(Visible.of("日本語 Ünï 🎬")).isEqualTo("日本語 Ünï 🎬");
    assertThat(Visible.of("a\nb\u001b[1m")).isEqualTo("a\\nb\\u{1b}[1m");
    assertThat(Visible.lines("a\nb\rc")).isEqualTo("a\nb\\rc");
    assertThat(Visible.json("\"a\u202eb\"\n")).isEqualTo("\"a\\u202eb\"\n");
  }
}
