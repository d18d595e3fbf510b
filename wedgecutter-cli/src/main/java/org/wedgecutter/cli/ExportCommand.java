package org.wedgecutter.cli;

import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.concurrent.Callable;
import org.wedgecutter.command.Commands;
import org.wedgecutter.command.Result;
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
        "Writes a plan in another form: usda (OpenUSD text with collections and render passes).",
    mixinStandardHelpOptions = true,
    footer = {
      "",
      "Example: wedgecutter export demo/orrery/orrery.wedge --as usda -o /tmp/orrery.usda"
    })
@SuppressWarnings("NullAway.Init")
final class ExportCommand implements Callable<Integer> {
  /** The forms. */
  enum Form {
    usda
  }

  @Mixin private Result result;

  @Parameters(paramLabel = "PLAN", description = "A plan (.wedge).")
  private Path file;

  @Option(names = "--as", required = true, paramLabel = "FORM", description = "The form: usda.")
  private Form form;

  @Option(
      names = {"-o", "--out"},
      required = true,
      paramLabel = "PATH",
      description = "The file to write.")
  private Path out;

  @Override
  public Integer call() throws Exception {
    LoadedShot shot = LoadedShot.load(file);
    byte[] text =
        switch (form) {
          case usda -> UsdPlan.text(shot).getBytes(StandardCharsets.UTF_8);
        };
    AtomicFile.write(out, o -> o.write(text));
    result.print(
        new Written(out.toString(), text.length),
        o -> o.printf("wrote %s, %d bytes%n", out, text.length));
    return Commands.FINE;
  }

  private record Written(String path, int bytes) {}
}
