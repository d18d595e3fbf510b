package org.wedgecutter.app.station.shot;

import java.util.List;
import java.util.Locale;
import javafx.scene.control.TreeCell;
import javafx.scene.control.TreeItem;
import javafx.scene.control.TreeView;
import javafx.scene.input.KeyCode;
import javafx.scene.input.KeyEvent;
import javafx.scene.input.MouseEvent;
import org.wedgecutter.core.survey.PixelReading;

/**
 * What a pixel's light is made of, as a tree: the visible entities, the emitters that light it, and
 * via what; under each what blocks the rest. Enter or a double-click goes to the object's row, and
 * for a visible object also to the column of its layer.
 */
final class PixelTree extends TreeView<PixelTree.Line> {
  private static final double LEAST = 0.002;
  private static final int MOST = 5;

  /**
   * A line.
   *
   * @param entity what it is about, by index
   * @param layer the layer that shows it; empty if that is not what the line is about
   */
  record Line(String text, int entity, String layer) {}

  /** Goes to an entity's row, and to a layer's column unless that is empty. */
  interface GoTo {
    void go(int entity, String layer);
  }

  PixelTree(PixelReading reading, GoTo goTo) {
    setId("pixel-tree");
    setShowRoot(false);
    TreeItem<Line> root = new TreeItem<>(new Line("", -1, ""));
    root.setExpanded(true);
    for (PixelReading.Seen seen : reading.seen()) {
      if (seen.cover() >= LEAST || seen.light() > LEAST * reading.luminance()) {
        root.getChildren().add(seen(seen, reading.luminance()));
      }
    }
    setRoot(root);
    setCellFactory(t -> new Shown());
    setFixedCellSize(24);
    addEventHandler(
        MouseEvent.MOUSE_CLICKED,
        e -> {
          if (e.getClickCount() == 2) {
            go(goTo);
          }
        });
    addEventHandler(
        KeyEvent.KEY_PRESSED,
        e -> {
          if (e.getCode() == KeyCode.ENTER) {
            go(goTo);
            e.consume();
          }
        });
  }

  private void go(GoTo goTo) {
    TreeItem<Line> item = getSelectionModel().getSelectedItem();
    if (item != null && item.getValue().entity >= 0) {
      goTo.go(item.getValue().entity, item.getValue().layer);
    }
  }

  private static TreeItem<Line> seen(PixelReading.Seen seen, double whole) {
    String layers =
        seen.layers().isEmpty() ? "in no layer" : "in " + String.join(", ", seen.layers());
    TreeItem<Line> item =
        new TreeItem<>(
            new Line(
                "%s  %s of the light, covers %s, %s"
                    .formatted(
                        seen.path(),
                        percent(seen.light(), whole),
                        percent(seen.cover(), 1),
                        layers),
                seen.entity(),
                seen.layers().isEmpty() ? "" : seen.layers().getFirst()));
    for (PixelReading.Source s : seen.sources()) {
      double most = s.light() + sum(s.blockers());
      if (most > LEAST * Math.max(whole, 1e-9)) {
        item.getChildren().add(source(s, seen, whole));
      }
    }
    item.setExpanded(true);
    return item;
  }

  private static TreeItem<Line> source(
      PixelReading.Source s, PixelReading.Seen seen, double whole) {
    boolean own = s.emitter() == seen.entity();
    TreeItem<Line> item =
        item(
            own
                ? "%s  own emission".formatted(percent(s.light(), whole))
                : "%s  from %s%s"
                    .formatted(
                        percent(s.light(), whole),
                        s.path(),
                        s.direct() > 0 && s.light() > s.direct()
                            ? ", %s direct".formatted(percent(s.direct(), whole))
                            : s.direct() > 0 ? ", direct" : ""),
            s.emitter());
    add(item, "%s  via %s", s.ways(), whole);
    add(item, "−%s  blocked by %s", s.blockers(), whole);
    item.setExpanded(true);
    return item;
  }

  /** Adds the largest of some, and what the others are in all. */
  private static void add(
      TreeItem<Line> to, String text, List<PixelReading.By> list, double whole) {
    List<PixelReading.By> large =
        list.stream().filter(b -> b.light() > LEAST * whole).limit(MOST).toList();
    for (PixelReading.By by : large) {
      to.getChildren()
          .add(item(text.formatted(percent(by.light(), whole), by.path()), by.entity()));
    }
    double rest = sum(list) - sum(large);
    if (rest > LEAST * whole) {
      to.getChildren().add(item(text.formatted(percent(rest, whole), "others"), -1));
    }
  }

  private static double sum(List<PixelReading.By> list) {
    return list.stream().mapToDouble(PixelReading.By::light).sum();
  }

  private static TreeItem<Line> item(String text, int entity) {
    return new TreeItem<>(new Line(text, entity, ""));
  }

  private static String percent(double part, double whole) {
    return whole > 0 ? String.format(Locale.ROOT, "%.1f %%", 100 * part / whole) : "–";
  }

  /** Shows a line. */
  private static final class Shown extends TreeCell<Line> {
    Shown() {
      getStyleClass().add("pixel-line");
    }

    @Override
    protected void updateItem(Line line, boolean empty) {
      super.updateItem(line, empty);
      setText(empty || line == null ? "" : line.text);
    }
  }
}
