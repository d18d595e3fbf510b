package org.wedgecutter.core.deliver;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.io.FileDigest;
import org.wedgecutter.core.mistake.Message;
import org.wedgecutter.core.mistake.Sentence;
import org.wedgecutter.core.plan.Property;
import org.wedgecutter.core.plan.Recipe;
import org.wedgecutter.core.rejoin.Rejoiner;
import org.wedgecutter.exr.Box;
import org.wedgecutter.exr.ExrException;
import org.wedgecutter.exr.ExrInput;
import org.wedgecutter.exr.ExrPart;

/**
 * A layer of a frame as its file can be read: missing, of another size, without alpha, packed in
 * another way. Its picture has the delivery's size, black where nothing is.
 */
final class LayerFile {
  final Recipe.Step step;

  /** Its path in the delivery; the layer's name where the delivery lists none. */
  final String path;

  Picture picture;
  boolean isMissing;

  /** Whether the file is not the one of the record, or not as the plan writes it. */
  boolean isSuspect;

  /** Whether a cause names it already. */
  boolean isTold;

  /** Whether the picture is as it should be by now. */
  boolean isMended;

  /** Whether the file holds no alpha. */
  boolean isWithoutAlpha;

  private String digest = "";
  private final List<Message> messages = new ArrayList<>();

  private LayerFile(Recipe.Step step, String path, Picture picture) {
    this.step = step;
    this.path = path;
    this.picture = picture;
  }

  String layer() {
    return step.layer();
  }

  /** Returns what the header of the file says about it. */
  List<Message> messages() {
    return List.copyOf(messages);
  }

  /** Returns the digest of its bytes; empty if it is missing. */
  String digest() {
    return digest;
  }

  private void name(Message message) {
    messages.add(message);
    isTold = true;
  }

  /** Joins its picture onto what is behind it, which is changed. */
  void joinOnto(Picture behind) {
    joinOnto(behind, picture);
  }

  /** Joins another picture in its place onto what is behind it, which is changed. */
  void joinOnto(Picture behind, Picture own) {
    Rejoiner.join(behind, own, step.join(), (float) step.opacity());
  }

  /** Reads a layer, whatever is there. */
  static LayerFile read(Delivery delivery, Recipe.Step step, int frame) throws IOException {
    Optional<Delivery.Entry> entry = delivery.held(step.layer(), frame);
    Picture black = Picture.empty(delivery.region().width(), delivery.region().height());
    String name = entry.map(Delivery.Entry::path).orElse(step.layer());
    LayerFile out = new LayerFile(step, name, black);
    Path file = delivery.folder().resolve(name);
    if (entry.isEmpty() || !Files.isRegularFile(file)) {
      out.isMissing = true;
      return out;
    }
    out.digest = FileDigest.sha256(file);
    out.isSuspect = !out.digest.equals(entry.get().sha256());
    try {
      out.place(delivery, file);
    } catch (ExrException e) {
      out.name(Message.of(Sentence.FILE_UNREADABLE, "file", name));
      out.isMissing = true;
    }
    return out;
  }

  /** Reads a picture, and puts it where it belongs if it has another size. */
  private void place(Delivery delivery, Path file) throws IOException {
    boolean hasAlpha;
    ExrPart part;
    try (ExrInput in = ExrInput.open(file)) {
      hasAlpha = in.headers().getFirst().channels().stream().anyMatch(c -> c.name().equals("A"));
      part = in.part(0, n -> n.length() == 1);
    }
    Picture own = Picture.empty(part.dataWindow().width(), part.dataWindow().height());
    String[] names = {"R", "G", "B", "A"};
    for (int c = 0; c < 4; c++) {
      float[] plane = c == 3 && !hasAlpha ? null : part.real(names[c]);
      for (int p = 0; p < own.width() * own.height(); p++) {
        own.rgba()[4 * p + c] = plane == null ? 1 : plane[p];
      }
    }
    if (!hasAlpha) {
      isSuspect = true;
      name(Message.of(Sentence.FILE_ALPHA, "file", path));
      isWithoutAlpha = true;
    }
    if (!part.compression().isLossless() && delivery.plan().output().compression().isLossless()) {
      isSuspect = true;
      String packed = part.compression().name().toLowerCase(Locale.ROOT);
      name(Message.of(Sentence.FILE_RECOMPRESSED, "file", path, "amount", packed));
    }
    picture = fitted(delivery, own, part.dataWindow());
  }

  private Picture fitted(Delivery delivery, Picture own, Box window) {
    int width = delivery.region().width();
    int height = delivery.region().height();
    boolean ownSize =
        delivery.plan().layer(step.layer()).flatMap(l -> l.setting(Property.SIZE)).isPresent();
    if (ownSize || (own.width() == width && own.height() == height)) {
      return own.resized(width, height);
    }
    isSuspect = true;
    int x = window.minX() - delivery.region().x();
    int y = window.minY() - delivery.region().y();
    boolean isPart =
        x >= 0
            && y >= 0
            && x + own.width() <= width
            && y + own.height() <= height
            && (x > 0 || y > 0 || own.width() == width || own.height() == height);
    String size = "%d x %d".formatted(own.width(), own.height());
    name(
        Message.of(
            isPart ? Sentence.FILE_CROPPED : Sentence.FILE_RESIZED, "file", path, "amount", size));
    if (!isPart) {
      return own.resized(width, height);
    }
    Picture out = Picture.empty(width, height);
    for (int line = 0; line < own.height(); line++) {
      System.arraycopy(
          own.rgba(),
          4 * line * own.width(),
          out.rgba(),
          4 * ((y + line) * width + x),
          4 * own.width());
    }
    return out;
  }
}
