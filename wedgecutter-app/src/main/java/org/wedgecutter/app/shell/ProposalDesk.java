package org.wedgecutter.app.shell;

import java.util.concurrent.CancellationException;
import javafx.application.Platform;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.wedgecutter.app.model.Session;
import org.wedgecutter.app.panel.Banner;
import org.wedgecutter.app.panel.Bench;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.propose.Proposal;
import org.wedgecutter.core.propose.Proposer;
import org.wedgecutter.core.survey.Surveyor;

/** Has first cuts proposed in the background, and puts one into the plan. */
final class ProposalDesk implements AutoCloseable {
  private static final Logger LOG = LoggerFactory.getLogger(ProposalDesk.class);

  private final Bench bench;
  private @Nullable Proposer running;

  ProposalDesk(Bench bench) {
    this.bench = bench;
  }

  /** Offers to propose a cut, if a shot was opened that has none. */
  void offer(Session s) {
    close();
    if (!s.kept() && isUncut(s.plan()) && s.shot().scene().entities().size() > 1) {
      bench.offer(
          "This scene has no cut yet.",
          new Banner.Choice("propose", "Propose a cut…", this::propose),
          new Banner.Choice("propose-not", "Start from scratch", () -> {}));
    }
  }

  private static boolean isUncut(Plan plan) {
    return plan.collections().isEmpty() && plan.layers().size() <= 1;
  }

  /** Proposes cuts of the open shot and shows them. */
  void propose() {
    Session s = bench.session();
    if (s == null) {
      return;
    }
    close();
    LoadedShot shot = s.shot();
    ProposalPanel panel = new ProposalPanel(this::stopAndHide, p -> take(s, p));
    // whoever closes the drawer, or takes a cut, does not wait for the others
    panel
        .sceneProperty()
        .addListener((o, before, now) -> {
          if (now == null) {
            close();
          }
        });
    bench.openDrawer("Proposed cuts", panel);
    Proposer proposer = new Proposer(shot, Surveyor.quick(shot, 0));
    running = proposer;
    Thread.ofPlatform()
        .name("propose")
        .daemon()
        .start(() -> {
          try {
            proposer.propose(
                share -> Platform.runLater(() -> panel.progress(share)),
                p -> Platform.runLater(() -> show(proposer, panel, p)));
            Platform.runLater(panel::done);
          } catch (CancellationException e) {
            Platform.runLater(() -> panel.stopped(""));
          } catch (Throwable e) {
            LOG.error("proposing", e);
            Platform.runLater(() -> panel.stopped("Could not propose a cut: " + Trouble.words(e)));
          }
        });
  }

  private void show(Proposer of, ProposalPanel panel, Proposal p) {
    if (of.equals(running)) {
      panel.add(p);
    }
  }

  private void take(Session s, Proposal p) {
    if (s.equals(bench.session())) {
      Plan cut = p.plan();
      bench.edit(
          "proposal: " + p.title(),
          plan ->
              plan.withCollections(cut.collections())
                  .withLayers(cut.layers())
                  .withRecipe(cut.recipe()));
      bench.closeDrawer();
    }
  }

  private void stopAndHide() {
    close();
    bench.closeDrawer();
  }

  /** Stops what runs; late results are dropped. */
  @Override
  public void close() {
    Proposer p = running;
    running = null;
    if (p != null) {
      p.stop();
    }
  }
}
