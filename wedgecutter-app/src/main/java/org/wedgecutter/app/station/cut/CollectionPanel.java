package org.wedgecutter.app.station.cut;

import java.util.List;
import java.util.function.Consumer;
import javafx.geometry.Pos;
import javafx.scene.control.Button;
import javafx.scene.control.Label;
import javafx.scene.layout.FlowPane;
import javafx.scene.layout.HBox;
import javafx.scene.layout.VBox;
import org.wedgecutter.app.panel.DetailPanel;
import org.wedgecutter.app.panel.Editor;
import org.wedgecutter.core.plan.CollectionDef;
import org.wedgecutter.core.plan.CollectionEdits;
import org.wedgecutter.core.plan.Rule;
import org.wedgecutter.core.resolve.EntitySet;
import org.wedgecutter.core.resolve.Members;

/** A collection: its rule and what was picked by hand. For the whole shot. */
public final class CollectionPanel extends VBox {
  private static final int MOST = 40;

  public CollectionPanel(
      Editor editor,
      CollectionDef collection,
      Members members,
      Consumer<EntitySet> highlight,
      Consumer<Rule> setRule) {
    setSpacing(6);
    RuleField field = new RuleField(collection.rule().text(), members, highlight, setRule);
    HBox line = new HBox(8, DetailPanel.dim("matches"), field);
    line.setAlignment(Pos.CENTER_LEFT);
    HBox.setHgrow(field, javafx.scene.layout.Priority.ALWAYS);
    getChildren().add(line);
    hands(editor, collection, "picked", collection.added(), true);
    hands(editor, collection, "excluded", collection.removed(), false);
    Label how =
        DetailPanel.dim(
            "Enter applies the rule. Drag rows, or objects from the picture, onto a row to pick them."
                + " Drag the row, or press Alt with Up or Down, to change precedence.");
    how.setWrapText(true);
    getChildren().add(how);
  }

  private void hands(
      Editor editor, CollectionDef collection, String title, List<String> paths, boolean added) {
    if (paths.isEmpty()) {
      return;
    }
    FlowPane out = new FlowPane(6, 4, DetailPanel.dim(title));
    out.setAlignment(Pos.CENTER_LEFT);
    for (String path : paths.subList(0, Math.min(MOST, paths.size()))) {
      Button button = new Button(path + " ×");
      button.setId((added ? "added-" : "removed-") + paths.indexOf(path));
      button.setOnAction(e ->
          editor.edit(
              "%s no longer %s".formatted(path, title),
              p ->
                  CollectionEdits.collection(
                      p,
                      collection.name(),
                      c ->
                          new CollectionDef(
                              c.name(),
                              c.rule(),
                              added ? without(c.added(), path) : c.added(),
                              added ? c.removed() : without(c.removed(), path),
                              c.extra()))));
      out.getChildren().add(button);
    }
    if (paths.size() > MOST) {
      out.getChildren().add(DetailPanel.dim("and %d more".formatted(paths.size() - MOST)));
    }
    getChildren().add(out);
  }

  private static List<String> without(List<String> list, String path) {
    return list.stream().filter(p -> !p.equals(path)).toList();
  }
}
