package org.wedgecutter.app.shell;

import java.util.ArrayList;
import java.util.List;
import java.util.function.Consumer;
import java.util.function.Function;
import javafx.geometry.Pos;
import javafx.scene.control.Button;
import javafx.scene.control.Hyperlink;
import javafx.scene.control.Label;
import javafx.scene.control.ScrollPane;
import javafx.scene.control.ToggleButton;
import javafx.scene.control.Tooltip;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.VBox;
import javafx.scene.paint.Color;
import javafx.scene.shape.Polygon;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.app.panel.ByTab;
import org.wedgecutter.app.panel.OneOf;
import org.wedgecutter.app.theme.Theme;
import org.wedgecutter.core.check.Finding;
import org.wedgecutter.core.mistake.Message;
import org.wedgecutter.core.proof.Cause;

/**
 * The foot of the window: findings about the plan, and causes of the measured residual, one per
 * line, each with a way to it and a fix where there is one.
 */
public final class FindingsBar extends VBox {
  private static final int FEW = 3;

  /** The place that a line is about. */
  record Place(String layer, String entity, List<Integer> entities) {
    boolean leads() {
      return !layer.isEmpty() || !entity.isEmpty() || !entities.isEmpty();
    }
  }

  private final Consumer<Place> jump;
  private final Consumer<Finding.Fix> mend;
  private final Function<Cause, Finding.@Nullable Fix> fixes;

  private enum Tab {
    FINDINGS,
    CAUSES
  }

  private final OneOf<Tab> tabs = new OneOf<>();
  private final ToggleButton findingsTab = new ToggleButton();
  private final ToggleButton causesTab = new ToggleButton();
  private final VBox lines = new VBox();
  private List<Finding> findings = List.of();
  private List<Cause> causes = List.of();
  private boolean all;
  private Theme theme = Theme.DARK;

  /**
   * @param jump goes to the place of a line
   * @param mend makes a fix
   * @param fixes returns the fix of a cause, or null
   */
  FindingsBar(
      Consumer<Place> jump,
      Consumer<Finding.Fix> mend,
      Function<Cause, Finding.@Nullable Fix> fixes) {
    this.jump = jump;
    this.mend = mend;
    this.fixes = fixes;
    getStyleClass().add("foot");
    setId("findings");
    tab(Tab.FINDINGS, findingsTab, "findings-tab");
    tab(Tab.CAUSES, causesTab, "causes-tab");
    tabs.select(Tab.FINDINGS);
    build();
  }

  private void tab(Tab of, ToggleButton tab, String id) {
    tab.setId(id);
    tab.getStyleClass().add("foot-tab");
    tab.setMinWidth(USE_PREF_SIZE);
    tabs.add(of, tab, chosen -> build());
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

  /** Shows the causes of the residual, if there are any. */
  void showCauses() {
    if (!causes.isEmpty()) {
      tabs.select(Tab.CAUSES);
      build();
    }
  }

  private record Line(
      String severity, Color color, Place place, Message message, Finding.@Nullable Fix fix) {}

  private List<Line> causeLines() {
    List<Line> out = new ArrayList<>();
    for (Cause c : causes) {
      String share = Double.isNaN(c.share()) ? "cause" : "%.1f %%".formatted(c.share() * 100);
      Place place = new Place(c.layer(), c.entity(), c.entities());
      out.add(new Line(share, theme.error, place, c.message(), fixes.apply(c)));
    }
    return out;
  }

  private List<Line> findingLines() {
    List<Line> out = new ArrayList<>();
    for (Finding f : findings) {
      Color color =
          switch (f.severity()) {
            case ERROR -> theme.error;
            case WARNING -> theme.warning;
            case NOTE -> theme.dim;
          };
      Place place = new Place(f.layer(), f.entity(), f.entities());
      out.add(new Line(f.severity().word(), color, place, f.message(), f.fix()));
    }
    return out;
  }

  private void build() {
    if (causes.isEmpty()) {
      tabs.select(Tab.FINDINGS);
    }
    boolean ofCauses = tabs.value() == Tab.CAUSES;
    List<Line> shown = ofCauses ? causeLines() : findingLines();
    findingsTab.setText(
        findings.isEmpty() ? "no findings" : "findings (%d)".formatted(findings.size()));
    causesTab.setText("causes of the residual (%d)".formatted(causes.size()));
    tabs.show(Tab.CAUSES, !causes.isEmpty());
    HBox head = new HBox(6, findingsTab, causesTab);
    head.setAlignment(Pos.CENTER_LEFT);
    if (shown.size() > FEW) {
      Hyperlink more = new Hyperlink(all ? "show fewer" : "show all %d".formatted(shown.size()));
      more.setId("findings-more");
      more.setOnAction(e -> {
        all = !all;
        build();
      });
      head.getChildren().add(more);
    }
    lines.getChildren().clear();
    int count = all ? shown.size() : Math.min(FEW, shown.size());
    for (int i = 0; i < count; i++) {
      lines.getChildren().add(row(i, shown.get(i)));
    }
    if (all && shown.size() > FEW) {
      ScrollPane scroll = new ScrollPane(lines);
      scroll.setFitToWidth(true);
      scroll.setMaxHeight(230);
      scroll.getStyleClass().add("detail-scroll");
      getChildren().setAll(head, scroll);
    } else {
      getChildren().setAll(head, lines);
    }
  }

  private HBox row(int number, Line line) {
    Polygon mark = new Polygon(0, 0, 9, 0, 9, 9);
    mark.setFill(line.color);
    Label severity = new Label(line.severity);
    severity.setMinWidth(56);
    severity.getStyleClass().add("dim");
    String words = line.message.text() + " — " + line.message.advice();
    Label text = new Label(Character.toUpperCase(words.charAt(0)) + words.substring(1));
    text.getStyleClass().add("foot-line");
    text.setTooltip(new Tooltip(text.getText()));
    HBox.setHgrow(text, Priority.ALWAYS);
    Button go = button("finding-show-" + number, "Show", () -> jump.accept(line.place));
    go.setVisible(line.place.leads());
    Finding.Fix repair = line.fix;
    Button fix =
        button(
            "finding-fix-" + number,
            "Fix",
            () -> {
              if (repair != null) {
                mend.accept(repair);
              }
            });
    fix.setVisible(repair != null);
    HBox row = new HBox(8, mark, severity, go, fix, text);
    row.setAlignment(Pos.CENTER_LEFT);
    return row;
  }

  private static Button button(String id, String text, Runnable action) {
    Button out = new Button(text);
    out.setId(id);
    out.setMinWidth(USE_PREF_SIZE);
    out.setOnAction(e -> action.run());
    return ByTab.only(out);
  }
}
