package org.wedgecutter.core.match;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.joml.Matrix4f;
import org.joml.Vector3d;
import org.joml.Vector3f;
import org.wedgecutter.core.plan.PlacedCamera;
import org.wedgecutter.core.resolve.EntitySet;
import org.wedgecutter.core.scene.Entity;
import org.wedgecutter.core.scene.EntityKind;
import org.wedgecutter.core.scene.Mesh;
import org.wedgecutter.core.scene.Scene;

/**
 * Edges of things in a scene, to be held against a photograph: where surfaces end, or meet at more
 * than {@value #CREASE} degrees. What is in front of them does not hide them. Of very many the
 * longest are kept; deformed meshes stand as they were modelled.
 */
public final class SceneEdges {
  /** Nothing. */
  public static final SceneEdges NONE = new SceneEdges(List.of());

  private static final int CREASE = 25;
  private static final double SMOOTH = Math.cos(Math.toRadians(CREASE));
  private static final int MOST = 4000;

  /** Triangles of one mesh, beyond which it has more edges than a picture can show. */
  private static final int MOST_TRIANGLES = 200_000;

  private static final int STEPS = 16;

  /** Share of a mesh's size up to which vertices are one. */
  private static final double SAME = 1e-5;

  private final List<Segment> segments;

  private record Segment(Vector3f from, Vector3f to) {}

  /** A cube of space, in which vertices are taken for one. */
  private record Cell(long x, long y, long z) {}

  private record Ends(int least, int most) {}

  private SceneEdges(List<Segment> segments) {
    this.segments = segments;
  }

  /**
   * Finds the edges of things.
   *
   * @param time seconds, at which they stand where they do
   */
  public static SceneEdges of(Scene scene, EntitySet things, double time) {
    Matrix4f[] pose = scene.pose(time);
    List<Segment> all = new ArrayList<>();
    for (int e : things.indices()) {
      Entity entity = scene.entities().get(e);
      if (entity.kind() == EntityKind.MESH) {
        add(all, scene.meshes().get(entity.payload()), pose[entity.node()]);
      }
    }
    all.sort(Comparator.comparingDouble(s -> -s.from.distanceSquared(s.to)));
    return new SceneEdges(List.copyOf(all.subList(0, Math.min(MOST, all.size()))));
  }

  private static void add(List<Segment> to, Mesh mesh, Matrix4f toWorld) {
    if (mesh.triangles() > MOST_TRIANGLES) {
      return;
    }
    // vertices that differ in their normals alone, or by rounding, are one
    double size = 0;
    for (float p : mesh.positions()) {
      size = Math.max(size, Math.abs(p));
    }
    double grid = Math.max(Float.MIN_NORMAL, SAME * size);
    Map<Cell, Integer> places = new HashMap<>();
    List<Vector3f> at = new ArrayList<>();
    int[] welded = new int[mesh.positions().length / 3];
    for (int v = 0; v < welded.length; v++) {
      Vector3f p =
          new Vector3f(
              mesh.positions()[3 * v], mesh.positions()[3 * v + 1], mesh.positions()[3 * v + 2]);
      Cell cell = new Cell(Math.round(p.x / grid), Math.round(p.y / grid), Math.round(p.z / grid));
      Integer known = places.putIfAbsent(cell, at.size());
      welded[v] = known == null ? at.size() : known;
      if (known == null) {
        at.add(p);
      }
    }
    Map<Ends, Vector3f> open = new HashMap<>();
    List<Ends> edges = new ArrayList<>();
    int[] index = mesh.indices();
    for (int t = 0; t + 2 < index.length; t += 3) {
      int[] corner = {welded[index[t]], welded[index[t + 1]], welded[index[t + 2]]};
      Vector3f first = at.get(corner[0]);
      Vector3f normal =
          new Vector3f(at.get(corner[1]))
              .sub(first)
              .cross(new Vector3f(at.get(corner[2])).sub(first));
      if (!(normal.lengthSquared() > 0)) {
        continue;
      }
      normal.normalize();
      for (int k = 0; k < 3; k++) {
        int a = corner[k];
        int b = corner[(k + 1) % 3];
        Ends ends = new Ends(Math.min(a, b), Math.max(a, b));
        Vector3f other = open.remove(ends);
        if (other == null) {
          open.put(ends, normal);
        } else if (Math.abs(other.dot(normal)) < SMOOTH) {
          edges.add(ends);
        }
      }
    }
    edges.addAll(open.keySet());
    for (Ends e : edges) {
      to.add(
          new Segment(
              toWorld.transformPosition(at.get(e.least), new Vector3f()),
              toWorld.transformPosition(at.get(e.most), new Vector3f())));
    }
  }

  /** Returns where a camera shows them: x and y of points, pixels from the left and the top. */
  public List<double[]> in(PlacedCamera camera, int width, int height) {
    Pose pose = Pose.of(camera, width, height);
    List<double[]> out = new ArrayList<>();
    for (Segment s : segments) {
      Vector3d from = new Vector3d(s.from);
      Vector3d to = new Vector3d(s.to);
      double[] a = pose.pixel(from);
      double[] b = pose.pixel(to);
      if (a != null && b != null && !camera.projection().isBent()) {
        out.add(new double[] {a[0], a[1], b[0], b[1]});
      } else {
        GroundLines.add(out, pose, from, to, STEPS);
      }
    }
    return out;
  }
}
