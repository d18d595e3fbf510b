package org.wedgecutter.app.shell;

import java.util.List;
import java.util.function.IntConsumer;
import javafx.scene.control.ListCell;
import javafx.scene.control.ListView;
import javafx.scene.layout.VBox;
import org.wedgecutter.app.model.History;

/** Every step of the plan; choosing one goes there. */
final class HistoryPanel extends VBox {
  private final ListView<Integer> list = new ListView<>();
  private List<String> names = List.of();
  private int now;
  private boolean filling;

  HistoryPanel(IntConsumer go) {
    getStyleClass().add("drawer-body");
    list.setId("history");
    list.setCellFactory(v -> new StepCell());
    list.getSelectionModel()
        .selectedItemProperty()
        .addListener((o, was, step) -> {
          if (step != null && !filling) {
            go.accept(step);
          }
        });
    VBox.setVgrow(list, javafx.scene.layout.Priority.ALWAYS);
    getChildren().add(list);
  }

  private final class StepCell extends ListCell<Integer> {
    @Override
    protected void updateItem(Integer step, boolean empty) {
      super.updateItem(step, empty);
      if (empty || step == null) {
        setText("");
        return;
      }
      setText(step == 0 ? "as opened" : names.get(step));
      setStyle(step > now ? "-fx-text-fill: -w-dim;" : "-fx-text-fill: -w-text;");
    }
  }

  /** Shows the steps. */
  void update(History history) {
    filling = true;
    names = history.names();
    now = history.at();
    Integer[] steps = new Integer[names.size()];
    for (int i = 0; i < steps.length; i++) {
      steps[i] = i;
    }
    list.getItems().setAll(steps);
    list.getSelectionModel().select(now);
    list.scrollTo(Math.max(0, now - 8));
    filling = false;
  }
}
