package org.wedgecutter.cli;

import java.io.IOException;
import java.io.PrintWriter;
import java.nio.charset.StandardCharsets;
import java.util.concurrent.CancellationException;
import org.wedgecutter.core.io.InputException;
import picocli.CommandLine;
import picocli.CommandLine.Command;

/** The command line. */
@Command(
    name = "wedgecutter",
    description = "Cuts a shot into render layers and proves that they rejoin.",
    mixinStandardHelpOptions = true,
    version = "Wedgecutter 0.1.0",
    subcommands = {
      InfoCommand.class,
      CheckCommand.class,
      ExplainCommand.class,
      CarryCommand.class,
      ExportCommand.class,
      RenderCommand.class,
      RejoinCommand.class,
      ProveCommand.class,
      SchemaCommand.class
    },
    footer = {
      "",
      "The window: demo [orrery|over], open [PLAN|SCENE].  Measures: bench.",
      "Exit status: 0 fine; 1 the answer is no; 2 wrong use or unreadable input; 3 stopped or failed."
    })
public final class Main {
  /** The command ran, and the answer is no. */
  static final int NO = 1;

  /** Wrong use, or input that cannot be read. */
  static final int WRONG_INPUT = 2;

  /** Stopped, or failed while running. */
  static final int FAILED = 3;

  private Main() {}

  /** Runs a command and leaves with its exit status. */
  public static void main(String[] args) {
    PrintWriter out = new PrintWriter(System.out, false, StandardCharsets.UTF_8);
    PrintWriter err = new PrintWriter(System.err, true, StandardCharsets.UTF_8);
    int status = run(out, err, args);
    out.flush();
    System.exit(status);
  }

  /** Runs a command that prints to these writers and returns its exit status. */
  static int run(PrintWriter out, PrintWriter err, String... args) {
    CommandLine line = new CommandLine(new Main());
    line.setOut(out);
    line.setErr(err);
    line.setExecutionExceptionHandler(Main::failed);
    line.setParameterExceptionHandler((e, given) -> {
      e.getCommandLine().getErr().println("wedgecutter: " + e.getMessage());
      e.getCommandLine().getErr().println("see wedgecutter --help");
      return WRONG_INPUT;
    });
    if (args.length == 0) {
      line.usage(line.getErr());
      return WRONG_INPUT;
    }
    return line.execute(args);
  }

  private static int failed(Exception e, CommandLine line, CommandLine.ParseResult parsed) {
    if (e instanceof InputException) {
      line.getErr().println("wedgecutter: " + e.getMessage());
      return WRONG_INPUT;
    }
    if (e instanceof CancellationException) {
      line.getErr().println("wedgecutter: stopped; what is finished stays valid");
      return FAILED;
    }
    String what = e instanceof IOException ? "cannot read or write: " : "failed: ";
    line.getErr().println("wedgecutter: " + what + e.getMessage());
    return FAILED;
  }
}
