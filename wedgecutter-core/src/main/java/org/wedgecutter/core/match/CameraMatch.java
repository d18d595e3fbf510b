package org.wedgecutter.core.match;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.List;
import org.hipparchus.exception.MathRuntimeException;
import org.hipparchus.linear.Array2DRowRealMatrix;
import org.hipparchus.linear.ArrayRealVector;
import org.hipparchus.linear.CholeskyDecomposition;
import org.hipparchus.linear.RealMatrix;
import org.hipparchus.linear.RealVector;
import org.hipparchus.optim.nonlinear.vector.leastsquares.LeastSquaresBuilder;
import org.hipparchus.optim.nonlinear.vector.leastsquares.LevenbergMarquardtOptimizer;
import org.hipparchus.util.Pair;
import org.joml.Matrix3d;
import org.joml.Vector3d;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.plan.CameraMarks;
import org.wedgecutter.core.plan.PlacedCamera;
import org.wedgecutter.core.scene.Projection;

/**
 * The camera of a photograph, by least squares over what is marked in it: the distance of each mark
 * from where the camera would show it, in pixels. What the marks leave open stays near usual values
 * (35 degrees of view, 1.6 m above the ground, the axis in the middle, no distortion).
 *
 * <p>Sources: vanishing points as images of directions, R. Hartley and A. Zisserman, "Multiple View
 * Geometry in Computer Vision", 2nd edition, chapter 8; variances from the normal equations, ibid.,
 * chapter 5; distortion, see {@link Projection}.
 */
public final class CameraMatch {
  private static final double USUAL_ANGLE = 35;
  private static final double USUAL_HEIGHT = 1.6;

  /** Strength of what is usual, pixels for a radian, a factor of e, a metre: far below any mark. */
  private static final double WEAK = 0.01;

  /** What is behind the camera, or on the wrong side of the horizon, counts as many pixels off. */
  private static final double WRONG_SIDE = 1e4;

  /** Marks are taken to be placed to this part of the picture's height, if they fit better. */
  private static final double PLACED = 1000;

  private static final double STEP = 1e-6;
  private static final int EVALUATIONS = 300;
  private static final int FEW = 60;

  /** Mean square of the marks' distances, up to which no other camera is looked for. */
  private static final double NEAR = 25;

  /** How many of the directions that are tried at first are followed. */
  private static final int LIKELY = 32;

  private static final int TURN = 0;
  private static final int EYE = 3;
  private static final int FOCAL = 6;

  private final CameraMarks marks;
  private final int width;
  private final int height;
  private final boolean findsAngle;

  private CameraMatch(CameraMarks marks, int width, int height) {
    this.marks = marks;
    this.width = width;
    this.height = height;
    findsAngle = marks.angle() == null;
  }

  /**
   * The camera that fits best.
   *
   * @param camera the camera
   * @param error root of the mean square of the marks' distances, pixels
   * @param errors distance of each mark, pixels: of its ends' root mean square
   * @param turnDeviation by how much its direction may be wrong, degrees; deviations are for marks
   *     that are placed to a thousandth of the picture's height, or to the error where that is more
   * @param eyeDeviation by how much its place may be wrong, as a share of its distance from what is
   *     marked
   * @param angleDeviation by how much its angle of view may be wrong, degrees; 0 where it is given
   */
  public record Fit(
      PlacedCamera camera,
      double error,
      List<Double> errors,
      double turnDeviation,
      double eyeDeviation,
      double angleDeviation) {
    private static final double LOOSE_TURN = 10;
    private static final double LOOSE_EYE = 0.25;
    private static final double LOOSE_ANGLE = 8;

    /** Returns what the marks leave open, in words; empty if nothing. */
    public List<String> open() {
      List<String> out = new ArrayList<>();
      if (!(turnDeviation < LOOSE_TURN)) {
        out.add("direction: mark lines along two axes, the horizon and a line, or points");
      }
      if (!(angleDeviation < LOOSE_ANGLE)) {
        out.add("angle of view: mark lines along two axes that converge, or four points");
      }
      if (!(eyeDeviation < LOOSE_EYE)) {
        out.add(
            "place: mark the origin as a point, and a distance on the ground or the camera's height");
      }
      return List.copyOf(out);
    }
  }

  /**
   * Finds the camera.
   *
   * @param marks what is marked
   * @param width width of the picture, pixels
   * @param height height of the picture, pixels
   * @param near the camera that was found before a mark was moved; null if there is none
   * @return the camera, or null if nothing is marked
   */
  public static @Nullable Fit of(
      CameraMarks marks, int width, int height, @Nullable PlacedCamera near) {
    if (marks.marks().isEmpty()) {
      return null;
    }
    return new CameraMatch(marks, width, height).fit(near);
  }

