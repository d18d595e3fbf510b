package org.wedgecutter.app.station;

import java.util.List;
import java.util.SortedMap;
import java.util.function.Function;
import javafx.scene.image.Image;
import org.wedgecutter.app.files.ImageFiles;
import org.wedgecutter.app.files.RejoinFiles;
import org.wedgecutter.app.files.ShotScenes;
import org.wedgecutter.app.panel.Bench;
import org.wedgecutter.app.sheet.SheetHeaders;
import org.wedgecutter.app.sheet.SheetView;
import org.wedgecutter.app.theme.Theme;
import org.wedgecutter.app.viewer.Look;
import org.wedgecutter.app.viewer.PicturePipe;
import org.wedgecutter.core.check.Finding;
import org.wedgecutter.core.survey.Matter;

/** What stations know of the window beyond the open shot. */
public interface Workbench extends Bench {
  /** Returns the sheet. */
  SheetView sheet();

  /** Returns the headers of the sheet. */
  SheetHeaders headers();

  /** Returns the pipe of pictures to the viewer, and what can be drawn over them. */
  PicturePipe pictures();

  /** Returns what can be done to layers at every station. */
  LayerActions layers();

  /** Returns the actions for the images of a plan. */
  ImageFiles images();

  /** Returns the actions for the scene of a plan. */
  ShotScenes scenes();

  /** Returns the actions for files of what is rejoined. */
  RejoinFiles rejoins();

  /** Returns the colours in use. */
  Theme theme();

  /** Returns the findings of the plan. */
  List<Finding> found();

  /** Applies the fix of a finding. */
  void fix(Finding.Fix fix);

  /** Shows a picture in the viewer. */
  void look(Look look);

  /** Goes to a station. */
  void goTo(String stationId);

  /** Goes to a frame. */
  void goToFrame(int frame);

  /** Marks the frames that matter on the timeline. */
  void matters(List<Matter> frames);

  /** Shows small pictures of frames above the timeline while the Shot station is open. */
  void framePictures(SortedMap<Integer, Image> byFrame);

  /** Makes a station for a window. */
  interface Maker extends Function<Workbench, Station> {}
}
