package org.wedgecutter.app.stations;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.function.Consumer;
import javafx.geometry.Pos;
import javafx.scene.control.Hyperlink;
import javafx.scene.control.Label;
import javafx.scene.layout.HBox;
import javafx.scene.layout.VBox;
import javafx.scene.paint.Color;
import javafx.scene.shape.Polygon;
import org.wedgecutter.app.theme.Theme;
import org.wedgecutter.core.check.Finding;
import org.wedgecutter.core.proof.Cause;

/** The foot of the window: findings and causes, a line each, with a jump to the layer. */
final class FindingsBar extends VBox {
  private static final int MOST = 3;
  private final Consumer<String> jump;
  private List<Finding> findings = List.of();
  private List<Cause> causes = List.of();
  private boolean causesFirst;
  private boolean all;

  FindingsBar(Consumer<String> jump) {
    this.jump = jump;
    getStyleClass().add("foot");
    setId("findings");
    build();
  }

  void setFindings(List<Finding> next) {
    findings = next;
    build();
  }

  void setCauses(List<Cause> next) {
    if (!next.equals(causes)) {
      causes = next;
      build();
    }
  }

  /** Shows causes of the residual instead of findings. */
  void setCausesFirst(boolean first) {
    causesFirst = first;
    build();
  }

  private record Line(String severity, Color color, String layer, String text, String fix) {}

  private List<Line> lines() {
    List<Line> out = new ArrayList<>();
    if (causesFirst && !causes.isEmpty()) {
      for (Cause c : causes) {
        String share = Double.isNaN(c.share()) ? "cause" : "%.1f %%".formatted(c.share() * 100);
        out.add(new Line(share, Theme.DARK.error, c.layer(), c.text(), c.fix()));
      }
      return out;
    }
    for (Finding f : findings) {
      Color color =
          switch (f.severity()) {
            case ERROR -> Theme.DARK.error;
            case WARNING -> Theme.DARK.warning;
            case NOTE -> Theme.DARK.dim;
          };
      out.add(
          new Line(
              f.severity().name().toLowerCase(Locale.ROOT), color, f.layer(), f.text(), f.fix()));
    }
    return out;
  }

  private void build() {
    getChildren().clear();
    List<Line> lines = lines();
    if (lines.isEmpty()) {
      Label none = new Label("no findings");
      none.getStyleClass().add("dim");
      getChildren().add(none);
      return;
    }
    for (Line line : lines.subList(0, all ? lines.size() : Math.min(MOST, lines.size()))) {
      Polygon mark = new Polygon(0, 0, 9, 0, 9, 9);
      mark.setFill(line.color);
      Label severity = new Label(line.severity);
      severity.setMinWidth(58);
      severity.getStyleClass().add("dim");
      Label text = new Label(line.text + " — " + line.fix);
      text.getStyleClass().add("foot-line");
      HBox row = new HBox(8, mark, severity, text);
      row.setAlignment(Pos.CENTER_LEFT);
      if (!line.layer.isEmpty()) {
        Hyperlink go = new Hyperlink("show");
        go.setOnAction(e -> jump.accept(line.layer));
        go.setMinWidth(48);
        row.getChildren().add(2, go);
      }
      getChildren().add(row);
    }
    if (lines.size() > MOST) {
      Hyperlink more = new Hyperlink(all ? "fewer" : "%d more".formatted(lines.size() - MOST));
      more.setOnAction(e -> {
        all = !all;
        build();
      });
      getChildren().add(more);
    }
  }
}
