package org.wedgecutter.core.trace;

import java.util.List;
import org.wedgecutter.core.pass.LightPass;

/**
 * How a fragment's light is split beyond {@link LightPass}, and what else is kept.
 *
 * <p>The layout of a fragment's light, three numbers each: the parts of {@link LightPass}; all
 * light of each group; diffuse light straight from each group; if asked for, diffuse light straight
 * from lights as if nothing stood in its way; if asked for, one number of ambient occlusion.
 *
 * @param groupOf group of each entity that emits light, by index; all others are -1
 * @param groups number of groups
 * @param unshadowed whether unshadowed diffuse light is kept
 * @param occlusion distance up to which geometry occludes, metres; 0 means that it is not kept
 * @param data whether depth, normals and other data are kept
 */
public record LightSplit(
    List<Integer> groupOf, int groups, boolean unshadowed, float occlusion, boolean data) {
  /** Nothing but the parts. */
  public static final LightSplit PLAIN = new LightSplit(List.of(), 0, false, 0, false);

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

  /** Returns where ambient occlusion stands. */
  public int occlusionAt() {
    return unshadowedAt() + (unshadowed ? 3 : 0);
  }

  /** Returns how many numbers a fragment's light has. */
  public int numbers() {
    return occlusionAt() + (occlusion > 0 ? 1 : 0);
  }

  /** Whether this split keeps everything that another asks for, at the same places. */
  public boolean covers(LightSplit other) {
    return equals(other)
        || (other.groups == 0
            && !other.unshadowed
            && other.occlusion == 0
            && (data || !other.data));
  }
}
