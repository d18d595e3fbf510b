package org.wedgecutter.core.plan;

/**
 * How many bounces of light are followed, 0 or more each.
 *
 * @param surfaces most surfaces that it meets after the first, reflected or scattered
 * @param glass most times that it goes through glass or is reflected inside it
 * @param media most times that a medium scatters it
 */
public record Bounces(int surfaces, int glass, int media) {
  /** The defaults of a plan without values for glass and media. */
  public static Bounces of(int surfaces) {
    return new Bounces(surfaces, 8, 1);
  }
}
