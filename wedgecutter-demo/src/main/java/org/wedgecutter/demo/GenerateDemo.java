package org.wedgecutter.demo;

import java.io.IOException;
import java.nio.file.Path;
import org.wedgecutter.core.carry.PlanCarrier;
import org.wedgecutter.core.image.RadianceHdr;
import org.wedgecutter.core.io.AtomicFile;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.plan.CollectionEdits;
import org.wedgecutter.core.plan.Extra;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.PlanWriter;
import org.wedgecutter.core.plan.Shot;

/** Writes the demo shots into a folder: {@code GenerateDemo demo plate}. */
public final class GenerateDemo {
  private GenerateDemo() {}

  /** Takes the folder, and {@code plate} if the plate is to be traced again too. */
  public static void main(String[] args) throws IOException {
    if (args.length == 0 || args.length > 2 || (args.length == 2 && !args[1].equals("plate"))) {
      throw new IllegalArgumentException("expected the folder to write into, and perhaps: plate");
    }
    Path folder = Path.of(args[0]);
    if (args.length == 2) {
      CourtyardPlate.write(folder.resolve("courtyard/plate.exr"));
    }
    write(folder);
  }

  /** Writes all shots, but for the courtyard's plate, which must be there. */
  public static void write(Path folder) throws IOException {
    Path orrery = folder.resolve("orrery");
    AtomicFile.write(orrery.resolve("orrery.glb"), OrreryScene::write);
    AtomicFile.write(
        orrery.resolve("attic.hdr"), out -> RadianceHdr.write(AtticSky.picture(), out));
    plan(OrreryPlans.heldOut(), orrery.resolve("orrery.wedge"));
    plan(OrreryPlans.over(), orrery.resolve("orrery-over.wedge"));
    desk(orrery, folder.resolve("desk"));
    Path courtyard = folder.resolve("courtyard");
    AtomicFile.write(courtyard.resolve("courtyard.glb"), CourtyardScene::write);
    AtomicFile.write(
        courtyard.resolve("sky.hdr"), out -> RadianceHdr.write(CourtyardSky.picture(), out));
    plan(CourtyardPlan.plan(), courtyard.resolve("courtyard.wedge"));
  }

  /**
   * The orrery's plan, carried to another desk and mended by hand: what its rules have no place for
   * goes into the foreground.
   */
  private static void desk(Path orrery, Path desk) throws IOException {
    AtomicFile.write(desk.resolve("desk.glb"), DeskScene::write);
    Path from = orrery.resolve("orrery.wedge");
    Path to = desk.resolve("desk.wedge");
    Plan carried = PlanCarrier.carry(from, desk.resolve("desk.glb"), to).plan();
    PlanCarrier.save(carried, from, to);
    LoadedShot shot = LoadedShot.load(to);
    for (String path : new String[] {"/inkwell/pot", "/inkwell/lid"}) {
      var entity = shot.scene().entity(path).orElseThrow();
      shot = shot.withPlan(CollectionEdits.pick(shot.plan(), "Foreground", entity));
    }
    // it is dusk here: the attic's skylight is turned down
    var own = shot.plan().requireShot();
    var sky = new Shot.EnvironmentDef(own.environment().image(), 0, 0.3, Extra.NONE);
    shot.withPlan(shot.plan().withShot(own.withEnvironment(sky))).save();
  }

  /** Saves a plan as the window does: with what its scene holds. */
  private static void plan(Plan plan, Path file) throws IOException {
    PlanWriter.save(plan, file);
    LoadedShot.load(file).save();
  }
}
