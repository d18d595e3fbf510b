package org.wedgecutter.app.station.cut;

import java.util.List;
import java.util.function.Consumer;
import javafx.geometry.Point2D;
import javafx.scene.control.Label;
import javafx.scene.control.ListCell;
import javafx.scene.control.ListView;
import javafx.scene.control.TextField;
import javafx.scene.input.KeyCode;
import javafx.scene.input.KeyEvent;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.stage.Popup;
import javafx.stage.PopupWindow;
import org.wedgecutter.app.typing.HalfTyped;
import org.wedgecutter.core.cut.RuleCompletion;
import org.wedgecutter.core.plan.Rule;
import org.wedgecutter.core.plan.RuleException;
import org.wedgecutter.core.plan.RuleParser;
import org.wedgecutter.core.resolve.EntitySet;
import org.wedgecutter.core.resolve.Members;

/**
 * A field for a rule: counts matches while it is typed, marks errors, offers completions (Down and
 * Tab or Enter choose one), and applies the rule on Enter.
 */
final class RuleField extends HBox {
  private final TextField field;
  private final Label count = new Label();
  private final ListView<RuleCompletion.Choice> choices = new ListView<>();
  private final Popup popup = new Popup();
  private final Members members;
  private final Consumer<EntitySet> highlight;
  private final String saved;

  /**
   * @param highlight is given the matches of the rule as it is typed
   * @param take applies the rule
   */
  RuleField(String rule, Members members, Consumer<EntitySet> highlight, Consumer<Rule> take) {
    this.members = members;
    this.highlight = highlight;
    saved = rule;
    field = new TextField(rule);
    field.setId("rule");
    field.setPromptText("path:/room/** | kind:environment");
    count.setId("rule-count");
    count.getStyleClass().add("number");
    count.setMinWidth(190);
    HBox.setHgrow(field, Priority.ALWAYS);
    setSpacing(8);
    setAlignment(javafx.geometry.Pos.CENTER_LEFT);
    getChildren().addAll(field, count);
    choices.setId("rule-choices");
    choices.setPrefSize(330, 200);
    choices.getStyleClass().add("choices");
    choices.setFocusTraversable(false);
    choices.setCellFactory(v -> new ChoiceCell());
    choices.setOnMouseClicked(e -> accept());
    popup.getContent().add(choices);
    popup.setAutoHide(true);
    popup.setAnchorLocation(PopupWindow.AnchorLocation.CONTENT_BOTTOM_LEFT);
    field.textProperty().addListener(o -> typed());
    field
        .focusedProperty()
        .addListener(o -> {
          if (field.isFocused()) {
            judge();
          } else {
            popup.hide();
            highlight.accept(EntitySet.NONE);
          }
        });
    field.addEventFilter(KeyEvent.KEY_PRESSED, this::key);
    HalfTyped.by(
        field,
        () -> {
          try {
            take.accept(RuleParser.parse(field.getText()));
          } catch (RuleException wrong) {
            count.setText(String.valueOf(wrong.getMessage()));
          }
        });
    judge();
  }

  private static final class ChoiceCell extends ListCell<RuleCompletion.Choice> {
    @Override
    protected void updateItem(RuleCompletion.Choice item, boolean empty) {
      super.updateItem(item, empty);
      setText(
          empty || item == null
              ? ""
              : item.matches() < 0
                  ? item.text()
                  : "%s   %d".formatted(item.text(), item.matches()));
    }
  }

  private void typed() {
    judge();
    if (field.isFocused()) {
      offer();
    }
  }

  private void judge() {
    field.getStyleClass().remove("wrong");
    try {
      EntitySet matched = members.of(RuleParser.parse(field.getText()));
      count.setText(
          "%d of %d%s"
              .formatted(
                  matched.size(),
                  members.scene().entities().size(),
                  field.getText().equals(saved) ? "" : "  (Enter)"));
      if (field.isFocused()) {
        highlight.accept(matched);
      }
    } catch (RuleException e) {
      field.getStyleClass().add("wrong");
      count.setText(String.valueOf(e.getMessage()));
      highlight.accept(EntitySet.NONE);
    }
  }

  private void offer() {
    // the caret follows the text only after this
    int caret = Math.min(field.getText().length(), field.getCaretPosition() + 1);
    List<RuleCompletion.Choice> found =
        RuleCompletion.complete(
            field.getText(), Math.min(caret, field.getText().length()), members.scene());
    choices.getItems().setAll(found);
    choices.getSelectionModel().clearSelection();
    if (found.isEmpty() || field.getScene() == null) {
      popup.hide();
      return;
    }
    choices.setPrefHeight(Math.min(8, found.size()) * 26 + 8);
    // anchored at its lower left corner, so that it grows upwards and never covers the field
    Point2D at = field.localToScreen(0, -4);
    if (popup.isShowing()) {
      popup.setAnchorX(at.getX());
      popup.setAnchorY(at.getY());
    } else {
      popup.show(field, at.getX(), at.getY());
    }
  }

  private void key(KeyEvent e) {
    if (!popup.isShowing()) {
      return;
    }
    int at = choices.getSelectionModel().getSelectedIndex();
    if (e.getCode() == KeyCode.DOWN) {
      choices.getSelectionModel().select(Math.min(choices.getItems().size() - 1, at + 1));
      e.consume();
    } else if (e.getCode() == KeyCode.UP) {
      choices.getSelectionModel().select(Math.max(0, at - 1));
      e.consume();
    } else if (e.getCode() == KeyCode.ESCAPE) {
      popup.hide();
      e.consume();
    } else if (e.getCode() == KeyCode.TAB || (e.getCode() == KeyCode.ENTER && at >= 0)) {
      choices.getSelectionModel().select(Math.max(0, at));
      accept();
      e.consume();
    } else if (e.getCode() == KeyCode.ENTER) {
      popup.hide();
    }
  }

  private void accept() {
    RuleCompletion.Choice choice = choices.getSelectionModel().getSelectedItem();
    if (choice == null) {
      return;
    }
    String text = field.getText();
    int to = Math.min(choice.to(), text.length());
    String next = text.substring(0, choice.from()) + choice.text() + text.substring(to);
    popup.hide();
    field.setText(next);
    field.positionCaret(choice.from() + choice.text().length());
    if (choice.matches() >= 0) {
      popup.hide();
    }
  }
}
