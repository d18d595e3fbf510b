package org.wedgecutter.app.station.shot;

import java.util.List;
import java.util.SortedMap;
import java.util.TreeMap;
import javafx.application.Platform;
import javafx.scene.Node;
import javafx.scene.control.Label;
import javafx.scene.image.Image;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.wedgecutter.app.live.LiveSurvey;
import org.wedgecutter.app.live.Pictures;
import org.wedgecutter.app.live.PixelReader;
import org.wedgecutter.app.model.Session;
import org.wedgecutter.app.sheet.SheetRows;
import org.wedgecutter.app.station.ShotForm;
import org.wedgecutter.app.station.Station;
import org.wedgecutter.app.station.Workbench;
import org.wedgecutter.app.viewer.ToScreen;
import org.wedgecutter.app.viewer.View;
import org.wedgecutter.core.measure.InterplayTable;
import org.wedgecutter.core.plan.LayerDef;
import org.wedgecutter.core.propose.StillBut;
import org.wedgecutter.core.resolve.EntitySet;
import org.wedgecutter.core.scene.Entity;
import org.wedgecutter.core.survey.Parts;
import org.wedgecutter.core.survey.PixelReading;

/** The Shot station: the hierarchy as rows, with motion, coverage and interplay. */
public final class ShotStation implements Station {
  private static final Logger LOG = LoggerFactory.getLogger(ShotStation.class);

  private final Workbench bench;
  private final ShotRows rows;
  private final ShotPanel panel = new ShotPanel();
  private final LiveSurvey survey;
  private final PixelReader pixels;
  private final CameraMatcher matcher;
  private boolean isShown;
  private final Label legend =
      new Label(
          "in each layer · solid: share of the frame it covers · hollow: share of the layer's light it affects");

  public ShotStation(Workbench bench) {
    this.bench = bench;
    rows = new ShotRows(bench::theme);
    legend.getStyleClass().add("sheet-legend");
    legend.setMaxWidth(Double.MAX_VALUE);
    legend.setId("sheet-legend");
    matcher = new CameraMatcher(bench);
    panel.setCamera(matcher.panel());
    panel.setOnPage(page -> matches());
    panel.setOnFrame(bench::goToFrame);
    panel.setOnPicture(this::showLight);
    panel.setOnHold(this::hold);
    panel.setOnSamples(spread -> {
      Session s = bench.session();
      LiveSurvey.Result r = result;
      if (s != null && r != null && s.plan().equals(r.shot().plan())) {
        bench.edit("samples of the layers", spread::apply);
      }
    });
    pixels =
        new PixelReader(
            reading -> Platform.runLater(() -> show(reading)),
            error -> {
              LOG.error("reading a pixel", error);
              Platform.runLater(() -> bench.banner("Reading the pixel failed: " + error));
            });
    survey =
        new LiveSurvey(
            result -> Platform.runLater(() -> take(result)),
            error -> {
              LOG.error("surveying", error);
              Platform.runLater(() -> bench.banner("Reading the shot failed: " + error));
            });
  }

  private void matches() {
    matcher.setActive(isShown && panel.shows(ShotPanel.Page.MATCH));
  }

  private void hold(StillBut but) {
    Session s = bench.session();
    LiveSurvey.Result r = result;
    // a plan that was edited since has other layers
    if (s != null && r != null && s.plan().equals(r.shot().plan())) {
      String layer = s.plan().layers().get(but.layer()).name();
      bench.edit("hold layer " + layer, p -> but.allow(p, s.shot().members()));
    }
  }

  private void showLight(int of, int by) {
    Session s = bench.session();
    LiveSurvey.Result r = result;
    if (s != null && r != null && of != by && of >= 0 && by >= 0) {
      Parts.Part seen = r.survey().parts().parts().get(of);
      Parts.Part other = r.survey().parts().parts().get(by);
      LightView view = new LightView(s.shot(), s.frame(), seen, other, panel.lightSentence());
      bench.openDrawer("Light on %s by %s".formatted(seen.name(), other.name()), view);
      view.begin();
    }
  }

