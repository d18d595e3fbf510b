package org.wedgecutter.app.station;

import java.util.List;
import javafx.scene.Node;
import javafx.scene.control.MenuItem;
import javafx.scene.input.KeyEvent;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.app.live.Pictures;
import org.wedgecutter.app.model.Session;
import org.wedgecutter.app.sheet.Drops;
import org.wedgecutter.app.sheet.SheetRows;
import org.wedgecutter.app.viewer.PictureCanvas;
import org.wedgecutter.core.check.Finding;
import org.wedgecutter.core.plan.LayerDef;
import org.wedgecutter.core.resolve.HeldFrames;
import org.wedgecutter.core.scene.Entity;

/**
 * One step of the work: which rows the sheet has, what is above and below it, and what keys, menus
 * and clicks mean. The window knows stations by this alone.
 *
 * <p>A station that is not shown is still told of changes, so that it is right when it is shown.
 * All of it is called on the interface thread.
 */
public interface Station {
  /** Returns its identifier, in lower case. */
  String id();

  /** Returns its name in the window. */
  String title();

  /** Returns the rows of the sheet. */
  SheetRows rows();

  /** Returns what stands above the sheet, or null. */
  default @Nullable Node above() {
    return null;
  }

  /** Returns what stands below the sheet. */
  Node below();

  /** Shows another shot. */
  default void opened(Session s) {}

  /** The frames of the shot are others, or its scene, and what moves in them is known. */
  default void moves(Session s) {}

  /** Shows the plan after an edit, or at another frame. */
  void planChanged(Session s);

  /** Shows pictures that are complete. */
  default void picturesComplete(Session s, Pictures pictures) {}

  /** Shows the findings of the plan. */
  default void found(List<Finding> findings) {}

  /** Shows which frames of the layers are the same, and so are rendered once. */
  default void held(HeldFrames frames) {}

  /** Whether small pictures of the frames that matter stand above the timeline. */
  default boolean showsFramePictures() {
    return false;
  }

  /** Sets the layer that is solo; empty if none is. */
  default void solo(String layer) {}

  /** Is called when the station becomes the one shown. */
  default void shown() {}

  /** Is called when another station is shown instead. */
  default void left() {}

  /**
   * Shows what the cursor of the sheet is on.
   *
   * @param row row of the cursor
   * @param layer layer of the cursor's column, or null
   */
  void selected(Session s, int row, @Nullable LayerDef layer);

  /** Handles a key that did not move the cursor; returns whether it did anything. */
  default boolean key(KeyEvent e) {
    return false;
  }

  /** Returns the menu of a row. */
  default List<MenuItem> menu(int row) {
    return List.of();
  }

  /** Returns what can be dragged from row to row. */
  default Drops drops() {
    return Drops.NONE;
  }

  /** Returns what can be dragged out of the picture. */
  default PictureCanvas.DragOut dragOut() {
    return PictureCanvas.DragOut.NONE;
  }

  /**
   * Called when a pixel of the picture was clicked.
   *
   * @param x column at the plan's size
   * @param y line
   */
  default void picked(Session s, int x, int y) {}

  /** The pointer is at a pixel of the newest picture. */
  default void pointed(int x, int y) {}

  /** Returns the row that shows an entity, opening what holds it; -1 if it shows none. */
  default int reveal(Entity entity) {
    return -1;
  }

  /** Returns the row of a collection; -1 if it shows none. */
  default int rowOf(String collection) {
    return -1;
  }

  /** Returns what would be lost if the window closed now, in words; empty if nothing. */
  default String atWork() {
    return "";
  }

  /** Stops background work; the window closes. */
  default void close() {}
}
