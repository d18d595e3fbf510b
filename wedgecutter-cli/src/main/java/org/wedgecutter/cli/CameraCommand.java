package org.wedgecutter.cli;

import java.io.PrintWriter;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.Callable;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.command.Commands;
import org.wedgecutter.command.Result;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.match.CameraMatch;
import org.wedgecutter.core.plan.CameraMarks;
import org.wedgecutter.core.plan.PlacedCamera;
import org.wedgecutter.core.plan.PlanWriter;
import org.wedgecutter.core.plan.Shot;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

@Command(
    name = "camera",
    description =
        "Finds the camera of a photograph from the marks in a plan, and tells how well it fits.",
    mixinStandardHelpOptions = true,
    footer = {"", "Example: wedgecutter camera shot.wedge --use"})
@SuppressWarnings("NullAway.Init")
final class CameraCommand implements Callable<Integer> {
  @Mixin private Result result;

  @Parameters(paramLabel = "PLAN", description = "A plan (.wedge) with camera marks.")
  private Path file;

  @Option(names = "--use", description = "Make it the camera of the plan.")
  private boolean use;

  /** A mark and its distance from where the camera would show it. */
  private record Marked(String mark, double pixels) {}

  private record Found(
      double error,
      List<Marked> marks,
      List<Double> eye,
      List<Double> target,
      double angle,
      double roll,
      List<Double> shift,
      List<Double> distortion,
      @Nullable Double angleDeviation,
      @Nullable Double directionDeviation,
      @Nullable Double positionDeviation,
      List<String> open) {}

  @Override
  public Integer call() throws Exception {
    LoadedShot loaded = LoadedShot.load(file);
    Shot shot = loaded.plan().requireShot();
    CameraMatch.Fit fit = CameraMatch.of(shot.marks(), shot.width(), shot.height(), null);
    if (fit == null) {
      throw new InputException(file, "shot/camera_marks", "nothing is marked");
    }
    if (use) {
      PlanWriter.save(
          loaded.plan().withShot(shot.with(s -> s.placed = fit.camera())), loaded.file());
    }
    List<Marked> marks = new ArrayList<>();
    for (int k = 0; k < shot.marks().marks().size(); k++) {
      CameraMarks.Mark mark = shot.marks().marks().get(k);
      marks.add(new Marked((k + 1) + " " + mark.title(), fit.errors().get(k)));
    }
    result.print(document(fit, marks), o -> print(o, fit, marks, shot));
    return fit.open().isEmpty() ? Commands.FINE : Commands.NO;
  }

  private static Found document(CameraMatch.Fit fit, List<Marked> marks) {
    PlacedCamera c = fit.camera();
    return new Found(
        fit.error(),
        marks,
        c.eye(),
        c.target(),
        c.angle(),
        c.roll(),
        List.of(c.projection().right(), c.projection().up()),
        List.of(c.projection().k1(), c.projection().k2()),
        bounded(fit.angleDeviation()),
        bounded(fit.turnDeviation()),
        bounded(fit.eyeDeviation()),
        fit.open());
  }

  private static @Nullable Double bounded(double deviation) {
    return Double.isFinite(deviation) ? deviation : null;
  }

  private static void print(PrintWriter o, CameraMatch.Fit fit, List<Marked> marks, Shot shot) {
    PlacedCamera c = fit.camera();
    o.printf("fit error %.2f px of %d × %d%n", fit.error(), shot.width(), shot.height());
    o.printf("angle of view %.3f°, ± %.2g°%n", c.angle(), fit.angleDeviation());
    o.printf(
        "position %.4f %.4f %.4f m, ± %.2g %%; direction ± %.2g°; roll %.3f°%n",
        c.eye().get(0),
        c.eye().get(1),
        c.eye().get(2),
        100 * fit.eyeDeviation(),
        fit.turnDeviation(),
        c.roll());
    o.printf(
        "lens shift %.5f %.5f heights, distortion k1 %.5f k2 %.5f%n",
        c.projection().right(), c.projection().up(), c.projection().k1(), c.projection().k2());
    marks.forEach(m -> o.printf("%8.2f px  %s%n", m.pixels(), m.mark()));
    fit.open().forEach(text -> o.printf("not determined: %s%n", text));
  }
}
