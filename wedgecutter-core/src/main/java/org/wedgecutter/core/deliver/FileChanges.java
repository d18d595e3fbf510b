package org.wedgecutter.core.deliver;

import java.io.IOException;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.CancellationException;
import java.util.function.BooleanSupplier;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.io.FileDigest;
import org.wedgecutter.core.mistake.Message;
import org.wedgecutter.core.mistake.Sentence;
import org.wedgecutter.core.plan.FileNames;
import org.wedgecutter.core.plan.Join;
import org.wedgecutter.core.plan.Recipe;
import org.wedgecutter.core.proof.Cause;
import org.wedgecutter.core.proof.CauseMeasure;
import org.wedgecutter.core.rejoin.Rejoiner;

/**
 * What was done to the files of a frame, and how much of the residual each change explains.
 *
 * <p>A change that can be undone is recognised by undoing it: the one after which most of the
 * residual is gone was done. For one that cannot, the picture that should be there is worked out
 * from the uncut frame and all other layers, and the same is done to that. Files whose digests
 * differ from their records are looked at first; where none does, as in a delivery that somebody
 * else made, all are.
 */
final class FileChanges {
  /** Share of what is wrong with a layer that undoing a change must remove. */
  private static final double ENOUGH = 0.7;

  /** Share of the residual below which a change explains nothing. */
  private static final double NOTHING = 1e-3;

  private static final int NEAR_FRAMES = 12;

  /** Pixels across of the pictures that are kept as evidence. */
  private static final int EVIDENCE_WIDTH = 540;

  private final Delivery delivery;
  private final int frame;
  private final List<LayerFile> layers;
  private final FrameJoins joins;
  private final BooleanSupplier stopped;
  private final List<Cause> causes = new ArrayList<>();
  private double first;

  private FileChanges(
      Delivery delivery,
      int frame,
      Picture uncut,
      List<LayerFile> layers,
      Rejoiner.Rejoined rejoined,
      BooleanSupplier stopped) {
    this.stopped = stopped;
    this.delivery = delivery;
    this.frame = frame;
    this.layers = layers;
    joins = new FrameJoins(layers, uncut, rejoined.scale());
  }

  /**
   * The layers as they can be read, and the causes that name their files.
   *
   * @param rejoined the layers as they are, joined; black where a file is missing
   * @param causes by how much of the residual they explain
   * @param unexplained share of the residual that is left when all of it is put right; NaN where
   *     joins are such that it is not known
   * @param evidence by cause, where a picture was put right
   */
  record Told(
      Rejoiner.Rejoined rejoined,
      List<Cause> causes,
      double unexplained,
      Map<Cause, CauseMeasure.Evidence> evidence) {
    /** Whether files alone explain the residual. */
    boolean explainsAll() {
      return !causes.isEmpty() && unexplained <= NOTHING;
    }
  }

  /** Looks at the files of a frame. */
  static Told of(Delivery delivery, int frame, Picture uncut, BooleanSupplier stopped)
      throws IOException {
    Recipe recipe = DeliveryProof.joined(delivery, frame);
    List<LayerFile> layers = new ArrayList<>();
    Map<String, Picture> pictures = new LinkedHashMap<>();
    for (Recipe.Step step : recipe.joins()) {
      LayerFile layer = LayerFile.read(delivery, step, frame);
      layers.add(layer);
      pictures.put(step.layer(), layer.picture);
    }
    Rejoiner.Rejoined rejoined =
        Rejoiner.rejoin(
            recipe,
            delivery.region().width(),
            delivery.region().height(),
            new DeliverySource(delivery, frame, pictures));
    FileChanges all = new FileChanges(delivery, frame, uncut, layers, rejoined, stopped);
    layers.forEach(l -> l.messages().forEach(m -> all.told(l, m, Double.NaN)));
    all.uncutFile();
    double left = all.explain();
    all.causes.sort(Comparator.comparingDouble(c -> Double.isNaN(c.share()) ? 0 : -c.share()));
    return new Told(rejoined, all.causes, left, all.evidence(recipe, pictures, rejoined, uncut));
  }

