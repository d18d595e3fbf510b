package org.wedgecutter.core.load;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;
import java.util.function.IntFunction;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.fragment.Stage;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.image.PictureFiles;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.core.io.SafePath;
import org.wedgecutter.core.plan.Cell;
import org.wedgecutter.core.plan.Extra;
import org.wedgecutter.core.plan.FrameRange;
import org.wedgecutter.core.plan.Join;
import org.wedgecutter.core.plan.LayerDef;
import org.wedgecutter.core.plan.Output;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.PlanReader;
import org.wedgecutter.core.plan.PlanWriter;
import org.wedgecutter.core.plan.Recipe;
import org.wedgecutter.core.plan.Role;
import org.wedgecutter.core.plan.Shot;
import org.wedgecutter.core.resolve.EntitySet;
import org.wedgecutter.core.resolve.Members;
import org.wedgecutter.core.resolve.ResolvedShot;
import org.wedgecutter.core.resolve.Resolver;
import org.wedgecutter.core.scene.Entity;
import org.wedgecutter.core.scene.Scene;
import org.wedgecutter.core.scene.SceneCamera;
import org.wedgecutter.core.scene.files.SceneFiles;
import org.wedgecutter.core.trace.CameraView;
import org.wedgecutter.core.trace.Environment;
import org.wedgecutter.core.trace.Plane;
import org.wedgecutter.core.trace.SceneTracer;
import org.wedgecutter.exr.Compression;

/**
 * A plan together with its scene and images, ready to be traced.
 *
 * @param file the plan's file; for a scene without a plan the file that it would be saved as
 * @param plan the plan
 * @param read the scene as it was read, without what the plan adds to it
 * @param tracer the whole scene, ready for rays
 * @param members which entities the collections match
 * @param pictures images of plans of this shot, by their paths in plans: the environment's, the
 *     plate's; those no longer used stay, so that an edit can be undone
 */
