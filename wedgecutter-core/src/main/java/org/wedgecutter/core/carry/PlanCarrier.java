package org.wedgecutter.core.carry;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import org.wedgecutter.core.io.AtomicFile;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.core.io.InputFile;
import org.wedgecutter.core.io.SafePath;
import org.wedgecutter.core.load.AddedObjects;
import org.wedgecutter.core.load.NumberedPictures;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.PlanReader;
import org.wedgecutter.core.plan.PlanWriter;
import org.wedgecutter.core.plan.Shot;
import org.wedgecutter.core.resolve.Members;
import org.wedgecutter.core.scene.Scene;
import org.wedgecutter.core.scene.files.SceneFiles;

/** Carries plan files to other scenes. */
public final class PlanCarrier {
  private static final long MAX_MEBIBYTES = 1024;

  private PlanCarrier() {}

  /**
   * Makes a plan for another scene; nothing is written.
   *
   * @param planFile a plan or a template
   * @param sceneFile the other scene; in the new plan's folder or below it
   * @param out where the new plan is going
   * @throws InputException with file, place and expectation
   */
  public static Carry.Carried carry(Path planFile, Path sceneFile, Path out) throws InputException {
    Plan plan = PlanReader.read(planFile);
    Members here = null;
    Shot shot = plan.shot();
    if (shot != null) {
      Path scene = SafePath.inside(folder(planFile), shot.scene(), planFile, "shot/scene");
      here = new Members(AddedObjects.in(SceneFiles.read(scene), shot, planFile));
    }
    return carry(plan, here, planFile, sceneFile, out);
  }

  /** Makes a plan for another scene from a plan that is open. */
  public static Carry.Carried carry(
      Plan plan,
      @org.jspecify.annotations.Nullable Members here,
      Path planFile,
      Path sceneFile,
      Path out)
      throws InputException {
    Shot shot = plan.shot();
    Scene read = SceneFiles.read(sceneFile);
    Scene scene = shot == null ? read : AddedObjects.in(read, shot, planFile);
    String scenePath = relative(out, sceneFile);
    String image = shot == null ? "" : shot.environment().image();
    Carry.Carried carried = Carry.carry(plan, here, new Members(scene), scenePath, image);
    List<String> notes = new ArrayList<>(carried.report().notes());
    if (plan.shot() != null && !sameFolder(planFile, out)) {
      images(plan.requireShot())
          .forEach((place, path) ->
              notes.add("%s %s is copied beside the new plan".formatted(WORDS.get(place), path)));
    }
    Carry.Report r = carried.report();
    return new Carry.Carried(carried.plan(), new Carry.Report(r.rows(), r.left(), r.idle(), notes));
  }

  /**
   * Writes a carried plan, and its environment's image and plate beside it if the plan was
   * elsewhere.
   *
   * @throws IOException if it cannot be written; nothing is left half done
   */
  public static void save(Plan carried, Path planFile, Path out) throws IOException {
    if (!sameFolder(planFile, out)) {
      for (Map.Entry<String, String> image : images(carried.requireShot()).entrySet()) {
        String place = image.getKey();
        for (String name : files(image.getValue(), carried.requireShot())) {
          Path from = SafePath.inside(folder(planFile), name, planFile, place);
          Path to = SafePath.inside(folder(out), name, out, place);
          if (!Files.exists(to)) {
            byte[] bytes = InputFile.bytes(from, MAX_MEBIBYTES, planFile, place);
            AtomicFile.write(to, o -> o.write(bytes));
          }
        }
      }
    }
    PlanWriter.save(carried, out);
  }

  private static final Map<String, String> WORDS =
      Map.of("shot/environment/image", "the environment", "shot/plate/image", "the plate");

  /** The images that a shot names, by the place in the plan that names them. */
  private static Map<String, String> images(Shot shot) {
    Map<String, String> out = new TreeMap<>();
    out.put("shot/environment/image", shot.environment().image());
    out.put("shot/plate/image", shot.plate().image());
    out.values().removeIf(path -> path.isEmpty() || path.equals(Shot.EnvironmentDef.NEUTRAL));
    return out;
  }

  /** The files of an image: one, or one for each frame. */
  private static List<String> files(String image, Shot shot) {
    return shot.frames().frames().stream()
        .map(f -> NumberedPictures.at(image, f))
        .distinct()
        .toList();
  }

  private static boolean sameFolder(Path a, Path b) throws InputException {
    return folder(a).equals(folder(b));
  }

  private static Path folder(Path file) throws InputException {
    Path folder = file.toAbsolutePath().normalize().getParent();
    if (folder == null) {
      throw new InputException(file, "", "not a file");
    }
    return folder;
  }

  private static String relative(Path out, Path scene) throws InputException {
    Path path = folder(out).relativize(scene.toAbsolutePath().normalize());
    if (path.startsWith("..")) {
      throw new InputException(
          scene, "", "expected in the folder of the new plan %s, or below it".formatted(out));
    }
    return path.toString().replace('\\', '/');
  }
}
