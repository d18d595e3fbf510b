package org.wedgecutter.app.files;

import java.nio.file.Path;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.app.model.Session;
import org.wedgecutter.app.panel.Bench;
import org.wedgecutter.core.deliver.Delivery;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.image.PictureWriter;
import org.wedgecutter.core.image.ScreenPicture;
import org.wedgecutter.core.io.AtomicFile;
import org.wedgecutter.core.plan.PlanParts;
import org.wedgecutter.core.rejoin.Expression;

/** Files of what is rejoined: the recipe, contact sheets, and where a delivery is. */
public final class RejoinFiles {
  private final Bench bench;
  private final FileWork work;
  private final FileAsker asker;

  public RejoinFiles(Bench bench, FileWork work, FileAsker asker) {
    this.bench = bench;
    this.work = work;
    this.asker = asker;
  }

  /** Exports the recipe, with its equations. */
  public void exportRecipe() {
    Session s = bench.session();
    if (s == null) {
      return;
    }
    Path file =
        asker.toSave("Export recipe", s.shot().file().resolveSibling("recipe.json"), "*.json");
    if (file != null) {
      String text = PlanParts.recipe(s.plan(), Expression.equations(s.plan().recipe()));
      work.run("export", () -> PlanParts.save(text, file));
    }
  }

  /**
   * Saves a contact sheet as a picture.
   *
   * @param sheet makes it, on another thread
   */
  public void saveSheet(Supplier<Picture> sheet) {
    Session s = bench.session();
    Path file =
        s == null
            ? null
            : asker.toSave(
                "Save contact sheet", s.shot().file().resolveSibling("contact.png"), "*.png");
    if (file != null) {
      work.run(
          "save " + file.getFileName(),
          () ->
              AtomicFile.write(file, out -> PictureWriter.png(ScreenPicture.of(sheet.get()), out)));
    }
  }

  /** Asks for a delivery; null if none is chosen. */
  public @Nullable Path askDelivery() {
    Path file = asker.toOpen("Choose a delivery", Delivery.MANIFEST);
    return file == null ? null : file.toAbsolutePath().getParent();
  }
}