  private Fit fit(@Nullable PlacedCamera near) {
    if (near != null) {
      // a mark that is dragged leads to a camera that is near
      Solved there = solved(Pose.of(near, width, height), EVALUATIONS);
      if (there.cost <= NEAR * residuals(there.pose).length) {
        return told(there.pose);
      }
    }
    Solved best =
        starts().stream()
            .map(start -> new Solved(start, cost(residuals(start))))
            .sorted(Comparator.comparingDouble(Solved::cost))
            .limit(LIKELY)
            .map(start -> solved(start.pose, FEW))
            .reduce((a, b) -> isBetter(b, a) ? b : a)
            .orElseThrow();
    best = solved(best.pose, EVALUATIONS);
    return told(best.pose);
  }

  /**
   * Directions that lines leave open are resolved for a camera that looks along -z, to the right.
   */
  private static boolean isBetter(Solved a, Solved b) {
    if (Math.abs(a.cost - b.cost) > 1e-3 + 0.01 * Math.min(a.cost, b.cost)) {
      return a.cost < b.cost;
    }
    return preference(a.pose) > preference(b.pose) + 1e-6;
  }

  private static double preference(Pose p) {
    Matrix3d world = p.turn().transpose(new Matrix3d());
    Vector3d ahead = world.transform(new Vector3d(0, 0, -1));
    Vector3d up = world.transform(new Vector3d(0, 1, 0));
    return (up.y > 0 ? 10 : 0) + (p.eye().y > 0 ? 5 : 0) - ahead.z;
  }

  private List<Pose> starts() {
    List<Pose> out = new ArrayList<>();
    double cameraHeight = marks.cameraHeight() == null ? USUAL_HEIGHT : marks.cameraHeight();
    double[] angles =
        findsAngle ? new double[] {60, 35, 18} : new double[] {given(marks.angle(), USUAL_ANGLE)};
    for (double angle : angles) {
      for (int yaw = 0; yaw < 360; yaw += 45) {
        for (int pitch : new int[] {-50, -20, -3, 20}) {
          Pose pose =
              new Pose(
                  Pose.looking(Math.toRadians(yaw), Math.toRadians(pitch)),
                  new Vector3d(0, cameraHeight, 0),
                  0.5 / Math.tan(Math.toRadians(angle) / 2),
                  Projection.NONE,
                  width,
                  height);
          out.add(pose.at(place(pose)));
        }
      }
    }
    return out;
  }

  private static double given(@Nullable Double value, double usual) {
    return value == null ? usual : value;
  }

  /**
   * Where a camera of known direction stands: nearest to the lines through the marked points, along
   * which it sees them.
   */
  private Vector3d place(Pose pose) {
    Matrix3d sum = new Matrix3d().zero();
    Vector3d right = new Vector3d();
    double usual = 1e-3;
    for (CameraMarks.Mark mark : marks.marks()) {
      if (mark instanceof CameraMarks.Point p) {
        Vector3d d = pose.ray(pose.straight(p.at())).normalize();
        Matrix3d across =
            new Matrix3d(
                1 - d.x * d.x,
                -d.x * d.y,
                -d.x * d.z,
                -d.x * d.y,
                1 - d.y * d.y,
                -d.y * d.z,
                -d.x * d.z,
                -d.y * d.z,
                1 - d.z * d.z);
        sum.add(across);
        right.add(across.transform(vector(p.place())));
      }
    }
    sum.m00 += usual;
    sum.m11 += usual;
    sum.m22 += usual;
    right.add(new Vector3d(pose.eye()).mul(usual));
    return sum.invert().transform(right);
  }

  private static Vector3d vector(List<Double> v) {
    return new Vector3d(v.get(0), v.get(1), v.get(2));
  }

  /** A camera, and the sum of squares that is left. */
  private record Solved(Pose pose, double cost) {}

  private Solved solved(Pose start, int evaluations) {
    // what the optimizer saw, since it gives nothing back where it stops early
    Pose[] best = {start};
    double[] least = {cost(residuals(start, start))};
    int unknowns = unknowns();
    try {
      new LevenbergMarquardtOptimizer()
          .optimize(
              new LeastSquaresBuilder()
                  .start(new double[unknowns])
                  .target(new double[residuals(start, start).length])
                  .lazyEvaluation(false)
                  .maxEvaluations(evaluations)
                  .maxIterations(evaluations)
                  .model(point -> {
                    Pose at = moved(start, point.toArray());
                    double[] r = residuals(at, start);
                    double cost = cost(r);
                    if (cost < least[0]) {
                      least[0] = cost;
                      best[0] = at;
                    }
                    return new Pair<RealVector, RealMatrix>(
                        new ArrayRealVector(r, false), slopes(start, point.toArray(), r.length));
                  })
                  .build());
    } catch (MathRuntimeException e) {
      // no further step makes it better, or there were enough: the best is known
    }
    return new Solved(best[0], cost(residuals(best[0])));
  }

