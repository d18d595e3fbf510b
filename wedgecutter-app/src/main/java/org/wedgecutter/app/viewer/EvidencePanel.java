package org.wedgecutter.app.viewer;

import javafx.scene.control.Button;
import javafx.scene.control.Label;
import javafx.scene.image.Image;
import javafx.scene.image.ImageView;
import javafx.scene.layout.GridPane;
import javafx.scene.layout.VBox;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.app.panel.DetailPanel;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.proof.BeforeAfter;
import org.wedgecutter.core.proof.Cause;

/** What a cause does to the rejoined picture: as it is, and with that one thing mended. */
public final class EvidencePanel extends VBox {
  private static final double ACROSS = 270;

  /**
   * @param made how the pictures were made, in words
   * @param fix mends the cause; null if the TD must decide how
   */
  public EvidencePanel(Cause cause, BeforeAfter evidence, String made, @Nullable Runnable fix) {
    super(10);
    setId("evidence");
    getStyleClass().add("drawer-body");
    Label what = new Label(sentence(cause.text()) + " — " + cause.fix());
    what.setWrapText(true);
    what.setMaxWidth(2 * ACROSS);
    what.setMinHeight(USE_PREF_SIZE);
    GridPane grid = new GridPane();
    grid.setHgap(10);
    grid.setVgap(4);
    grid.addRow(0, DetailPanel.dim("rejoined now"), DetailPanel.dim("with this fixed"));
    grid.addRow(
        1, view("before", picture(evidence.before())), view("after", picture(evidence.after())));
    grid.addRow(2, DetailPanel.dim("residual now"), DetailPanel.dim("remaining residual"));
    grid.addRow(
        3,
        view("before-residual", ToScreen.heat(evidence.residual(evidence.before()), 0)),
        view("after-residual", ToScreen.heat(evidence.residual(evidence.after()), 0)));
    getChildren().addAll(what, grid, DetailPanel.dim(made));
    if (fix != null) {
      Button mend = new Button("Fix");
      mend.setId("evidence-fix");
      mend.setOnAction(e -> fix.run());
      getChildren().add(1, mend);
    }
  }

  private static Image picture(Picture of) {
    return ToScreen.image(of, View.PLAIN);
  }

  private static ImageView view(String id, Image image) {
    ImageView out = new ImageView(image);
    out.setId("evidence-" + id);
    out.setFitWidth(ACROSS);
    out.setPreserveRatio(true);
    out.setAccessibleText(id.replace('-', ' '));
    return out;
  }

  /** A sentence begins with a capital letter, but a path is left as it is. */
  private static String sentence(String words) {
    return words.substring(0, Math.max(0, words.indexOf(' '))).contains("/")
        ? words
        : Character.toUpperCase(words.charAt(0)) + words.substring(1);
  }
}
