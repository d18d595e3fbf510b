package org.wedgecutter.app.station.render;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.function.Supplier;
import javafx.scene.canvas.GraphicsContext;
import javafx.scene.text.TextAlignment;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.app.sheet.Row;
import org.wedgecutter.app.sheet.SheetRows;
import org.wedgecutter.app.theme.Theme;
import org.wedgecutter.core.resolve.HeldFrames;

/** The Render station: frames as rows; the board fills in place. */
public final class RenderRows implements SheetRows {
  private final Supplier<Theme> theme;
  private List<Integer> frames = List.of();
  private List<Boolean> chosen = List.of();
  private List<Integer> hues = List.of();
  private final Map<Integer, State> states = new HashMap<>();
  private @Nullable HeldFrames held;

  /**
   * The progress of a frame.
   *
   * @param share 0 to 1; 1 is done
   * @param failed whether it ended in an error
   * @param seconds render time, or NaN
   */
  public record State(double share, boolean failed, double seconds) {}

  public RenderRows(Supplier<Theme> theme) {
    this.theme = theme;
  }

  /** Shows the frames that are to be rendered. */
  public void setFrames(List<Integer> next) {
    frames = List.copyOf(next);
    states.clear();
  }

  /** Shows which layers are rendered. */
  public void setLayers(List<Boolean> chosen, List<Integer> hues) {
    this.chosen = List.copyOf(chosen);
    this.hues = List.copyOf(hues);
  }

  /** Sets which frames of the layers are the same. */
  public void setHeld(HeldFrames next) {
    held = next;
  }

  /** Returns the frame that a layer holds at a frame, or the frame itself. */
  private int from(int column, int frame) {
    HeldFrames h = held;
    return h == null || column >= hues.size() || !h.frames().contains(frame)
        ? frame
        : h.from(column, frame);
  }

  /** Sets the progress of a frame. */
  public void setState(int frame, State state) {
    states.put(frame, state);
  }

  @Override
  public List<Row> rows() {
    List<Row> out = new ArrayList<>();
    for (int frame : frames) {
      State state = states.get(frame);
      String detail =
          state == null
              ? ""
              : state.failed()
                  ? "failed"
                  : state.share() >= 1
                      ? Double.isFinite(state.seconds())
                          ? "%.1f s".formatted(state.seconds())
                          : "done"
                      : "%.0f %%".formatted(state.share() * 100);
      out.add(Row.of("frame:" + frame, "frame " + frame, detail, 0, Row.Sort.MEMBER, false, false));
    }
    return out;
  }

  @Override
  public void toggle(String key) {
    // frames have no members
  }

  @Override
  public void paint(
      GraphicsContext g, int row, int column, double x, double y, double w, double h) {
    Theme t = theme.get();
    boolean on = column < chosen.size() && chosen.get(column);
    State state = states.get(frames.get(row));
    g.setFont(Theme.sans(12));
    g.setTextAlign(TextAlignment.LEFT);
    g.setFill(t.dim);
    int from = from(column, frames.get(row));
    if (!on) {
      g.fillText("off", x + 12, y + h / 2);
    } else if (from != frames.get(row) && (state == null || !state.failed())) {
      g.fillText("holds %d".formatted(from), x + 12, y + h / 2);
    } else if (state == null) {
      g.fillText("waiting", x + 12, y + h / 2);
    } else if (state.failed()) {
      g.setFill(t.error);
      g.fillText("failed", x + 12, y + h / 2);
    } else {
      g.setFill(Theme.hue(hues.get(column)).deriveColor(0, 1, 1, state.share() >= 1 ? 0.55 : 0.3));
      g.fillRect(x + 1, y + 1, (w - 2) * state.share(), h - 2);
      g.setFill(state.share() >= 1 ? t.text : t.dim);
      g.fillText(state.share() >= 1 ? "done" : "running", x + 12, y + h / 2);
    }
  }

  @Override
  public String describe(int row, int column) {
    return row < frames.size() ? "frame " + frames.get(row) : "";
  }
}
