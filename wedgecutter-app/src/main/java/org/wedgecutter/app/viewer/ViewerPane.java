package org.wedgecutter.app.viewer;

import java.util.List;
import java.util.Locale;
import java.util.function.IntFunction;
import javafx.scene.control.Label;
import javafx.scene.image.Image;
import javafx.scene.layout.BorderPane;
import javafx.scene.layout.HBox;
import javafx.scene.paint.Color;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.app.live.FilePictures;
import org.wedgecutter.app.live.Pictures;
import org.wedgecutter.app.panel.Words;
import org.wedgecutter.app.theme.Theme;
import org.wedgecutter.core.plan.LayerDef;

/** The viewer: the picture with its tool bars, and below it the probe or the status. */
public final class ViewerPane extends BorderPane {
  private final PictureCanvas canvas = new PictureCanvas();
  private final ViewerBars bars = new ViewerBars(this::changed, canvas::fit, canvas::oneToOne);
  private final Label probeText = new Label();
  private final Label status = new Label();
  private final Probe probe;
  private Runnable onChange = () -> {};
  private Theme theme = Theme.DARK;
  private int layer;
  private String layerName = "";
  private int hue;
  private Runnable told = () -> {};
  private PickListener onPick = (x, y) -> {};
  private PickListener onPoint = (x, y) -> {};

  /** Receives the pixel of the traced picture that was clicked, or pointed at. */
  public interface PickListener {
    void picked(int x, int y);
  }

  /**
   * @param entityNames tells an entity and the layers that show it, for the probe
   */
  public ViewerPane(IntFunction<String> entityNames) {
    probe = new Probe(entityNames);
    setId("viewer");
    setCenter(canvas);
    setTop(bars);
    HBox foot = new HBox(probeText, ViewerBars.spacer(), status);
    foot.getStyleClass().add("viewer-bar");
    foot.setMinHeight(28);
    foot.setPrefHeight(28);
    probeText.setId("probe");
    probeText.getStyleClass().add("number");
    status.setId("viewer-status");
    status.getStyleClass().addAll("number", "dim");
    setBottom(foot);
    // the values take the room of the status while the pointer is on the picture
    status.visibleProperty().bind(probeText.textProperty().isEmpty());
    status.managedProperty().bind(status.visibleProperty());
    canvas.setEmptyText("Open a plan or a scene to begin");
    canvas.setOnProbe((x, y) -> {
      probeText.setText(probe.read(x, y, shown()));
      int[] at = probe.inPicture(x, y);
      if (at != null) {
        onPoint.picked(at[0], at[1]);
      }
    });
    canvas.setOnPick((x, y) -> {
      int[] at = probe.inPicture(x, y);
      if (at != null) {
        onPick.picked(at[0], at[1]);
      }
    });
  }

  private void changed() {
    onChange.run();
  }

  /** Sets what is run after the choice of what is shown changed. */
  public void setOnChange(Runnable action) {
    onChange = action;
  }

  /** Sets the listener to clicks on the picture. */
  public void setOnPick(PickListener action) {
    onPick = action;
  }

  /** Sets the listener to the pixel under the pointer. */
  public void setOnPoint(PickListener action) {
    onPoint = action;
  }

  /** Sets what moves the camera. */
  public void setOnCamera(CameraDrag action) {
    canvas.setOnCamera(action);
  }

  /** Sets the colours. */
  public void setTheme(Theme next) {
    theme = next;
    canvas.setTheme(next);
  }

  /** Lays a mask over the picture; null removes it. */
  void setHighlight(@Nullable Image mask) {
    canvas.setOverlay(mask);
  }

  /** Sets the listener to objects dragged out of the picture. */
  public void setOnDragOut(PictureCanvas.DragOut action) {
    canvas.setOnDragOut(action);
  }

  /** Sets the size of the shot; smaller pictures are stretched to it. */
  public void setPictureSize(int width, int height) {
    canvas.setPictureSize(width, height);
  }

  /** Returns how many pixels of the screen the picture's width takes, those out of sight too. */
  int pixelsAcross() {
    return canvas.pixelsAcross();
  }

  /** Sets what is written while there is no picture. */
  public void setEmptyText(String text) {
    canvas.setEmptyText(text);
  }

  /** Sets the layer that {@link Look#LAYER} shows. */
  public void setLayer(int index, String name, int hue) {
    layer = index;
    layerName = name;
    this.hue = hue;
  }

