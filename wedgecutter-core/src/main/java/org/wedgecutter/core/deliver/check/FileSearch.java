package org.wedgecutter.core.deliver.check;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.CancellationException;
import java.util.function.BooleanSupplier;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.deliver.Delivery;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.mistake.Message;
import org.wedgecutter.core.mistake.Sentence;
import org.wedgecutter.core.proof.Cause;

/**
 * What was done to the pixels of a frame's files: of those that are not what was rendered, or that
 * somebody else made. A file that fits its record is never looked at.
 *
 * <p>A change that can be undone is recognised by undoing it: the one after which most of the
 * residual is gone was done. For one that cannot, the picture that should be there is worked out
 * from the uncut frame and all other layers, and the same is done to that. Each step gives another
 * frame with one file put right, from which the next step begins; a change's share is what is gone
 * of the residual.
 */
final class FileSearch {
  /** Share of what is wrong with a layer that undoing a change must remove. */
  private static final double ENOUGH = 0.7;

  /** The same of the uncut frame, which all layers are measured by. */
  private static final double SURELY = 0.9;

  /** Share of the residual below which a change explains nothing. */
  static final double NOTHING = 1e-3;

  private static final int NEAR_FRAMES = 12;

  private final BooleanSupplier stopped;
  private final double first;
  private final List<Cause> causes = new ArrayList<>();
  private FileFrame now;

  private FileSearch(FileFrame begin, double first, BooleanSupplier stopped) {
    this.now = begin;
    this.first = first;
    this.stopped = stopped;
  }

  /**
   * What was found.
   *
   * @param frame the frame with all that was recognised put right
   * @param causes with their shares, in the order in which they were found
   */
  record Found(FileFrame frame, List<Cause> causes) {
    Found {
      causes = List.copyOf(causes);
    }
  }

  /**
   * Looks at the files that may be wrong.
   *
   * @param first what the residual was before anything was put right, for the shares
   * @param suspects names of layers, and of the uncut frame
   */
  static Found of(FileFrame begin, double first, List<String> suspects, BooleanSupplier stopped)
      throws IOException {
    FileSearch search = new FileSearch(begin, first, stopped);
    search.run(suspects);
    return new Found(search.now, search.causes);
  }

  /**
   * Returns a frame in which some files are as the others ask for.
   *
   * @param names of layers, and of the uncut frame
   */
  static FileFrame mended(FileFrame begin, List<String> names) throws IOException {
    FileSearch search = new FileSearch(begin, 0, () -> false);
    for (String name : names) {
      FrameFile file = search.now.file(name);
      Picture should =
          file.isUncut()
              ? search.now.rejoined().picture()
              : search.mended(file, names, FileFrame.Where.ANY);
      search.now = search.now.with(file.with(should, true));
    }
    return search.now;
  }

  private void goOn() {
    if (stopped.getAsBoolean()) {
      throw new CancellationException("the proof was stopped");
    }
  }

  // ---- files, as they are by now

  /** Names a file, and puts it right as far as that is known. */
  private void tell(FrameFile file, Message message, Picture mended, boolean isMended)
      throws IOException {
    double before = now.residual();
    now = now.with(file.with(mended, isMended || file.isMended()).named());
    add(file, message, before - now.residual());
  }

  private void add(FrameFile file, Message message, double explained) {
    causes.add(new Cause(message, file.layer(), share(explained)));
  }

  private double share(double explained) {
    return first > 0 ? Math.max(0, explained / first) : Double.NaN;
  }

  private List<FrameFile> of(List<String> names) {
    return now.layers(l -> names.contains(l.layer()));
  }

  /** Whether a layer has the frame's size, so that its pixels can be told from the frame. */
  private boolean isComparable(FrameFile file) {
    return file.picture().sameSize(now.uncut().picture());
  }

  private void run(List<String> suspects) throws IOException {
    if (suspects.contains(now.uncut().layer())) {
      uncut(suspects);
    }
    for (FrameFile l : of(suspects)) {
      header(l, suspects);
    }
    exchanged(suspects);
    for (FileFrame.Where where : FileFrame.Where.values()) {
      // where a layer is missing, nothing else can be blamed for what is not there
      boolean isSure =
          where != FileFrame.Where.ANY || of(suspects).stream().noneMatch(FrameFile::isMissing);
      while (isSure && undone(suspects, where)) {}
      while (isSure && where != FileFrame.Where.SOLID && lost(suspects, where)) {}
    }
    for (FrameFile l : of(suspects)) {
      if (l.standing() == FrameFile.Standing.CHANGED && !l.isNamed()) {
        changed(l, suspects);
      }
    }
    for (FrameFile l : of(suspects)) {
      rest(l, suspects);
    }
  }

