package org.wedgecutter.core.deliver.file;

import java.io.IOException;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.function.DoubleConsumer;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.image.PictureWriter;
import org.wedgecutter.core.io.AtomicFile;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.Recipe;
import org.wedgecutter.core.rejoin.Evaluation;
import org.wedgecutter.core.rejoin.Expression;
import org.wedgecutter.core.rejoin.TracedSource;
import org.wedgecutter.core.render.FrameRenderer;
import org.wedgecutter.core.render.RenderedFrame;
import org.wedgecutter.exr.Box;

/** Rejoined frames of a plan, traced for them alone. */
public final class TracedRejoin {
  private TracedRejoin() {}

  /**
   * Traces the layers that the recipe joins, puts them together with its corrections, and writes
   * the frame.
   *
   * @param file its name tells the format: EXR, TIFF, HDR or PNG
   */
  public static void write(
      LoadedShot shot, int frame, FrameRenderer renderer, DoubleConsumer progress, Path file)
      throws IOException {
    Plan plan = shot.plan();
    Recipe recipe = plan.enabledRecipe().at(frame);
    RenderedFrame rendered =
        renderer.render(
            frame,
            l -> recipe.joins().stream().anyMatch(s -> plan.layerIndex(s.layer()) == l),
            false,
            progress);
    FrameRenderer.Settings s = renderer.settings();
    Picture picture =
        Evaluation.picture(
            Expression.of(recipe),
            s.width(),
            s.height(),
            new TracedSource(plan, rendered, shot.numberedPicturesAt(frame)));
    if (PictureWriter.isFor(file)) {
      AtomicFile.write(file, out -> PictureWriter.write(picture, file, out));
    } else {
      Box box = Box.ofSize(picture.width(), picture.height());
      ExrFrames.write(file, picture, List.of(), plan.output(), box, box, Map.of());
    }
  }
}