  /**
   * Whether there is such a picture: without a plate, or files in view, there are none of these.
   */
  public boolean offers(Look look) {
    return bars.offers(look);
  }

  /** Shows a picture. */
  public void look(Look look) {
    bars.look(look);
  }

  /** Swaps the picture and what it is compared with. */
  public void flip() {
    bars.flip();
  }

  /** Shows or removes the line between two pictures. */
  public void toggleWipe() {
    bars.toggleWipe();
  }

  /** Fits the picture. */
  public void fit() {
    canvas.fit();
  }

  /** Shows the picture at 1:1. */
  public void oneToOne() {
    canvas.oneToOne();
  }

  /** Sets whether the rejoined picture has corrections, so that it can be shown without them. */
  public void setCorrected(boolean corrected) {
    bars.setCorrected(corrected);
  }

  /** Sets the files of a delivery, and shows them; null for none. */
  public void setFiles(@Nullable FilePictures files) {
    bars.setFiles(files);
  }

  /** Sets whether the plate can be chosen. */
  public void setPlate(boolean there) {
    bars.setPlate(there);
  }

  /** Draws closed lines over the picture: x and y of the points of each, in pixels of the shot. */
  void setOutlines(List<double[]> lines) {
    canvas.setOutlines(lines);
  }

  /** Draws lines and handles over the picture. */
  void setDrawing(Drawing drawing, Drawing.Hand hand) {
    canvas.setDrawing(drawing, hand);
  }

  Shown shown() {
    return bars.shown(layer);
  }

  /** Puts a frame on the screen as it was kept. */
  void show(KeptFrames.Kept kept, int frame) {
    canvas.show(kept.images().main(), kept.images().other(), theme.line, "", "");
    told = () -> {};
    status.setText(
        "frame %d, kept   %d×%d   %s"
            .formatted(
                frame, kept.width(), kept.height(), Words.counted(kept.samples(), "sample")));
  }

  /** Puts images on the screen. */
  void show(Pictures pictures, Shown shown, ShownImages images) {
    bars.listPasses(pictures.passTitles());
    bars.listLayers(pictures.plan().layers().stream().map(l -> l.name()).toList());
    probe.take(pictures, images.pass());
    Color edge = shown.look() == Look.LAYER ? Theme.hue(hue) : theme.line;
    canvas.show(
        images.main(),
        images.other(),
        edge,
        name(pictures, shown.look(), shown.layer()),
        name(pictures, shown.against(), shown.otherLayer()));
    told = () -> tell(pictures, shown, images);
    told.run();
  }

  /** Tells again what is known of the pictures that are shown: their noise comes with the proof. */
  void tellAgain() {
    told.run();
  }

  private void tell(Pictures pictures, Shown shown, ShownImages images) {
    FilePictures files = shown.files();
    if (shown.look() == Look.FILES && files != null) {
      status.setText(files.told());
      return;
    }
    boolean signed = ShownImages.isSigned(pictures, shown.look(), shown.layer());
    status.setText(
        "%s%s%s   %d×%d   %s   %.0f s   %s"
            .formatted(
                shown.look() == Look.LAYER
                    ? layerName
                    : shown.look().title().toLowerCase(Locale.ROOT),
                passText(shown, images),
                signed ? " (signed)" : "",
                pictures.width(),
                pictures.height(),
                Words.counted(pictures.samples(), "sample") + noise(pictures.noise()),
                pictures.seconds(),
                Words.counted(pictures.facts().invalidSamples(), "invalid sample")
                    + (pictures.facts().cutShort() > 0
                        ? "   "
                            + Words.counted(pictures.facts().cutShort(), "volume path")
                            + " terminated"
                        : "")));
  }

  private static String noise(double share) {
    return Double.isNaN(share) ? "" : "   noise %.1f %%".formatted(share * 100);
  }

  private static String passText(Shown shown, ShownImages images) {
    if (shown.pass().equals(Shown.BEAUTY)) {
      return "";
    }
    return images.pass() == null ? ": has no pass " + shown.pass() : ": " + shown.pass();
  }

  private static String name(Pictures pictures, Look look, int layer) {
    List<LayerDef> all = pictures.plan().layers();
    return look == Look.LAYER && layer >= 0 && layer < all.size()
        ? all.get(layer).name()
        : look.title();
  }
}
