package org.wedgecutter.core.plan;

import java.util.Locale;

/** The form in which a catcher layer is delivered. */
public enum CatcherOutput {
  /** With minus without, signed; joined by plus. */
  DIFFERENCE(Join.PLUS),
  /** Diffuse light with by without, per colour; joined by times. */
  RATIO(Join.TIMES),
  /** One premultiplied picture for any background; joined by catch. */
  CATCH(Join.CATCH),
  /** Diffuse light straight from lights, with by without; joined by times. */
  SHADOW(Join.TIMES),
  /**
   * Diffuse light from the environment and via anything but casters, with by without; joined by
   * times.
   */
  OCCLUSION(Join.TIMES),
  /** Indirect diffuse light via casters; joined by plus. */
  BOUNCE(Join.PLUS),
  /** Specular light with minus without, signed; joined by plus. */
  REFLECTION(Join.PLUS);

  private final Join join;

  CatcherOutput(Join join) {
    this.join = join;
  }

  /** Returns the join that it is made for. */
  public Join join() {
    return join;
  }

  /** Returns which light of what is behind it scales, if it is a ratio. */
  public Recipe.Light light() {
    return switch (this) {
      case SHADOW -> Recipe.Light.DIRECT;
      case OCCLUSION -> Recipe.Light.INDIRECT;
      default -> Recipe.Light.ALL;
    };
  }

  /** Whether it is one of the effects alone; all of them together are the whole. */
  public boolean isPart() {
    return ordinal() >= SHADOW.ordinal();
  }

  /** Whether it may take light away, so that files and screens must hold negative values. */
  public boolean signed() {
    return this == DIFFERENCE || this == REFLECTION;
  }

  /** Returns the word in plans. */
  public String word() {
    return name().toLowerCase(Locale.ROOT);
  }

  /** Finds an output by its word. */
  public static CatcherOutput of(String word) {
    return valueOf(word.toUpperCase(Locale.ROOT));
  }
}