  /**
   * What each cause does: the frame with one layer as it should be, all others as they are.
   *
   * @param read pictures of the layers as they can be read
   */
  private Map<Cause, CauseMeasure.Evidence> evidence(
      Recipe recipe, Map<String, Picture> read, Rejoiner.Rejoined rejoined, Picture uncut)
      throws IOException {
    Map<Cause, CauseMeasure.Evidence> out = new LinkedHashMap<>();
    for (Cause c : causes) {
      LayerFile layer =
          layers.stream().filter(l -> l.layer().equals(c.layer())).findFirst().orElse(null);
      if (layer == null || layer.picture.equals(read.get(layer.layer()))) {
        continue;
      }
      Map<String, Picture> mended = new LinkedHashMap<>(read);
      mended.put(layer.layer(), layer.picture);
      Rejoiner.Rejoined after =
          Rejoiner.rejoin(
              recipe, uncut.width(), uncut.height(), new DeliverySource(delivery, frame, mended));
      out.put(
          c,
          new CauseMeasure.Evidence(
              small(uncut), small(rejoined.picture()), small(after.picture())));
    }
    return out;
  }

  private static Picture small(Picture of) {
    int width = Math.min(of.width(), EVIDENCE_WIDTH);
    return of.resized(width, Math.max(1, of.height() * width / of.width()));
  }

  private void uncutFile() throws IOException {
    Delivery.Entry entry = delivery.uncut(frame).orElse(null);
    if (entry != null
        && !FileDigest.sha256(delivery.folder().resolve(entry.path())).equals(entry.sha256())) {
      causes.add(
          new Cause(Message.of(Sentence.STALE, "file", entry.path()), FileNames.UNCUT, Double.NaN));
    }
  }

  // ---- explaining

  private void goOn() {
    if (stopped.getAsBoolean()) {
      throw new CancellationException("the proof was stopped");
    }
  }

  private void told(LayerFile layer, Message message, double share) {
    causes.add(new Cause(message, layer.layer(), share));
  }

  /** Returns the share of the residual that no file explains. */
  private double explain() throws IOException {
    // what these do to a pixel takes more than the beauties of the layers
    boolean simple =
        layers.stream()
            .map(l -> l.step)
            .noneMatch(j ->
                j.join() == Join.MATTE
                    || j.join() == Join.DEPTH
                    || j.join() == Join.DEEP
                    || j.light() != Recipe.Light.ALL);
    first = simple ? joins.residual() : Double.NaN;
    boolean any = layers.stream().anyMatch(l -> l.isSuspect || l.isMissing);
    if (!simple || first <= 0) {
      layers.stream().filter(l -> l.isSuspect && !l.isTold).forEach(l -> stale(l, 0));
      return simple ? 0 : Double.NaN;
    }
    List<LayerFile> suspects =
        any ? layers.stream().filter(l -> l.isSuspect || l.isMissing).toList() : layers;
    suspects.stream().filter(l -> l.isWithoutAlpha).forEach(this::alpha);
    exchanged(suspects);
    for (FrameJoins.Where where : FrameJoins.Where.values()) {
      // where a layer is missing, nothing else can be blamed for what is not there
      boolean isSure =
          where != FrameJoins.Where.ANY || suspects.stream().noneMatch(l -> l.isMissing);
      while (isSure && undone(suspects, where)) {}
      while (isSure && where != FrameJoins.Where.SOLID && lost(suspects, where)) {}
    }
    for (LayerFile l : suspects) {
      if (l.isMissing && !l.isTold) {
        told(
            l,
            Message.of(Sentence.FILE_MISSING, "file", l.path),
            mend(l, suspects, FrameJoins.Where.ANY));
        l.isTold = true;
      } else if (l.isSuspect && !l.isTold) {
        stale(l, mend(l, suspects, FrameJoins.Where.ANY));
      }
    }
    shares(suspects);
    return joins.residual() / first;
  }

  private void stale(LayerFile layer, double share) {
    Message copy = copyOf(layer);
    told(layer, copy == null ? Message.of(Sentence.STALE, "file", layer.path) : copy, share);
    layer.isTold = true;
  }

  /** The message if the file's bytes are those of another file of the delivery; else null. */
  private @Nullable Message copyOf(LayerFile layer) {
    Delivery.Entry other = original(layer);
    return other == null
        ? null
        : Message.of(Sentence.FILE_EXCHANGED, "file", layer.path, "other", other.path());
  }

  /** The file of the delivery that a file is a copy of; null if it is none. */
  private Delivery.@Nullable Entry original(LayerFile layer) {
    return delivery.files().stream()
        .filter(f -> f.sha256().equals(layer.digest()) && !f.path().equals(layer.path))
        .findFirst()
        .orElse(null);
  }

