package org.wedgecutter.core.deliver;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.core.mistake.Message;
import org.wedgecutter.core.mistake.Sentence;
import org.wedgecutter.core.plan.CellOverride;
import org.wedgecutter.core.plan.FileNames;
import org.wedgecutter.core.plan.LayerDef;
import org.wedgecutter.core.plan.Property;
import org.wedgecutter.core.proof.Cause;
import org.wedgecutter.core.proof.CauseFinder;
import org.wedgecutter.core.proof.Residual;
import org.wedgecutter.core.proof.Tolerance;
import org.wedgecutter.core.rejoin.Rejoiner;
import org.wedgecutter.exr.Box;

/**
 * Rejoining and proving a delivery from its files alone, as a stranger would.
 *
 * @param frame the frame
 * @param residual rejoined minus uncut
 * @param causes causes found in the files themselves, if the residual is beyond the tolerance
 */
public record DeliveryProof(int frame, Residual residual, List<Cause> causes) {
  public DeliveryProof {
    causes = List.copyOf(causes);
  }

  /** Puts the layers of a frame together by the recipe. */
  public static Rejoiner.Rejoined rejoin(Delivery delivery, int frame) throws IOException {
    return Rejoiner.<IOException>rejoin(
        delivery.plan().recipe(),
        delivery.region().width(),
        delivery.region().height(),
        layer -> picture(delivery, layer, false, frame));
  }

  private static Picture picture(Delivery delivery, String layer, boolean uncut, int frame)
      throws IOException {
    var entry = uncut ? delivery.file(layer, true, frame) : delivery.held(layer, frame);
    if (entry.isEmpty()) {
      throw new InputException(
          delivery.folder(),
          "",
          uncut
              ? "holds no uncut frame %d to compare with; render it with --uncut".formatted(frame)
              : "holds no file of layer '%s' at frame %d, which the recipe joins"
                  .formatted(layer, frame));
    }
    Path file = delivery.folder().resolve(entry.get().path());
    if (!Files.isRegularFile(file)) {
      throw new InputException(file, "", "no such file, though the delivery lists it");
    }
    Picture picture = ExrFrames.read(file);
    boolean ownSize =
        delivery.plan().layer(layer).flatMap(l -> l.setting(Property.SIZE)).isPresent();
    if (!ownSize
        && (picture.width() != delivery.region().width()
            || picture.height() != delivery.region().height())) {
      throw new InputException(
          file,
          "",
          "%d x %d pixels, expected %d x %d"
              .formatted(
                  picture.width(),
                  picture.height(),
                  delivery.region().width(),
                  delivery.region().height()));
    }
    return picture;
  }

  /** Writes a rejoined frame as a file of its own. */
  public static void write(Delivery delivery, int frame, Path file) throws IOException {
    ExrFrames.write(
        file,
        rejoin(delivery, frame).picture(),
        List.of(),
        delivery.plan().output(),
        Box.ofSize(delivery.width(), delivery.height()),
        DeliveryRenderer.box(delivery.region()),
        Map.of());
  }

  /** Compares the rejoined frame with the uncut one. */
  public static DeliveryProof prove(Delivery delivery, int frame) throws IOException {
    Picture uncut = picture(delivery, FileNames.UNCUT, true, frame);
    boolean half = delivery.plan().output().half();
    Residual residual =
        Residual.of(rejoin(delivery, frame), uncut, half ? Tolerance.HALF : Tolerance.FLOAT);
    List<Cause> causes = new ArrayList<>();
    if (!residual.exact()) {
      causes.addAll(CauseFinder.ofRecipe(delivery.plan().recipe()));
      for (LayerDef layer : delivery.plan().layers()) {
        boolean own = layer.settings().stream().anyMatch(CellOverride::on);
        if (own && delivery.plan().join(layer.name()).isPresent()) {
          String settings =
              layer.settings().stream()
                  .filter(CellOverride::on)
                  .map(CellOverride::text)
                  .collect(Collectors.joining(", "));
          Message message =
              Message.of(Sentence.SETTINGS_RENDERED, "layer", layer.name(), "settings", settings);
          causes.add(new Cause(message, layer.name(), Double.NaN));
        }
      }
      for (Delivery.Entry entry : delivery.files()) {
        Path file = delivery.folder().resolve(entry.path());
        if (entry.frame() == frame && !DeliveryRenderer.sha256(file).equals(entry.sha256())) {
          Message message = Message.of(Sentence.STALE, "file", entry.path());
          causes.add(new Cause(message, entry.layer(), Double.NaN));
        }
      }
    }
    return new DeliveryProof(frame, residual, causes);
  }
}
