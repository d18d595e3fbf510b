package org.wedgecutter.core.trace;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import org.joml.Matrix4f;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.resolve.EntitySet;
import org.wedgecutter.core.resolve.Look;
import org.wedgecutter.core.resolve.TraceSettings;
import org.wedgecutter.core.resolve.TransportClass;
import org.wedgecutter.core.scene.Entity;
import org.wedgecutter.core.scene.EntityKind;
import org.wedgecutter.core.scene.Rgb;
import org.wedgecutter.core.scene.Scene;
import org.wedgecutter.core.scene.SceneCamera;

/**
 * A scene ready to be traced at any of its times: what does not depend on time is made once. Safe
 * for use by several threads.
 */
public final class SceneTracer {
  /** Moments that the shutter's time is cut into where anything moves. */
  static final int MOMENTS = 32;

  private final Scene scene;
  private final Shapes shapes;
  private final Textures textures;
  private final Points points;

  public SceneTracer(Scene scene) {
    this(scene, Points.ARRANGED);
  }

  /**
   * @param points how random numbers lie to one another
   */
  public SceneTracer(Scene scene, Points points) {
    this.scene = scene;
    this.points = points;
    this.textures = new Textures(scene);
    this.shapes = new Shapes(scene);
  }

  /** Returns the scene. */
  public Scene scene() {
    return scene;
  }

  /** An image and its tables. */
  private record Around(Picture image, Environment tables) {}

  private @Nullable Around around;

  /**
   * Returns light from an image all around. The tables of the image that was asked for last are
   * kept.
   *
   * @param degrees by which it is turned
   * @param level factor on its light
   */
  public synchronized Environment environment(Picture image, double degrees, double level) {
    if (around == null || !around.image.equals(image)) {
      around = new Around(image, new Environment(image, 0, 1));
    }
    return around.tables.as(degrees, level, Rgb.WHITE);
  }

  /**
   * A time at which the scene is seen.
   *
   * @param seconds the scene's time
   * @param shutter how long the shutter is open, about that time, seconds; 0 or more
   * @param step from a frame to the next, seconds; for motion vectors
   */
  public record Time(double seconds, double shutter, double step) {
    /** A moment without blur. */
    public static Time still(double seconds) {
      return new Time(seconds, 0, 1 / 24.0);
    }
  }

  /** Places everything at a time. */
  public Frame at(Time time, Environment environment) {
    Matrix4f[] middle = scene.pose(time.seconds);
    double first = time.seconds - time.shutter / 2;
    double last = time.seconds + time.shutter / 2;
    Matrix4f[][] poses = {middle};
    if (time.shutter > 0 && moves(scene.pose(first), middle, scene.pose(last))) {
      poses = new Matrix4f[MOMENTS][];
      for (int m = 0; m < MOMENTS; m++) {
        // the middles of equal parts of the time
        poses[m] = scene.pose(first + time.shutter * (m + 0.5) / MOMENTS);
      }
    }
    return new Frame(time, poses, environment);
  }

  /** Places everything at a moment. */
  public Frame at(double time, Environment environment) {
    return at(Time.still(time), environment);
  }

  private boolean moves(Matrix4f[] a, Matrix4f[] b, Matrix4f[] c) {
    for (int n = 0; n < a.length; n++) {
      if (!a[n].equals(b[n]) || !b[n].equals(c[n])) {
        return true;
      }
    }
    return scene.deformations().values().stream()
        .anyMatch(d -> d.morph() != null && d.morph().weights() != null);
  }

  /** Returns the matrix from the world to a camera at a time, row by row, for row vectors. */
  public float[] worldToCamera(SceneCamera camera, double time) {
    Matrix4f m = scene.pose(time)[camera.node()].invertAffine(new Matrix4f());
    // the library keeps columns together, which are the rows for row vectors
    return m.get(new float[16]);
  }

  /** The scene at one time. */
  public final class Frame {
    private final Time time;
    private final Matrix4f[][] poses;
    private final double[] ends;
    private final FrameWorld plain;
    private final Map<TransportClass, FrameWorld> others = new ConcurrentHashMap<>();

    private @Nullable Frame standing;

    private Frame(Time time, Matrix4f[][] poses, Environment environment) {
      this.time = time;
      this.poses = poses;
      double half = time.shutter / 2 * (1 - 1.0 / poses.length);
      ends = new double[] {time.seconds - half, time.seconds + half};
      World world = new World(scene, e -> tree(e, 0), poses);
      Appearance looks = new Appearance(world);
      plain =
          new FrameWorld(
              world,
              new Emitters(world, poses, environment, looks),
              environment,
              textures,
              poses,
              scene.pose(time.seconds - time.step),
              scene.pose(time.seconds + time.step),
              looks,
              matter(),
              points);
    }

    private MeshTree tree(int entity, int levels) {
      return shapes.of(scene.entities().get(entity), poses, ends, levels);
    }

    private Matter[] matter() {
      List<Matter> out = new ArrayList<>();
      for (Entity e : scene.entities()) {
        if (e.kind() == EntityKind.MEDIUM) {
          Matrix4f[] middle = poses[poses.length / 2];
          out.add(
              new Matter(
                  e.index(), scene.media().get(e.payload()), middle[e.node()], time.seconds));
        }
      }
      return out.toArray(new Matter[0]);
    }

