package org.wedgecutter.core.deliver.check;

import java.io.IOException;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.concurrent.CancellationException;
import java.util.function.BooleanSupplier;
import java.util.function.Predicate;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.deliver.Delivery;
import org.wedgecutter.core.deliver.file.DeliveryPictures;
import org.wedgecutter.core.image.Region;
import org.wedgecutter.core.mistake.Message;
import org.wedgecutter.core.mistake.Mistake;
import org.wedgecutter.core.mistake.Sentence;
import org.wedgecutter.core.plan.FileNames;
import org.wedgecutter.core.plan.Property;
import org.wedgecutter.core.proof.BeforeAfter;
import org.wedgecutter.core.proof.Cause;
import org.wedgecutter.core.proof.FrameLight;
import org.wedgecutter.core.proof.ResidualSum;
import org.wedgecutter.core.render.FrameBands;

/**
 * The proof of a delivery's frame. A large frame is compared band by band, and only bands that do
 * not rejoin are searched for causes, each on its own: so it takes no more memory than a band's
 * files. The shares of a cause in the bands are added up, weighed by what is wrong with each. What
 * was done to a file is taken from the band in which most is wrong: where less is, it is recognised
 * less surely, and counts as the same. What was moved or mirrored from one band into another is not
 * recognised then.
 */
final class FrameSearch {
  private final Delivery delivery;
  private final int frame;
  private final boolean traces;
  private final BooleanSupplier stopped;
  private final Digests digests = new Digests();
  private final Map<Key, Cause> causes = new LinkedHashMap<>();
  private final Map<Key, BeforeAfter> evidence = new LinkedHashMap<>();

  private FrameSearch(Delivery delivery, int frame, boolean traces, BooleanSupplier stopped) {
    this.delivery = delivery;
    this.frame = frame;
    this.traces = traces;
    this.stopped = stopped;
  }

  /** What makes two causes one: numbers that are not finite are counted together. */
  private record Key(Sentence sentence, String layer, @Nullable Message message) {
    static Key of(Cause c) {
      return new Key(c.message().sentence(), c.layer(), isCount(c) ? null : c.message());
    }
  }

  private static boolean isCount(Cause c) {
    Sentence told = c.message().sentence();
    return told == Sentence.HALF_RANGE || told == Sentence.FILE_INVALID;
  }

  /** Whether it tells what was done to a file. */
  private static boolean isChange(Cause c) {
    return c.kind() == Mistake.FILE_ALTERED || c.kind() == Mistake.FILE_CHANGED;
  }

  /**
   * Proves a frame.
   *
   * @param traces whether the plan is traced, to measure what its mistakes explain
   * @param bandPixels of a band, about
   */
  static DeliveryProof proof(
      Delivery delivery, int frame, boolean traces, int bandPixels, BooleanSupplier stopped)
      throws IOException {
    FrameSearch search = new FrameSearch(delivery, frame, traces, stopped);
    return search.proof(search.bands(bandPixels));
  }

  /** The bands of the frame; one where a layer has lines of its own. */
  private List<Region> bands(int pixels) {
    boolean isSized =
        delivery.plan().layers().stream().anyMatch(l -> l.setting(Property.SIZE).isPresent());
    return isSized
        ? List.of(delivery.region())
        : FrameBands.of(delivery.region(), FrameBands.LINES, pixels);
  }

