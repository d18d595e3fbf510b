package org.wedgecutter.app.panel;

import javafx.geometry.Pos;
import javafx.scene.Node;
import javafx.scene.control.Label;
import javafx.scene.control.ScrollPane;
import javafx.scene.layout.HBox;
import javafx.scene.layout.VBox;
import javafx.scene.shape.Rectangle;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.app.theme.Theme;
import org.wedgecutter.core.plan.LayerDef;

/**
 * The panel of the sheet's current cell. Its headline names the target of an edit: one layer, in
 * the layer's colour, or the whole shot.
 */
public final class DetailPanel extends VBox {
  private final VBox body = new VBox(6);
  private final ScrollPane scroll = new ScrollPane(body);

  public DetailPanel() {
    getStyleClass().add("detail");
    setSpacing(6);
    body.getStyleClass().add("detail-body");
    scroll.setFitToWidth(true);
    scroll.getStyleClass().add("detail-scroll");
    scroll.setFocusTraversable(false);
    VBox.setVgrow(scroll, javafx.scene.layout.Priority.ALWAYS);
  }

  /** Shows nothing but a sentence. */
  public void showText(String text) {
    Label label = dim(text);
    label.setWrapText(true);
    getChildren().setAll(label);
    getStyleClass().removeAll("for-layer", "for-shot");
    setStyle("");
  }

  /**
   * Shows parts under a headline.
   *
   * @param layer the layer that edits are for; null means the whole shot
   */
  public void show(@Nullable LayerDef layer, String headline, Node... parts) {
    // an edit rebuilds the panel: the keyboard focus stays in its field
    Node typing = getScene() == null ? null : getScene().getFocusOwner();
    String id = typing != null && isWithin(typing) ? typing.getId() : null;
    boolean same = headline.equals(shown);
    shown = headline;
    double at = same ? scroll.getVvalue() : 0;
    body.getChildren().setAll(parts);
    scroll.setVvalue(at);
    getChildren().setAll(headline(layer, headline), scroll);
    focus(id);
    getStyleClass().removeAll("for-layer", "for-shot");
    getStyleClass().add(layer == null ? "for-shot" : "for-layer");
    setStyle(layer == null ? "" : "-w-layer: " + Theme.web(Theme.hue(layer.hue())) + ";");
  }

  private String shown = "";

  private void focus(@Nullable String id) {
    Node same =
        id == null
            ? null
            : body.lookupAll("*").stream()
                .filter(n -> id.equals(n.getId()))
                .findFirst()
                .orElse(null);
    if (same != null) {
      same.requestFocus();
    }
  }

  private boolean isWithin(Node node) {
    for (Node n = node; n != null; n = n.getParent()) {
      if (n.equals(body)) {
        return true;
      }
    }
    return false;
  }

  private static HBox headline(@Nullable LayerDef layer, String text) {
    Label label = new Label(text);
    label.getStyleClass().add("headline");
    label.setId("headline");
    HBox line = new HBox(8);
    line.setAlignment(Pos.CENTER_LEFT);
    if (layer != null) {
      line.getChildren().add(new Rectangle(12, 12, Theme.hue(layer.hue())));
    }
    line.getChildren().add(label);
    return line;
  }

  /** Returns a label of less weight that is continued in the next line where it does not fit. */
  public static Label note(String text) {
    Label label = dim(text);
    label.setWrapText(true);
    label.setMinHeight(USE_PREF_SIZE);
    return label;
  }

  /** Returns a label of less weight. */
  public static Label dim(String text) {
    Label label = new Label(text);
    label.getStyleClass().add("dim");
    return label;
  }
}