    /** Returns where pixels of a picture lie in the world. */
    public CameraView view(SceneCamera camera, int width, int height) {
      return new CameraView(new CameraRays(camera, plain, width, height));
    }

    /**
     * Returns the middle of the foot of some meshes: of the box about them all, the middle of its
     * lowest side.
     */
    public double[] foot(EntitySet entities) {
      double[] low = {Double.MAX_VALUE, Double.MAX_VALUE, Double.MAX_VALUE};
      double[] high = {-Double.MAX_VALUE, -Double.MAX_VALUE, -Double.MAX_VALUE};
      World world = plain.world();
      float[] corners = new float[9];
      for (int i = 0; i < world.instances; i++) {
        if (!entities.contains(world.entity[i])) {
          continue;
        }
        for (int t = 0; t < world.tree[i].mesh.triangles(); t++) {
          Emitters.corners(world, i, t, world.moments / 2, corners);
          for (int c = 0; c < 3; c++) {
            low[c] = Math.min(low[c], corners[c]);
            high[c] = Math.max(high[c], corners[c]);
          }
        }
      }
      return new double[] {(low[0] + high[0]) / 2, low[1], (low[2] + high[2]) / 2};
    }

    /**
     * Returns a worker for one thread.
     *
     * @param interplay takes what things do to one another's light, or null
     */
    public Worker worker(
        TraceJob job, SceneCamera camera, int width, int height, @Nullable Interplay interplay) {
      FrameWorld world = worldOf(job.transport());
      CameraRays rays = new CameraRays(camera, world, width, height);
      return new Worker(new PathTracer(world, job, rays, interplay));
    }

    /** The same with materials, lights, media and shapes as a class has them. */
    private FrameWorld worldOf(TransportClass transport) {
      TraceSettings s = transport.settings();
      if (poses.length > 1 && !s.blur()) {
        return standing().worldOf(transport);
      }
      if (transport.looks().isEmpty() && plain.environment().is(s.turn(), s.level())) {
        return plain;
      }
      return others.computeIfAbsent(transport, this::changed);
    }

    /** The same at the middle of the shutter's time. */
    private synchronized Frame standing() {
      if (standing == null) {
        Matrix4f[][] middle = {poses[poses.length / 2]};
        standing = new Frame(new Time(time.seconds, 0, time.step), middle, plain.environment());
      }
      return standing;
    }

    private FrameWorld changed(TransportClass t) {
      World world = shaped(t);
      Appearance looks = new Appearance(world, t);
      TraceSettings s = t.settings();
      Environment around = plain.environment().as(s.turn(), s.level(), looks.surround());
      Matter[] matter = plain.matter().clone();
      for (int m = 0; m < matter.length; m++) {
        matter[m] = new Matter(matter[m], looks.medium(matter[m].entity, matter[m].medium));
      }
      return new FrameWorld(
          world,
          new Emitters(world, poses, around, looks),
          around,
          textures,
          poses,
          plain.before(),
          plain.after(),
          looks,
          matter,
          points);
    }

    private World shaped(TransportClass t) {
      World world = plain.world();
      if (t.looks().values().stream().anyMatch(l -> l.levels() > 0)) {
        world = new World(scene, e -> tree(e, levels(t, e)), poses);
      }
      if (poses.length > 1 && t.looks().values().stream().anyMatch(Look::still)) {
        Matrix4f[][] middle = {poses[poses.length / 2]};
        double[] now = {time.seconds, time.seconds};
        world =
            world.still(
                e -> isStill(t, e),
                e -> shapes.of(scene.entities().get(e), middle, now, levels(t, e)));
      }
      return world;
    }

    private static boolean isStill(TransportClass t, int entity) {
      Look look = t.look(entity);
      return look != null && look.still();
    }

    private static int levels(TransportClass t, int entity) {
      Look look = t.look(entity);
      return look == null ? 0 : look.levels();
    }
  }

  /** Follows samples; serves one thread. */
  public static final class Worker {
    private final PathTracer tracer;
    private final boolean vector;

    private Worker(PathTracer tracer) {
      this.tracer = tracer;
      vector = tracer.vector();
    }

    /**
     * Follows one sample of a pixel.
     *
     * @param x column of the pixel in the whole picture
     * @param y line of the pixel in the whole picture
     * @param sample number of the sample, from 0
     * @param pixel what the sink is to call the pixel
     * @param sink takes the fragments
     */
    public void sample(int x, int y, int sample, int pixel, FragmentSink sink) {
      tracer.sample(x, y, sample, pixel, sink);
    }

    /**
     * Says whether a new worker would be faster, with the same results: code that works on several
     * numbers at once has been compiled since this one was made.
     */
    public boolean outdated() {
      Kernels.prepare(tracer.rays());
      return Kernels.vector() != vector;
    }

    /** Returns how many rays were cast so far. */
    public long rays() {
      return tracer.rays();
    }
  }
}
