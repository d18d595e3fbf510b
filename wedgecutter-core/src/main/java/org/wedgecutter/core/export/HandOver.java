package org.wedgecutter.core.export;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.function.BooleanSupplier;
import java.util.function.DoubleConsumer;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.deliver.Delivery;
import org.wedgecutter.core.deliver.file.DeliveryPictures;
import org.wedgecutter.core.deliver.file.ExrFrames;
import org.wedgecutter.core.image.ContactSheet;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.io.AtomicFile;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.core.plan.PlanParts;
import org.wedgecutter.core.plan.Recipe;
import org.wedgecutter.core.rejoin.Expression;
import org.wedgecutter.exr.ExrInput;

/**
 * What whoever works on with a delivery gets besides its layers, in a folder within it: rejoined
 * frames (EXR, PNG), layered files (OpenRaster), contact sheets, the recipe as JSON and as a script
 * of an open-source image tool, and the page of the cut.
 *
 * @param files what was written, relative to the delivery
 * @param notes what could not be, and why
 */
public record HandOver(List<String> files, List<String> notes) {
  /** Folder within the delivery. */
  public static final String FOLDER = "handover";

  private static final int COLUMNS = 4;
  private static final int TILE = 320;
  private static final int MOST_FRAMES = 48;

  public HandOver {
    files = List.copyOf(files);
    notes = List.copyOf(notes);
  }

  /**
   * Writes it. What was written before under the same names is replaced, file by file.
   *
   * @param frames which frames
   * @param stopped whether to stop: what is written is whole
   * @throws InputException if a layer's file is missing
   */
  public static HandOver write(
      Delivery delivery, List<Integer> frames, DoubleConsumer progress, BooleanSupplier stopped)
      throws IOException {
    Writing all = new Writing(delivery);
    List<ContactSheet.Tile> overFrames = new ArrayList<>();
    for (int k = 0; k < frames.size() && !stopped.getAsBoolean(); k++) {
      Picture rejoined = all.frame(frames.get(k));
      if (overFrames.size() < MOST_FRAMES) {
        Picture small =
            rejoined.resized(
                TILE, Math.max(1, Math.round((float) TILE * rejoined.height() / rejoined.width())));
        overFrames.add(new ContactSheet.Tile("frame " + frames.get(k), small));
      }
      progress.accept((k + 0.5) / frames.size());
    }
    if (!stopped.getAsBoolean() && !frames.isEmpty()) {
      all.sheet("frames", overFrames);
      all.sheets(frames.getFirst());
      all.texts();
      all.layered();
      progress.accept(1);
    }
    return new HandOver(all.files, all.notes);
  }

  private static final class Writing {
    final Delivery delivery;
    final List<String> files = new ArrayList<>();
    final List<String> notes = new ArrayList<>();
    private @Nullable LayeredProof worst;
    private int worstFrame;

    Writing(Delivery delivery) {
      this.delivery = delivery;
    }

    /** Tells the frame whose layers, stacked on a screen, are farthest from its picture. */
    void layered() {
      if (worst != null) {
        notes.add("layered file of frame %d: %s".formatted(worstFrame, worst.line()));
      }
    }

    private Path file(String name) throws IOException {
      files.add(FOLDER + "/" + name);
      return delivery.root().writable(FOLDER + "/" + name);
    }

    Picture frame(int frame) throws IOException {
      Picture rejoined = DeliveryPictures.corrected(delivery, frame);
      String number = String.format(Locale.ROOT, "%04d", frame);
      DeliveryPictures.write(delivery, rejoined, file("rejoined/rejoined." + number + ".exr"));
      DeliveryPictures.write(delivery, rejoined, file("rejoined/rejoined." + number + ".png"));
      Path layered = file("layered/layered." + number + ".ora");
      AtomicFile.write(layered, out -> OpenRaster.write(delivery, frame, rejoined, out));
      LayeredProof proof = LayeredProof.of(layered);
      if (!proof.isClose() && (worst == null || proof.most() > worst.most())) {
        worst = proof;
        worstFrame = frame;
      }
      return rejoined;
    }

    void sheet(String name, List<ContactSheet.Tile> tiles) throws IOException {
      if (!tiles.isEmpty()) {
        DeliveryPictures.write(
            delivery, ContactSheet.of(tiles, COLUMNS, TILE), file("contact/" + name + ".png"));
      }
    }

    /** Sheets of the layers of a frame, and of the passes of each. */
    void sheets(int frame) throws IOException {
      List<ContactSheet.Tile> layers = new ArrayList<>();
      List<ContactSheet.Tile> passes = new ArrayList<>();
      List<ContactSheet.Tile> lights = new ArrayList<>();
      for (Recipe.Step step : DeliveryPictures.joined(delivery, frame).joins()) {
        String layer = step.layer();
        layers.add(new ContactSheet.Tile(layer, DeliveryPictures.layer(delivery, layer, frame)));
        Path from = DeliveryPictures.file(delivery, layer, false, frame);
        for (String pass : lightPasses(from)) {
          (pass.startsWith("light.") ? lights : passes)
              .add(new ContactSheet.Tile(layer + ": " + pass, ExrFrames.readPass(from, pass)));
        }
      }
      layers.add(new ContactSheet.Tile("rejoined", DeliveryPictures.corrected(delivery, frame)));
      Optional<Delivery.Entry> uncut = delivery.uncut(frame);
      if (uncut.isPresent()) {
        layers.add(new ContactSheet.Tile("uncut", DeliveryPictures.uncut(delivery, frame)));
      }
      sheet("layers", layers);
      sheet("passes", passes);
      sheet("lights", lights);
    }

    private static List<String> lightPasses(Path file) throws IOException {
      try (ExrInput in = ExrInput.open(file)) {
        List<String> names = in.flatChannels().stream().map(c -> c.name()).toList();
        return names.stream()
            .filter(n -> n.endsWith(".R"))
            .map(n -> n.substring(0, n.length() - 2))
            .filter(n -> names.contains(n + ".G") && names.contains(n + ".B"))
            .filter(n -> !n.startsWith("Crypto"))
            .toList();
      }
    }

    /** The recipe, the script and the page. */
    void texts() throws IOException {
      String recipe =
          PlanParts.recipe(delivery.plan(), Expression.equations(delivery.plan().recipe()));
      text("recipe.json", recipe);
      try {
        String script = JoinScript.text(delivery);
        text("rejoin.sh", script);
      } catch (InputException e) {
        notes.add("no script: " + e.getMessage());
      }
      text("cut.html", CutPage.text(delivery));
    }

    private void text(String name, String text) throws IOException {
      byte[] bytes = text.getBytes(StandardCharsets.UTF_8);
      AtomicFile.write(file(name), out -> out.write(bytes));
    }
  }
}