  private LiveSurvey.@Nullable Result result;

  @Override
  public void picked(Session s, int x, int y) {
    panel.readingPixel();
    pixels.read(s.shot(), s.frame(), x, y);
  }

  private void show(PixelReading reading) {
    panel.showPixel(new PixelTree(reading, this::goTo));
  }

  private void goTo(int entity, String layer) {
    Session s = bench.session();
    if (s != null) {
      int row = reveal(s.shot().scene().entities().get(entity));
      int column = s.plan().layerIndex(layer);
      bench.sheet().select(row, column < 0 ? bench.sheet().column() : column, false);
      bench.pictures().highlight(EntitySet.of(List.of(entity)));
    }
  }

  private void take(LiveSurvey.Result result) {
    Session s = bench.session();
    if (s != null && s.shot().tracer().equals(result.shot().tracer())) {
      this.result = result;
      panel.show(result, bench.theme());
      bench.matters(result.survey().matters());
      SortedMap<Integer, Image> small = new TreeMap<>();
      result.thumbnails().forEach((frame, p) -> small.put(frame, ToScreen.image(p, View.PLAIN)));
      bench.framePictures(small);
    }
  }

  @Override
  public String id() {
    return "shot";
  }

  @Override
  public String title() {
    return "Shot";
  }

  @Override
  public SheetRows rows() {
    return rows;
  }

  @Override
  public Node below() {
    return panel;
  }

  @Override
  public void opened(Session s) {
    matcher.forget();
    rows.setScene(s.shot().scene(), s.motion().byEntity());
    if (!s.kept() && s.plan().collections().isEmpty()) {
      // the first step of a new plan: camera, frames and size
      panel.open(ShotPanel.Page.SETTINGS);
    }
  }

  @Override
  public void moves(Session s) {
    rows.setMotion(s.shot().scene(), s.motion().byEntity());
  }

  @Override
  public boolean showsFramePictures() {
    return true;
  }

  @Override
  public Node above() {
    return legend;
  }

  @Override
  public void shown() {
    survey.setActive(true);
    isShown = true;
    matches();
  }

  @Override
  public void left() {
    survey.setActive(false);
    isShown = false;
    matches();
  }

  @Override
  public void close() {
    survey.close();
    pixels.close();
    matcher.close();
  }

  @Override
  public void planChanged(Session s) {
    update(s, bench.pictures().latest());
    panel.setFrame(s.frame(), bench.theme());
    showSettings(s);
    matcher.show(s);
    survey.show(s.shot());
  }

  /** The form is rebuilt only where something in it differs, so that typing is not interrupted. */
  private void showSettings(Session s) {
    List<Object> next =
        List.of(s.plan().requireShot(), s.plan().collections(), s.shot().tracer(), s.shot().file());
    if (!next.equals(settings)) {
      settings = next;
      panel.showSettings(new ShotForm(bench, s));
    }
  }

  /** What the form of settings shows. */
  private List<Object> settings = List.of();

  @Override
  public void picturesComplete(Session s, Pictures pictures) {
    if (pictures.plan().layers().size() == s.resolved().layers().size()) {
      update(s, pictures);
    }
  }

  private void update(Session s, @Nullable Pictures p) {
    List<Integer> hues = s.plan().layers().stream().map(LayerDef::hue).toList();
    rows.update(
        s.resolved(),
        hues,
        p == null ? new double[0] : p.facts().coverage(),
        p == null ? InterplayTable.NONE : p.facts().interplay());
  }

  @Override
  public void selected(Session s, int row, @Nullable LayerDef layer) {
    panel.showText(rows.describe(row, layer == null ? -1 : s.plan().layerIndex(layer.name())));
  }

  @Override
  public int reveal(Entity entity) {
    int row = rows.reveal(entity);
    bench.sheet().refresh();
    return row;
  }
}
