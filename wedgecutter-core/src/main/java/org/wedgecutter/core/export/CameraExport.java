package org.wedgecutter.core.export;

import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.JsonNodeFactory;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import org.joml.Matrix4f;
import org.joml.Vector3f;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.plan.PlanWriter;
import org.wedgecutter.core.plan.Shot;
import org.wedgecutter.core.resolve.EntitySet;
import org.wedgecutter.core.scene.Entity;
import org.wedgecutter.core.scene.EntityKind;
import org.wedgecutter.core.scene.Light;
import org.wedgecutter.core.scene.Mesh;
import org.wedgecutter.core.scene.Projection;
import org.wedgecutter.core.scene.SceneCamera;

/**
 * The camera, the lights and tracked points of a shot at each frame, for work in two dimensions: as
 * JSON or as a table (CSV, RFC 4180).
 *
 * <p>Everything is evaluated at the frame's time, like the attributes of the rendered files.
 * Matrices lead to the world, row by row, for row vectors; metres, y up, the camera looks along -z.
 * A point is the middle of an object's bounds at rest, moved by its node. Pixels count from the
 * left and from the top of the frame; the first pixel's middle is at 0.5.
 */
public final class CameraExport {
  private final LoadedShot shot;
  private final Shot plan;
  private final SceneCamera camera;
  private final List<Entity> points = new ArrayList<>();
  private final List<Entity> lights = new ArrayList<>();

  /** Where a point is seen: pixels, and depth along the camera's axis, metres. */
  private record Seen(double x, double y, double depth) {}

  /**
   * @param tracked the objects whose points are exported
   */
  public CameraExport(LoadedShot shot, EntitySet tracked) {
    this.shot = shot;
    plan = shot.plan().requireShot();
    camera = shot.camera();
    for (Entity e : shot.scene().entities()) {
      if (e.kind() == EntityKind.LIGHT) {
        lights.add(e);
      } else if (e.kind() == EntityKind.MESH && tracked.contains(e.index())) {
        points.add(e);
      }
    }
  }

  /** Returns everything as JSON. */
  public String json() {
    ObjectNode n = JsonNodeFactory.instance.objectNode();
    n.put("scene", plan.scene()).put("fps", plan.fps());
    n.putArray("size").add(plan.width()).add(plan.height());
    ObjectNode c = n.putObject("camera").put("name", camera.name());
    c.put("vertical_view_degrees", Math.toDegrees(camera.verticalView()));
    c.put("sensor_height_mm", camera.lens().sensor() * 1000);
    c.put("focal_length_mm", camera.focalLength() * 1000);
    c.put("f_stop", camera.lens().fStop()).put("focus_distance_m", camera.lens().focus());
    Projection lens = camera.projection();
    c.putArray("shift_heights").add(lens.right()).add(lens.up());
    c.putArray("radial_distortion").add(lens.k1()).add(lens.k2());
    ArrayNode ofCamera = c.putArray("frames");
    List<ArrayNode> ofLights = new ArrayList<>();
    List<ArrayNode> ofPoints = new ArrayList<>();
    ArrayNode allLights = n.putArray("lights");
    for (Entity e : lights) {
      Light light = shot.scene().lights().get(e.payload());
      ObjectNode l = allLights.addObject().put("path", e.path());
      l.put("type", light.type().name().toLowerCase(Locale.ROOT));
      l.putArray("intensity")
          .add(light.intensity().r())
          .add(light.intensity().g())
          .add(light.intensity().b());
      ofLights.add(l.putArray("frames"));
    }
    ArrayNode allPoints = n.putArray("points");
    for (Entity e : points) {
      ofPoints.add(allPoints.addObject().put("path", e.path()).putArray("frames"));
    }
    for (int frame : plan.frames().frames()) {
      Matrix4f[] pose = shot.scene().pose(plan.time(frame));
      matrix(ofCamera.addObject().put("frame", frame), camera.in(pose));
      for (int k = 0; k < lights.size(); k++) {
        matrix(ofLights.get(k).addObject().put("frame", frame), pose[lights.get(k).node()]);
      }
      for (int k = 0; k < points.size(); k++) {
        Vector3f at = place(points.get(k), pose);
        ObjectNode p = ofPoints.get(k).addObject().put("frame", frame);
        p.putArray("world").add(at.x).add(at.y).add(at.z);
        Seen seen = seen(at, pose);
        if (seen == null) {
          p.putNull("pixel").putNull("depth");
        } else {
          p.putArray("pixel").add(seen.x).add(seen.y);
          p.put("depth", seen.depth);
        }
      }
    }
    return PlanWriter.text(n);
  }

