package org.wedgecutter.core.trace;

import java.util.List;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import java.util.stream.IntStream;
import org.joml.Matrix4f;
import org.wedgecutter.core.resolve.TraceSettings;
import org.wedgecutter.core.resolve.TransportClass;
import org.wedgecutter.core.scene.Scene;
import org.wedgecutter.core.scene.SceneCamera;

/**
 * A scene ready to be traced at any of its times: what does not depend on time is made once. Safe
 * for use by several threads.
 */
public final class SceneTracer {
  private final Scene scene;
  private final List<MeshTree> trees;
  private final Textures textures;

  public SceneTracer(Scene scene) {
    this.scene = scene;
    this.textures = new Textures(scene);
    this.trees =
        IntStream.range(0, scene.meshes().size())
            .parallel()
            .mapToObj(m -> new MeshTree(scene.meshes().get(m)))
            .toList();
  }

  /** Returns the scene. */
  public Scene scene() {
    return scene;
  }

  /** Places everything at a time in seconds. */
  public Frame at(double time, Environment environment) {
    Matrix4f[] pose = scene.pose(time);
    World world = new World(scene, trees, pose);
    Appearance plain = new Appearance(world);
    return new Frame(
        new FrameWorld(
            world,
            new Emitters(world, pose, environment, plain),
            environment,
            textures,
            pose,
            plain));
  }

  /** Returns the matrix from the world to a camera at a time, row by row, for row vectors. */
  public float[] worldToCamera(SceneCamera camera, double time) {
    Matrix4f m = scene.pose(time)[camera.node()].invertAffine(new Matrix4f());
    // the library keeps columns together, which are the rows for row vectors
    return m.get(new float[16]);
  }

  /** The scene at one time. */
  public static final class Frame {
    private final FrameWorld world;
    private final Map<TransportClass, FrameWorld> others = new ConcurrentHashMap<>();

    private Frame(FrameWorld world) {
      this.world = world;
    }

    /** Returns a worker for one thread. */
    public Worker worker(TraceJob job, SceneCamera camera, int width, int height) {
      return new Worker(
          new PathTracer(
              worldOf(job.transport()), job, new CameraRays(camera, world.pose(), width, height)));
    }

    /** The same geometry, with materials and lights as a class has them. */
    private FrameWorld worldOf(TransportClass transport) {
      TraceSettings s = transport.settings();
      if (transport.looks().isEmpty() && world.environment().is(s.turn(), s.level())) {
        return world;
      }
      return others.computeIfAbsent(
          transport,
          t -> {
            Appearance appearance = new Appearance(world.world(), t);
            Environment around = world.environment().as(s.turn(), s.level(), appearance.surround());
            Emitters emitters = new Emitters(world.world(), world.pose(), around, appearance);
            return new FrameWorld(
                world.world(), emitters, around, world.textures(), world.pose(), appearance);
          });
    }
  }

  /** Follows samples; serves one thread. */
  public static final class Worker {
    private final PathTracer tracer;

    private Worker(PathTracer tracer) {
      this.tracer = tracer;
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

    /** Returns how many rays were cast so far. */
    public long rays() {
      return tracer.rays();
    }
  }
}
