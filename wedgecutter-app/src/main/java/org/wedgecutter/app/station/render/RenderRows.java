package org.wedgecutter.app.station.render;

import java.util.ArrayList;
import java.util.List;
import java.util.function.Function;
import java.util.function.Supplier;
import javafx.scene.canvas.GraphicsContext;
import javafx.scene.image.Image;
import javafx.scene.paint.Color;
import javafx.scene.text.TextAlignment;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.app.sheet.Row;
import org.wedgecutter.app.sheet.SheetRows;
import org.wedgecutter.app.theme.Theme;
import org.wedgecutter.core.deliver.Unit;
import org.wedgecutter.core.deliver.UnitState;
import org.wedgecutter.core.deliver.unit.DeliveryStatus;
import org.wedgecutter.core.plan.FileNames;
import org.wedgecutter.core.plan.LayerDef;
import org.wedgecutter.core.resolve.HeldFrames;
import org.wedgecutter.core.survey.Times;

/**
 * The frame board: frames as rows, layers as columns, each cell in its own state. It shows what
 * would be rendered, or a delivery, whoever fills it.
 */
public final class RenderRows implements SheetRows {
  private static final double PICTURE = 40;
  private static final double NARROW = 110;

  private final Supplier<Theme> theme;
  private final Function<DeliveryStatus.Cell, @Nullable Image> pictures;
  private List<Integer> frames = List.of();
  private List<LayerDef> layers = List.of();
  private @Nullable HeldFrames held;
  private @Nullable DeliveryJob job;

  /**
   * @param pictures returns the small picture of a unit that is done, if it is there by now
   */
  RenderRows(Supplier<Theme> theme, Function<DeliveryStatus.Cell, @Nullable Image> pictures) {
    this.theme = theme;
    this.pictures = pictures;
  }

  /** Shows the frames that would be rendered. */
  void setFrames(List<Integer> next) {
    frames = List.copyOf(next);
    job = null;
  }

  /** Shows a delivery. */
  void setJob(DeliveryJob next) {
    job = next;
    frames = next.frames();
  }

  /** Shows the layers of a plan. */
  void setLayers(List<LayerDef> next) {
    layers = List.copyOf(next);
  }

  /** Sets which frames of the layers are the same. */
  void setHeld(HeldFrames next) {
    held = next;
  }

  /** Returns the frame of a row; 0 if there is no such row. */
  int frame(int row) {
    return row >= 0 && row < frames.size() ? frames.get(row) : 0;
  }

  /** Returns the unit that a cell shows, or null. */
  DeliveryStatus.@Nullable Cell cell(int row, int column) {
    DeliveryJob j = job;
    return j == null || column < 0 || column >= layers.size() || row < 0 || row >= frames.size()
        ? null
        : j.at(layers.get(column).name(), false, frames.get(row));
  }

  /** Returns the unit of the uncut frame in a row, or null. */
  DeliveryStatus.@Nullable Cell uncut(int row) {
    DeliveryJob j = job;
    return j == null || row < 0 || row >= frames.size()
        ? null
        : j.at(FileNames.UNCUT, true, frames.get(row));
  }

  @Override
  public List<Row> rows() {
    List<Row> out = new ArrayList<>();
    for (int row = 0; row < frames.size(); row++) {
      int frame = frames.get(row);
      out.add(
          Row.of(
              "frame:" + frame, "frame " + frame, detail(row), 0, Row.Sort.MEMBER, false, false));
    }
    return out;
  }

  /** What a frame has cost, or how far it is: all its files, that of the uncut frame too. */
  private String detail(int row) {
    int frame = frames.get(row);
    List<DeliveryStatus.Cell> all = new ArrayList<>();
    for (int c = 0; c < layers.size(); c++) {
      DeliveryStatus.Cell cell = cell(row, c);
      if (cell != null && cell.unit().frame() == frame) {
        all.add(cell);
      }
    }
    DeliveryStatus.Cell whole = uncut(row);
    if (whole != null && whole.unit().frame() == frame) {
      all.add(whole);
    }
    if (all.isEmpty()) {
      return job == null ? "" : "held";
    }
    if (all.stream().anyMatch(c -> c.state() == UnitState.FAILED)) {
      return "failed";
    }
    if (all.stream().anyMatch(c -> c.state() == UnitState.STALE)) {
      return "stale";
    }
    double done =
        all.stream().mapToDouble(c -> c.state() == UnitState.DONE ? 1 : c.share()).sum()
            / all.size();
    if (done >= 1) {
      return "%.1f s".formatted(all.stream().mapToDouble(DeliveryStatus.Cell::seconds).sum());
    }
    return done > 0 ? "%.0f %%".formatted(Math.floor(100 * done)) : "";
  }

  @Override
  public void toggle(String key) {
    // frames have no members
  }

