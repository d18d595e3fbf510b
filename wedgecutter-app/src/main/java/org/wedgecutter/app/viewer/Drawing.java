package org.wedgecutter.app.viewer;

import java.util.List;
import javafx.scene.paint.Color;

/**
 * Lines over the picture, and places in it that can be dragged. All places are in pixels of the
 * shot, from the left and the top.
 *
 * @param lines drawn from the first to the last
 * @param handles drawn above the lines
 */
public record Drawing(List<Line> lines, List<Handle> handles) {
  /** Nothing. */
  public static final Drawing NONE = new Drawing(List.of(), List.of());

  public Drawing {
    lines = List.copyOf(lines);
    handles = List.copyOf(handles);
  }

  /**
   * An open line.
   *
   * @param points x and y of each
   * @param width on the screen, pixels
   */
  public record Line(double[] points, Color color, double width) {}

  /**
   * A place that can be dragged.
   *
   * @param text beside it; may be empty
   */
  public record Handle(double x, double y, Color color, String text) {}

  /** Receives what is dragged. */
  public interface Hand {
    /** Nothing is dragged. */
    Hand NONE =
        new Hand() {
          @Override
          public void dragged(int handle, double x, double y) {}

          @Override
          public void dropped() {}
        };

    /** A handle is dragged to a place in the picture. */
    void dragged(int handle, double x, double y);

    /** It was let go. */
    void dropped();
  }
}
