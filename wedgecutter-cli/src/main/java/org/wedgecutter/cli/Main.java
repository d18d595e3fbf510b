package org.wedgecutter.cli;

import org.wedgecutter.command.Commands;
import picocli.CommandLine.Command;

/** The command line. */
@Command(
    name = "wedgecutter",
    description = "Cuts a shot into render layers and proves that they rejoin.",
    mixinStandardHelpOptions = true,
    version = "Wedgecutter 0.1.0",
    subcommands = {
      InfoCommand.class,
      ShotCommand.class,
      CameraCommand.class,
      ProposeCommand.class,
      CheckCommand.class,
      ExplainCommand.class,
      CarryCommand.class,
      ExportCommand.class,
      RenderCommand.class,
      RejoinCommand.class,
      MatteCommand.class,
      StatusCommand.class,
      ProveCommand.class,
      SchemaCommand.class
    },
    footer = {
      "",
      "The window: demo [orrery|over|desk|courtyard], open [PLAN|SCENE].  Measures: bench.",
      Commands.STATUSES
    })
public final class Main {
  private Main() {}

  /** Runs a command and leaves with its exit status. */
  public static void main(String[] args) {
    System.exit(Commands.main(new Main(), args));
  }

  /** Returns the command with all of its subcommands. */
  static Main command() {
    return new Main();
  }
}
