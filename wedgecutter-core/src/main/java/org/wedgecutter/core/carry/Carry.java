package org.wedgecutter.core.carry;

import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.load.Starting;
import org.wedgecutter.core.plan.BuiltInMaterial;
import org.wedgecutter.core.plan.Cell;
import org.wedgecutter.core.plan.CellOverride;
import org.wedgecutter.core.plan.CollectionDef;
import org.wedgecutter.core.plan.FrameRange;
import org.wedgecutter.core.plan.LayerDef;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.Property;
import org.wedgecutter.core.plan.Shot;
import org.wedgecutter.core.plan.Value;
import org.wedgecutter.core.resolve.EntitySet;
import org.wedgecutter.core.resolve.Members;
import org.wedgecutter.core.resolve.Subjects;
import org.wedgecutter.core.scene.Entity;
import org.wedgecutter.core.scene.Scene;
import org.wedgecutter.core.scene.SceneCamera;

/** Takes a plan to another scene, which has other objects under the same rules of naming. */
public final class Carry {
  private Carry() {}

  /**
   * How a row matches in both scenes.
   *
   * @param collection name of the collection; "the rest" for what no row matches
   * @param rule its rule
   * @param here how many entities it matches in the plan's own scene; -1 for a template
   * @param there how many it matches in the other scene
   * @param lost hand-picked entities that the other scene does not have
   */
  public record Row(String collection, String rule, int here, int there, List<String> lost) {
    public Row {
      lost = List.copyOf(lost);
    }
  }

  /**
   * The report of carrying a plan.
   *
   * @param rows every collection, last the rest
   * @param left paths of what no rule matches in the other scene
   * @param idle overrides that have nothing to work on there: layer, row and override
   * @param notes what else changed, a line each
   */
  public record Report(List<Row> rows, List<String> left, List<String> idle, List<String> notes) {
    public Report {
      rows = List.copyOf(rows);
      left = List.copyOf(left);
      idle = List.copyOf(idle);
      notes = List.copyOf(notes);
    }
  }

  /**
   * A plan for the other scene.
   *
   * @param plan the plan
   * @param report what each rule matches
   */
  public record Carried(Plan plan, Report report) {}

  /** Returns a plan without its shot, as a template for other shots. */
  public static Plan template(Plan plan) {
    return plan.withShot(null);
  }

  /**
   * Carries a plan.
   *
   * @param here what the plan's rows match in its own scene; null for a template
   * @param there the other scene
   * @param scenePath path of the other scene, relative to where the plan is going
   * @param environmentPath the same of the environment's image; empty means none
   */
  public static Carried carry(
      Plan plan, @Nullable Members here, Members there, String scenePath, String environmentPath) {
    List<String> notes = new ArrayList<>();
    Scene scene = there.scene();
    Shot shot = shot(plan, scene, scenePath, environmentPath, notes);
    List<EntitySet> before = here == null ? List.of() : here.rows(plan);
    List<EntitySet> after = there.rows(plan);
    List<Row> rows = new ArrayList<>();
    for (int r = 0; r < after.size(); r++) {
      boolean rest = r == plan.collections().size();
      CollectionDef c = rest ? null : plan.collections().get(r);
      rows.add(
          new Row(
              c == null ? "the rest" : c.name(),
              c == null ? "" : c.rule().text(),
              before.isEmpty() ? -1 : before.get(r).size(),
              after.get(r).size(),
              c == null
                  ? List.of()
                  : c.added().stream().filter(p -> scene.entity(p).isEmpty()).toList()));
    }
    List<String> left = new ArrayList<>();
    for (int e : after.getLast().indices()) {
      left.add(scene.entities().get(e).path());
    }
    return new Carried(plan.withShot(shot), new Report(rows, left, idle(plan, there), notes));
  }

  private static Shot shot(
      Plan plan, Scene scene, String scenePath, String environmentPath, List<String> notes) {
    Shot from = plan.shot();
    Shot shot =
        from != null
            ? from
            : new Shot.Draft(scenePath, FrameRange.parse(scene.time().frames())).build();
    if (from == null) {
      notes.add("the template has no shot: frames, size and samples are the defaults");
    }
    List<String> cameras = scene.cameras().stream().map(SceneCamera::name).toList();
    String camera = shot.camera();
    if (cameras.isEmpty()) {
      camera = "";
    } else if (!camera.isEmpty() && !cameras.contains(camera)) {
      notes.add("there is no camera %s: camera %s is used".formatted(camera, cameras.getFirst()));
      camera = cameras.getFirst();
    }
    for (String path : shot.links().keySet()) {
      if (scene.entity(path).isEmpty()) {
        notes.add("%s is not in the scene: its light link is dropped".formatted(path));
      }
    }
    Shot.EnvironmentDef env = shot.environment();
    String seenBy = camera;
    Shot carried =
        shot.with(s -> {
          s.scene = scenePath;
          s.camera = seenBy;
          if (s.marks.marks().isEmpty()) {
            // its numbers are places in the other scene; a matched camera is the photograph's
            s.placed = null;
          }
          s.environment =
              new Shot.EnvironmentDef(environmentPath, env.turn(), env.level(), env.extra());
          s.known = scene.entities().stream().map(Entity::path).toList();
        });
    if (shot.placed() != null && !shot.marks().marks().isEmpty()) {
      notes.add("the camera that was matched to the photograph is kept");
    } else if (cameras.isEmpty()) {
      notes.add("the scene has no camera: the plan has one that frames it");
    } else if (shot.placed() != null) {
      notes.add("the plan's own camera belongs to the other scene: the scene's is used");
    }
    return Starting.shot(carried, scene);
  }

  private static List<String> idle(Plan plan, Members there) {
    List<String> out = new ArrayList<>();
    for (LayerDef layer : plan.layers()) {
      for (CollectionDef c : plan.collections()) {
        idle(out, layer, c.name(), layer.cell(c.name()), there.of(c), there.scene());
      }
      EntitySet all = EntitySet.where(there.scene().entities().size(), e -> true);
      idle(out, layer, "the rest", layer.rest(), all, there.scene());
    }
    return out;
  }

  private static void idle(
      List<String> out, LayerDef layer, String row, Cell cell, EntitySet members, Scene scene) {
    for (CellOverride o : cell.overrides()) {
      boolean lostMaterial =
          o.property() == Property.MATERIAL
              && o.at(0) instanceof Value.Text t
              && BuiltInMaterial.of(t.word()).isEmpty()
              && scene.material(t.word()).isEmpty();
      boolean has = false;
      for (int e : members.indices()) {
        has |= Subjects.has(scene, scene.entities().get(e), o.property());
      }
      if (!has || lostMaterial) {
        out.add(
            "%s in layer %s: %s, %s"
                .formatted(
                    row,
                    layer.name(),
                    o.text(),
                    lostMaterial
                        ? "but the scene has no such material"
                        : "but nothing it matches has this property"));
      }
    }
  }
}
