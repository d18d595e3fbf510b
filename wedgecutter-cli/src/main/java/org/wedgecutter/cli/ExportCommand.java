package org.wedgecutter.cli;

import com.fasterxml.jackson.databind.node.JsonNodeFactory;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.concurrent.Callable;
import org.wedgecutter.core.deliver.UsdPlan;
import org.wedgecutter.core.io.AtomicFile;
import org.wedgecutter.core.load.LoadedShot;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

@Command(
    name = "export",
    description = "Writes a plan in another form: usda (OpenUSD text: collections, render passes).",
    mixinStandardHelpOptions = true,
    footer = {
      "",
      "Example: wedgecutter export demo/orrery/orrery.wedge --as usda -o /tmp/orrery.usda"
    })
@SuppressWarnings("NullAway.Init")
final class ExportCommand implements Callable<Integer> {
  /** Forms that there are. */
  enum Form {
    usda
  }

  @Mixin private Output output;

  @Parameters(paramLabel = "PLAN", description = "A .wedge file.")
  private Path file;

  @Option(names = "--as", required = true, paramLabel = "FORM", description = "usda")
  private Form form;

  @Option(names = "-o", required = true, paramLabel = "PATH", description = "The file to write.")
  private Path out;

  @Override
  public Integer call() throws Exception {
    LoadedShot shot = LoadedShot.load(file);
    byte[] text =
        switch (form) {
          case usda -> UsdPlan.text(shot).getBytes(StandardCharsets.UTF_8);
        };
    AtomicFile.write(out, o -> o.write(text));
    if (output.json) {
      output.document(
          JsonNodeFactory.instance
              .objectNode()
              .put("path", out.toString())
              .put("bytes", text.length));
    } else {
      output.out().printf("wrote %s, %d bytes%n", out, text.length);
      output.out().flush();
    }
    return 0;
  }
}
