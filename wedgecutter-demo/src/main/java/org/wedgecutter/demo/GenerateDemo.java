package org.wedgecutter.demo;

import java.io.IOException;
import java.nio.file.Path;
import org.wedgecutter.core.image.RadianceHdr;
import org.wedgecutter.core.io.AtomicFile;
import org.wedgecutter.core.plan.PlanWriter;

/** Writes the demo shots into a folder: {@code GenerateDemo demo}. */
public final class GenerateDemo {
  private GenerateDemo() {}

  /** Takes the folder as its one argument. */
  public static void main(String[] args) throws IOException {
    if (args.length != 1) {
      throw new IllegalArgumentException("expected one argument: the folder to write into");
    }
    write(Path.of(args[0]));
  }

  /** Writes all shots. */
  public static void write(Path folder) throws IOException {
    Path orrery = folder.resolve("orrery");
    AtomicFile.write(orrery.resolve("orrery.glb"), OrreryScene::write);
    AtomicFile.write(
        orrery.resolve("attic.hdr"), out -> RadianceHdr.write(AtticSky.picture(), out));
    PlanWriter.save(OrreryPlans.heldOut(), orrery.resolve("orrery.wedge"));
    PlanWriter.save(OrreryPlans.over(), orrery.resolve("orrery-over.wedge"));
  }
}
