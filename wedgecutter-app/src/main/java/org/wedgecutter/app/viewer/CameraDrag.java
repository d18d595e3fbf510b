package org.wedgecutter.app.viewer;

/** Takes drags in the picture that move the camera: Ctrl turns, Ctrl and Shift moves. */
public interface CameraDrag {
  /** Nothing moves. */
  CameraDrag NONE =
      new CameraDrag() {
        @Override
        public boolean begins() {
          return false;
        }

        @Override
        public void dragged(double right, double down, boolean move) {}

        @Override
        public void ends() {}

        @Override
        public void nearer(double steps) {}
      };

  /** Begins a drag; returns whether there is a camera to be moved. */
  boolean begins();

  /**
   * Drags on.
   *
   * @param right since the drag began, as a share of the picture's height
   * @param down likewise
   * @param move whether the camera moves; else it turns about its target
   */
  void dragged(double right, double down, boolean move);

  /** Ends the drag. */
  void ends();

  /** Brings the camera nearer to its target by some steps of a wheel; negative: farther away. */
  void nearer(double steps);
}
