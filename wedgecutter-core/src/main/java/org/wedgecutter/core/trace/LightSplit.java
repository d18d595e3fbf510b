package org.wedgecutter.core.trace;

import java.util.List;
import org.wedgecutter.core.pass.LightPass;

/**
 * How a fragment's light is split beyond {@link LightPass}, and what else is kept.
 *
 * <p>The layout of a fragment's light, three numbers each: the parts of {@link LightPass}; all
 * light of each group; diffuse light straight from each group; if asked for, diffuse light straight
 * from lights as if nothing stood in its way; if asked for, the coverage by channel; if asked for,
 * ambient occlusion (the first of its three numbers); if asked for, the diffuse light that casters
 * emit, and the bounced diffuse light that came via casters. The last two are contained in the
 * parts, which are therefore the same whatever a trace takes for casters.
 *
 * @param groupOf group of each entity that emits light, by index; all others are -1
 * @param groups number of groups
 * @param unshadowed whether unshadowed diffuse light is kept
 * @param coverage whether coverage is kept by channel, for a plate behind coloured glass
 * @param occlusion distance up to which geometry occludes, metres; 0 means that it is not kept
 * @param casters whether light via casters is kept
 * @param data whether depth, normals and other data are kept
 */
public record LightSplit(
    List<Integer> groupOf,
    int groups,
    boolean unshadowed,
    boolean coverage,
    float occlusion,
    boolean casters,
    boolean data) {
  /** Nothing but the parts. */
  public static final LightSplit PLAIN =
      new LightSplit(List.of(), 0, false, false, 0, false, false);

  public LightSplit {
    groupOf = List.copyOf(groupOf);
  }

  /** Returns the group of what an entity emits, or -1. */
  public int group(int entity) {
    return entity < groupOf.size() ? groupOf.get(entity) : -1;
  }

  /** Returns where a group's light begins. */
  public int groupAt(int group) {
    return LightPass.NUMBERS + 3 * group;
  }

  /** Returns where the diffuse light straight from a group begins. */
  public int diffuseAt(int group) {
    return LightPass.NUMBERS + 3 * (groups + group);
  }

  /** Returns where unshadowed diffuse light begins. */
  public int unshadowedAt() {
    return LightPass.NUMBERS + 6 * groups;
  }

  /** Returns where coverage by channel begins. */
  public int coverageAt() {
    return unshadowedAt() + (unshadowed ? 3 : 0);
  }

  /** Returns where ambient occlusion stands. */
  public int occlusionAt() {
    return coverageAt() + (coverage ? 3 : 0);
  }

  /** Returns where diffuse light straight from emitting casters begins. */
  public int emittedByCastersAt() {
    return occlusionAt() + (occlusion > 0 ? 3 : 0);
  }

  /** Returns where bounced diffuse light via casters begins. */
  public int bouncedByCastersAt() {
    return emittedByCastersAt() + 3;
  }

  /** Returns how many numbers a fragment's light has. */
  public int numbers() {
    return emittedByCastersAt() + (casters ? 6 : 0);
  }

  /** Returns the same with light via casters kept, or not. */
  public LightSplit withCasters(boolean next) {
    return new LightSplit(groupOf, groups, unshadowed, coverage, occlusion, next, data);
  }

  /** Whether this split keeps everything that another asks for, at the same places. */
  public boolean covers(LightSplit other) {
    boolean kept = casters || !other.casters;
    boolean plain =
        other.groups == 0 && !other.unshadowed && !other.coverage && other.occlusion == 0;
    return kept
        && (withCasters(other.casters).equals(other)
            || (plain && !other.casters && (data || !other.data)));
  }
}
