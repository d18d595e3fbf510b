package org.wedgecutter.core.survey;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.wedgecutter.core.plan.CollectionDef;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.resolve.EntitySet;
import org.wedgecutter.core.resolve.Members;
import org.wedgecutter.core.scene.Entity;
import org.wedgecutter.core.scene.Scene;

/**
 * The parts of a shot that are compared with one another: the collections of its plan by
 * precedence, and the rest; in a plan without collections, the groups at the top of the hierarchy.
 * Every entity is in exactly one part.
 *
 * @param parts at least one, unless the scene is empty
 */
public record Parts(List<Part> parts) {
  /** The name of what no collection takes. */
  public static final String REST = "the rest";

  /** Most parts that groups of a hierarchy make; what is beyond is one part. */
  private static final int MOST = 40;

  private static final String OTHERS = "others";

  /** A part: a name, and the entities. */
  public record Part(String name, EntitySet entities) {}

  public Parts {
    parts = List.copyOf(parts);
  }

  /** Returns the parts of a shot. */
  public static Parts of(Plan plan, Members members) {
    return plan.collections().isEmpty() ? ofGroups(members.scene()) : ofCollections(plan, members);
  }

  private static Parts ofCollections(Plan plan, Members members) {
    List<Part> out = new ArrayList<>();
    EntitySet left = EntitySet.where(members.scene().entities().size(), e -> true);
    for (CollectionDef c : plan.collections()) {
      EntitySet own = members.of(c).and(left);
      left = left.minus(own);
      if (!own.isEmpty()) {
        out.add(new Part(c.name(), own));
      }
    }
    if (!left.isEmpty()) {
      out.add(new Part(REST, left));
    }
    return new Parts(out);
  }

  /** Returns the groups at the top of a scene's hierarchy, below what all have in common. */
  public static Parts ofGroups(Scene scene) {
    String common = common(scene);
    Map<String, List<Integer>> groups = new LinkedHashMap<>();
    for (Entity e : scene.entities()) {
      String group = group(e.path(), common);
      String key = groups.containsKey(group) || groups.size() < MOST ? group : OTHERS;
      groups.computeIfAbsent(key, k -> new ArrayList<>()).add(e.index());
    }
    List<Part> out = new ArrayList<>();
    groups.forEach((group, entities) ->
        out.add(new Part(group.substring(group.lastIndexOf('/') + 1), EntitySet.of(entities))));
    return new Parts(out);
  }

  private static String group(String path, String common) {
    if (!path.startsWith(common + "/")) {
      return path;
    }
    int end = path.indexOf('/', common.length() + 1);
    return end < 0 ? path : path.substring(0, end);
  }

  /** The longest path that everything with a place in the hierarchy lies below. */
  private static String common(Scene scene) {
    String common = null;
    for (Entity e : scene.entities()) {
      if (e.node() >= 0) {
        String parent = e.path().substring(0, Math.max(0, e.path().lastIndexOf('/')));
        common = common == null ? parent : common;
        while (!parent.equals(common) && !parent.startsWith(common + "/")) {
          common = common.isEmpty() ? "" : common.substring(0, common.lastIndexOf('/'));
        }
      }
    }
    return common == null ? "" : common;
  }

  /** Returns the number of parts. */
  public int size() {
    return parts.size();
  }

  /** Returns a part's name. */
  public String name(int part) {
    return parts.get(part).name();
  }

  /** Returns the names of the parts that hold any of some entities. */
  public List<String> names(EntitySet entities) {
    return parts.stream().filter(p -> p.entities().meets(entities)).map(Part::name).toList();
  }

  /** Returns the part of each entity, by index. */
  public int[] byEntity(int entities) {
    int[] out = new int[entities];
    Arrays.fill(out, -1);
    for (int p = 0; p < parts.size(); p++) {
      for (int e : parts.get(p).entities().indices()) {
        out[e] = p;
      }
    }
    return out;
  }
}
