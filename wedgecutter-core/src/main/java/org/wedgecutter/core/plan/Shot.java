package org.wedgecutter.core.plan;

import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.function.Consumer;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.scene.Scene;
import org.wedgecutter.core.scene.SceneCamera;

/**
 * The shot that is cut.
 *
 * @param scene path of the scene file, relative to the plan
 * @param variant name of the scene's set of materials; of a stage the variants that are chosen, as
 *     {@code /chair{wood=oak}}, apart by spaces; empty means as in the file
 * @param camera name of the camera; empty means the scene's first
 * @param placed the plan's own camera, which replaces those of the scene; null if it has none
 * @param marks what is known of the photograph that the shot is cut into, for its camera
 * @param added objects that the plan adds to the scene
 * @param frames frames of the shot
 * @param fps frames per second; frame 1 is at the scene's time 0
 * @param shutter part of the time from frame to frame in which the shutter is open, about the
 *     frame's time, 0 (no blur) to 1
 * @param width picture width in pixels
 * @param height picture height in pixels
 * @param samples samples per pixel of a final
 * @param bounces how many bounces of light are followed
 * @param seed seed of all random numbers
 * @param clamp indirect clamp: most that one indirect path may bring; 0 means none
 * @param soften least roughness of surfaces met after a diffuse bounce, as microfacet width
 * @param denoise amount of noise that is filtered away, 0 to 1; the same in all layers
 * @param seeThrough whether the camera looks straight through thin clear glass
 * @param environment the environment
 * @param plate the plate
 * @param links by path of an emitter, the collection that it lights alone
 * @param known paths of the entities that the scene had when the plan was last saved, in order;
 *     empty if that is not known
 * @param extra unknown keys
 */
public record Shot(
    String scene,
    String variant,
    String camera,
    @Nullable PlacedCamera placed,
    CameraMarks marks,
    List<AddedObject> added,
    FrameRange frames,
    double fps,
    double shutter,
    int width,
    int height,
    int samples,
    Bounces bounces,
    long seed,
    float clamp,
    float soften,
    double denoise,
    boolean seeThrough,
    EnvironmentDef environment,
    PlateDef plate,
    Map<String, String> links,
    List<String> known,
    Extra extra) {
  public Shot {
    added = List.copyOf(added);
    links = Collections.unmodifiableMap(new LinkedHashMap<>(links));
    known = List.copyOf(known);
  }

  /**
   * The environment.
   *
   * @param image path of an .hdr or .exr image, relative to the plan; empty means darkness, and
   *     {@link #NEUTRAL} an even grey surround
   * @param turn degrees about the vertical
   * @param level factor on its light
   * @param extra unknown keys
   */
  public record EnvironmentDef(String image, double turn, double level, Extra extra) {
    /** The image that ships with the program: light for a scene that has none of its own. */
    public static final String NEUTRAL = "built-in:neutral";

    /** Whether the image is that of a file. */
    public boolean isFile() {
      return !image.isEmpty() && !image.equals(NEUTRAL);
    }
  }

  /**
   * A plate: the picture behind everything, and the stand-in geometry of things in it. Where the
   * camera sees a stand-in, or nothing, it sees the plate.
   *
   * @param image path of an .exr, .hdr, .png or .jpg picture, relative to the plan, where {@code
   *     {frame:4}} stands for the frame's number with four digits; empty means none
   * @param standIns the collection of the stand-ins; empty means none
   * @param extra unknown keys
   */
  public record PlateDef(String image, String standIns, Extra extra) {
    /** No plate. */
    public static final PlateDef NONE = new PlateDef("", "", Extra.NONE);

    /** Whether it has a picture for each frame: {@code {frame:4}} stands for the number. */
    public boolean isNumbered() {
      return image.matches(".*\\{frame(:\\d)?}.*");
    }

    /** Whether there is a plate. */
    public boolean exists() {
      return !image.isEmpty();
    }
  }

  /** A shot in the making; begins with the usual values. */
  public static final class Draft {
    public String scene;
    public String variant = "";
    public String camera = "";
    public @Nullable PlacedCamera placed;
    public CameraMarks marks = CameraMarks.NONE;
    public List<AddedObject> added = List.of();
    public FrameRange frames;
    public double fps = 24;
    public double shutter;
    public int width = 960;
    public int height = 540;
    public int samples = 64;
    public Bounces bounces = Bounces.of(5);
    public long seed = 1;
    public float clamp;
    public float soften;
    public double denoise;
    public boolean seeThrough;
    public EnvironmentDef environment = new EnvironmentDef("", 0, 1, Extra.NONE);
    public PlateDef plate = PlateDef.NONE;
    public Map<String, String> links = Map.of();
    public List<String> known = List.of();
    public Extra extra = Extra.NONE;

    /** A shot of a scene file. */
    public Draft(String scene, FrameRange frames) {
      this.scene = scene;
      this.frames = frames;
    }

    private Draft(Shot s) {
      this(s.scene, s.frames);
      variant = s.variant;
      camera = s.camera;
      placed = s.placed;
      marks = s.marks;
      added = s.added;
      fps = s.fps;
      shutter = s.shutter;
      width = s.width;
      height = s.height;
      samples = s.samples;
      bounces = s.bounces;
      seed = s.seed;
      clamp = s.clamp;
      soften = s.soften;
      denoise = s.denoise;
      seeThrough = s.seeThrough;
      environment = s.environment;
      plate = s.plate;
      links = s.links;
      known = s.known;
      extra = s.extra;
    }

    /** Returns the shot. */
    public Shot build() {
      return new Shot(
          scene,
          variant,
          camera,
          placed,
          marks,
          added,
          frames,
          fps,
          shutter,
          width,
          height,
          samples,
          bounces,
          seed,
          clamp,
          soften,
          denoise,
          seeThrough,
          environment,
          plate,
          links,
          known,
          extra);
    }
  }

  /** Returns the shot with changes. */
  public Shot with(Consumer<Draft> changes) {
    Draft draft = new Draft(this);
    changes.accept(draft);
    return draft.build();
  }

  /** Returns the shot with another environment. */
  public Shot withEnvironment(EnvironmentDef next) {
    return with(s -> s.environment = next);
  }

  /** Returns the shot with other known entities. */
  public Shot withKnown(List<String> next) {
    return with(s -> s.known = next);
  }

  /** Returns the shot without what no pixel depends on: known entities, marks in a photograph. */
  public Shot asTraced() {
    return with(s -> {
      s.known = List.of();
      s.marks = CameraMarks.NONE;
    });
  }

  /** Returns the camera that the shot is seen with: its own, or one of the scene. */
  public SceneCamera cameraIn(Scene scene) {
    return placed == null ? scene.camera(camera) : placed.camera();
  }

  /** Returns the scene's time at a frame, in seconds. */
  public double time(int frame) {
    return (frame - 1) / fps;
  }
}
