package org.wedgecutter.cli;

import static org.assertj.core.api.Assertions.assertThat;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import java.io.PrintWriter;
import java.io.StringWriter;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.Map;
import java.util.TreeMap;
import org.awaitility.Awaitility;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.wedgecutter.command.Commands;
import org.wedgecutter.core.deliver.Delivery;
import org.wedgecutter.core.deliver.UnitState;
import org.wedgecutter.core.deliver.unit.DeliveryStatus;
import org.wedgecutter.core.testing.ShotFolder;

/** A delivery by a real scheduler of one node, which the test starts itself. */
class SlurmTest {
  private static final Path NODE =
      Path.of(System.getProperty("wedgecutter.root", ".."), "scripts/slurm/one-node.sh");

  @TempDir Path dir;

  private Path scheduler;

  @BeforeEach
  void start() throws Exception {
    boolean root = "root".equals(System.getProperty("user.name"));
    assumeTrue(root && Files.exists(Path.of("/usr/sbin/slurmctld")), "needs root and Slurm");
    scheduler = dir.resolve("scheduler");
    run(NODE.toString(), "start", scheduler.toString());
  }

  @AfterEach
  void stop() throws Exception {
    if (scheduler != null) {
      run(NODE.toString(), "stop", scheduler.toString());
    }
  }

  private String run(String... command) throws Exception {
    Path told = Files.createTempFile(dir, "told", ".txt");
    ProcessBuilder builder =
        new ProcessBuilder(command).redirectErrorStream(true).redirectOutput(told.toFile());
    builder.environment().put("SLURM_CONF", scheduler.resolve("slurm.conf").toString());
    int status = builder.start().waitFor();
    String text = Files.readString(told, StandardCharsets.UTF_8);
    assertThat(status).as("%s: %s", String.join(" ", command), text).isZero();
    return text;
  }

  private String queue() {
    try {
      return run("squeue", "-h", "-o", "%A %j %T %K");
    } catch (Exception e) {
      throw new AssertionError(e);
    }
  }

  private int command(String... args) {
    return Commands.run(
        Main.command(), new PrintWriter(new StringWriter()), new PrintWriter(System.err), args);
  }

  private static Map<String, String> bytes(Path folder) throws Exception {
    Map<String, String> out = new TreeMap<>();
    for (Delivery.Entry e : Delivery.read(folder).files()) {
      out.put(e.path(), e.sha256());
    }
    return out;
  }

  private static void await(String what, java.util.concurrent.Callable<Boolean> condition) {
    Awaitility.await(what)
        .atMost(Duration.ofSeconds(300))
        .pollInterval(Duration.ofMillis(200))
        .until(condition);
  }

  @Test
  void anElementKilledAndANodeDrainedTheResultIsThatOfALocalRender() throws Exception {
    Path plan = ShotFolder.make(dir.resolve("shot"));
    Path program = dir.resolve("program.sh");
    Files.writeString(
        program,
        """
        #!/bin/sh
        exec '%s' --add-modules jdk.incubator.vector -Djdk.incubator.vector.VECTOR_ACCESS_OOB_CHECK=0 \\
          $WEDGECUTTER_JAVA_OPTIONS -cp '%s' org.wedgecutter.cli.Main "$@"
        """
            .formatted(
                Path.of(System.getProperty("java.home"), "bin", "java"),
                System.getProperty("java.class.path")));
    assertThat(program.toFile().setExecutable(true)).isTrue();
    Path delivery = dir.resolve("delivery");
    Path jobs = dir.resolve("jobs");
    assertThat(
            command(
                "export",
                plan.toString(),
                "--as",
                "slurm",
                "-o",
                jobs.toString(),
                "--delivery",
                delivery.toString(),
                "--uncut",
                "--samples",
                "30",
                "--scale",
                "4",
                "--cores",
                "1",
                "--partition",
                "night",
                "--minutes",
                "0.075",
                "--program",
                program.toString()))
        .isZero();
    String element = Files.readString(jobs.resolve("render.sbatch"));
    assertThat(element).contains("#SBATCH --partition=night", "#SBATCH --cpus-per-task=1");
    String submit = Files.readString(jobs.resolve("submit.sh"));
    assertThat(submit).containsPattern("--array=1-\\d+ ");
    run(jobs.resolve("submit.sh").toString());

    // one element is killed while it renders, and the node is drained for a while
    await("an element renders", () -> Delivery.isDelivery(delivery));
    String first =
        queue()
            .lines()
            .filter(l -> l.contains("wedgecutter-render RUNNING"))
            .findFirst()
            .orElseThrow();
    run("scancel", "--signal=KILL", first.split(" ")[0]);
    String host = run("hostname", "-s").strip();
    run("scontrol", "update", "nodename=" + host, "state=drain", "reason=trial");
    await("nothing runs", () -> !queue().contains("RUNNING"));
    run("scontrol", "update", "nodename=" + host, "state=resume");

    await("all jobs have ended", () -> queue().isBlank());
    StringBuilder logs = new StringBuilder();
    try (var all = Files.list(jobs.resolve("log"))) {
      for (Path log : all.sorted().toList()) {
        logs.append(log.getFileName()).append(":\n").append(Files.readString(log));
      }
    }
    assertThat(DeliveryStatus.read(delivery).count(UnitState.DONE)).as("%s", logs).isEqualTo(8);
    assertThat(logs).contains("submitting again", "2 of 2 frames rejoin exactly");

    Path local = dir.resolve("local");
    assertThat(
            command(
                "render",
                plan.toString(),
                "--uncut",
                "--samples",
                "30",
                "--scale",
                "4",
                "--out",
                local.toString()))
        .isZero();
    assertThat(bytes(delivery)).hasSize(8).isEqualTo(bytes(local));
  }
}