  /** Puts back an alpha that a file lacks: what covers a pixel and is no other layer's. */
  private void alpha(LayerFile layer) {
    Picture should = joins.expected(layer);
    Picture out = layer.picture.copy();
    for (int i = 3; i < out.rgba().length; i += 4) {
      out.rgba()[i] = Math.max(0, Math.min(1, should.rgba()[i]));
    }
    double before = joins.residual();
    layer.picture = out;
    layer.isMended = joins.residual() < before;
    share(layer, (before - joins.residual()) / first);
  }

  /** Sets the share of the cause that names a layer. */
  private void share(LayerFile layer, double share) {
    for (int k = 0; k < causes.size(); k++) {
      Cause c = causes.get(k);
      if (c.layer().equals(layer.layer()) && Double.isNaN(c.share())) {
        causes.set(k, c.withShare(Math.max(0, share)));
      }
    }
  }

  /** Layers in one another's place, and files that are copies of others. */
  private void exchanged(List<LayerFile> suspects) {
    for (LayerFile a : suspects) {
      Message copy = a.isMissing || a.isTold ? null : copyOf(a);
      if (copy == null) {
        continue;
      }
      double before = joins.residual();
      LayerFile b = placeOf(original(a), suspects);
      if (b != null && placeOf(original(b), suspects) == a) {
        Picture own = a.picture;
        a.picture = b.picture;
        b.picture = own;
        a.isMended = true;
        b.isMended = true;
        b.isTold = true;
        told(b, Message.of(Sentence.FILE_EXCHANGED, "file", b.path, "other", a.path), 0);
        told(a, copy, (before - joins.residual()) / first);
      } else {
        told(
            a,
            copy,
            byDigest(suspects)
                ? mend(a, suspects, FrameJoins.Where.SHOWN)
                : mend(a, List.of(a), FrameJoins.Where.ANY));
      }
      a.isTold = true;
    }
  }

  private static @Nullable LayerFile placeOf(
      Delivery.@Nullable Entry entry, List<LayerFile> suspects) {
    return suspects.stream()
        .filter(l -> entry != null && l.path.equals(entry.path()))
        .findFirst()
        .orElse(null);
  }

  /** Puts what should be there into a layer's own pixels, and returns what that explains. */
  private double mend(LayerFile layer, List<LayerFile> suspects, FrameJoins.Where where) {
    double before = joins.residual();
    boolean[] own = joins.own(layer, suspects, where);
    Picture should = joins.expected(layer);
    layer.picture = layer.picture.copy();
    for (int p = 0; p < own.length; p++) {
      if (own[p]) {
        System.arraycopy(should.rgba(), 4 * p, layer.picture.rgba(), 4 * p, 4);
      }
    }
    return Math.max(0, (before - joins.residual()) / first);
  }

  /**
   * A change that was undone.
   *
   * @param quality share of what is wrong with the layer that is gone then
   */
  private record Undone(LayerFile layer, FileChange change, Picture mended, double quality) {}

  /** Undoes the change that explains most of what is wrong with a layer, if one does. */
  private boolean undone(List<LayerFile> suspects, FrameJoins.Where where) {
    List<LayerFile> open = suspects.stream().filter(l -> !l.isTold && !l.isMissing).toList();
    List<Optional<Undone>> tried =
        open.parallelStream().map(l -> undone(l, suspects, where)).toList();
    Undone best = null;
    for (Optional<Undone> each : tried) {
      best = each.isPresent() && isBetter(each.get(), best) ? each.get() : best;
    }
    if (best == null) {
      return false;
    }
    LayerFile layer = best.layer;
    double before = joins.residual();
    layer.picture = best.mended;
    layer.isTold = true;
    layer.isMended = true;
    told(layer, best.change.message(layer.path), Math.max(0, (before - joins.residual()) / first));
    return true;
  }

  private static boolean isBetter(Undone next, @Nullable Undone best) {
    return next.quality > (best == null ? ENOUGH : best.quality) + 1e-3;
  }