public record LoadedShot(
    Path file,
    Plan plan,
    Scene read,
    SceneTracer tracer,
    Members members,
    Map<String, Picture> pictures) {
  public LoadedShot {
    pictures = Map.copyOf(pictures);
  }

  /**
   * Loads a plan, or a scene with a plan of one layer.
   *
   * @throws InputException with file, place and expectation if anything cannot be used
   */
  public static LoadedShot load(Path file) throws InputException {
    return SceneFiles.isScene(file) ? ofScene(file) : ofPlan(file);
  }

  private static LoadedShot ofPlan(Path file) throws InputException {
    return of(file, PlanReader.read(file));
  }

  /**
   * Loads the scene and the images of a plan.
   *
   * @param file the plan's file, to which its paths are relative; it is not read
   * @throws InputException with file, place and expectation if anything cannot be used
   */
  public static LoadedShot of(Path file, Plan plan) throws InputException {
    Shot shot = plan.shot();
    if (shot == null) {
      throw new InputException(
          file, "shot", "missing: this is a template; expected a plan with a shot");
    }
    Path folder = folder(file);
    Scene scene =
        SceneFiles.read(SafePath.inside(folder, shot.scene(), file, "shot/scene"), shot.variant());
    LoadedShot loaded = over(file, plan, scene);
    loaded.requireCamera(file, "shot/camera");
    return loaded;
  }

  /**
   * Returns a plan over a scene that was read: with what the plan adds to it, and with its images.
   *
   * @param file the plan's file, to which its paths are relative; it is not read
   * @throws InputException with file, place and expectation if anything cannot be used
   */
  public static LoadedShot over(Path file, Plan plan, Scene read) throws InputException {
    return over(file, plan, read, Map.of());
  }

  private static LoadedShot over(Path file, Plan plan, Scene read, Map<String, Picture> pictures)
      throws InputException {
    Scene scene = AddedObjects.in(read, plan.requireShot(), file);
    return new LoadedShot(file, plan, read, new SceneTracer(scene), new Members(scene), pictures)
        .withPicturesOf(plan);
  }

  private static LoadedShot ofScene(Path file) throws InputException {
    Scene scene = SceneFiles.read(file);
    String name = String.valueOf(file.getFileName());
    String stem = name.substring(0, name.lastIndexOf('.'));
    Shot.Draft draft = new Shot.Draft(name, FrameRange.parse(scene.time().frames()));
    draft.fps = scene.time().framesPerSecond();
    Shot shot = Starting.shot(draft.build(), scene);
    LayerDef all = LayerDef.of("All", 0, Map.of(), Cell.of(Role.SEEN));
    Plan plan =
        new Plan(
            shot,
            List.of(),
            List.of(all),
            new Recipe(List.of(new Recipe.Step("All", Join.PLUS, Extra.NONE)), Extra.NONE),
            new Output(Output.DEFAULT_NAME, true, Compression.ZIP, true, Extra.NONE),
            Extra.NONE);
    return over(freeName(file, stem), plan, scene);
  }

  /** A name for a scene's new plan that no plan beside the scene has. */
  private static Path freeName(Path scene, String stem) {
    Path plan = scene.resolveSibling(stem + ".wedge");
    for (int k = 2; Files.exists(plan); k++) {
      plan = scene.resolveSibling(stem + "-" + k + ".wedge");
    }
    return plan;
  }

  /** Returns the plan that stands beside a scene under its name, if there is one. */
  public static Optional<Path> planBeside(Path scene) {
    String name = String.valueOf(scene.getFileName());
    int dot = name.lastIndexOf('.');
    Path plan = scene.resolveSibling((dot > 0 ? name.substring(0, dot) : name) + ".wedge");
    return SceneFiles.isScene(scene) && Files.isRegularFile(plan)
        ? Optional.of(plan)
        : Optional.empty();
  }

  private static Path folder(Path file) throws InputException {
    Path folder = file.toAbsolutePath().normalize().getParent();
    if (folder == null) {
      throw new InputException(file, "", "not a file");
    }
    return folder;
  }

  private void requireCamera(Path where, String place) throws InputException {
    String wanted = plan.requireShot().camera();
    if (plan.requireShot().placed() != null) {
      return;
    }
    List<String> names = scene().cameras().stream().map(SceneCamera::name).toList();
    if (names.isEmpty()) {
      throw new InputException(
          where, place, "the scene has no perspective camera; expected shot/placed_camera");
    }
    if (!wanted.isEmpty() && !names.contains(wanted)) {
      throw new InputException(
          where,
          place,
          "there is no camera '%s'; the cameras are %s"
              .formatted(wanted, String.join(", ", names)));
    }
  }

  /** Returns the scene, with what the plan adds to it. */
  public Scene scene() {
    return tracer.scene();
  }

  /** Returns the plan's name: that of its file without extension. */
  public String name() {
    String name = String.valueOf(file.getFileName());
    int dot = name.lastIndexOf('.');
    return dot > 0 ? name.substring(0, dot) : name;
  }

  /** Returns the shot with another plan over the same scene, to which that adds nothing else. */
  public LoadedShot withPlan(Plan next) {
    return new LoadedShot(file, next, read, tracer, members, pictures);
  }

  /**
   * Returns the shot with another plan of the same scene: with what that one adds to it, and with
   * its images. What was read already is not read again.
   *
   * @throws InputException with file and place if anything cannot be used
   */
  public LoadedShot of(Plan next) throws InputException {
    AddedObjects.Made made = AddedObjects.Made.of(next.requireShot());
    return made.equals(AddedObjects.Made.of(plan.requireShot()))
        ? withPlan(next).withPicturesOf(next)
        : again(next);
  }

  /**
   * Returns another plan over the scene as it was read; what the plan adds to it is prepared again.
   *
   * @throws InputException with file and place if anything cannot be used
   */
  public LoadedShot again(Plan next) throws InputException {
    return over(file, next, read, pictures);
  }

  /** Returns the shot with the scene of another one. */
  public LoadedShot withSceneOf(LoadedShot other) {
    return new LoadedShot(file, plan, other.read, other.tracer, other.members, pictures);
  }

  /**
   * Returns the shot with the images that another plan of it names; those that are there already
   * are not read again.
   *
   * @throws InputException with file and place if one cannot be used
   */
  public LoadedShot withPicturesOf(Plan other) throws InputException {
    Shot shot = other.requireShot();
    Map<String, Picture> next = new HashMap<>(pictures);
    read(shot.environment().image(), "shot/environment/image", next);
    String plate = shot.plate().image();
    if (shot.plate().isNumbered()) {
      // the others are read when they are shown
      int first = shot.frames().first();
      SafePath.inside(folder(file), NumberedPictures.at(plate, first), file, "shot/plate/image");
      numberedPictures().picture(plate, first);
    } else {
      read(plate, "shot/plate/image", next);
    }
    return new LoadedShot(file, plan, read, tracer, members, next);
  }

  /** Returns the shot with more images, by their paths in plans. */
  public LoadedShot withPictures(Map<String, Picture> more) {
    Map<String, Picture> next = new HashMap<>(pictures);
    next.putAll(more);
    return new LoadedShot(file, plan, read, tracer, members, next);
  }

  private void read(String image, String place, Map<String, Picture> into) throws InputException {
    if (image.equals(Shot.EnvironmentDef.NEUTRAL)) {
      into.computeIfAbsent(image, i -> NeutralSurround.picture());
    } else if (!image.isEmpty() && !into.containsKey(image)) {
      into.put(image, PictureFiles.read(SafePath.inside(folder(file), image, file, place)));
    }
  }

  /** Returns the pictures that the plan names, which may be numbered by frame. */
  public NumberedPictures numberedPictures() {
    Path folder = file.toAbsolutePath().normalize().getParent();
    return new NumberedPictures(folder == null ? List.of() : List.of(folder));
  }

  /**
   * Returns what reads the plan's pictures at a frame; an error becomes an {@link
   * UncheckedIOException}.
   */
  public Function<String, Picture> numberedPicturesAt(int frame) {
    NumberedPictures all = numberedPictures();
    return name -> {
      try {
        return all.picture(name, frame);
      } catch (InputException e) {
        throw new UncheckedIOException(String.valueOf(e.getMessage()), e);
      }
    };
  }

  /** Returns the camera that the shot is seen with. */
  public SceneCamera camera() {
    return plan.requireShot().cameraIn(scene());
  }

  /** Returns the environment. */
  public Environment environment() {
    Shot.EnvironmentDef def = plan.requireShot().environment();
    Picture image = pictures.get(def.image());
    return image == null ? Environment.DARK : new Environment(image, def.turn(), def.level());
  }

  /**
   * Returns the plate at a frame, or null.
   *
   * @throws UncheckedIOException if a numbered plate has no file for it, or one that is no picture
   */
  public @Nullable Picture plate(int frame) {
    Shot.PlateDef plate = plan.requireShot().plate();
    return plate.isNumbered()
        ? numberedPicturesAt(frame).apply(plate.image())
        : pictures.get(plate.image());
  }

  /** Returns the scene at a frame. */
  public SceneTracer.Frame frame(int frame) {
    Shot s = plan.requireShot();
    return tracer.at(
        new SceneTracer.Time(s.time(frame), s.shutter() / s.fps(), 1 / s.fps()), environment());
  }

  /**
   * Returns what pictures of a frame need beside light.
   *
   * @param traced the scene at frames that were placed already; others are placed when needed
   */
  public Stage stage(IntFunction<SceneTracer.@Nullable Frame> traced, int frame) {
    return new Stage() {
      private SceneTracer.@Nullable Frame placed;

      private synchronized SceneTracer.Frame placed() {
        if (placed == null) {
          SceneTracer.Frame known = traced.apply(frame);
          placed = known == null ? frame(frame) : known;
        }
        return placed;
      }

      @Override
      public Scene scene() {
        return LoadedShot.this.scene();
      }

      @Override
      public @Nullable Picture plate(int width, int height) {
        Picture own = LoadedShot.this.plate(frame);
        return own == null ? null : own.resized(width, height);
      }

      @Override
      public CameraView view(int width, int height) {
        return placed().view(camera(), width, height);
      }

      @Override
      public Plane plane(
          EntitySet surfaces, EntitySet things, double @Nullable [] given, double size) {
        return placed().plane(surfaces, things, given, size);
      }
    };
  }

  /** Returns the resolved layers at a frame. */
  public ResolvedShot resolve(int frame) {
    return Resolver.resolve(plan, members, frame);
  }

  /** Returns the plan as it is saved, with all entities of the scene listed as known. */
  public Plan noted() {
    return plan.withShot(
        plan.requireShot().withKnown(scene().entities().stream().map(Entity::path).toList()));
  }

  /** Saves the plan to its file. */
  public void save() throws IOException {
    PlanWriter.save(noted(), file);
  }

  /** Returns the folder to which the pictures of the plan are relative. */
  public Path folder() {
    return Path.of(String.valueOf(file.toAbsolutePath().getParent()));
  }

  /** Returns the same shot whose plan is saved elsewhere. */
  public LoadedShot withFile(Path next) {
    return new LoadedShot(next, plan, read, tracer, members, pictures);
  }
}