  private static void matrix(ObjectNode to, Matrix4f m) {
    ArrayNode out = to.putArray("to_world");
    for (float v : m.get(new float[16])) {
      out.add(v);
    }
  }

  /** Returns the places of camera, lights and points as a table; pixels of points alone. */
  public String csv() {
    StringBuilder out = new StringBuilder("frame,kind,path,x,y,z,pixel_x,pixel_y,depth\r\n");
    for (int frame : plan.frames().frames()) {
      Matrix4f[] pose = shot.scene().pose(plan.time(frame));
      row(
          out,
          frame,
          "camera",
          camera.name(),
          camera.in(pose).getTranslation(new Vector3f()),
          null);
      for (Entity e : lights) {
        row(out, frame, "light", e.path(), pose[e.node()].getTranslation(new Vector3f()), null);
      }
      for (Entity e : points) {
        Vector3f at = place(e, pose);
        row(out, frame, "point", e.path(), at, seen(at, pose));
      }
    }
    return out.toString();
  }

  /**
   * Returns everything as binary glTF: camera and lights as nodes that move and turn, points as
   * nodes that move. Lights with a surface, and the environment, are nodes without a light, since
   * the format has none for them.
   */
  public byte[] glb() {
    List<Integer> frames = plan.frames().frames();
    float[] times = new float[frames.size()];
    List<Matrix4f[]> poses = new ArrayList<>();
    for (int k = 0; k < times.length; k++) {
      times[k] = (float) plan.time(frames.get(k));
      poses.add(shot.scene().pose(plan.time(frames.get(k))));
    }
    CameraGltf out = new CameraGltf(times);
    ObjectNode own = out.node(camera.name(), poses.stream().map(p -> camera.in(p)).toList(), true);
    out.camera(own, camera.name(), camera.verticalView(), (double) plan.width() / plan.height());
    for (Entity e : lights) {
      ObjectNode node = out.node(e.path(), poses.stream().map(p -> p[e.node()]).toList(), true);
      Light light = shot.scene().lights().get(e.payload());
      String type =
          switch (light.type()) {
            case POINT -> "point";
            case SPOT -> "spot";
            case DIRECTIONAL -> "directional";
            case RECTANGLE, DISC, SPHERE -> "";
          };
      float most = light.intensity().max();
      if (!type.isEmpty() && most > 0) {
        float[] hue = {
          light.intensity().r() / most, light.intensity().g() / most, light.intensity().b() / most
        };
        float[] cone = {light.innerCone(), light.outerCone()};
        out.light(node, e.path(), type, hue, most, cone);
      }
    }
    for (Entity e : points) {
      out.node(
          e.path(),
          poses.stream().map(p -> new Matrix4f().translation(place(e, p))).toList(),
          false);
    }
    return out.bytes();
  }

  private static void row(
      StringBuilder out, int frame, String kind, String path, Vector3f at, @Nullable Seen seen) {
    String quoted = Quoting.csv(path);
    out.append(
        String.format(
            Locale.ROOT, "%d,%s,%s,%.6g,%.6g,%.6g,", frame, kind, quoted, at.x, at.y, at.z));
    out.append(
        seen == null
            ? ",,"
            : String.format(Locale.ROOT, "%.3f,%.3f,%.6g", seen.x, seen.y, seen.depth));
    out.append("\r\n");
  }

  /** The middle of an object's bounds, moved by its node. */
  private Vector3f place(Entity e, Matrix4f[] pose) {
    Mesh mesh = shot.scene().meshes().get(e.payload());
    Vector3f low = new Vector3f(Float.POSITIVE_INFINITY);
    Vector3f high = new Vector3f(Float.NEGATIVE_INFINITY);
    float[] p = mesh.positions();
    for (int k = 0; k + 2 < p.length; k += 3) {
      Vector3f v = new Vector3f(p[k], p[k + 1], p[k + 2]);
      low.min(v);
      high.max(v);
    }
    return low.add(high).mul(0.5f).mulPosition(pose[e.node()]);
  }

  private @Nullable Seen seen(Vector3f at, Matrix4f[] pose) {
    Vector3f v = at.mulPosition(camera.in(pose).invertAffine(new Matrix4f()), new Vector3f());
    double depth = -v.z;
    if (depth <= 0) {
      return null;
    }
    double scale = plan.height() / (2 * Math.tan(camera.verticalView() / 2) * depth);
    double[] pixel =
        camera.projection().shown(scale * v.x, scale * v.y, plan.width(), plan.height());
    return new Seen(pixel[0], pixel[1], depth);
  }
}