  private DeliveryProof proof(List<Region> bands) throws IOException {
    FrameLight light = bands.size() > 1 ? light(bands) : null;
    ResidualSum sum = new ResidualSum();
    DeliveredPlan plan = new DeliveredPlan(delivery, frame, stopped);
    List<DeliverySearch.Found> found = new ArrayList<>();
    for (int b = 0; b < bands.size(); b++) {
      goOn();
      Region part = bands.get(b);
      FileFrame band = FileFrame.read(delivery, frame, part, light, digests);
      sum.add(band.rejoined(), band.tolerance(), part.y() - delivery.region().y());
      boolean isLast = b == bands.size() - 1 && found.isEmpty();
      if (band.residual() > 0 || isLast) {
        // where all rejoin, the last one tells which files are not those of their records
        found.add(DeliverySearch.of(band, plan, traces, digests, stopped));
      }
    }
    double all = found.stream().mapToDouble(DeliverySearch.Found::residual).sum();
    // counted from the top, where the first of them is
    found.forEach(f -> add(f, all, FrameSearch::isCount));
    found.sort(Comparator.comparingDouble(f -> -f.residual()));
    found.forEach(f -> add(f, all, c -> !isCount(c)));
    double unexplained = found.stream().mapToDouble(f -> weight(f, all) * f.unexplained()).sum();
    return proved(sum, unexplained);
  }

  private FrameLight light(List<Region> bands) throws IOException {
    FrameLight out = new FrameLight();
    for (Region part : bands) {
      out.add(DeliveryPictures.picture(delivery, part, FileNames.UNCUT, true, frame));
    }
    return out;
  }

  private static double weight(DeliverySearch.Found band, double all) {
    return all > 0 ? band.residual() / all : 1;
  }

  private void add(DeliverySearch.Found band, double all, Predicate<Cause> which) {
    Map<Key, Cause> before = Map.copyOf(causes);
    for (Cause cause : band.causes()) {
      if (which.test(cause)) {
        Key key = isChange(cause) ? change(cause, before) : Key.of(cause);
        Cause weighed = cause.withShare(weight(band, all) * cause.share());
        causes.merge(key, weighed, FrameSearch::sum);
        BeforeAfter pictures = band.evidence().get(cause);
        if (pictures != null) {
          evidence.putIfAbsent(key, pictures);
        }
      }
    }
  }

  /** The same change, or else the largest that other bands told of the same file. */
  private static Key change(Cause cause, Map<Key, Cause> before) {
    Key own = Key.of(cause);
    return before.containsKey(own)
        ? own
        : before.entrySet().stream()
            .filter(c -> c.getKey().layer.equals(cause.layer()) && isChange(c.getValue()))
            .max(Comparator.comparingDouble(c -> c.getValue().share()))
            .map(Map.Entry::getKey)
            .orElse(own);
  }

  private static Cause sum(Cause a, Cause b) {
    double share = Double.isNaN(a.share()) ? b.share() : a.share();
    share += Double.isNaN(a.share()) || Double.isNaN(b.share()) ? 0 : b.share();
    if (!isCount(a)) {
      return a.withShare(share);
    }
    Map<String, Object> both = new LinkedHashMap<>(a.message().arguments());
    int count =
        (Integer) Objects.requireNonNull(both.get("count"))
            + (Integer) Objects.requireNonNull(b.message().arguments().get("count"));
    both.put("count", count);
    return new Cause(new Message(a.message().sentence(), both), a.layer(), share);
  }

  private DeliveryProof proved(ResidualSum sum, double unexplained) {
    // a file whose pixels are as they were in one band may have been changed in another
    causes.entrySet().removeIf(c -> isNote(c.getKey()) && isAccused(c.getKey().layer));
    List<Cause> out = new ArrayList<>(causes.values());
    out.sort(Comparator.comparingDouble(c -> c.isMeasured() ? -c.share() : 1));
    Map<Cause, BeforeAfter> pictures = new LinkedHashMap<>();
    causes.forEach((key, cause) -> {
      BeforeAfter own = evidence.get(key);
      if (own != null) {
        pictures.put(cause, own);
      }
    });
    return new DeliveryProof(frame, sum.residual(), out, unexplained, pictures);
  }

  private static boolean isNote(Key key) {
    return key.sentence == Sentence.FILE_REWRITTEN;
  }

  private boolean isAccused(String layer) {
    return causes.keySet().stream().anyMatch(k -> k.layer.equals(layer) && !isNote(k));
  }

  private void goOn() {
    if (stopped.getAsBoolean()) {
      throw new CancellationException("the proof was stopped");
    }
  }
}