  /** What the header of a file says, and what putting that right explains. */
  private void header(FrameFile file, List<String> suspects) throws IOException {
    boolean[] leftOut = file.leftOut();
    if (leftOut != null && now.residual(leftOut) > NOTHING * first) {
      Message message = Message.of(Sentence.FILE_CROPPED, "file", file.path());
      tell(file, message, within(file, leftOut), now.residual(inverse(leftOut)) == 0);
    }
    for (Message message : file.told()) {
      FrameFile own = now.file(file.layer());
      if (file.isMissing()) {
        tell(own, message, mended(own, suspects, FileFrame.Where.ANY), false);
      } else if (file.isWithoutAlpha() && message.sentence() == Sentence.FILE_ALPHA) {
        alpha(own, message);
      } else {
        tell(own, message, own.picture(), false);
      }
    }
  }

  /** Puts back an alpha that a file lacks: what covers a pixel and is no other layer's. */
  private void alpha(FrameFile file, Message message) throws IOException {
    Picture should = isComparable(file) ? now.expected(now.place(file)) : file.picture();
    Picture out = file.picture().copy();
    for (int i = 3; i < out.rgba().length; i += 4) {
      out.rgba()[i] = Math.max(0, Math.min(1, should.rgba()[i]));
    }
    boolean helps = now.with(file.with(out, true)).residual() < now.residual();
    tell(file, message, out, helps);
  }

  /** A file that is not what was rendered, of which nothing more is known. */
  private void changed(FrameFile file, List<String> suspects) throws IOException {
    boolean isWrong =
        !isComparable(file)
            || now.residual(now.own(file, of(suspects), FileFrame.Where.ANY)) > NOTHING * first;
    if (first <= 0 || !isWrong) {
      // the same pixels, packed in another way
      now = now.with(file.named());
      causes.add(
          new Cause(Message.of(Sentence.FILE_REWRITTEN, "file", file.path()), file.layer(), 0));
      return;
    }
    Message copy = copyOf(file);
    Message message = copy == null ? Message.of(Sentence.FILE_CHANGED, "file", file.path()) : copy;
    tell(file, message, mended(file, suspects, FileFrame.Where.ANY), false);
  }

  /** The message if the file's bytes are those of another file of the delivery; else null. */
  private @Nullable Message copyOf(FrameFile file) {
    Delivery.Entry other = original(file);
    return other == null
        ? null
        : Message.of(Sentence.FILE_EXCHANGED, "file", file.path(), "other", other.path());
  }

  /** The file of the delivery that a file is a copy of; null if it is none. */
  private Delivery.@Nullable Entry original(FrameFile file) {
    return now.delivery().files().stream()
        .filter(f -> f.sha256().equals(file.digest()) && !f.path().equals(file.path()))
        .findFirst()
        .orElse(null);
  }

  /** Layers in one another's place, and files that are copies of others. */
  private void exchanged(List<String> suspects) throws IOException {
    for (FrameFile each : of(suspects)) {
      FrameFile a = now.file(each.layer());
      Message copy = a.isMissing() || a.isNamed() ? null : copyOf(a);
      if (copy == null) {
        continue;
      }
      FrameFile b = placeOf(original(a), of(suspects));
      FrameFile back = b == null ? null : placeOf(original(b), of(suspects));
      if (b != null && back != null && back.layer().equals(a.layer())) {
        double before = now.residual();
        now = now.with(a.with(b.picture(), true).named());
        now = now.with(b.with(a.picture(), true).named());
        add(a, copy, before - now.residual());
        add(b, Message.of(Sentence.FILE_EXCHANGED, "file", b.path(), "other", a.path()), 0);
      } else if (byRecord(suspects)) {
        tell(a, copy, mended(a, suspects, FileFrame.Where.SHOWN), false);
      } else {
        tell(a, copy, mended(a, List.of(a.layer()), FileFrame.Where.ANY), false);
      }
    }
  }

  private static @Nullable FrameFile placeOf(
      Delivery.@Nullable Entry entry, List<FrameFile> suspects) {
    return suspects.stream()
        .filter(l -> entry != null && l.path().equals(entry.path()))
        .findFirst()
        .orElse(null);
  }

