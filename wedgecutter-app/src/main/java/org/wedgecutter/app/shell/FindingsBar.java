package org.wedgecutter.app.shell;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.function.BiConsumer;
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
import org.wedgecutter.app.panel.DetailPanel;
import org.wedgecutter.app.panel.OneOf;
import org.wedgecutter.app.theme.Theme;
import org.wedgecutter.core.check.Finding;
import org.wedgecutter.core.mistake.Message;
import org.wedgecutter.core.proof.BeforeAfter;
import org.wedgecutter.core.proof.Cause;
import org.wedgecutter.core.proof.CauseSearch;

/**
 * The foot of the window: findings about the plan, and causes of the measured residual, one per
 * line, each with a way to it and a fix where there is one.
 */
public final class FindingsBar extends VBox {
  private static final int FEW = 3;

  /** Height of a line, in pixels. */
  private static final double LINE = 22;

  private static final CauseSearch.Ranked UNMEASURED =
      new CauseSearch.Ranked(List.of(), Double.NaN, Map.of());

  /** Smallest unexplained share of the residual that is listed. */
  private static final double LITTLE = 0.005;

  /** The place that a line is about. */
  record Place(String layer, String entity, List<Integer> entities) {
    boolean leads() {
      return !layer.isEmpty() || !entity.isEmpty() || !entities.isEmpty();
    }
  }

  private final Consumer<Place> jump;
  private final Consumer<Finding.Fix> mend;
  private Function<Cause, Finding.@Nullable Fix> fixes = c -> null;

  private enum Tab {
    FINDINGS,
    CAUSES
  }

  private final OneOf<Tab> tabs = new OneOf<>();
  private final ToggleButton findingsTab = new ToggleButton();
  private final ToggleButton causesTab = new ToggleButton();
  private final VBox lines = new VBox();
  private List<Finding> findings = List.of();
  private CauseSearch.Ranked causes = UNMEASURED;
  private BiConsumer<Cause, BeforeAfter> onEvidence = (c, e) -> {};
  private boolean all;
  private Theme theme = Theme.DARK;

  /**
   * @param jump goes to the place of a line
   * @param mend makes a fix
   */
  FindingsBar(Consumer<Place> jump, Consumer<Finding.Fix> mend) {
    this.jump = jump;
    this.mend = mend;
    getStyleClass().add("foot");
    setId("findings");
    tab(Tab.FINDINGS, findingsTab, "findings-tab");
    tab(Tab.CAUSES, causesTab, "causes-tab");
    tabs.select(Tab.FINDINGS);
    // the picture keeps its size under the pointer when an edit brings the first line
    lines.setMinHeight(LINE);
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

  /**
   * Sets what is done about causes.
   *
   * @param fixOf returns the fix of a cause, or null
   * @param evidence shows pictures of a cause
   */
  void setCauseActions(
      Function<Cause, Finding.@Nullable Fix> fixOf, BiConsumer<Cause, BeforeAfter> evidence) {
    fixes = fixOf;
    onEvidence = evidence;
  }

  /** Shows causes as they are read off the plan. */
  void setCauses(List<Cause> next) {
    setCauses(new CauseSearch.Ranked(next, Double.NaN, Map.of()));
  }

  /** Shows causes as they were measured. */
  void setCauses(CauseSearch.Ranked next) {
    if (!next.equals(causes)) {
      causes = next;
      build();
    }
  }

  /** Shows the causes of the residual, if there are any. */
  void showCauses() {
    if (!causes.causes().isEmpty()) {
      tabs.select(Tab.CAUSES);
      build();
    }
  }

  private record Line(
      String severity,
      Color color,
      Place place,
      String words,
      Finding.@Nullable Fix fix,
      @Nullable Runnable evidence) {}

  private static String words(Message message) {
    String words = message.text() + " — " + message.advice();
    return Character.toUpperCase(words.charAt(0)) + words.substring(1);
  }

  private List<Line> causeLines() {
    List<Line> out = new ArrayList<>();
    for (Cause c : causes.causes()) {
      String share = c.isMeasured() ? percent(c.share()) : "suspected";
      Place place = new Place(c.layer(), c.entity(), c.entities());
      BeforeAfter evidence = causes.evidence().get(c.message());
      out.add(
          new Line(
              share,
              theme.error,
              place,
              words(c.message()),
              fixes.apply(c),
              evidence == null ? null : () -> onEvidence.accept(c, evidence)));
    }
    if (causes.unexplained() > LITTLE) {
      out.add(
          new Line(
              percent(causes.unexplained()),
              theme.warning,
              new Place("", "", List.of()),
              "Unexplained: remains when all of these are fixed",
              null,
              null));
    }
    return out;
  }

  private static String percent(double share) {
    return share < 5e-4 ? "< 0.1 %" : "%.1f %%".formatted(share * 100);
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
      out.add(new Line(f.severity().word(), color, place, words(f.message()), f.fix(), null));
    }
    return out;
  }

  private void build() {
    if (causes.causes().isEmpty()) {
      tabs.select(Tab.FINDINGS);
    }
    boolean ofCauses = tabs.value() == Tab.CAUSES;
    List<Line> shown = ofCauses ? causeLines() : findingLines();
    findingsTab.setText(
        findings.isEmpty() ? "no findings" : "findings (%d)".formatted(findings.size()));
    causesTab.setText("causes of the residual (%d)".formatted(causes.causes().size()));
    tabs.show(Tab.CAUSES, !causes.causes().isEmpty());
    HBox head = new HBox(6, findingsTab, causesTab);
    head.setAlignment(Pos.CENTER_LEFT);
    if (ofCauses && Double.isNaN(causes.unexplained())) {
      head.getChildren().add(DetailPanel.dim("measuring each cause's share…"));
    }
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
    severity.setId("finding-share-" + number);
    Label text = new Label(line.words);
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
    row.setMinHeight(LINE);
    row.setMaxHeight(LINE);
    Runnable pictures = line.evidence;
    if (pictures != null) {
      Button evidence = button("cause-evidence-" + number, "Before and after", pictures);
      row.getChildren().add(4, evidence);
    }
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