  private static double cost(double[] r) {
    double sum = 0;
    for (double v : r) {
      sum += v * v;
    }
    return Double.isFinite(sum) ? sum : Double.MAX_VALUE;
  }

  private int unknowns() {
    return FOCAL
        + (findsAngle ? 1 : 0)
        + (marks.solvesShift() ? 2 : 0)
        + (marks.solvesDistortion() ? 2 : 0);
  }

  private Pose moved(Pose from, double[] by) {
    int k = FOCAL;
    double focal = findsAngle ? from.focal() * Math.exp(by[k++]) : from.focal();
    Projection p = from.projection();
    double right = 0;
    double up = 0;
    if (marks.solvesShift()) {
      right = p.right() + by[k++];
      up = p.up() + by[k++];
    }
    double k1 = 0;
    double k2 = 0;
    if (marks.solvesDistortion()) {
      k1 = p.k1() + by[k++];
      k2 = p.k2() + by[k];
    }
    if (!findsAngle) {
      focal = 0.5 / Math.tan(Math.toRadians(given(marks.angle(), USUAL_ANGLE)) / 2);
    }
    return from.turned(by[TURN], by[TURN + 1], by[TURN + 2])
        .with(
            new Vector3d(from.eye()).add(by[EYE], by[EYE + 1], by[EYE + 2]),
            focal,
            new Projection(right, up, k1, k2));
  }

  private RealMatrix slopes(Pose start, double[] at, int count) {
    double[][] out = new double[count][at.length];
    for (int k = 0; k < at.length; k++) {
      double[] there = at.clone();
      there[k] = at[k] + STEP;
      double[] more = residuals(moved(start, there), start);
      there[k] = at[k] - STEP;
      double[] less = residuals(moved(start, there), start);
      for (int r = 0; r < count; r++) {
        out[r][k] = (more[r] - less[r]) / (2 * STEP);
      }
    }
    return new Array2DRowRealMatrix(out, false);
  }

  /** Distances of the marks, then those from what is usual. */
  private double[] residuals(Pose pose, Pose start) {
    double[] of = residuals(pose);
    double[] out = new double[of.length + 8];
    System.arraycopy(of, 0, out, 0, of.length);
    int k = of.length;
    out[k++] = WEAK * (pose.eye().x - start.eye().x);
    out[k++] = WEAK * (pose.eye().y - start.eye().y);
    out[k++] = WEAK * (pose.eye().z - start.eye().z);
    double usual = 0.5 / Math.tan(Math.toRadians(USUAL_ANGLE) / 2);
    out[k++] = WEAK * Math.log(pose.focal() / usual);
    Projection p = pose.projection();
    out[k++] = WEAK * p.right();
    out[k++] = WEAK * p.up();
    out[k++] = WEAK * p.k1();
    out[k] = WEAK * p.k2();
    return out;
  }

  private double[] residuals(Pose pose) {
    List<double[]> all = new ArrayList<>();
    int count = 0;
    for (CameraMarks.Mark mark : marks.marks()) {
      double[] r = off(pose, mark);
      all.add(r);
      count += r.length;
    }
    double[] out = new double[count + (marks.cameraHeight() == null ? 0 : 1)];
    int k = 0;
    for (double[] r : all) {
      System.arraycopy(r, 0, out, k, r.length);
      k += r.length;
    }
    if (marks.cameraHeight() != null) {
      double wanted = marks.cameraHeight();
      out[k] = height * (pose.eye().y - wanted) / wanted;
    }
    return out;
  }

  private static double[] off(Pose pose, CameraMarks.Mark mark) {
    return switch (mark) {
      case CameraMarks.AxisLine e -> line(pose, e);
      case CameraMarks.Horizon h -> horizon(pose, h);
      case CameraMarks.Point p -> point(pose, p);
      case CameraMarks.Distance l -> distance(pose, l);
    };
  }

  /** The distance of an end from the line through the middle and where the axis vanishes. */
  private static double[] line(Pose pose, CameraMarks.AxisLine e) {
    Pose.Straight from = pose.straight(e.from());
    Pose.Straight to = pose.straight(e.to());
    Vector3d axis = new Vector3d();
    axis.setComponent(e.along().ordinal(), 1);
    pose.turn().transform(axis);
    double f = pose.pixels();
    Vector3d middle = new Vector3d((from.a() + to.a()) / 2, (from.b() + to.b()) / 2, 1);
    Vector3d line = middle.cross(new Vector3d(f * axis.x, f * axis.y, -axis.z), new Vector3d());
    double size = Math.hypot(line.x, line.y);
    double off = line.x * from.a() + line.y * from.b() + line.z;
    return new double[] {size > 0 ? off / size : 0};
  }

