package org.wedgecutter.core.trace;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import org.joml.Matrix4f;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.resolve.AppearanceOverride;
import org.wedgecutter.core.resolve.EntitySet;
import org.wedgecutter.core.resolve.TraceSettings;
import org.wedgecutter.core.resolve.TransportClass;
import org.wedgecutter.core.scene.Entity;
import org.wedgecutter.core.scene.EntityKind;
import org.wedgecutter.core.scene.Rgb;
import org.wedgecutter.core.scene.Scene;
import org.wedgecutter.core.scene.SceneCamera;
import org.wedgecutter.core.scene.TimeDigest;
import org.wedgecutter.core.trace.accel.MeshTree;
import org.wedgecutter.core.trace.accel.Moment;
import org.wedgecutter.core.trace.accel.VectorSupport;
import org.wedgecutter.core.trace.light.Emitters;
import org.wedgecutter.core.trace.light.EnvironmentMap;
import org.wedgecutter.core.trace.sample.SamplePattern;
import org.wedgecutter.core.trace.volume.PreparedMedium;
import org.wedgecutter.core.trace.world.Appearance;
import org.wedgecutter.core.trace.world.DeformedMeshes;
import org.wedgecutter.core.trace.world.ShutterMotion;
import org.wedgecutter.core.trace.world.Textures;
import org.wedgecutter.core.trace.world.World;

/**
 * A scene prepared for tracing at any time; what does not depend on time is prepared once. Safe for
 * use by several threads.
 */
public final class SceneTracer {
  private final Scene scene;
  private final DeformedMeshes shapes;
  private final Textures textures;
  private final SamplePattern points;
  private final TimeDigest changes;

  public SceneTracer(Scene scene) {
    this(scene, SamplePattern.BLUE_NOISE);
  }

  /**
   * @param points the sample pattern
   */
  public SceneTracer(Scene scene, SamplePattern points) {
    this.scene = scene;
    this.points = points;
    this.changes = new TimeDigest(scene);
    this.textures = new Textures(scene);
    this.shapes = new DeformedMeshes(scene);
  }

  /** Returns the scene. */
  public Scene scene() {
    return scene;
  }

  /** An image and its tables. */
  private record Around(Picture image, EnvironmentMap tables) {}

  private @Nullable Around around;

  /** Returns the tables of an environment; those of the image that was asked for last are kept. */
  private synchronized EnvironmentMap map(Environment environment) {
    Picture image = environment.image();
    if (around == null || !around.image.equals(image)) {
      around = new Around(image, new EnvironmentMap(image, 0, 1));
    }
    return around.tables.as(environment.rotation(), environment.level(), Rgb.WHITE);
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
    ShutterMotion motion = ShutterMotion.of(scene, changes, time.seconds, time.shutter);
    return new Frame(time, motion, map(environment));
  }

  /** Places everything at a moment. */
  public Frame at(double time, Environment environment) {
    return at(Time.still(time), environment);
  }

  /** Returns the matrix from the world to a camera at a time, row by row, for row vectors. */
  public float[] worldToCamera(SceneCamera camera, double time) {
    Matrix4f m = camera.in(scene.pose(time)).invertAffine(new Matrix4f());
    // the library keeps columns together, which are the rows for row vectors
    return m.get(new float[16]);
  }

  /** The scene at one time. */
  public final class Frame {
    private final Time time;
    private final ShutterMotion motion;
    private final PreparedFrame plain;
    private final Map<TransportClass, PreparedFrame> others = new ConcurrentHashMap<>();

    private @Nullable Frame standing;

    private Frame(Time time, ShutterMotion motion, EnvironmentMap environment) {
      this.time = time;
      this.motion = motion;
      World world = new World(scene, e -> tree(e, own(e)), motion);
      Appearance looks = new Appearance(world);
      plain =
          new PreparedFrame(
              world,
              new Emitters(world, motion, environment, looks),
              environment,
              textures,
              motion,
              scene.pose(time.seconds - time.step),
              scene.pose(time.seconds + time.step),
              looks,
              matter(),
              points);
    }

    private MeshTree[] tree(int entity, int levels) {
      return shapes.of(scene.entities().get(entity), motion, levels);
    }

    private PreparedMedium[] matter() {
      List<PreparedMedium> out = new ArrayList<>();
      for (Entity e : scene.entities()) {
        if (e.kind() == EntityKind.MEDIUM && motion.visible()[e.node()]) {
          out.add(
              new PreparedMedium(
                  e.index(),
                  scene.media().get(e.payload()),
                  motion.path(e.node()),
                  motion.seconds(0),
                  motion.seconds(1)));
        }
      }
      return out.toArray(new PreparedMedium[0]);
    }

