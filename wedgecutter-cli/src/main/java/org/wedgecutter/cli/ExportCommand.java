package org.wedgecutter.cli;

import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.concurrent.Callable;
import org.wedgecutter.command.Commands;
import org.wedgecutter.command.Result;
import org.wedgecutter.core.deliver.Delivery;
import org.wedgecutter.core.deliver.JoinScript;
import org.wedgecutter.core.deliver.UsdPlan;
import org.wedgecutter.core.io.AtomicFile;
import org.wedgecutter.core.load.LoadedShot;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

@Command(
    name = "export",
    description =
        "Writes a plan in another form: usda (OpenUSD text with collections and render passes); of a delivery: script (a shell script that rejoins its layers by oiiotool).",
    mixinStandardHelpOptions = true,
    footer = {
      "",
      "Example: wedgecutter export demo/orrery/orrery.wedge --as usda -o /tmp/orrery.usda",
      "         wedgecutter export /tmp/delivery --as script -o /tmp/rejoin.sh"
    })
@SuppressWarnings("NullAway.Init")
final class ExportCommand implements Callable<Integer> {
  /** The forms. */
  enum Form {
    usda,
    script
  }

  @Mixin private Result result;

  @Parameters(
      paramLabel = "PLAN|DELIVERY",
      description = "A plan (.wedge), or for a script a delivery.")
  private Path file;

  @Option(
      names = "--as",
      required = true,
      paramLabel = "FORM",
      description = "The form: usda or script.")
  private Form form;

  @Option(
      names = {"-o", "--out"},
      required = true,
      paramLabel = "PATH",
      description = "The file to write.")
  private Path out;

  @Override
  public Integer call() throws Exception {
    String written =
        switch (form) {
          case usda -> UsdPlan.text(LoadedShot.load(file));
          case script -> JoinScript.text(Delivery.read(file));
        };
    byte[] text = written.getBytes(StandardCharsets.UTF_8);
    AtomicFile.write(out, o -> o.write(text));
    result.print(
        new Written(out.toString(), text.length),
        o -> o.printf("wrote %s, %d bytes%n", out, text.length));
    return Commands.FINE;
  }

  private record Written(String path, int bytes) {}
}
