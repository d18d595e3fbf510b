package org.wedgecutter.core.deliver.check;

import java.io.IOException;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.function.Predicate;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.deliver.Delivery;
import org.wedgecutter.core.deliver.file.DeliveryPictures;
import org.wedgecutter.core.deliver.file.DeliverySource;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.image.Region;
import org.wedgecutter.core.plan.FileNames;
import org.wedgecutter.core.plan.Join;
import org.wedgecutter.core.plan.Recipe;
import org.wedgecutter.core.proof.FrameLight;
import org.wedgecutter.core.proof.Tolerance;
import org.wedgecutter.core.rejoin.Precision;
import org.wedgecutter.core.rejoin.Rejoiner;

/**
 * The files of a frame, rejoined by their recipe, and how far that is from the uncut file. With
 * another picture in the place of one file it is another frame.
 *
 * <p>What a recipe makes of one layer is affine in its colours and its alpha, whatever stands
 * behind and in front of it and however it is joined. So three evaluations tell for every pixel how
 * the rejoined frame follows a layer ({@link Place}): what the layer would have to be is worked out
 * from that, and a changed picture is tried without rejoining all.
 */
final class FileFrame {
  /** How much of a layer must reach the rejoined frame for the layer to be told from it. */
  private static final float BARE = 0.02f;

  private final Files files;
  private final List<FrameFile> layers;
  private final FrameFile uncut;
  private final Rejoiner.Rejoined rejoined;
  private final Tolerance tolerance;

  private FileFrame(Files files, List<FrameFile> layers, FrameFile uncut) throws IOException {
    this.files = files;
    this.layers = List.copyOf(layers);
    this.uncut = uncut;
    rejoined = rejoined(layers);
    int halves = uncut.precision() == Precision.HALF ? 1 : 0;
    for (FrameFile l : layers) {
      halves += l.precision() == Precision.HALF ? 1 : 0;
    }
    FrameLight light = files.light == null ? new FrameLight().add(uncut.picture()) : files.light;
    tolerance = Tolerance.of(uncut.picture(), uncut.precision(), halves, light);
  }

  /**
   * Where files are read.
   *
   * @param recipe the layers that are joined
   * @param part which pixels of the delivery's region
   * @param light of the whole uncut frame; null where the part is the whole
   */
  private record Files(
      Delivery delivery,
      int frame,
      Recipe recipe,
      Region part,
      @Nullable FrameLight light,
      Digests digests) {
    FrameFile read(String layer, int at) throws IOException {
      return FrameFile.read(delivery, part, layer, at, digests);
    }
  }

  /** Reads the files of the layers that a recipe joins, and the uncut frame. */
  static FileFrame read(Delivery delivery, int frame, Digests digests) throws IOException {
    return read(delivery, frame, delivery.region(), null, digests);
  }

  /**
   * Reads a part of a frame.
   *
   * @param part of the delivery's region
   * @param light of the whole uncut frame; null where the part is the whole
   */
  static FileFrame read(
      Delivery delivery, int frame, Region part, @Nullable FrameLight light, Digests digests)
      throws IOException {
    // an error where there is nothing to compare with
    DeliveryPictures.picture(delivery, part, FileNames.UNCUT, true, frame);
    Recipe recipe = DeliveryPictures.joined(delivery, frame);
    Files files = new Files(delivery, frame, recipe, part, light, digests);
    List<FrameFile> layers = new ArrayList<>();
    for (Recipe.Step step : recipe.joins()) {
      layers.add(files.read(step.layer(), frame));
    }
    return new FileFrame(files, layers, files.read(FileNames.UNCUT, frame));
  }

  private Rejoiner.Rejoined rejoined(List<FrameFile> of) throws IOException {
    Map<String, Picture> pictures = new HashMap<>();
    Map<String, Precision> kept = new HashMap<>();
    for (FrameFile l : of) {
      pictures.put(l.layer(), l.picture());
      kept.put(l.layer(), l.precision());
    }
    Region part = files.part;
    return Rejoiner.rejoin(
        files.recipe,
        part.width(),
        part.height(),
        new DeliverySource(files.delivery, part, files.frame, pictures, kept));
  }

  /** Returns the frame with a file as it is given, in the place of the one of its layer. */
  FileFrame with(FrameFile changed) throws IOException {
    if (changed.isUncut()) {
      return new FileFrame(files, layers, changed);
    }
    return new FileFrame(files, replaced(changed), uncut);
  }

  private List<FrameFile> replaced(FrameFile changed) {
    return layers.stream().map(l -> l.layer().equals(changed.layer()) ? changed : l).toList();
  }

