package org.wedgecutter.app.station.rejoin;

import java.nio.file.Path;
import java.util.List;
import java.util.function.BiConsumer;
import java.util.function.IntSupplier;
import java.util.function.Supplier;
import javafx.geometry.Pos;
import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.Label;
import javafx.scene.layout.FlowPane;
import javafx.scene.layout.HBox;
import javafx.scene.layout.VBox;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.app.panel.DetailPanel;
import org.wedgecutter.app.panel.Entry;
import org.wedgecutter.app.viewer.EvidencePanel;
import org.wedgecutter.core.deliver.check.DeliveryProof;
import org.wedgecutter.core.proof.BeforeAfter;
import org.wedgecutter.core.proof.Cause;

/** The choice of the delivery whose files are shown, and what a proof says of them. */
final class InViewPanel extends VBox {
  /** Share of the residual above which a line of its own says that nothing explains it. */
  private static final double UNEXPLAINED = 1e-3;

  /**
   * @param drawer shows something under a title
   * @param found finds deliveries beside the plan
   * @param ask asks for another one
   * @param frame tells the frame that is shown
   */
  InViewPanel(
      DeliveryInView shown,
      BiConsumer<String, Node> drawer,
      Supplier<List<Path>> found,
      Supplier<@Nullable Path> ask,
      IntSupplier frame) {
    super(6);
    DeliveryChoice choice = new DeliveryChoice("files-delivery", found, -1);
    Path now = shown.folder();
    if (now != null) {
      choice.add(now);
      choice.setValue(now);
    }
    choice.setAccessibleText("delivery");
    choice.setOnAction(e -> {
      Path chosen = choice.getValue();
      if (chosen != null && !chosen.equals(shown.folder())) {
        shown.show(chosen);
      }
    });
    Button other = button("files-other", "Other…");
    other.setOnAction(e -> {
      Path chosen = ask.get();
      if (chosen != null) {
        shown.show(chosen);
      }
    });
    Button none = button("files-none", "Show none");
    none.setDisable(now == null);
    none.setOnAction(e -> shown.show(null));
    Button prove = button("files-prove", shown.isProving() ? "Stop" : "Prove this frame");
    prove.setDisable(!shown.isThere());
    prove.setOnAction(e -> {
      if (shown.isProving()) {
        shown.stop();
      } else {
        shown.prove(frame.getAsInt());
      }
    });
    FlowPane line = new FlowPane(8, 6, Entry.named("delivery", choice), other, none, prove);
    line.setAlignment(Pos.CENTER_LEFT);
    getChildren().add(line);
    if (!shown.told().isEmpty()) {
      Label told = line("files-told", shown.told());
      told.getStyleClass().add("dim");
      getChildren().add(told);
    }
    if (!shown.said().isEmpty()) {
      getChildren().add(line("files-proof", shown.said()));
    }
    DeliveryProof proof = shown.proof();
    if (proof != null) {
      causes(proof, drawer);
    }
    getChildren()
        .add(
            DetailPanel.note(
                "Files (key 7) shows the delivered files, rejoined with this plan's recipe; W"
                    + " wipes them against the traced picture. The proof puts them together by the"
                    + " recipe that was delivered with them."));
  }

  private void causes(DeliveryProof proof, BiConsumer<String, Node> drawer) {
    for (int k = 0; k < proof.causes().size(); k++) {
      Cause cause = proof.causes().get(k);
      BeforeAfter evidence = proof.evidence().get(cause);
      String share =
          cause.isMeasured() ? "%.0f %%: ".formatted(100 * cause.share()) : "Suspected: ";
      HBox line = new HBox(8, line("files-cause-" + k, share + cause.text() + "; " + cause.fix()));
      line.setAlignment(Pos.CENTER_LEFT);
      if (evidence != null) {
        Button show = button("files-show-" + k, "Show");
        show.setMinWidth(USE_PREF_SIZE);
        show.setOnAction(e ->
            drawer.accept(
                "Before and after",
                new EvidencePanel(cause, evidence, "from the files, reduced", null)));
        line.getChildren().addFirst(show);
      }
      getChildren().add(line);
    }
    if (proof.unexplained() > UNEXPLAINED) {
      getChildren()
          .add(
              line(
                  "files-unexplained",
                  "%.0f %%: unexplained".formatted(100 * proof.unexplained())));
    }
  }

  private static Label line(String id, String text) {
    Label out = new Label(text);
    out.setId(id);
    out.setWrapText(true);
    return out;
  }

  private static Button button(String id, String text) {
    Button out = new Button(text);
    out.setId(id);
    return out;
  }
}
