package org.wedgecutter.core.fragment;

import java.util.ArrayList;
import java.util.List;
import org.wedgecutter.core.image.Region;
import org.wedgecutter.core.plan.CatcherTuning;
import org.wedgecutter.core.resolve.CatcherSpec;
import org.wedgecutter.core.trace.Plane;

/** The ellipse outside which a catcher catches nothing, as the camera sees it. */
final class ReachMask {
  private static final int POINTS = 96;

  private final Stage stage;
  private final CatcherTuning.Reach reach;

  /** The plane in which it lies, about its centre, its axes turned as the reach is. */
  private final Plane plane;

  ReachMask(Stage stage, CatcherSpec catcher, CatcherTuning.Reach reach) {
    this.stage = stage;
    this.reach = reach;
    double size = Math.max(reach.across(), reach.along());
    CatcherTuning.Place centre = reach.centre();
    double[] given = centre == null ? null : centre.numbers();
    plane = stage.plane(catcher.surfaces(), catcher.casters(), given, size).turned(reach.turn());
  }

  /**
   * Returns its outline, point by point: pixels from the left and from the top of the whole frame.
   *
   * @param share of the radii, 1 for the edge
   */
  List<double[]> outline(FragmentSums of, double share) {
    List<double[]> out = new ArrayList<>();
    var view = stage.view(of.frameWidth(), of.frameHeight());
    for (int k = 0; k < POINTS; k++) {
      double angle = 2 * Math.PI * k / POINTS;
      double a = share * reach.across() * Math.cos(angle);
      double b = share * reach.along() * Math.sin(angle);
      double[] pixel = new double[2];
      if (view.project(plane.place(a, b), pixel)) {
        out.add(pixel);
      }
    }
    return out;
  }

  /** Returns how much is caught at each pixel of some sums, 0 to 1. */
  float[] weights(FragmentSums of) {
    var view = stage.view(of.frameWidth(), of.frameHeight());
    Region r = of.region();
    float[] out = new float[r.width() * r.height()];
    double[] place = new double[2];
    for (int p = 0; p < out.length; p++) {
      int x = r.x() + p % r.width();
      int y = r.y() + p / r.width();
      if (view.onPlane(x, y, plane, place)) {
        double inside = 1 - Math.hypot(place[0] / reach.across(), place[1] / reach.along());
        double t = reach.soft() > 0 ? inside / reach.soft() : inside > 0 ? 1 : 0;
        t = Math.max(0, Math.min(1, t));
        out[p] = (float) (t * t * (3 - 2 * t));
      }
    }
    return out;
  }
}
