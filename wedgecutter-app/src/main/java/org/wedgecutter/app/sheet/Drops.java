package org.wedgecutter.app.sheet;

/** What can be dragged from row to row of a sheet. */
public interface Drops {
  /** Nothing. */
  Drops NONE =
      new Drops() {
        @Override
        public String dragged(int row) {
          return "";
        }

        @Override
        public boolean between(int row, int target) {
          return false;
        }

        @Override
        public void drop(int row, int target) {}
      };

  /** Returns what dragging a row would drag, in words; empty if it cannot be dragged. */
  String dragged(int row);

  /** Whether it would be dropped above the target row, instead of into it. */
  boolean between(int row, int target);

  /** Drops it. */
  void drop(int row, int target);
}
