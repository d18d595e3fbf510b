package org.wedgecutter.app.shell;

import java.util.function.Consumer;
import javafx.geometry.Pos;
import javafx.scene.control.Button;
import javafx.scene.control.Label;
import javafx.scene.control.ProgressBar;
import javafx.scene.control.ScrollPane;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.Region;
import javafx.scene.layout.VBox;
import org.wedgecutter.app.panel.DetailPanel;
import org.wedgecutter.app.theme.Theme;
import org.wedgecutter.core.propose.Proposal;
import org.wedgecutter.core.survey.Times;

/**
 * Proposed cuts side by side: layers with their reasons, hours, and what each lets one change. They
 * arrive one by one; none moves when another arrives, since a pointer may be on its button.
 */
final class ProposalPanel extends VBox {
  private static final double CARD = 290;
  private static final double BAR = 200;
  private static final double HEAD = 30;

  private final ProgressBar bar = new ProgressBar(0);
  private final Label state = new Label("Reading the shot, then tracing each cut…");
  private final Button cancel = new Button("Stop");
  private final HBox cards = new HBox(12);
  private final Consumer<Proposal> take;

  /**
   * @param stop stops the proposal and closes the panel
   * @param take puts a cut into the plan
   */
  ProposalPanel(Runnable stop, Consumer<Proposal> take) {
    this.take = take;
    setSpacing(10);
    getStyleClass().add("drawer-body");
    bar.setId("proposal-progress");
    bar.setPrefWidth(BAR);
    bar.setMinHeight(8);
    state.setId("proposal-state");
    cancel.setId("proposal-stop");
    cancel.setMinWidth(USE_PREF_SIZE);
    cancel.setOnAction(e -> stop.run());
    HBox head = new HBox(12, cancel, bar, state);
    head.setAlignment(Pos.CENTER_LEFT);
    head.setMinHeight(HEAD);
    head.setMaxHeight(HEAD);
    cancel.managedProperty().bind(cancel.visibleProperty());
    bar.managedProperty().bind(bar.visibleProperty());
    ScrollPane scroll = new ScrollPane(cards);
    scroll.getStyleClass().add("detail-scroll");
    VBox.setVgrow(scroll, Priority.ALWAYS);
    getChildren().addAll(head, scroll);
  }

  void progress(double share) {
    bar.setProgress(Math.max(bar.getProgress(), share));
  }

  /** Says that there will be no proposal. */
  void stopped(String why) {
    bar.setVisible(false);
    state.setText(why.isEmpty() ? "Stopped." : why);
  }

  /** Shows one proposal more; the first is the one to take if in doubt. */
  void add(Proposal p) {
    cards.getChildren().add(card(p, cards.getChildren().size()));
    state.setText("Previewing the next cut…");
  }

  /** Says that there are no more. */
  void done() {
    bar.setVisible(false);
    cancel.setVisible(false);
    state.setText("If in doubt, use the first one.");
  }

  private VBox card(Proposal p, int number) {
    VBox card = new VBox(5);
    card.getStyleClass().add("proposal");
    card.setId("proposal-" + number);
    card.setMinWidth(CARD);
    card.setMaxWidth(CARD);
    Label title = new Label(p.title());
    title.getStyleClass().add("headline");
    Label proof = new Label(p.proof().exact() ? "rejoins exactly" : inexact(p.proof()));
    proof.getStyleClass().add(p.proof().exact() ? "good" : "trouble");
    Button button = new Button("Use this cut");
    button.setId("proposal-take-" + number);
    button.setOnAction(e -> take.accept(p));
    card.getChildren()
        .addAll(
            title,
            number(
                "%s  (%s to %s)"
                    .formatted(
                        Times.words(p.shot().middle()),
                        Times.words(p.shot().low()),
                        Times.words(p.shot().high()))),
            proof,
            wrapped(p.summary()));
    for (int l = 0; l < p.layers().size(); l++) {
      Proposal.Reason r = p.layers().get(l);
      Region mark = new Region();
      mark.setMinSize(10, 10);
      mark.setMaxSize(10, 10);
      mark.setStyle(
          "-fx-background-color: " + Theme.web(Theme.hue(p.plan().layers().get(l).hue())) + ";");
      Label name = new Label(r.layer());
      Region gap = new Region();
      HBox.setHgrow(gap, Priority.ALWAYS);
      HBox line = new HBox(6, mark, name, gap, number(Times.words(r.seconds().middle())));
      line.setAlignment(Pos.CENTER_LEFT);
      card.getChildren()
          .addAll(line, wrapped(r.text()), DetailPanel.dim("free in comp: " + r.comp().text()));
    }
    Label later = new Label("Cost of later changes");
    later.getStyleClass().add("headline");
    card.getChildren().add(later);
    for (Proposal.Later c : p.later()) {
      card.getChildren()
          .add(
              wrapped(
                  "%s: re-render %d of %d, %s"
                      .formatted(
                          c.change(),
                          c.layers().size(),
                          c.of(),
                          Times.words(c.seconds().middle()))));
    }
    card.getChildren().add(4, button);
    return card;
  }

  private static String inexact(Proposal.Proof proof) {
    return "max residual %.2g, %.1f %% of pixels".formatted(proof.max(), proof.beyond() * 100);
  }

  private static Label number(String text) {
    Label label = new Label(text);
    label.getStyleClass().add("number");
    label.setMinWidth(USE_PREF_SIZE);
    return label;
  }

  private static Label wrapped(String text) {
    Label label = DetailPanel.dim(text);
    label.setWrapText(true);
    label.setMinHeight(USE_PREF_SIZE);
    return label;
  }
}
