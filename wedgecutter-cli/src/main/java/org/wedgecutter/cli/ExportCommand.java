package org.wedgecutter.cli;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.Locale;
import java.util.Map;
import java.util.concurrent.Callable;
import org.wedgecutter.command.Commands;
import org.wedgecutter.command.Result;
import org.wedgecutter.core.deliver.Delivery;
import org.wedgecutter.core.export.CameraExport;
import org.wedgecutter.core.export.CutPage;
import org.wedgecutter.core.export.JoinScript;
import org.wedgecutter.core.export.SlurmJobs;
import org.wedgecutter.core.export.UsdPlan;
import org.wedgecutter.core.io.AtomicFile;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.PlanParts;
import org.wedgecutter.core.plan.PlanReader;
import org.wedgecutter.core.plan.RuleException;
import org.wedgecutter.core.plan.RuleParser;
import org.wedgecutter.core.rejoin.Expression;
import org.wedgecutter.core.resolve.EntitySet;
import org.wedgecutter.core.survey.Times;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.ParameterException;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

@Command(
    name = "export",
    description =
        "Writes a plan in another form: usda (OpenUSD text with collections and render passes), camera (camera, lights and tracked points at each frame: .json, .csv or .glb), slurm (a folder of jobs for the Slurm scheduler), recipe (how the layers rejoin, as JSON with equations); of a delivery: page (one HTML page that explains it to people), script (a shell script that rejoins its layers by oiiotool).",
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
    camera,
    slurm,
    page,
    recipe,
    script
  }

  @Mixin private Result result;
  @Spec private CommandSpec spec;

  @Parameters(
      paramLabel = "PLAN|DELIVERY",
      description = "A plan (.wedge), or for a page or script a delivery.")
  private Path file;

  @Option(
      names = "--as",
      required = true,
      paramLabel = "FORM",
      description = "The form: usda, camera, slurm, recipe, page or script.")
  private Form form;

  @Option(
      names = {"-o", "--out"},
      required = true,
      paramLabel = "PATH",
      description = "The file to write; with slurm a folder.")
  private Path out;

  @Option(
      names = "--track",
      paramLabel = "RULE",
      defaultValue = "moves:yes",
      description =
          "With camera: a rule that selects the tracked objects. Default: ${DEFAULT-VALUE}.")
  private String track;

  @Mixin private SlurmOptions slurm;

  private int slurm() throws Exception {
    SlurmJobs jobs = slurm.jobs(file, result);
    for (Map.Entry<String, String> each : jobs.files().entrySet()) {
      byte[] text = each.getValue().getBytes(StandardCharsets.UTF_8);
      Path script = out.resolve(each.getKey());
      AtomicFile.write(script, o -> o.write(text));
      if (!script.toFile().setExecutable(true)) {
        throw new IOException(script + ": cannot be made executable");
      }
    }
    result.print(
        new Submittable(
            out.resolve("submit.sh").toString(),
            jobs.delivery().toString(),
            jobs.shares(),
            jobs.seconds() / 3600,
            jobs.limit(),
            jobs.mebibytes()),
        o ->
            o.printf(
                "wrote %s: %d shares, about %s of one core in all; each has %d minutes and %d MiB%n",
                out.resolve("submit.sh"),
                jobs.shares(),
                Times.words(jobs.seconds()),
                jobs.limit(),
                jobs.mebibytes()));
    return Commands.FINE;
  }

  private record Submittable(
      String script,
      String delivery,
      int shares,
      double coreHours,
      long limitMinutes,
      long mebibytes) {}

  private byte[] camera() throws Exception {
    LoadedShot shot = LoadedShot.load(file);
    EntitySet tracked;
    try {
      tracked = shot.members().of(RuleParser.parse(track));
    } catch (RuleException e) {
      throw new ParameterException(spec.commandLine(), "--track: " + e.getMessage(), e);
    }
    CameraExport export = new CameraExport(shot, tracked);
    String name = String.valueOf(out.getFileName()).toLowerCase(Locale.ROOT);
    if (name.endsWith(".json")) {
      return export.json().getBytes(StandardCharsets.UTF_8);
    }
    if (name.endsWith(".csv")) {
      return export.csv().getBytes(StandardCharsets.UTF_8);
    }
    if (name.endsWith(".glb")) {
      return export.glb();
    }
    throw new ParameterException(
        spec.commandLine(), "'%s': expected a file .json, .csv or .glb".formatted(out));
  }

  @Override
  public Integer call() throws Exception {
    if (form == Form.slurm) {
      return slurm();
    }
    byte[] text =
        switch (form) {
          case slurm -> throw new IllegalStateException("is a folder");
          case usda -> UsdPlan.text(LoadedShot.load(file)).getBytes(StandardCharsets.UTF_8);
          case camera -> camera();
          case page -> CutPage.text(Delivery.read(file)).getBytes(StandardCharsets.UTF_8);
          case recipe -> {
            Plan plan =
                Delivery.isDelivery(file) ? Delivery.read(file).plan() : PlanReader.read(file);
            yield PlanParts.recipe(plan, Expression.equations(plan.recipe()))
                .getBytes(StandardCharsets.UTF_8);
          }
          case script -> JoinScript.text(Delivery.read(file)).getBytes(StandardCharsets.UTF_8);
        };
    AtomicFile.write(out, o -> o.write(text));
    result.print(
        new Written(out.toString(), text.length),
        o -> o.printf("wrote %s, %d bytes%n", out, text.length));
    return Commands.FINE;
  }

  private record Written(String path, int bytes) {}
}
