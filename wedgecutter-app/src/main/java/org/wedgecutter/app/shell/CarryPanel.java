package org.wedgecutter.app.shell;

import java.nio.file.Path;
import java.util.List;
import javafx.scene.control.Label;
import javafx.scene.control.ScrollPane;
import javafx.scene.layout.GridPane;
import javafx.scene.layout.VBox;
import org.wedgecutter.app.panel.DetailPanel;
import org.wedgecutter.core.carry.Carry;

/** The report of carrying a plan to another scene. */
final class CarryPanel extends VBox {
  CarryPanel(Path plan, Carry.Report report) {
    setSpacing(10);
    getStyleClass().add("drawer-body");
    Label what =
        new Label(
            "Each rule, and how many objects it matches in the old scene and in the new one.");
    GridPane grid = new GridPane();
    grid.setHgap(16);
    grid.setVgap(3);
    grid.addRow(0, head("collection"), head("before"), head("now"), head("rule"));
    int r = 1;
    for (Carry.Row row : report.rows()) {
      Label name = new Label(row.collection());
      Label now = new Label(String.valueOf(row.there()));
      now.setId("carry-" + (r - 1));
      now.getStyleClass().add("number");
      boolean lost = row.there() == 0 && row.here() > 0;
      if (lost) {
        now.getStyleClass().add("trouble");
      }
      Label before = new Label(row.here() < 0 ? "–" : String.valueOf(row.here()));
      before.getStyleClass().add("number");
      grid.addRow(r++, name, before, now, DetailPanel.dim(row.rule()));
      for (String path : row.lost()) {
        grid.add(DetailPanel.dim("hand-picked objects missing: " + path), 3, r++);
      }
    }
    VBox body = new VBox(10, what, grid);
    part(body, "in the rest", report.left(), "carry-rest");
    part(body, "overrides that match nothing", report.idle(), "carry-idle");
    part(body, "notes", report.notes(), "carry-notes");
    body.getChildren().add(DetailPanel.dim("written to " + plan.getFileName()));
    ScrollPane scroll = new ScrollPane(body);
    scroll.setFitToWidth(true);
    scroll.getStyleClass().add("detail-scroll");
    VBox.setVgrow(scroll, javafx.scene.layout.Priority.ALWAYS);
    getChildren().add(scroll);
  }

  private static Label head(String text) {
    Label label = new Label(text);
    label.getStyleClass().add("headline");
    return label;
  }

  private static void part(VBox body, String title, List<String> lines, String id) {
    Label text = DetailPanel.dim(lines.isEmpty() ? "nothing" : "   " + String.join("\n   ", lines));
    text.setId(id);
    text.setWrapText(true);
    body.getChildren().addAll(head(title), text);
  }
}
