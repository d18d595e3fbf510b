package org.wedgecutter.core.plan;

import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * How strongly a catcher catches, and where. Any value but the default departs from the exact
 * difference.
 *
 * @param opacity of shadows, 0 (none) to 1 (as they are)
 * @param tint colour that a full shadow is lifted to, each 0 (as it is) to 1 (no shadow)
 * @param reflection reflection gain: factor on the specular part
 * @param lights collections whose emitters' shadows are caught; empty means all
 * @param reach where it catches; null means everywhere
 * @param backgrounds of a catch: levels of even backgrounds, scene-linear, 0 and more, over which
 *     it is to come nearest to what the surface gives; empty means the surface's own light
 */
public record CatcherTuning(
    double opacity,
    Value.Colour tint,
    double reflection,
    List<String> lights,
    @Nullable Reach reach,
    List<Double> backgrounds) {
  /** Backgrounds that are likely: dark, middle grey, light. */
  public static final List<Double> LIKELY = List.of(0.02, 0.18, 0.8);

  /** The default: everything is caught unchanged. */
  public static final CatcherTuning USUAL =
      new CatcherTuning(1, new Value.Colour(0, 0, 0), 1, List.of(), null, List.of());

  public CatcherTuning {
    lights = List.copyOf(lights);
    backgrounds = List.copyOf(backgrounds);
  }

  /** A place in the world, metres. */
  public record Place(double x, double y, double z) {
    /** Returns the three numbers. */
    public double[] numbers() {
      return new double[] {x, y, z};
    }
  }

  /**
   * An ellipse in the plane of the catching surface.
   *
   * @param centre its middle; null means where the casters stand
   * @param across radius along the turned x axis, metres
   * @param along radius along the turned z axis, metres
   * @param turn degrees about the vertical
   * @param soft share of the radius over which catching fades to nothing, 0 to 1
   */
  public record Reach(
      @Nullable Place centre, double across, double along, double turn, double soft) {
    /** Returns it about another place; null means where the casters stand. */
    public Reach withCentre(@Nullable Place next) {
      return new Reach(next, across, along, turn, soft);
    }

    /** Returns it turned otherwise, degrees. */
    public Reach withTurn(double next) {
      return new Reach(centre, across, along, next, soft);
    }

    /** Returns it with another soft share of the radius. */
    public Reach withSoft(double next) {
      return new Reach(centre, across, along, turn, next);
    }
  }

  /** Returns it with another opacity of shadows. */
  public CatcherTuning withOpacity(double next) {
    return new CatcherTuning(next, tint, reflection, lights, reach, backgrounds);
  }

  /** Returns it with another colour of full shadows. */
  public CatcherTuning withTint(Value.Colour next) {
    return new CatcherTuning(opacity, next, reflection, lights, reach, backgrounds);
  }

  /** Returns it with the shadows of other lights; empty means all. */
  public CatcherTuning withLights(List<String> next) {
    return new CatcherTuning(opacity, tint, reflection, next, reach, backgrounds);
  }

  /** Returns it with another reflection gain: factor on the specular part. */
  public CatcherTuning withReflection(double next) {
    return new CatcherTuning(opacity, tint, next, lights, reach, backgrounds);
  }

  /** Returns it with another reach. */
  public CatcherTuning withReach(@Nullable Reach next) {
    return new CatcherTuning(opacity, tint, reflection, lights, next, backgrounds);
  }

  /** Returns it fitted to other backgrounds; empty means to the surface's own light. */
  public CatcherTuning withBackgrounds(List<Double> next) {
    return new CatcherTuning(opacity, tint, reflection, lights, reach, next);
  }

  /** Whether the difference is exact: not scaled and not limited to a reach. */
  public boolean isUsual() {
    return equals(USUAL);
  }
}
