package org.wedgecutter.app.sheet;

/** Actions on a layer from its header, by pointer or keys. */
public interface HeaderActions {
  /** Offers the joins of a layer. */
  void joins(int column);

  /** Switches whether a layer is rendered. */
  void toggleRender(int column);

  /** Begins to rename a layer. */
  void rename(int column);

  /** Opens the menu of a layer. */
  void menu(int column, double screenX, double screenY);
}