  /** Returns the frame with some pixels black in all files: nothing is wrong with them any more. */
  FileFrame blanked(boolean[] pixels) throws IOException {
    return new FileFrame(
        files, layers.stream().map(l -> blanked(l, pixels)).toList(), blanked(uncut, pixels));
  }

  private FrameFile blanked(FrameFile of, boolean[] pixels) {
    Picture out = of.picture().copy();
    boolean same = out.sameSize(uncut.picture());
    for (int i = 0; i < out.rgba().length; i++) {
      boolean isBlank = same ? pixels[i / 4] : !Float.isFinite(out.rgba()[i]);
      out.rgba()[i] = isBlank ? 0 : out.rgba()[i];
    }
    return of.with(out, of.isMended());
  }

  Delivery delivery() {
    return files.delivery;
  }

  int frame() {
    return files.frame;
  }

  Recipe recipe() {
    return files.recipe;
  }

  /** Returns which pixels of the delivery's region these are. */
  Region part() {
    return files.part;
  }

  /** Reads the same part of a layer's file at another frame. */
  FrameFile file(String layer, int at) throws IOException {
    return files.read(layer, at);
  }

  /** Returns the layers from the back to the front. */
  List<FrameFile> layers() {
    return layers;
  }

  List<FrameFile> layers(Predicate<FrameFile> which) {
    return layers.stream().filter(which).toList();
  }

  FrameFile uncut() {
    return uncut;
  }

  /** Returns the file of a layer as it is here. */
  FrameFile file(String layer) {
    return layer.equals(FileNames.UNCUT)
        ? uncut
        : layers.stream().filter(l -> l.layer().equals(layer)).findFirst().orElseThrow();
  }

  Rejoiner.Rejoined rejoined() {
    return rejoined;
  }

  Tolerance tolerance() {
    return tolerance;
  }

  boolean[] all() {
    boolean[] out = new boolean[uncut.picture().width() * uncut.picture().height()];
    Arrays.fill(out, true);
    return out;
  }

  /** Returns the sum of what is beyond the tolerance, over pixels and channels. */
  double residual() {
    return residual(rejoined.picture().rgba(), all());
  }

  /** Returns the same of some pixels. */
  double residual(boolean[] within) {
    return residual(rejoined.picture().rgba(), within);
  }

  /** Returns the same of another rejoined picture. */
  double residual(float[] other, boolean[] within) {
    double out = 0;
    float[] scale = rejoined.scale().rgba();
    for (int i = 0; i < other.length; i++) {
      if (within[i / 4]) {
        // what is infinite in the file is not any more where that is put right
        out += tolerance.excess(i, other[i], Float.isFinite(scale[i]) ? scale[i] : 0);
      }
    }
    return out;
  }

  /** Which pixels of a layer are looked at. */
  enum Where {
    /** Those that it covers whole: nothing else shows there. */
    SOLID,
    /** Those in which it shows anything. */
    SHOWN,
    /** Also those in which it shows nothing: it may have been cut off, or moved. */
    ANY
  }

  /** Where no other suspect that is still wrong shows anything: what is wrong is this one's. */
  boolean[] own(FrameFile layer, List<FrameFile> suspects, Where where) {
    boolean[] out = new boolean[uncut.picture().width() * uncut.picture().height()];
    int count = 0;
    for (int p = 0; p < out.length; p++) {
      out[p] =
          switch (where) {
            case SOLID -> alpha(layer, p) > 1 - BARE;
            case SHOWN -> shows(layer, p);
            case ANY -> true;
          };
      for (FrameFile other : suspects) {
        boolean isSame = other.layer().equals(layer.layer());
        out[p] &= isSame || other.isMended() || !shows(other, p);
      }
      count += out[p] ? 1 : 0;
    }
    return count > 0 ? out : where == Where.SOLID ? out : all();
  }

  private float alpha(FrameFile layer, int pixel) {
    return at(layer, pixel, 3);
  }

  private boolean shows(FrameFile layer, int pixel) {
    return alpha(layer, pixel) > BARE
        || at(layer, pixel, 0) != 0
        || at(layer, pixel, 1) != 0
        || at(layer, pixel, 2) != 0;
  }

  /** A number of a layer where a pixel of the frame lies, whatever the layer's size is. */
  private float at(FrameFile layer, int pixel, int channel) {
    Picture own = layer.picture();
    int width = uncut.picture().width();
    int height = uncut.picture().height();
    if (own.width() == width && own.height() == height) {
      return own.rgba()[4 * pixel + channel];
    }
    int x = pixel % width * own.width() / width;
    int y = pixel / width * own.height() / height;
    return own.rgba()[4 * (y * own.width() + x) + channel];
  }