  private static double[] horizon(Pose pose, CameraMarks.Horizon h) {
    Vector3d up = pose.turn().transform(new Vector3d(0, 1, 0));
    double size = Math.max(1e-9, Math.hypot(up.x, up.y));
    double[] out = new double[2];
    for (int k = 0; k < 2; k++) {
      Pose.Straight s = pose.straight(h.ends().get(k));
      out[k] = (up.x * s.a() + up.y * s.b() - up.z * pose.pixels()) / size;
    }
    return out;
  }

  private static double[] point(Pose pose, CameraMarks.Point p) {
    Vector3d seen = pose.seen(vector(p.place()));
    if (seen.z > -1e-9) {
      return new double[] {WRONG_SIDE * (1 + seen.z), WRONG_SIDE};
    }
    Pose.Straight s = pose.straight(p.at());
    double f = pose.pixels() / -seen.z;
    return new double[] {f * seen.x - s.a(), f * seen.y - s.b()};
  }

  /** By how many pixels the distance would have to be longer, measured along it in the picture. */
  private static double[] distance(Pose pose, CameraMarks.Distance l) {
    Pose.Straight from = pose.straight(l.from());
    Pose.Straight to = pose.straight(l.to());
    Vector3d one = ground(pose, from);
    Vector3d two = ground(pose, to);
    if (one == null || two == null) {
      return new double[] {WRONG_SIDE};
    }
    double across = Math.hypot(from.a() - to.a(), from.b() - to.b());
    double long_ = Math.max(1e-12, one.distance(two));
    return new double[] {across * Math.log(long_ / l.metres())};
  }

  private static @Nullable Vector3d ground(Pose pose, Pose.Straight s) {
    Vector3d d = pose.ray(s);
    double t = -pose.eye().y / d.y;
    return t > 0 && Double.isFinite(t) ? d.mul(t).add(pose.eye()) : null;
  }

  private Fit told(Pose pose) {
    List<Double> errors = new ArrayList<>();
    double sum = 0;
    int count = 0;
    for (CameraMarks.Mark mark : marks.marks()) {
      double[] r = off(pose, mark);
      errors.add(Math.sqrt(cost(r) / r.length));
      sum += cost(r);
      count += r.length;
    }
    double error = Math.sqrt(sum / count);
    double[] none = new double[unknowns()];
    int rows = residuals(pose, pose).length;
    RealMatrix j = slopes(pose, none, rows);
    RealMatrix normal = j.transposeMultiply(j);
    double[] deviation = new double[none.length];
    try {
      RealMatrix inverse = new CholeskyDecomposition(normal, 1e-9, 0).getSolver().getInverse();
      for (int k = 0; k < none.length; k++) {
        deviation[k] = Math.max(height / PLACED, error) * Math.sqrt(inverse.getEntry(k, k));
      }
    } catch (MathRuntimeException e) {
      // what nothing holds has no bound
      Arrays.fill(deviation, Double.POSITIVE_INFINITY);
    }
    double eye = norm(deviation, EYE) / distance(pose);
    PlacedCamera camera = pose.camera();
    double half = Math.toRadians(camera.angle()) / 2;
    return new Fit(
        camera,
        error,
        List.copyOf(errors),
        Math.toDegrees(norm(deviation, TURN)),
        eye,
        findsAngle ? Math.toDegrees(deviation[FOCAL] * Math.sin(2 * half)) : 0);
  }

  private static double norm(double[] v, int from) {
    return Math.sqrt(v[from] * v[from] + v[from + 1] * v[from + 1] + v[from + 2] * v[from + 2]);
  }

  /** How far away what is marked is: points, else the ground in the picture's middle. */
  private double distance(Pose pose) {
    double sum = 0;
    int count = 0;
    for (CameraMarks.Mark mark : marks.marks()) {
      if (mark instanceof CameraMarks.Point p) {
        sum += pose.eye().distance(vector(p.place()));
        count++;
      } else if (mark instanceof CameraMarks.Distance l) {
        Vector3d at = ground(pose, pose.straight(l.from()));
        if (at != null) {
          sum += at.distance(pose.eye());
          count++;
        }
      }
    }
    return count == 0 ? Math.max(1e-6, Math.abs(pose.eye().y)) : Math.max(1e-6, sum / count);
  }
}