  /** Returns a layer with what should be there in its own pixels. */
  private Picture mended(FrameFile file, List<String> suspects, FileFrame.Where where)
      throws IOException {
    if (!isComparable(file)) {
      return file.picture();
    }
    return within(file, now.own(file, of(suspects), where));
  }

  private static boolean[] inverse(boolean[] of) {
    boolean[] out = new boolean[of.length];
    for (int p = 0; p < out.length; p++) {
      out[p] = !of[p];
    }
    return out;
  }

  /** Returns a layer with what should be there in some pixels. */
  private Picture within(FrameFile file, boolean[] own) throws IOException {
    Picture should = now.expected(now.place(file));
    Picture out = file.picture().copy();
    for (int p = 0; p < own.length; p++) {
      if (own[p]) {
        System.arraycopy(should.rgba(), 4 * p, out.rgba(), 4 * p, 4);
      }
    }
    return out;
  }

  /** Adds to a named layer's share what is left of the residual in its pixels. */
  private void rest(FrameFile file, List<String> suspects) throws IOException {
    if (file.isMended() || !file.isNamed() || now.residual() <= 0) {
      return;
    }
    double before = now.residual();
    now = now.with(file.with(mended(file, suspects, FileFrame.Where.ANY), false));
    double more = share(before - now.residual());
    for (int k = 0; k < causes.size() && more > 0; k++) {
      Cause c = causes.get(k);
      if (c.layer().equals(file.layer())) {
        causes.set(k, c.withShare(c.share() + more));
        break;
      }
    }
  }

  // ---- changes that can be undone

  /**
   * A change that was undone.
   *
   * @param quality share of what is wrong with the layer that is gone then
   */
  private record Undone(FrameFile file, Message message, Picture mended, double quality) {}

  /** Undoes the change that explains most of what is wrong with a layer, if one does. */
  private boolean undone(List<String> suspects, FileFrame.Where where) throws IOException {
    List<FrameFile> all = of(suspects);
    List<FrameFile> open =
        all.stream().filter(l -> !l.isNamed() && !l.isMissing() && isComparable(l)).toList();
    List<Optional<Undone>> tried;
    try {
      tried = open.parallelStream().map(l -> undone(l, all, where)).toList();
    } catch (UncheckedIOException e) {
      throw e.getCause();
    }
    Undone best = null;
    for (Optional<Undone> each : tried) {
      best = each.isPresent() && isBetter(each.get(), best) ? each.get() : best;
    }
    if (best == null) {
      return false;
    }
    tell(best.file, best.message, best.mended, true);
    return true;
  }

  private static boolean isBetter(Undone next, @Nullable Undone best) {
    return next.quality > (best == null ? ENOUGH : best.quality) + 1e-3;
  }

