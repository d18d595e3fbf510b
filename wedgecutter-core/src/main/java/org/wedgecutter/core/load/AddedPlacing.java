package org.wedgecutter.core.load;

import java.util.List;
import java.util.Locale;
import org.joml.Matrix4f;
import org.joml.Vector3f;
import org.wedgecutter.core.plan.AddedEdits;
import org.wedgecutter.core.plan.AddedObject;
import org.wedgecutter.core.plan.CollectionDef;
import org.wedgecutter.core.plan.CollectionEdits;
import org.wedgecutter.core.plan.Extra;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.PlanEdits;
import org.wedgecutter.core.plan.Role;
import org.wedgecutter.core.plan.RuleParser;
import org.wedgecutter.core.plan.Shot;
import org.wedgecutter.core.resolve.EntitySet;
import org.wedgecutter.core.resolve.Members;
import org.wedgecutter.core.resolve.ResolvedLayer;
import org.wedgecutter.core.resolve.Resolver;
import org.wedgecutter.core.scene.Entity;
import org.wedgecutter.core.scene.Scene;

/** Where and how large objects are that a plan adds, by what stands in the scene at a frame. */
public final class AddedPlacing {
  /** Width of ground by that of what stands on it: room for shadows of low light. */
  private static final double WIDE = 6;

  /** Part of the size by which ground lies below: surfaces that touch would share their pixels. */
  private static final double BELOW = 1e-4;

  private AddedPlacing() {}

  /**
   * Returns ground under things: at their lowest point, below their middle.
   *
   * @param things what stands on it; without a mesh among them, all of the scene
   */
  public static AddedObject.Ground under(LoadedShot shot, EntitySet things, int frame) {
    float[] box = box(shot, things, frame);
    double wide = Math.max(1e-3, Math.max(box[3] - box[0], box[5] - box[2]));
    return AddedObject.Ground.of(
        AddedEdits.freeName(shot.plan(), "ground"),
        List.of(
            round((box[0] + box[3]) / 2.0), box[1] - BELOW * wide, round((box[2] + box[5]) / 2.0)),
        round(WIDE * wide));
  }

  /**
   * Returns ground at height 0 where the camera looks, as far as a shadow may fall: what stands in
   * for the ground of a photograph to which the camera was matched.
   */
  public static AddedObject.Ground inPhotograph(LoadedShot shot) {
    Vector3f eye = new Vector3f();
    Vector3f ahead = new Vector3f();
    Matrix4f camera =
        shot.camera()
            .in(
                shot.scene()
                    .pose(
                        shot.plan()
                            .requireShot()
                            .time(shot.plan().requireShot().frames().first())));
    camera.getTranslation(eye);
    camera.transformDirection(new Vector3f(0, 0, -1), ahead);
    double high = Math.max(1e-3, Math.abs(eye.y));
    double t = ahead.y * eye.y < 0 ? Math.min(-eye.y / ahead.y, WIDE * high) : WIDE * high;
    return AddedObject.Ground.of(
        AddedEdits.freeName(shot.plan(), "plate ground"),
        List.of(round(eye.x + t * ahead.x), 0.0, round(eye.z + t * ahead.z)),
        round(WIDE * WIDE * high));
  }

  /** Makes an added object one of the plate's stand-ins. */
  public static Plan standIn(Plan plan, Entity added) {
    Shot.PlateDef plate = plan.requireShot().plate();
    if (!plate.standIns().isEmpty()) {
      return CollectionEdits.pick(plan, plate.standIns(), added);
    }
    String own =
        plan.collections().stream()
            .filter(c -> c.added().contains(added.path()))
            .map(CollectionDef::name)
            .findFirst()
            .orElse("");
    Plan next = plan;
    if (own.isEmpty()) {
      own = CollectionEdits.freeName(plan, added.name());
      next =
          CollectionEdits.add(
              plan,
              plan.collections().size(),
              new CollectionDef(
                  own, RuleParser.nothing(), List.of(added.path()), List.of(), Extra.NONE));
    }
    String row = own;
    return next.withShot(
        next.requireShot()
            .with(s -> s.plate = new Shot.PlateDef(plate.image(), row, plate.extra())));
  }

