package org.wedgecutter.app.shell;

import java.util.List;
import javafx.application.Platform;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.wedgecutter.app.live.LiveCauses;
import org.wedgecutter.app.live.Pictures;
import org.wedgecutter.app.model.Session;
import org.wedgecutter.app.viewer.EvidencePanel;
import org.wedgecutter.core.check.Finding;
import org.wedgecutter.core.check.PlanCheck;
import org.wedgecutter.core.proof.BeforeAfter;
import org.wedgecutter.core.proof.Cause;
import org.wedgecutter.core.proof.CauseSearch;

/**
 * What the window says of the proof: the chip, and the causes below the picture. They are read off
 * the plan at first, with shares by the objects that the residual lies on; then they are measured.
 */
final class ProofDesk implements AutoCloseable {
  private static final Logger LOG = LoggerFactory.getLogger(ProofDesk.class);

  private final WindowBench bench;
  private final TopBar top;
  private final FindingsBar foot;
  private final LiveCauses measure =
      new LiveCauses(m -> Platform.runLater(() -> take(m)), e -> LOG.error("measuring causes", e));
  private LiveCauses.@Nullable Measured last;
  private @Nullable Pictures latest;

  /**
   * @param bench opens the evidence and mends
   */
  ProofDesk(WindowBench bench, TopBar top, FindingsBar foot) {
    this.bench = bench;
    this.top = top;
    this.foot = foot;
    foot.setCauseActions(this::fixOf, this::show);
  }

  /** Shows the proof of pictures that are complete. */
  void show(Session s, Pictures pictures) {
    List<Cause> found = pictures.causes();
    LiveCauses.Measured known = last;
    if (known != null
        && known.plan().equals(pictures.plan())
        && known.frame() == pictures.frame()
        && !found.isEmpty()) {
      tell(pictures, known.causes());
      return;
    }
    top.setProof(pictures, found.size());
    // smaller pictures are there in no time, and an edit is often followed by another one
    boolean enough =
        pictures.width() == s.plan().requireShot().width() && pictures.plan().equals(s.plan());
    foot.setCauses(found);
    if (enough) {
      measure.measure(s.shot(), s.frame(), found);
    }
    latest = pictures;
  }

  private void take(LiveCauses.Measured measured) {
    last = measured;
    Session s = bench.session();
    Pictures pictures = latest;
    if (s != null
        && pictures != null
        && s.plan().equals(measured.plan())
        && s.frame() == measured.frame()) {
      tell(pictures, measured.causes());
    }
  }

  private void tell(Pictures pictures, CauseSearch.Ranked ranked) {
    top.setProof(pictures, ranked.causes().size());
    foot.setCauses(ranked);
    latest = pictures;
  }

  /** An edit came: what is measured is of the plan before. */
  void planChanged() {
    measure.stop();
  }

  /** Returns the fix of a cause, or null if the TD must decide. */
  private Finding.@Nullable Fix fixOf(Cause cause) {
    Session s = bench.session();
    return s == null ? null : PlanCheck.fix(s.plan(), s.shot().members(), s.resolved(), cause);
  }

  private void show(Cause cause, BeforeAfter evidence) {
    Finding.Fix fix = fixOf(cause);
    bench.openDrawer(
        "Before and after",
        new EvidencePanel(
            cause,
            evidence,
            "low-resolution trace, few samples",
            fix == null
                ? null
                : () -> {
                  bench.closeDrawer();
                  bench.fix(fix);
                }));
  }

  @Override
  public void close() {
    measure.close();
  }
}