    /** Returns what the rays of a camera meet all the way through the scene. */
    public SightLines sights(SceneCamera camera, int width, int height) {
      return SightLines.of(
          plain.world(), new CameraRays(camera, plain, width, height), width, height);
    }

    /** Returns where pixels of a picture lie in the world. */
    public CameraView view(SceneCamera camera, int width, int height) {
      return new CameraView(new CameraRays(camera, plain, width, height));
    }

    /**
     * Returns min x, y, z, max x, y, z of the meshes among some entities as they stand at the
     * middle of the shutter's time, in metres; null if there are none.
     */
    public float @Nullable [] bounds(EntitySet of) {
      World world = plain.world();
      Moment middle = new Moment(world);
      float most = Float.POSITIVE_INFINITY;
      float[] box = {most, most, most, -most, -most, -most};
      float[] c = new float[9];
      for (int i = 0; i < world.instances; i++) {
        for (int t = 0; of.contains(world.entity[i]) && t < world.tree[i].mesh.triangles(); t++) {
          Emitters.corners(middle, i, t, c);
          for (int k = 0; k < 9; k++) {
            // a corner, and edges from it
            float place = k < 3 ? c[k] : c[k % 3] + c[k];
            box[k % 3] = Math.min(box[k % 3], place);
            box[3 + k % 3] = Math.max(box[3 + k % 3], place);
          }
        }
      }
      return box[0] > box[3] ? null : box;
    }

    /**
     * Returns the plane of some surfaces where things stand on them, in the middle of the interval.
     *
     * <p>Its normal is the mean of the surfaces' triangles by area, those near the things first; it
     * goes through the point of the surfaces nearest to the things, and its centre is the foot of
     * the perpendicular from the middle of the box about them, or from a given place.
     *
     * @param given a place to take instead of the things' middle, or null
     * @param size distance from there in which triangles count most, metres
     */
    public Plane plane(
        EntitySet surfaces, EntitySet things, double @Nullable [] given, double size) {
      World world = plain.world();
      Moment middle = new Moment(world);
      double[] from = given == null ? middle(things, middle) : given;
      double[] nearest = from.clone();
      double least = Double.POSITIVE_INFINITY;
      double[] normal = new double[3];
      float[] c = new float[9];
      for (int i = 0; i < world.instances; i++) {
        if (!surfaces.contains(world.entity[i])) {
          continue;
        }
        for (int t = 0; t < world.tree[i].mesh.triangles(); t++) {
          Emitters.corners(middle, i, t, c);
          double[] at = Nearest.point(c, from);
          double far = Math.hypot(Math.hypot(at[0] - from[0], at[1] - from[1]), at[2] - from[2]);
          if (far < least) {
            least = far;
            nearest = at;
          }
          double weight = 1 / (1 + Math.pow(far / Math.max(1e-9, size), 4));
          double x = c[4] * c[8] - c[5] * c[7];
          double y = c[5] * c[6] - c[3] * c[8];
          double z = c[3] * c[7] - c[4] * c[6];
          double side =
              x * (from[0] - at[0]) + y * (from[1] - at[1]) + z * (from[2] - at[2]) < 0 ? -1 : 1;
          normal[0] += side * weight * x;
          normal[1] += side * weight * y;
          normal[2] += side * weight * z;
        }
      }
      double length = Math.sqrt(Plane.dot(normal, normal));
      double[] n = length > 0 ? normal : new double[] {0, 1, 0};
      double scale = length > 0 ? length : 1;
      double above =
          ((from[0] - nearest[0]) * n[0]
                  + (from[1] - nearest[1]) * n[1]
                  + (from[2] - nearest[2]) * n[2])
              / scale;
      double[] centre = {
        from[0] - above * n[0] / scale,
        from[1] - above * n[1] / scale,
        from[2] - above * n[2] / scale
      };
      return Plane.of(centre, n);
    }

    /** The middle of the box about some meshes. */
    private double[] middle(EntitySet entities, Moment moment) {
      World world = plain.world();
      double[] low = {Double.MAX_VALUE, Double.MAX_VALUE, Double.MAX_VALUE};
      double[] high = {-Double.MAX_VALUE, -Double.MAX_VALUE, -Double.MAX_VALUE};
      float[] c = new float[9];
      boolean any = false;
      for (int i = 0; i < world.instances; i++) {
        if (entities.contains(world.entity[i])) {
          for (int t = 0; t < world.tree[i].mesh.triangles(); t++) {
            Emitters.corners(moment, i, t, c);
            any = true;
            for (int corner = 0; corner < 3; corner++) {
              for (int k = 0; k < 3; k++) {
                double v = corner == 0 ? c[k] : c[k] + c[3 * corner + k];
                low[k] = Math.min(low[k], v);
                high[k] = Math.max(high[k], v);
              }
            }
          }
        }
      }
      return any
          ? new double[] {(low[0] + high[0]) / 2, (low[1] + high[1]) / 2, (low[2] + high[2]) / 2}
          : new double[3];
    }