  /**
   * Returns haze that takes a tenth of the light across the scene.
   *
   * @param lying whether it lies on the lowest point, and thins out upwards
   * @param inBox whether it fills a box about the things, not the world; its density is three times
   *     as high
   */
  public static AddedObject.Fog fog(
      LoadedShot shot, EntitySet things, int frame, boolean lying, boolean inBox) {
    float[] box = box(shot, things, frame);
    double across = 0;
    for (int k = 0; k < 3; k++) {
      across += Math.pow(box[k + 3] - box[k], 2);
    }
    across = Math.max(1e-3, Math.sqrt(across));
    double density = round(-Math.log(0.9) / across * (inBox || lying ? 3 : 1));
    AddedObject.Fog fog =
        AddedObject.Fog.haze(
            AddedEdits.freeName(shot.plan(), inBox ? "fog box" : lying ? "ground fog" : "haze"),
            density);
    if (lying) {
      fog = fog.lying(round(box[1]), round(Math.max(1e-3, (box[4] - box[1]) / 4.0)));
    }
    if (inBox) {
      fog =
          fog.in(
              new AddedObject.Fog.Box(
                  List.of(
                      round((box[0] + box[3]) / 2.0),
                      round((box[1] + box[4]) / 2.0),
                      round((box[2] + box[5]) / 2.0)),
                  List.of(
                      round(Math.max(1e-3, 1.2 * (box[3] - box[0]))),
                      round(Math.max(1e-3, 1.2 * (box[4] - box[1]))),
                      round(Math.max(1e-3, 1.2 * (box[5] - box[2]))))));
    }
    return fog;
  }

  /**
   * Adds an object so that it is seen in one layer: in the one whose rows already see it; else, by
   * a row of its own above the others, in the first of those that do, or in the layer at the back.
   *
   * @param members of the scene with the object
   */
  public static Plan add(Plan plan, AddedObject object, Members members, int frame) {
    Plan next = AddedEdits.add(plan, object);
    int entity = members.scene().entity(object.path()).orElseThrow().index();
    List<String> seen =
        Resolver.resolve(next, members, frame).layers().stream()
            .filter(l -> l.seen().contains(entity))
            .map(ResolvedLayer::name)
            .toList();
    if (seen.size() == 1 || plan.layers().isEmpty()) {
      return next;
    }
    String row = CollectionEdits.freeName(plan, object.name());
    List<String> picked = List.of(object.path());
    next =
        CollectionEdits.add(
            next, 0, new CollectionDef(row, RuleParser.nothing(), picked, List.of(), Extra.NONE));
    if (seen.isEmpty()) {
      return PlanEdits.cell(next, back(plan), row, c -> c.withRole(Role.SEEN));
    }
    for (String layer : seen.subList(1, seen.size())) {
      next = PlanEdits.cell(next, layer, row, c -> c.withRole(Role.HOLDOUT));
    }
    return next;
  }

  private static String back(Plan plan) {
    return plan.recipe().joins().isEmpty()
        ? plan.layers().getFirst().name()
        : plan.recipe().joins().getFirst().layer();
  }

  private static float[] box(LoadedShot shot, EntitySet things, int frame) {
    var placed = shot.frame(frame);
    float[] box = placed.bounds(things);
    Scene scene = shot.scene();
    if (box == null) {
      // ground that was added before is not what stands on other ground
      box =
          placed.bounds(
              EntitySet.where(
                  scene.entities().size(),
                  e -> !scene.entities().get(e).path().startsWith(AddedObject.ROOT + "/")));
    }
    return box == null ? new float[] {-1, 0, -1, 1, 1, 1} : box;
  }

  /** Three digits: a number that a person would type. */
  private static double round(double x) {
    return Double.parseDouble(String.format(Locale.ROOT, "%.3g", x));
  }
}