  private Optional<Undone> undone(FrameFile file, List<FrameFile> suspects, FileFrame.Where where) {
    FileFrame.Place place;
    try {
      boolean[] own = now.own(file, suspects, where);
      if (now.residual(own) <= NOTHING * first) {
        return Optional.empty();
      }
      place = now.place(file);
      if (!place.shows()) {
        return Optional.empty();
      }
      double all = now.residual(place.now(), own);
      Undone best = null;
      for (FileChange c : changes(file, now.expected(place), own)) {
        goOn();
        Picture next = c.undo().apply(file.picture());
        boolean[] within = where == FileFrame.Where.SOLID ? FileFrame.solid(next, own) : own;
        double before = where == FileFrame.Where.SOLID ? now.residual(place.now(), within) : all;
        double explained =
            before < all / 4 ? 0 : 1 - now.residual(place.rejoined(next), within) / before;
        Undone each = new Undone(file, c.message(file.path()), next, explained);
        best = isBetter(each, best) ? each : best;
      }
      return Optional.ofNullable(best);
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  private List<FileChange> changes(FrameFile file, Picture should, boolean[] own) {
    List<FileChange> out = new ArrayList<>(FileChange.all());
    FrameFile.Window window = file.window();
    if (window != null && file.isMoved()) {
      String amount = "%d, %d".formatted(window.box().minX(), window.box().minY());
      out.addFirst(new FileChange(Sentence.FILE_MOVED, amount, p -> file.movedBack()));
    }
    out.addAll(FileChange.fitted(file.picture(), should, own));
    return out;
  }

  // ---- the uncut frame

  /**
   * Whether the uncut frame's file is the one that was changed: by its record, or as one change of
   * it explains what would take a change of every layer.
   */
  private void uncut(List<String> suspects) throws IOException {
    FrameFile file = now.uncut();
    boolean byRecord = file.standing() == FrameFile.Standing.CHANGED;
    boolean alone = suspects.size() == 1;
    boolean several =
        of(suspects).stream()
                .filter(this::isComparable)
                .filter(l ->
                    now.residual(now.own(l, of(suspects), FileFrame.Where.SOLID)) > NOTHING * first)
                .count()
            > 1;
    Picture should = now.rejoined().picture();
    if (first <= 0) {
      if (byRecord) {
        causes.add(
            new Cause(Message.of(Sentence.FILE_REWRITTEN, "file", file.path()), file.layer(), 0));
      }
      return;
    }
    if (!byRecord && !several) {
      return;
    }
    Undone best = null;
    for (FileChange c : changes(file, should, now.all())) {
      goOn();
      Picture next = c.undo().apply(file.picture());
      double rest = now.with(file.with(next, true)).residual();
      Undone each = new Undone(file, c.message(file.path()), next, 1 - rest / first);
      best = each.quality > (best == null ? SURELY : best.quality) + 1e-3 ? each : best;
    }
    if (best != null) {
      tell(file, best.message, best.mended, true);
      return;
    }
    FileLosses.Found lost = FileLosses.of(file.picture(), should, now.all());
    if (lost != null && (byRecord || lost.explained() > SURELY)) {
      tell(file, lost.message(file.path()), should, true);
    } else if (byRecord) {
      Message message = Message.of(Sentence.FILE_CHANGED, "file", file.path());
      // where layers are wrong, too, what the frame should be is not known
      tell(file, message, alone ? should : file.picture(), alone);
    }
  }

  // ---- changes that lose something

  /** Whether records tell which files are not as they were; else any may be wrong, or none. */
  private boolean byRecord(List<String> suspects) {
    return of(suspects).stream().anyMatch(l -> l.standing() != FrameFile.Standing.FOREIGN);
  }

  /** Recognises the change that loses something for which there is most evidence, if any. */
  private boolean lost(List<String> suspects, FileFrame.Where where) throws IOException {
    FrameFile best = null;
    Message told = null;
    double most = 0;
    for (FrameFile l : of(suspects)) {
      goOn();
      if (l.isNamed() || l.isMissing() || !isComparable(l)) {
        continue;
      }
      boolean[] own = now.own(l, of(suspects), where);
      boolean isWrong = now.residual(own) > NOTHING * first;
      // few levels, or edges that alpha does not fit, tell without anything to compare with
      Message found =
          isWrong || l.standing() == FrameFile.Standing.CHANGED || !byRecord(suspects)
              ? FileLosses.itself(l.path(), l.picture())
              : null;
      found = found == null && isWrong ? otherFrame(l) : found;
      double explained = 1;
      if (found == null && isWrong) {
        FileFrame.Place place = now.place(l);
        FileLosses.Found evidence =
            place.shows() ? FileLosses.of(l.picture(), now.expected(place), own) : null;
        found = evidence == null ? null : evidence.message(l.path());
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
    tell(best, told, mended(best, suspects, where), false);
    return true;
  }

  /** Whether a file shows what the layer is at another frame. */
  private @Nullable Message otherFrame(FrameFile file) throws IOException {
    Delivery delivery = now.delivery();
    List<Integer> near =
        delivery.frames().stream()
            .filter(f -> f != now.frame())
            .sorted(Comparator.comparingInt(f -> Math.abs(f - now.frame())))
            .limit(NEAR_FRAMES)
            .toList();
    for (int f : near) {
      Optional<Delivery.Entry> entry = delivery.held(file.layer(), f);
      if (entry.isPresent() && !entry.get().path().equals(file.path())) {
        FrameFile other = now.file(file.layer(), f);
        if (!other.isMissing() && isSame(other.picture(), file.picture())) {
          return Message.of(Sentence.FILE_OTHER_FRAME, "file", file.path(), "amount", f);
        }
      }
    }
    return null;
  }

  private static boolean isSame(Picture a, Picture b) {
    return a.sameSize(b) && DeliveryComparison.tolerance(a).excess(b, a) == 0;
  }
}
