package org.wedgecutter.app.station.cut;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.function.BiConsumer;
import javafx.beans.property.ReadOnlyStringWrapper;
import javafx.scene.control.Label;
import javafx.scene.control.TableColumn;
import javafx.scene.control.TableView;
import javafx.scene.control.TextField;
import javafx.scene.layout.VBox;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.plan.Cell;
import org.wedgecutter.core.plan.CellOverride;
import org.wedgecutter.core.plan.CollectionDef;
import org.wedgecutter.core.plan.LayerDef;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.resolve.Members;

/** Every override of a plan in one list, searchable; choosing one goes to its cell. */
public final class OverrideBrowser extends VBox {
  /**
   * A line.
   *
   * @param layer its layer
   * @param row its collection; null for the rest
   * @param setting whether it is a setting of the layer
   * @param override the override
   * @param entities how many entities it is for
   */
  public record Line(
      String layer, @Nullable String row, boolean setting, CellOverride override, int entities) {
    String where() {
      return setting ? "the layer" : row == null ? "the rest" : row;
    }

    String all() {
      return (layer + " " + where() + " " + override.text() + (override.on() ? " on" : " off"))
          .toLowerCase(Locale.ROOT);
    }
  }

  private final TableView<Line> table = new TableView<>();
  private final TextField search = new TextField();
  private final Label count = new Label();
  private List<Line> lines = List.of();

  /**
   * @param go is given the layer and the row of a line that was chosen
   */
  public OverrideBrowser(BiConsumer<String, Line> go) {
    setSpacing(8);
    getStyleClass().add("drawer-body");
    search.setId("override-search");
    search.setPromptText("Search layer, row, property, value, on, off");
    search.textProperty().addListener(o -> filter());
    count.setId("override-count");
    count.getStyleClass().add("dim");
    table.setId("override-table");
    column("Layer", 110, Line::layer);
    column("Row", 110, Line::where);
    column("Override", 240, l -> l.override.text());
    column("On", 62, l -> l.override.on() ? "on" : "off");
    column("Objects", 56, l -> l.setting ? "" : String.valueOf(l.entities));
    table
        .getSelectionModel()
        .selectedItemProperty()
        .addListener((o, was, now) -> {
          if (now != null) {
            go.accept(now.layer, now);
          }
        });
    Label none = new Label("no overrides");
    none.getStyleClass().add("dim");
    table.setPlaceholder(none);
    VBox.setVgrow(table, javafx.scene.layout.Priority.ALWAYS);
    getChildren().addAll(search, count, table);
  }

  private void column(String title, double width, java.util.function.Function<Line, String> text) {
    TableColumn<Line, String> column = new TableColumn<>(title);
    column.setPrefWidth(width);
    column.setCellValueFactory(f -> new ReadOnlyStringWrapper(text.apply(f.getValue())));
    table.getColumns().add(column);
  }

  /** Shows a plan. */
  public void update(Plan plan, Members members) {
    List<Line> next = new ArrayList<>();
    for (LayerDef layer : plan.layers()) {
      layer.settings().forEach(o -> next.add(new Line(layer.name(), null, true, o, 0)));
      for (CollectionDef c : plan.collections()) {
        add(next, layer, c.name(), layer.cell(c.name()), members.of(c).size());
      }
      add(next, layer, null, layer.rest(), members.scene().entities().size());
    }
    lines = next;
    filter();
  }

  private static void add(
      List<Line> out, LayerDef layer, @Nullable String row, Cell cell, int entities) {
    cell.overrides().forEach(o -> out.add(new Line(layer.name(), row, false, o, entities)));
  }

  private void filter() {
    String[] words = search.getText().toLowerCase(Locale.ROOT).trim().split("\\s+");
    List<Line> found =
        lines.stream()
            .filter(l -> java.util.Arrays.stream(words).allMatch(w -> l.all().contains(w)))
            .toList();
    if (!found.equals(List.copyOf(table.getItems()))) {
      table.getItems().setAll(found);
    }
    count.setText("%d of %d overrides".formatted(found.size(), lines.size()));
  }
}