  private Optional<Undone> undone(
      LayerFile layer, List<LayerFile> suspects, FrameJoins.Where where) {
    boolean[] own = joins.own(layer, suspects, where);
    FrameJoins.Place place = joins.place(layer);
    float[] now = place.rejoined(layer.picture);
    double all = joins.residual(now, own);
    Undone best = null;
    for (FileChange c : all > NOTHING * first ? changes(place, own) : List.<FileChange>of()) {
      goOn();
      Picture next = c.undo().apply(layer.picture);
      boolean[] within = where == FrameJoins.Where.SOLID ? FrameJoins.solid(next, own) : own;
      double before = where == FrameJoins.Where.SOLID ? joins.residual(now, within) : all;
      double explained =
          before < all / 4 ? 0 : 1 - joins.residual(place.rejoined(next), within) / before;
      Undone each = new Undone(layer, c, next, explained);
      best = isBetter(each, best) ? each : best;
    }
    return Optional.ofNullable(best);
  }

  private List<FileChange> changes(FrameJoins.Place place, boolean[] own) {
    List<FileChange> out = FileChange.all();
    Picture should = joins.expected(place);
    LayerFile layer = place.layer();
    double product = 0;
    double square = 0;
    for (int i = 0; i < should.rgba().length; i++) {
      if ((i & 3) != 3 && own[i / 4]) {
        product += (double) should.rgba()[i] * layer.picture.rgba()[i];
        square += (double) should.rgba()[i] * should.rgba()[i];
      }
    }
    double factor = square > 0 ? product / square : 1;
    if (factor > 0.01 && factor < 100 && Math.abs(factor - 1) > 0.01) {
      out.add(FileChange.exposed(factor));
    }
    return out;
  }

  /** Whether records tell which files are not as they were; else any may be wrong, or none. */
  private static boolean byDigest(List<LayerFile> suspects) {
    return suspects.stream().anyMatch(l -> l.isSuspect || l.isMissing);
  }

  /** Recognises the change that loses something for which there is most evidence, if any. */
  private boolean lost(List<LayerFile> suspects, FrameJoins.Where where) throws IOException {
    boolean byDigest = byDigest(suspects);
    LayerFile best = null;
    Message told = null;
    double most = 0;
    for (LayerFile l : suspects) {
      goOn();
      if (l.isTold || l.isMissing) {
        continue;
      }
      boolean[] own = joins.own(l, suspects, where);
      boolean isWrong = joins.residual(own) > NOTHING * first;
      // few levels, or edges that alpha does not fit, tell without anything to compare with
      Message found =
          isWrong || l.isSuspect || !byDigest ? FileEvidence.itself(l.path, l.picture) : null;
      found = found == null && isWrong ? otherFrame(l) : found;
      double explained = 1;
      if (found == null && isWrong) {
        FileEvidence.Found evidence = FileEvidence.of(l.picture, joins.expected(l), own);
        found = evidence == null ? null : evidence.message(l.path);
        explained = evidence == null ? 0 : evidence.explained();
      }
      if (found != null && explained > most) {
        best = l;
        told = found;
        most = explained;
      }
    }
    if (best == null || told == null) {
      return false;
    }
    told(best, told, mend(best, suspects, where));
    best.isTold = true;
    return true;
  }

  /** Whether a file shows what the layer is at another frame. */
  private @Nullable Message otherFrame(LayerFile layer) throws IOException {
    List<Integer> near =
        delivery.frames().stream()
            .filter(f -> f != frame)
            .sorted(Comparator.comparingInt(f -> Math.abs(f - frame)))
            .limit(NEAR_FRAMES)
            .toList();
    for (int f : near) {
      Optional<Delivery.Entry> entry = delivery.held(layer.layer(), f);
      if (entry.isPresent() && !entry.get().path().equals(layer.path)) {
        Picture other;
        try {
          other = ExrFrames.read(delivery.folder().resolve(entry.get().path()));
        } catch (IOException e) {
          continue;
        }
        if (other.sameSize(layer.picture) && FrameJoins.isSame(other, layer.picture)) {
          return Message.of(Sentence.FILE_OTHER_FRAME, "file", layer.path, "amount", f);
        }
      }
    }
    return null;
  }

  /** Adds to a named layer's share what is left of the residual in its pixels. */
  private void shares(List<LayerFile> suspects) {
    for (LayerFile l : suspects) {
      if (!l.isMended) {
        double more = mend(l, suspects, FrameJoins.Where.ANY);
        for (int k = 0; k < causes.size(); k++) {
          Cause c = causes.get(k);
          if (c.layer().equals(l.layer())) {
            causes.set(k, c.withShare((Double.isNaN(c.share()) ? 0 : c.share()) + more));
            break;
          }
        }
      }
    }
  }
}
