package org.wedgecutter.core.plan;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/**
 * What is known of a photograph, from which its camera is found: lines along the scene's axes, the
 * horizon, points whose places are known, distances on the ground. The ground is where y is 0.
 *
 * @param marks what is marked in the picture
 * @param cameraHeight height of the camera above the ground, metres, above 0; null if it is not
 *     known
 * @param angle the whole vertical angle of view, degrees, above 0 and below 180; null to solve for
 *     it
 * @param solvesShift whether the axis may lie beside the picture's middle, as in a cropped picture
 * @param solvesDistortion whether the lens may bend lines
 * @param extra unknown keys
 */
public record CameraMarks(
    List<Mark> marks,
    @Nullable Double cameraHeight,
    @Nullable Double angle,
    boolean solvesShift,
    boolean solvesDistortion,
    Extra extra) {
  /** Nothing is marked. */
  public static final CameraMarks NONE =
      new CameraMarks(List.of(), null, null, false, false, Extra.NONE);

  /** Most marks of a picture. */
  public static final int MOST = 200;

  private static final double FAR = 10;

  public CameraMarks {
    marks = List.copyOf(marks);
    if (cameraHeight != null && !(cameraHeight > 0 && cameraHeight <= 1e6)) {
      throw new IllegalArgumentException("the camera's height lies above 0 and up to 1e6 metres");
    }
    if (angle != null && !(angle > 0 && angle < 180)) {
      throw new IllegalArgumentException("the angle lies above 0 and below 180 degrees");
    }
    if (marks.size() > MOST) {
      throw new IllegalArgumentException(
          "%d marks, expected %d at most".formatted(marks.size(), MOST));
    }
  }

  /** An axis of the scene. */
  public enum Axis {
    X,
    Y,
    Z;

    /** Returns the word in plans and on screens. */
    public String word() {
      return name().toLowerCase(Locale.ROOT);
    }

    /** Finds an axis by its word. */
    public static Optional<Axis> of(String word) {
      return Arrays.stream(values()).filter(a -> a.word().equals(word)).findFirst();
    }
  }

  /**
   * A place in the picture.
   *
   * @param right from the left edge, in widths of the picture
   * @param down from the upper edge, in heights of the picture
   */
  public record At(double right, double down) {
    public At {
      if (!(Math.abs(right) <= FAR && Math.abs(down) <= FAR)) {
        throw new IllegalArgumentException(
            "a place lies within 10 widths and heights of the picture");
      }
    }
  }

  /** Something that is marked in the picture. */
  public sealed interface Mark {
    /** Returns its places in the picture. */
    List<At> ends();

    /** Returns it with one of its places moved. */
    Mark moved(int end, At to);

    /** Returns what it is, in words. */
    default String title() {
      return switch (this) {
        case AxisLine l -> "line along " + l.along().word();
        case Horizon h -> "horizon";
        case Point p -> "point";
        case Distance d -> "distance on ground";
      };
    }
  }

  /** A straight edge that runs along an axis of the scene. */
  public record AxisLine(Axis along, At from, At to) implements Mark {
    @Override
    public List<At> ends() {
      return List.of(from, to);
    }

    @Override
    public AxisLine moved(int end, At at) {
      return end == 0 ? new AxisLine(along, at, to) : new AxisLine(along, from, at);
    }
  }

  /** The horizon, or a part of it: what is infinitely far at the eye's height. */
  public record Horizon(At from, At to) implements Mark {
    @Override
    public List<At> ends() {
      return List.of(from, to);
    }

    @Override
    public Horizon moved(int end, At at) {
      return end == 0 ? new Horizon(at, to) : new Horizon(from, at);
    }
  }

  /**
   * A point whose place is known.
   *
   * @param place x, y, z, metres
   */
  public record Point(At at, List<Double> place) implements Mark {
    public Point {
      place = List.copyOf(place);
      if (place.size() != 3 || place.stream().anyMatch(v -> !(Math.abs(v) <= 1e9))) {
        throw new IllegalArgumentException("a place has three numbers within 1e9 metres");
      }
    }

    @Override
    public List<At> ends() {
      return List.of(at);
    }

    @Override
    public Point moved(int end, At to) {
      return new Point(to, place);
    }
  }

  /**
   * A known distance on the ground.
   *
   * @param metres above 0
   */
  public record Distance(At from, At to, double metres) implements Mark {
    public Distance {
      if (!(metres > 0 && metres <= 1e9)) {
        throw new IllegalArgumentException("a distance lies above 0 and up to 1e9 metres");
      }
    }

    @Override
    public List<At> ends() {
      return List.of(from, to);
    }

    @Override
    public Distance moved(int end, At at) {
      return end == 0 ? new Distance(at, to, metres) : new Distance(from, at, metres);
    }
  }

  /** Returns them with other marks. */
  public CameraMarks with(List<Mark> next) {
    return new CameraMarks(next, cameraHeight, angle, solvesShift, solvesDistortion, extra);
  }

  /** Returns them with a further mark at the end. */
  public CameraMarks with(Mark mark) {
    List<Mark> next = new ArrayList<>(marks);
    next.add(mark);
    return with(next);
  }

  /** Returns them with a mark replaced; null removes it. */
  public CameraMarks with(int number, @Nullable Mark mark) {
    List<Mark> next = new ArrayList<>(marks);
    if (mark == null) {
      next.remove(number);
    } else {
      next.set(number, mark);
    }
    return with(next);
  }

  /** Returns them with the camera's height, metres; null if it is not known. */
  public CameraMarks withCameraHeight(@Nullable Double metres) {
    return new CameraMarks(marks, metres, angle, solvesShift, solvesDistortion, extra);
  }

  /** Returns them with the vertical angle of view, degrees; null to solve for it. */
  public CameraMarks withAngle(@Nullable Double degrees) {
    return new CameraMarks(marks, cameraHeight, degrees, solvesShift, solvesDistortion, extra);
  }

  /** Returns them with what else is solved for. */
  public CameraMarks solving(boolean shift, boolean distortion) {
    return new CameraMarks(marks, cameraHeight, angle, shift, distortion, extra);
  }
}
