package org.wedgecutter.app.station.cut;

import java.util.List;
import java.util.function.Consumer;
import java.util.function.IntConsumer;
import javafx.geometry.Pos;
import javafx.scene.control.Button;
import javafx.scene.control.Label;
import javafx.scene.layout.HBox;
import javafx.scene.layout.VBox;
import org.wedgecutter.core.check.Finding;
import org.wedgecutter.core.check.SeenTable;
import org.wedgecutter.core.mistake.Mistake;

/** Entities that are missing or seen twice, over the frames, each with Show and a fix. */
public final class CheckPanel extends VBox {
  /**
   * @param show is given an entity to show
   * @param fix makes a finding's fix
   */
  public CheckPanel(
      List<SeenTable.Span> spans,
      List<Finding> findings,
      IntConsumer show,
      Consumer<Finding.Fix> fix) {
    setSpacing(5);
    for (SeenTable.Span span : spans) {
      Label label =
          new Label(
              "frames %d to %d: %s"
                  .formatted(
                      span.first(),
                      span.last(),
                      span.causes().isEmpty()
                          ? "everything is seen exactly once"
                          : "%d missing, %d seen twice or more"
                              .formatted(span.never().size(), span.twice().size())));
      label.setId("seen-" + span.first());
      getChildren().add(label);
    }
    int number = 0;
    for (Finding f : findings) {
      if (f.kind() == Mistake.SEEN_NOWHERE || f.kind() == Mistake.SEEN_TWICE) {
        Button go = new Button("Show");
        go.setId("check-show-" + number);
        go.setOnAction(e -> show.accept(f.entities().getFirst()));
        HBox line = new HBox(8, go);
        line.setAlignment(Pos.CENTER_LEFT);
        Finding.Fix repair = f.fix();
        if (repair != null) {
          Button mend = new Button("Fix");
          mend.setId("check-fix-" + number);
          mend.setOnAction(e -> fix.accept(repair));
          line.getChildren().add(mend);
        }
        line.getChildren().add(new Label(f.text()));
        getChildren().add(line);
        number++;
      }
    }
  }
}
