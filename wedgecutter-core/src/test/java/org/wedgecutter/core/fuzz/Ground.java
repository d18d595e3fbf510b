package org.wedgecutter.core.fuzz;

import com.fasterxml.jackson.core.JacksonException;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Set;
import java.util.stream.Stream;
import org.wedgecutter.core.deliver.Delivery;
import org.wedgecutter.core.deliver.unit.BandedDelivery;
import org.wedgecutter.core.deliver.unit.DeliveryOrder;
import org.wedgecutter.core.deliver.unit.DeliveryRenderer;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.plan.Output;
import org.wedgecutter.core.render.FrameRenderer;
import org.wedgecutter.core.survey.SurveyStore;
import org.wedgecutter.core.survey.Surveyor;
import org.wedgecutter.core.testing.ShotFolder;

/**
 * What inputs are used with: a small shot and a delivery of it.
 *
 * @param folder holds all that is written
 * @param shot the shot
 * @param delivery folder of the delivery, whose manifest is replaced by others
 * @param manifest its own manifest
 * @param banded another of the shot, which stops between the bands of a frame
 */
record Ground(Path folder, LoadedShot shot, Path delivery, byte[] manifest, BandedDelivery banded) {
  private static final ObjectMapper JSON = new ObjectMapper();

  static Ground make(Path folder) throws IOException {
    LoadedShot plain = ShotFolder.load(folder);
    // with all that a recipe can read
    Set<Output.More> read = Set.of(Output.More.DEPTH, Output.More.UV, Output.More.IDS);
    LoadedShot shot = plain.withPlan(plain.plan().withOutput(plain.plan().output().withMore(read)));
    Path delivery = folder.resolve("out");
    render(shot, delivery, false);
    return new Ground(
        folder,
        shot,
        delivery,
        Files.readAllBytes(delivery.resolve(Delivery.MANIFEST)),
        new BandedDelivery(shot, folder.resolve("banded")));
  }

  Path file(String name, byte[] bytes) throws IOException {
    return Files.write(folder.resolve(name), bytes);
  }

  private static void render(LoadedShot shot, Path delivery, boolean resume) throws IOException {
    DeliveryOrder order =
        new DeliveryOrder(
            delivery,
            List.of(),
            List.of(1),
            true,
            FrameRenderer.Settings.of(shot, 0.25, 1, 1, false),
            resume);
    new DeliveryRenderer(shot, order).run((frame, share, all) -> {});
  }

  /** Renders what is missing of a delivery. */
  void resume(Path of) throws IOException {
    render(shot, of, true);
  }

  /** Returns the recipe of the manifest's plan. */
  byte[] recipe() throws IOException {
    return JSON.writeValueAsBytes(JSON.readTree(manifest).at("/plan/recipe"));
  }

  /** Returns the manifest with another recipe. */
  byte[] withRecipe(byte[] recipe) throws IOException {
    ObjectNode tree = (ObjectNode) JSON.readTree(manifest);
    try {
      ((ObjectNode) tree.get("plan"))
          .set("recipe", JSON.readTree(new String(recipe, StandardCharsets.UTF_8)));
    } catch (JacksonException e) {
      throw new InputException(delivery, "plan/recipe", "expected JSON", e);
    }
    return JSON.writeValueAsBytes(tree);
  }

  /** Returns the file of what a quick trace of frame 1 told. */
  Path survey() throws IOException {
    Path store = SurveyStore.folder(shot.file());
    if (!Files.isDirectory(store)) {
      new Surveyor(shot, Surveyor.quick(shot, 1), new SurveyStore(shot))
          .survey(List.of(1), 1, p -> {});
    }
    try (Stream<Path> all = Files.list(store)) {
      return all.sorted().findFirst().orElseThrow();
    }
  }
}
