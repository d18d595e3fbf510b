package org.wedgecutter.core.proof;

import java.util.List;
import java.util.Locale;

/**
 * Why a plan does not rejoin exactly.
 *
 * @param kind what sort of reason
 * @param layer name of the layer, or empty if it is of none in particular
 * @param entity path of the entity that is named first, or empty
 * @param entities all entities that it is about, by index
 * @param share share of the residual on pixels that the entity or layer covers most of, 0 to 1; NaN
 *     where it was not measured
 * @param text what is wrong, in plain words
 * @param fix what to do about it
 */
public record Cause(
    Kind kind,
    String layer,
    String entity,
    List<Integer> entities,
    double share,
    String text,
    String fix) {
  public Cause {
    entities = List.copyOf(entities);
  }

  /** A cause that is about no entities in particular. */
  public Cause(Kind kind, String layer, String entity, double share, String text, String fix) {
    this(kind, layer, entity, List.of(), share, text, fix);
  }

  /** Sorts of reasons. */
  public enum Kind {
    SEEN_NOWHERE,
    SEEN_TWICE,
    LIGHT_TWICE,
    LIGHT_DIFFERS,
    OVERRIDE_DIFFERS,
    SETTINGS_DIFFER,
    HELD_NOT_STILL,
    OVER_ON_HELD_OUT,
    PLUS_ON_COMPLETE,
    WRONG_JOIN,
    JOIN_ORDER,
    DOUBLED_SHADOW,
    GREY_CATCH,
    EDGE_COVARIANCE,
    HAZE_APART,
    RATIO_ON_SPECULAR,
    CATCH_TUNED,
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
