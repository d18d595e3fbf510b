package org.wedgecutter.app.stations;

import java.util.ArrayList;
import java.util.List;
import java.util.function.Consumer;
import javafx.geometry.Pos;
import javafx.scene.control.Button;
import javafx.scene.control.Hyperlink;
import javafx.scene.control.Label;
import javafx.scene.control.ScrollPane;
import javafx.scene.control.Tooltip;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.VBox;
import javafx.scene.paint.Color;
import javafx.scene.shape.Polygon;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.app.theme.Theme;
import org.wedgecutter.core.check.Finding;
import org.wedgecutter.core.proof.Cause;

/** The foot of the window: findings and causes, a line each, with jump and fix. */
final class FindingsBar extends VBox {
  private static final int MOST = 3;
  private static final int ALL = 60;

  /** Where a line leads. */
  record Place(String layer, String entity, List<Integer> entities) {}

  private final Consumer<Place> jump;
  private final Consumer<Finding.Fix> mend;
  private List<Finding> findings = List.of();
  private List<Cause> causes = List.of();
  private boolean causesFirst;
  private boolean all;
  private Theme theme = Theme.DARK;

  FindingsBar(Consumer<Place> jump, Consumer<Finding.Fix> mend) {
    this.jump = jump;
    this.mend = mend;
    getStyleClass().add("foot");
    setId("findings");
    build();
  }

  void setTheme(Theme next) {
    theme = next;
    build();
  }

  void setFindings(List<Finding> next) {
    if (!next.equals(findings) || !next.isEmpty()) {
      findings = next;
      build();
    }
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

  private record Line(
      String severity,
      Color color,
      Place place,
      String text,
      String advice,
      Finding.@Nullable Fix fix) {}

  private List<Line> lines() {
    List<Line> out = new ArrayList<>();
    if (causesFirst && !causes.isEmpty()) {
      for (Cause c : causes) {
        String share = Double.isNaN(c.share()) ? "cause" : "%.1f %%".formatted(c.share() * 100);
        Finding same =
            findings.stream().filter(f -> f.text().startsWith(c.text())).findFirst().orElse(null);
        out.add(
            new Line(
                share,
                theme.error,
                new Place(c.layer(), c.entity(), c.entities()),
                c.text(),
                c.fix(),
                same == null ? null : same.fix()));
      }
      return out;
    }
    for (Finding f : findings) {
      Color color =
          switch (f.severity()) {
            case ERROR -> theme.error;
            case WARNING -> theme.warning;
            case NOTE -> theme.dim;
          };
      out.add(
          new Line(
              f.severity().word(),
              color,
              new Place(f.layer(), f.entity(), f.entities()),
              f.text(),
              f.advice(),
              f.fix()));
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
    VBox body = new VBox(1);
    int shown = Math.min(all ? ALL : MOST, lines.size());
    for (int i = 0; i < shown; i++) {
      body.getChildren().add(row(i, lines.get(i)));
    }
    if (all) {
      ScrollPane scroll = new ScrollPane(body);
      scroll.setFitToWidth(true);
      scroll.setMaxHeight(230);
      scroll.getStyleClass().add("detail-scroll");
      getChildren().add(scroll);
    } else {
      getChildren().add(body);
    }
    if (lines.size() > MOST) {
      Hyperlink more = new Hyperlink(all ? "fewer" : "%d more".formatted(lines.size() - MOST));
      more.setId("findings-more");
      more.setOnAction(e -> {
        all = !all;
        build();
      });
      getChildren().add(more);
    }
  }

  private HBox row(int number, Line line) {
    Polygon mark = new Polygon(0, 0, 9, 0, 9, 9);
    mark.setFill(line.color);
    Label severity = new Label(line.severity);
    severity.setMinWidth(56);
    severity.getStyleClass().add("dim");
    Label text = new Label(line.text + " — " + line.advice);
    text.getStyleClass().add("foot-line");
    text.setTooltip(new Tooltip(text.getText()));
    HBox.setHgrow(text, Priority.ALWAYS);
    HBox row = new HBox(8, mark, severity);
    row.setAlignment(Pos.CENTER_LEFT);
    boolean leads =
        !line.place.layer.isEmpty()
            || !line.place.entity.isEmpty()
            || !line.place.entities.isEmpty();
    Button go = new Button("Show");
    go.setId("finding-show-" + number);
    go.setMinWidth(USE_PREF_SIZE);
    go.setVisible(leads);
    go.setOnAction(e -> jump.accept(line.place));
    Button fix = new Button("Fix");
    fix.setId("finding-fix-" + number);
    fix.setMinWidth(USE_PREF_SIZE);
    Finding.Fix repair = line.fix;
    fix.setVisible(repair != null);
    fix.setOnAction(e -> {
      if (repair != null) {
        mend.accept(repair);
      }
    });
    row.getChildren().addAll(go, fix, text);
    return row;
  }
}
