package org.wedgecutter.core.plan;

import java.util.EnumSet;
import java.util.Locale;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/**
 * The catching options of a cell.
 *
 * @param output for a Catcher: the form of its layer; null means difference
 * @param leftOut for a Catcher: the effects of the casters that are not caught, because another
 *     layer has them
 * @param caster for other roles in a layer with a Catcher: whether what they do to it is caught;
 *     null means by role: Seen and Unseen are casters, a Holdout is part of the plate
 * @param tuning for a Catcher: how strongly it catches, and where
 * @param extra unknown keys
 */
public record CatcherOptions(
    @Nullable CatcherOutput output,
    Set<Part> leftOut,
    @Nullable Boolean caster,
    CatcherTuning tuning,
    Extra extra) {
  /** An effect of a caster on a surface. */
  public enum Part {
    /** It stops light. */
    SHADOWS,
    /** It shows in the surface. */
    REFLECTIONS,
    /** It sends light to it, or stops bounced light. */
    BOUNCE;

    /** Returns the word in plans. */
    public String word() {
      return name().toLowerCase(Locale.ROOT);
    }
  }

  /** No options. */
  public static final CatcherOptions NONE =
      new CatcherOptions(null, Set.of(), null, CatcherTuning.USUAL, Extra.NONE);

  public CatcherOptions {
    leftOut = Set.copyOf(leftOut);
  }

  /** Returns it with another output. */
  public CatcherOptions withOutput(@Nullable CatcherOutput next) {
    return new CatcherOptions(next, leftOut, caster, tuning, extra);
  }

  /** Returns it with casting set otherwise. */
  public CatcherOptions withCaster(@Nullable Boolean next) {
    return new CatcherOptions(output, leftOut, next, tuning, extra);
  }

  /** Returns it with another tuning. */
  public CatcherOptions withTuning(CatcherTuning next) {
    return new CatcherOptions(output, leftOut, caster, next, extra);
  }

  /** Returns it with a part caught or not. */
  public CatcherOptions with(Part part, boolean caught) {
    EnumSet<Part> next = EnumSet.noneOf(Part.class);
    next.addAll(leftOut);
    if (caught) {
      next.remove(part);
    } else {
      next.add(part);
    }
    return new CatcherOptions(output, next, caster, tuning, extra);
  }
}
