package org.wedgecutter.command;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.io.PrintWriter;
import java.io.StringWriter;
import java.nio.file.Path;
import java.util.List;
import java.util.Set;
import java.util.concurrent.Callable;
import java.util.concurrent.CancellationException;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.TimeUnit;
import java.util.stream.IntStream;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.Test;
import org.wedgecutter.core.io.InputException;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;

/** What all commands have in common. */
class CommandsTest {
  private final StringWriter out = new StringWriter();
  private final StringWriter err = new StringWriter();

  private record Sample(String someName, @Nullable Double share, List<Inner> innerParts) {}

  private record Inner(int heldFrom) {}

  @Command(name = "sample", mixinStandardHelpOptions = true)
  private static final class SampleCommand implements Callable<Integer> {
    private final @Nullable Throwable trouble;

    @Mixin private Result result;

    @Option(names = "--count")
    private int count;

    SampleCommand() {
      this(null);
    }

    @SuppressWarnings("NullAway.Init")
    SampleCommand(@Nullable Throwable trouble) {
      this.trouble = trouble;
    }

    @Override
    public Integer call() throws Exception {
      switch (trouble) {
        case Error e -> throw e;
        case Exception e -> throw e;
        case null, default ->
            result.print(
                new Sample("x", null, List.of(new Inner(count))), o -> o.println("a text"));
      }
      return Commands.NO;
    }
  }

  private int run(@Nullable Throwable trouble, String... args) {
    return Commands.run(
        new SampleCommand(trouble), new PrintWriter(out), new PrintWriter(err, true), args);
  }

  @Test
  void aResultIsTextOrOneDocumentWithKeysInSnakeCase() {
    assertThat(run(null)).isEqualTo(Commands.NO);
    assertThat(out.toString()).isEqualToNormalizingNewlines("a text\n");
    out.getBuffer().setLength(0);
    run(null, "--json", "--count", "7");
    assertThat(out.toString().replaceAll("\\s", ""))
        .isEqualTo("{\"some_name\":\"x\",\"share\":null,\"inner_parts\":[{\"held_from\":7}]}");
  }

  @Command(name = "names")
  private static final class NamesCommand implements Callable<Integer> {
    private static final String NAME = "a\nwedgecutter: forged\r\u001b[2J\u0007\u202e";

    @Mixin private Result result;

    @SuppressWarnings("NullAway.Init")
    NamesCommand() {}

    @Override
    public Integer call() throws Exception {
      result.print(
          new Sample(NAME, null, List.of()),
          o -> {
            o.println(NAME);
            o.printf("layer %s: %d%n", NAME, 7);
            o.print("two lines\n" + "\u001b[1m\n");
          });
      result.progress(NAME, 0.5);
      throw new InputException(Path.of("x.wedge"), "layers/0", NAME);
    }
  }

  @Test
  void namesSteerNoTerminalAndForgeNoLine() {
    String shown = "a\\nwedgecutter: forged\\r\\u{1b}[2J\\u{7}\\u{202e}";
    int status = Commands.run(new NamesCommand(), new PrintWriter(out), new PrintWriter(err, true));
    assertThat(status).isEqualTo(Commands.WRONG_INPUT);
    assertThat(out.toString().lines())
        .containsExactly(shown, "layer " + shown + ": 7", "two lines", "\\u{1b}[1m");
    assertThat(err.toString().lines())
        .containsExactly(
            shown + "   50 %",
            // an error is one line by itself
            "wedgecutter: x.wedge: layers/0: " + shown.replace("\\n", " ").replace("\\r", " "));
    out.getBuffer().setLength(0);
    Commands.run(new NamesCommand(), new PrintWriter(out), new PrintWriter(err, true), "--json");
    assertThat(out.toString())
        .contains("a\\nwedgecutter: forged\\r\\u001B[2J\\u0007\\u202e")
        .doesNotContain("\u001b", "\u202e");
  }

  @Command(name = "wedgecutter", subcommands = SampleCommand.class)
  private static final class Parent {}

  @Test
  void anUnknownCommandIsNamed() {
    int status =
        Commands.run(new Parent(), new PrintWriter(out), new PrintWriter(err, true), "smaple");
    assertThat(status).isEqualTo(Commands.WRONG_INPUT);
    assertThat(err.toString()).contains("unknown command 'smaple'", "--help");
  }

