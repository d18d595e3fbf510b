package org.wedgecutter.app;

import java.io.IOException;
import java.nio.file.Path;
import java.util.concurrent.Callable;
import javafx.application.Platform;
import javafx.stage.Stage;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.app.files.DemoCopy;
import org.wedgecutter.app.files.ReadAhead;
import org.wedgecutter.app.files.StateFolder;
import org.wedgecutter.app.theme.Theme;
import org.wedgecutter.command.Commands;
import org.wedgecutter.core.plan.PlanSchema;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** The commands that open the window. */
@Command(
    name = "wedgecutter",
    mixinStandardHelpOptions = true,
    subcommands = {AppMain.Demo.class, AppMain.Open.class})
public final class AppMain {
  private AppMain() {}

  /** Opens the window; the program ends when it is closed. */
  public static void main(String[] args) {
    // starting the toolkit takes some tenths of a second, and so does reading the command: both at
    // once
    Thread.ofPlatform().name("schema").daemon().start(PlanSchema::plan);
    int status = Commands.main(new AppMain(), args);
    if (status != Commands.FINE) {
      System.exit(status);
    }
  }

  private static int launch(@Nullable Path file, @Nullable Theme theme) {
    Path path = file == null ? null : file.toAbsolutePath();
    ReadAhead ahead = path == null ? null : new ReadAhead(path);
    Platform.startup(() -> WedgecutterApp.start(new Stage(), path, ahead, theme));
    return 0;
  }

  @Command(
      name = "demo",
      description = "Opens the window on a copy of a demo shot and its plan.",
      mixinStandardHelpOptions = true,
      footer = {"", "Example: wedgecutter demo courtyard", Commands.STATUSES})
  static final class Demo implements Callable<Integer> {
    /** Which demo. */
    enum Name {
      orrery,
      over,
      desk,
      courtyard
    }

    @Parameters(
        arity = "0..1",
        defaultValue = "orrery",
        description =
            "orrery (held out, joined by plus), over (complete backgrounds, joined by over), desk (the plan carried to another scene) or courtyard (set into a plate).")
    private Name name = Name.orrery;

    @Option(
        names = "--theme",
        paramLabel = "dark|light",
        description = "Colours of the window. Default: those chosen last.")
    private @Nullable Theme theme;

    @Option(
        names = "--fresh",
        description =
            "Starts from the plan as it ships; what was edited stays beside it under another name.")
    private boolean fresh;

    @Override
    public Integer call() throws IOException {
      Path demo = Path.of(System.getProperty("wedgecutter.demo", "demo"));
      String folder = name == Name.over ? Name.orrery.name() : name.name();
      String plan = name == Name.over ? "orrery-over" : folder;
      Path copy = DemoCopy.of(demo.resolve(folder), StateFolder.path(), fresh);
      return launch(copy.resolve(plan + ".wedge"), theme);
    }
  }

  @Command(
      name = "open",
      description = "Opens the window, on a plan or a scene if one is given.",
      mixinStandardHelpOptions = true,
      footer = {"", "Example: wedgecutter open demo/orrery/orrery.wedge", Commands.STATUSES})
  static final class Open implements Callable<Integer> {
    @Parameters(
        arity = "0..1",
        paramLabel = "PLAN|SCENE",
        description = "A plan (.wedge) or a scene (.glb, .gltf, .usd, .usdz, .obj).")
    private @Nullable Path file;

    @Option(
        names = "--theme",
        paramLabel = "dark|light",
        description = "Colours of the window. Default: those chosen last.")
    private @Nullable Theme theme;

    @Override
    public Integer call() {
      return launch(file, theme);
    }
  }
}