  /**
   * How the rejoined frame follows one layer: by {@code colour} for each number of its colours and
   * by {@code alpha} for its alpha, from where it is now. Colours whose part is not above {@code
   * bare} cannot be told from the frame.
   */
  record Place(FrameFile layer, float[] now, float[] colour, float[] alpha, float bare) {
    /** Returns the rejoined frame with another picture in the layer's place. */
    float[] rejoined(Picture own) {
      float[] was = layer.picture().rgba();
      float[] next = own.rgba();
      float[] out = now.clone();
      for (int i = 0; i < out.length; i++) {
        int a = i | 3;
        float more = alpha[i] * (next[a] - was[a]);
        out[i] += (i & 3) == 3 ? more : colour[i] * (next[i] - was[i]) + more;
      }
      return out;
    }

    /** Whether the layer's picture can be told from the frame at all. */
    boolean shows() {
      for (float c : colour) {
        if (Math.abs(c) > bare) {
          return true;
        }
      }
      return false;
    }
  }

  /** Returns how the frame follows a layer; the layer must be of the frame's size. */
  Place place(FrameFile layer) throws IOException {
    Picture finite = finite(layer.picture());
    FrameFile own = layer.with(finite, layer.isMended());
    float[] now = rejoined(replaced(own)).picture().rgba();
    float step = step(finite, now);
    float[] colour = rejoined(replaced(own.with(raised(finite, step, 0), false))).picture().rgba();
    float[] alpha = rejoined(replaced(own.with(raised(finite, 0, 1), false))).picture().rgba();
    for (int i = 0; i < now.length; i++) {
      colour[i] = (colour[i] - now[i]) / step;
      alpha[i] -= now[i];
    }
    boolean scales =
        files.recipe.joins().stream()
            .anyMatch(s -> s.layer().equals(layer.layer()) && s.join() == Join.TIMES);
    return new Place(own, now, colour, alpha, scales ? BARE * typical(colour) : BARE);
  }

  /** A step that is not lost in rounding beside the largest number: a power of two. */
  private static float step(Picture of, float[] now) {
    float most = 1;
    for (int i = 0; i < now.length; i++) {
      most = Float.isFinite(now[i]) ? Math.max(most, Math.abs(now[i])) : most;
    }
    for (float v : of.rgba()) {
      most = Math.max(most, Math.abs(v));
    }
    return Math.scalb(1f, Math.min(100, Math.getExponent(most) + 1));
  }

  /** The median of the numbers that are not 0. */
  private static float typical(float[] of) {
    float[] sizes = new float[of.length];
    int count = 0;
    for (float v : of) {
      if (v != 0 && Float.isFinite(v)) {
        sizes[count++] = Math.abs(v);
      }
    }
    Arrays.sort(sizes, 0, count);
    return count == 0 ? 1 : sizes[count / 2];
  }

  /** Numbers that are not finite would make all that they meet so. */
  private static Picture finite(Picture of) {
    Picture out = of.copy();
    float[] c = out.rgba();
    for (int i = 0; i < c.length; i++) {
      c[i] = Float.isFinite(c[i]) ? c[i] : 0;
    }
    return out;
  }

  private static Picture raised(Picture of, float colour, float alpha) {
    Picture out = of.copy();
    for (int i = 0; i < out.rgba().length; i++) {
      out.rgba()[i] += (i & 3) == 3 ? alpha : colour;
    }
    return out;
  }

  /** Returns what a layer must be for all to rejoin. */
  Picture expected(Place place) {
    float[] was = place.layer.picture().rgba();
    Picture out = place.layer.picture().copy();
    float[] next = out.rgba();
    float[] target = uncut.picture().rgba();
    for (int p = 0; p < next.length; p += 4) {
      int a = p + 3;
      // alpha stays where it is not joined, or is hidden
      float more =
          Math.abs(place.alpha[a]) > BARE ? (target[a] - place.now[a]) / place.alpha[a] : 0;
      next[a] = was[a] + more;
      for (int i = p; i < a; i++) {
        if (Math.abs(place.colour[i]) > place.bare) {
          // colours are solved with the alpha of the file, whether or not it is right
          next[i] = was[i] + (target[i] - place.now[i]) / place.colour[i];
        }
      }
    }
    return out;
  }

  /** Those pixels that another picture covers whole, too. */
  static boolean[] solid(Picture p, boolean[] own) {
    boolean[] out = own.clone();
    for (int i = 0; i < out.length; i++) {
      out[i] &= p.rgba()[4 * i + 3] > 1 - BARE;
    }
    return out;
  }
}
