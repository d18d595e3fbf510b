package org.wedgecutter.app.station.rejoin;

import java.nio.file.Path;
import java.util.List;
import java.util.function.IntSupplier;
import java.util.function.Supplier;
import javafx.geometry.Pos;
import javafx.scene.control.Button;
import javafx.scene.control.Label;
import javafx.scene.layout.FlowPane;
import javafx.scene.layout.VBox;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.app.panel.DetailPanel;
import org.wedgecutter.app.panel.Entry;

/** The choice of the delivery whose files are shown, and what a proof says of them. */
final class InViewPanel extends VBox {
  /**
   * @param found finds deliveries beside the plan
   * @param ask asks for another one
   * @param frame tells the frame that is shown
   */
  InViewPanel(
      DeliveryInView shown,
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
      Label told = DetailPanel.dim(shown.told());
      told.setId("files-told");
      told.setWrapText(true);
      getChildren().add(told);
    }
    Label proof = new Label(String.join("\n", shown.proof()));
    proof.setId("files-proof");
    proof.setWrapText(true);
    proof.setManaged(!shown.proof().isEmpty());
    getChildren()
        .addAll(
            proof,
            DetailPanel.note(
                "Files (key 7) shows the delivered files, put together by the recipe of this plan; W"
                    + " wipes them against the traced picture. The proof puts them together by the"
                    + " recipe that was delivered with them."));
  }

  private static Button button(String id, String text) {
    Button out = new Button(text);
    out.setId(id);
    return out;
  }
}
