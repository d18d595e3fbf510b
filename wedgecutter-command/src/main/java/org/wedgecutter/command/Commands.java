package org.wedgecutter.command;

import java.io.IOException;
import java.io.PrintWriter;
import java.nio.charset.StandardCharsets;
import java.util.Locale;
import java.util.Set;
import java.util.concurrent.CancellationException;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.TimeUnit;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.io.FileTrouble;
import org.wedgecutter.core.io.InputException;
import picocli.CommandLine;

/** Runs commands: errors in one line, and the same exit statuses everywhere. */
public final class Commands {
  /** Everything is fine. */
  public static final int FINE = 0;

  /** The command ran, and its check failed. */
  public static final int NO = 1;

  /** Wrong use, or input that cannot be read. */
  public static final int WRONG_INPUT = 2;

  /** Stopped, or failed while running. */
  public static final int FAILED = 3;

  /** What every command tells at the end of its help. */
  public static final String STATUSES =
      "Exit status: 0 fine; 1 check failed; 2 wrong use or unreadable input; 3 stopped or failed.";

  private static final long PATIENCE_SECONDS = 120;

  private final Set<Runnable> stops = ConcurrentHashMap.newKeySet();
  private final CountDownLatch ended = new CountDownLatch(1);

  private Commands() {}

  /** Something that can be stopped from outside while it is registered. */
  public interface Stopping extends AutoCloseable {
    @Override
    void close();
  }

  private static final Commands CURRENT = new Commands();

  /**
   * Has a command stopped in good order when the program is interrupted (Ctrl+C): the program waits
   * until it has ended, and leaves with {@link #FAILED}.
   */
  public static Stopping onInterrupt(Runnable stop) {
    CURRENT.stops.add(stop);
    return () -> CURRENT.stops.remove(stop);
  }

  /** Runs a command with the standard streams and returns its exit status. */
  public static int main(Object command, String... args) {
    Runtime.getRuntime().addShutdownHook(new Thread(CURRENT::interrupted, "interrupted"));
    PrintWriter out = new PrintWriter(System.out, false, StandardCharsets.UTF_8);
    PrintWriter err = new PrintWriter(System.err, true, StandardCharsets.UTF_8);
    try {
      return run(command, out, err, args);
    } finally {
      out.flush();
      CURRENT.ended.countDown();
    }
  }

  /** Runs when the program ends; a command that still runs was interrupted. */
  private void interrupted() {
    if (ended.getCount() == 0) {
      return;
    }
    stops.forEach(Runnable::run);
    try {
      if (!stops.isEmpty() && !ended.await(PATIENCE_SECONDS, TimeUnit.SECONDS)) {
        System.err.println("wedgecutter: did not stop in time");
      }
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
    }
    System.err.flush();
    Runtime.getRuntime().halt(FAILED);
  }

  /** Runs a command that prints to these writers and returns its exit status. */
  public static int run(Object command, PrintWriter out, PrintWriter err, String... args) {
    // names of files and numbers in them are the same on every machine
    Locale.setDefault(Locale.Category.FORMAT, Locale.ROOT);
    CommandLine line = new CommandLine(command);
    line.setCaseInsensitiveEnumValuesAllowed(true);
    PrintWriter told = new VisibleWriter(err, true);
    line.setOut(new VisibleWriter(out, false));
    line.setErr(told);
    line.setExecutionExceptionHandler((e, l, parsed) -> failed(e, l.getErr(), false));
    line.setParameterExceptionHandler((e, given) -> {
      String name = e.getCommandLine().getCommandSpec().qualifiedName();
      e.getCommandLine().getErr().println("wedgecutter: " + wrongUse(e));
      e.getCommandLine().getErr().println("see ./" + name + " --help");
      return WRONG_INPUT;
    });
    if (args.length == 0 && !line.getSubcommands().isEmpty()) {
      line.usage(told);
      return WRONG_INPUT;
    }
    try {
      return line.execute(args);
    } catch (Error e) {
      // out of memory, most likely: never to be taken for an answer
      return failed(e, told, scales(line.getParseResult()));
    }
  }

  /** Whether the command that ran takes a scale, with which what it traces grows. */
  private static boolean scales(CommandLine.@Nullable ParseResult parsed) {
    CommandLine.ParseResult last = parsed;
    while (last != null && last.hasSubcommand()) {
      last = last.subcommand();
    }
    return last != null && last.commandSpec().findOption("--scale") != null;
  }

  private static String wrongUse(CommandLine.ParameterException e) {
    boolean ofCommands = !e.getCommandLine().getSubcommands().isEmpty();
    if (ofCommands && e instanceof CommandLine.UnmatchedArgumentException unmatched) {
      return "unknown command '%s'".formatted(unmatched.getUnmatched().getFirst());
    }
    return message(e);
  }

  /**
   * @param scales whether the command takes a scale
   */
  private static int failed(Throwable e, PrintWriter err, boolean scales) {
    switch (e) {
      case InputException wrong -> err.println("wedgecutter: " + wrong.getMessage());
      case CancellationException stopped ->
          err.println("wedgecutter: stopped; what is finished stays valid");
      case IOException io ->
          err.println("wedgecutter: cannot read or write: " + FileTrouble.words(io));
      case OutOfMemoryError memory ->
          err.println(
              "wedgecutter: out of memory (%s); try %smore memory with WEDGECUTTER_JAVA_OPTIONS=-Xmx…"
                  .formatted(message(memory), scales ? "a smaller --scale, or " : ""));
      default -> err.println("wedgecutter: failed: " + message(e));
    }
    return e instanceof InputException ? WRONG_INPUT : FAILED;
  }

  private static String message(Throwable e) {
    return e.getMessage() == null ? e.getClass().getSimpleName() : e.getMessage();
  }
}