    /**
     * Returns a worker for one thread.
     *
     * @param interplay receives interplay, or null
     */
    public Worker worker(
        TraceJob job, SceneCamera camera, int width, int height, @Nullable Interplay interplay) {
      PreparedFrame world = worldOf(job.transport());
      CameraRays rays = new CameraRays(camera, world, width, height);
      return new Worker(new PathTracer(world, job, rays, interplay, null));
    }

    /**
     * Traces some samples of one pixel and returns where their light comes from.
     *
     * @param job its first view is accounted for
     * @param samples how many
     */
    public LightAccount explain(
        TraceJob job, SceneCamera camera, int width, int height, int x, int y, int samples) {
      PreparedFrame world = worldOf(job.transport());
      LightAccount account = new LightAccount();
      PathTracer tracer =
          new PathTracer(world, job, new CameraRays(camera, world, width, height), null, account);
      for (int s = 0; s < samples; s++) {
        tracer.sample(x, y, s, 0, (view, pixel, fragment) -> {});
      }
      return account;
    }

    /** The same with materials, lights, media and shapes as a class has them. */
    private PreparedFrame worldOf(TransportClass transport) {
      TraceSettings s = transport.settings();
      if (motion.moves() && !s.blur()) {
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
        standing =
            new Frame(new Time(time.seconds, 0, time.step), motion.still(), plain.environment());
      }
      return standing;
    }

    private PreparedFrame changed(TransportClass t) {
      World world = shaped(t);
      Appearance looks = new Appearance(world, t);
      TraceSettings s = t.settings();
      EnvironmentMap around = plain.environment().as(s.turn(), s.level(), looks.surround());
      PreparedMedium[] matter = plain.matter().clone();
      for (int m = 0; m < matter.length; m++) {
        matter[m] = new PreparedMedium(matter[m], looks.medium(matter[m].entity, matter[m].medium));
      }
      return new PreparedFrame(
          world,
          new Emitters(world, motion, around, looks),
          around,
          textures,
          motion,
          plain.before(),
          plain.after(),
          looks,
          matter,
          points);
    }

    private World shaped(TransportClass t) {
      World world = plain.world();
      if (t.looks().values().stream().anyMatch(AppearanceOverride::subdivides)) {
        world = new World(scene, e -> tree(e, levels(t, e)), motion);
      }
      if (motion.moves() && t.looks().values().stream().anyMatch(AppearanceOverride::still)) {
        ShutterMotion middle = motion.still();
        world =
            world.still(
                e -> isStill(t, e), e -> shapes.of(scene.entities().get(e), middle, levels(t, e)));
      }
      return world;
    }

    private static boolean isStill(TransportClass t, int entity) {
      AppearanceOverride look = t.look(entity);
      return look != null && look.still();
    }

    private int levels(TransportClass t, int entity) {
      AppearanceOverride look = t.look(entity);
      return look == null ? own(entity) : look.levels(own(entity));
    }

    /** Levels of subdivision without overrides. */
    private int own(int entity) {
      return scene.meshes().get(scene.entities().get(entity).payload()).levels();
    }
  }

  /** Traces samples; serves one thread. */
  public static final class Worker {
    private final PathTracer tracer;
    private final boolean vector;

    private Worker(PathTracer tracer) {
      this.tracer = tracer;
      vector = tracer.vector();
    }

    /**
     * Traces one sample of a pixel.
     *
     * @param x column of the pixel in the whole picture
     * @param y line of the pixel in the whole picture
     * @param sample number of the sample, from 0
     * @param pixel number of the pixel for the sink
     * @param sink takes the fragments
     */
    public void sample(int x, int y, int sample, int pixel, FragmentSink sink) {
      tracer.sample(x, y, sample, pixel, sink);
    }

    /**
     * Whether a new worker would be faster, with the same results: code that works on several
     * numbers at once has been compiled since this one was made.
     */
    public boolean outdated() {
      VectorSupport.warmUpAfter(tracer.rays());
      return VectorSupport.inUse() != vector;
    }

    /** Returns how many volume paths were terminated so far. */
    public long cutShort() {
      return tracer.cutShort();
    }

    /** Returns how many rays were cast so far. */
    public long rays() {
      return tracer.rays();
    }
  }
}