  @Test
  void wrongUseIsToldInOneLineWithStatusTwo() {
    assertThat(run(null, "--count", "many")).isEqualTo(Commands.WRONG_INPUT);
    assertThat(err.toString()).startsWith("wedgecutter: ").contains("--count", "--help");
    assertThat(out.toString()).isEmpty();
  }

  @Test
  void unreadableInputIsStatusTwoAndOtherTroubleStatusThree() {
    assertThat(run(new InputException(Path.of("a.wedge"), "layers/0", "expected a name")))
        .isEqualTo(Commands.WRONG_INPUT);
    assertThat(err.toString()).contains("a.wedge", "layers/0", "expected a name");
    assertThat(run(new IOException("disk full"))).isEqualTo(Commands.FAILED);
    assertThat(run(new IllegalStateException("x"))).isEqualTo(Commands.FAILED);
    assertThat(run(new CancellationException())).isEqualTo(Commands.FAILED);
    assertThat(err.toString()).contains("stopped").doesNotContain("\tat ", "null");
  }

  @Command(name = "scaled")
  private static final class ScaledCommand implements Callable<Integer> {
    @Option(names = "--scale")
    private double scale = 1;

    @Override
    public Integer call() {
      throw new OutOfMemoryError("at scale " + scale);
    }
  }

  @Test
  void aSmallerScaleIsAdvisedWhereThereIsOne() {
    assertThat(Commands.run(new ScaledCommand(), new PrintWriter(out), new PrintWriter(err, true)))
        .isEqualTo(Commands.FAILED);
    assertThat(err.toString()).contains("out of memory", "try a smaller --scale");
  }

  @Test
  void anErrorIsNeverAnAnswer() {
    assertThat(run(new OutOfMemoryError("Java heap space"))).isEqualTo(Commands.FAILED);
    assertThat(err.toString()).contains("out of memory", "-Xmx").doesNotContain("--scale");
    assertThat(run(new StackOverflowError())).isEqualTo(Commands.FAILED);
  }

  @Test
  void allParallelWorkKeepsToTheThreads() throws Exception {
    Set<String> used = ConcurrentHashMap.newKeySet();
    Threads.limit(
        1,
        () ->
            IntStream.range(0, 5000)
                .parallel()
                .peek(i -> used.add(Thread.currentThread().getName()))
                .sum());
    assertThat(used).hasSize(1);
  }

  @Test
  void whatGoesWrongInsideComesOutAsItIs() {
    assertThatThrownBy(() ->
            Threads.limit(
                2,
                () -> {
                  throw new IOException("disk full");
                }))
        .isInstanceOf(IOException.class)
        .hasMessageContaining("disk full");
  }

  /** A program that is interrupted while it works, and needs a moment to end in good order. */
  public static final class Interrupted {
    public static void main(String[] args) {
      System.exit(Commands.main(new Work()));
    }

    @Command(name = "work")
    private static final class Work implements Callable<Integer> {
      private volatile boolean stopped;

      @Override
      public Integer call() throws Exception {
        try (var _ = Commands.onInterrupt(() -> stopped = true)) {
          System.out.println("working");
          while (!stopped) {
            Thread.sleep(5);
          }
          Thread.sleep(300);
          System.out.println("ended in good order");
        }
        throw new CancellationException();
      }
    }
  }

  @Test
  void anInterruptEndsTheWorkInGoodOrderWithStatusThree() throws Exception {
    Process process =
        new ProcessBuilder(
                Path.of(System.getProperty("java.home"), "bin", "java").toString(),
                "-cp",
                System.getProperty("java.class.path"),
                Interrupted.class.getName())
            .redirectErrorStream(true)
            .start();
    try (var reader = process.inputReader()) {
      assertThat(reader.readLine()).isEqualTo("working");
      // as Ctrl+C does it, which background jobs are deaf to
      new ProcessBuilder("kill", "-TERM", String.valueOf(process.pid())).start().waitFor();
      assertThat(process.waitFor(60, TimeUnit.SECONDS)).isTrue();
      assertThat(reader.lines()).contains("ended in good order");
      assertThat(process.exitValue()).isEqualTo(Commands.FAILED);
    } finally {
      process.destroyForcibly();
    }
  }
}
