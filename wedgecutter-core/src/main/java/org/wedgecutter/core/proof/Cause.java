package org.wedgecutter.core.proof;

import java.util.Locale;

/**
 * Why a plan does not rejoin exactly.
 *
 * @param kind what sort of reason
 * @param layer name of the layer, or empty if it is of none in particular
 * @param entity path of the entity, or empty
 * @param share share of the residual on pixels that the entity or layer covers most of, 0 to 1; NaN
 *     where it was not measured
 * @param text what is wrong, in plain words
 * @param fix what to do about it
 */
public record Cause(Kind kind, String layer, String entity, double share, String text, String fix) {
  /** Sorts of reasons. */
  public enum Kind {
    SEEN_NOWHERE,
    SEEN_TWICE,
    LIGHT_DIFFERS,
    OVER_ON_HELD_OUT,
    PLUS_ON_COMPLETE,
    GREY_CATCH,
    EDGE_COVARIANCE,
    RATIO_ON_SPECULAR,
    LAYER_NOT_RENDERED,
    LAYER_NOT_JOINED,
    HALF_ROUNDING,
    STALE;

    /** Returns the word in documents. */
    public String word() {
      return name().toLowerCase(Locale.ROOT).replace('_', '-');
    }
  }
}