  /** The frame that a layer holds at a row's frame by the plan, or that frame itself. */
  private int from(int row, int column) {
    HeldFrames h = held;
    int frame = frames.get(row);
    return h == null || !h.frames().contains(frame) ? frame : h.from(column, frame);
  }

  @Override
  public void paint(
      GraphicsContext g, int row, int column, double x, double y, double w, double h) {
    if (row >= frames.size() || column >= layers.size()) {
      return;
    }
    Theme t = theme.get();
    g.setFont(Theme.sans(12));
    g.setTextAlign(TextAlignment.LEFT);
    g.setFill(t.dim);
    DeliveryStatus.Cell cell = cell(row, column);
    if (cell == null) {
      g.fillText(planned(row, column), x + 12, y + h / 2);
      return;
    }
    Color hue = Theme.hue(layers.get(column).hue());
    if (cell.unit().frame() != frames.get(row)) {
      // a thread of the layer's colour from the frame that is held
      g.setFill(hue.deriveColor(0, 1, 1, cell.state() == UnitState.DONE ? 0.9 : 0.35));
      g.fillRect(x + 8, y, 2, h);
      g.setFill(t.dim);
      g.fillText("held from %d".formatted(cell.unit().frame()), x + 16, y + h / 2);
      return;
    }
    switch (cell.state()) {
      case DONE, STALE -> {
        boolean stale = cell.state() == UnitState.STALE;
        g.setFill(hue.deriveColor(0, 1, 1, stale ? 0.15 : 0.4));
        g.fillRect(x + 1, y + 1, w - 2, h - 2);
        Image picture = w >= NARROW - 32 ? pictures.apply(cell) : null;
        double at = x + 12;
        if (picture != null) {
          double height = Math.min(h - 4, PICTURE * picture.getHeight() / picture.getWidth());
          double width = height * picture.getWidth() / picture.getHeight();
          g.drawImage(picture, x + 3, y + (h - height) / 2, width, height);
          at = x + width + 9;
        }
        g.setFill(stale ? t.warning : t.text);
        String time = "%.1f s".formatted(cell.seconds());
        g.fillText(stale ? (w < NARROW ? "stale" : "stale, " + time) : time, at, y + h / 2);
      }
      case RUNNING -> {
        g.setFill(hue.deriveColor(0, 1, 1, 0.3));
        g.fillRect(x + 1, y + 1, (w - 2) * cell.share(), h - 2);
        g.setFill(hue);
        g.fillRect(x + 1, y + h - 3, (w - 2) * cell.share(), 2);
        g.setFill(t.text);
        g.fillText("%.0f %%".formatted(Math.floor(100 * cell.share())), x + 12, y + h / 2);
      }
      case FAILED -> {
        g.setFill(t.error);
        g.fillText("failed", x + 12, y + h / 2);
      }
      case WAITING -> g.fillText("waiting", x + 12, y + h / 2);
    }
  }

  /** What a cell would be if it were rendered now. */
  private String planned(int row, int column) {
    if (job != null) {
      return "";
    }
    if (!layers.get(column).render()) {
      return "off";
    }
    int from = from(row, column);
    return from == frames.get(row) ? "to render" : "held from %d".formatted(from);
  }

  @Override
  public String describe(int row, int column) {
    if (row >= frames.size()) {
      return "";
    }
    String frame = "frame " + frames.get(row);
    if (column < 0 || column >= layers.size()) {
      DeliveryStatus.Cell whole = uncut(row);
      return whole == null ? frame : frame + ", uncut: " + words(whole, frames.get(row));
    }
    DeliveryStatus.Cell cell = cell(row, column);
    String what = cell == null ? planned(row, column) : words(cell, frames.get(row));
    return "%s, %s: %s".formatted(layers.get(column).name(), frame, what);
  }

  /** Returns a unit in words, as it is shown at a frame. */
  static String words(DeliveryStatus.Cell cell, int frame) {
    Unit unit = cell.unit();
    StringBuilder out = new StringBuilder();
    if (unit.frame() != frame) {
      out.append("held from frame %d, ".formatted(unit.frame()));
    }
    out.append(cell.state().word());
    if (cell.state() == UnitState.RUNNING) {
      out.append(", %.0f %%".formatted(Math.floor(100 * cell.share())));
    }
    if (Double.isFinite(cell.seconds())) {
      String time = Times.words(cell.seconds());
      out.append(
          cell.state() == UnitState.DONE || cell.state() == UnitState.STALE
              ? ", " + time
              : ", about " + time);
    }
    if (!Double.isNaN(cell.noise())) {
      out.append(", noise %.2g".formatted(cell.noise()));
    }
    if (!cell.machine().isEmpty()) {
      out.append(" on ").append(cell.machine());
    }
    if (!cell.why().isEmpty()) {
      out.append(": ").append(cell.why());
    }
    return out.toString();
  }
}
