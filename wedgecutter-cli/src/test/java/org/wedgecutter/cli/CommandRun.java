package org.wedgecutter.cli;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import java.io.PrintWriter;
import java.io.StringWriter;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.List;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.io.TempDir;
import org.wedgecutter.command.Commands;
import org.wedgecutter.core.testing.ShotFolder;

/** Runs commands on a small shot, as a shell does. */
abstract class CommandRun {
  static final ObjectMapper JSON = new ObjectMapper();
  @TempDir Path dir;
  String plan;
  String out;
  String err;

  @BeforeEach
  void shot() throws Exception {
    plan = ShotFolder.make(dir).toString();
  }

  int run(String... args) {
    StringWriter o = new StringWriter();
    StringWriter e = new StringWriter();
    int status = Commands.run(Main.command(), new PrintWriter(o), new PrintWriter(e, true), args);
    out = o.toString();
    err = e.toString();
    return status;
  }

  JsonNode json(int status, String... args) throws Exception {
    assertThat(run(args)).as(err).isEqualTo(status);
    return JSON.readTree(out);
  }

  void wrong(String expected, String... args) {
    assertThat(run(args)).as("%s%n%s", List.of(args), err).isEqualTo(2);
    assertThat(err).startsWith("wedgecutter: ").contains(expected);
    assertThat(err.lines().filter(l -> l.startsWith("wedgecutter: "))).hasSize(1);
    assertThat(out).isEmpty();
  }

  static void tool(String... command) throws Exception {
    Process process = new ProcessBuilder(command).redirectErrorStream(true).start();
    String told = new String(process.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
    assertThat(process.waitFor()).as(told).isZero();
  }
}
