package org.wedgecutter.core.testing;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.image.RadianceHdr;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.PlanReader;
import org.wedgecutter.core.plan.PlanWriter;

/**
 * A small shot on the disk: a floor, a front and a back panel above it, lit by a sky, and a plan
 * that holds each out of the others. The front turns over its two frames.
 */
public final class ShotFolder {
  public static final String PLAN =
      """
      {
        "wedgecutter": 1,
        "shot": {"scene": "set.glb", "frames": "1-2", "fps": 1, "size": [40, 24], "samples": 2,
                 "bounces": 2, "environment": {"image": "sky.hdr"}},
        "collections": [
          {"name": "Front", "rule": "front"},
          {"name": "Back", "rule": "back"},
          {"name": "Floor", "rule": "floor | kind:environment"}
        ],
        "layers": [
          {"name": "Floor", "hue": 0, "cells": {"Floor": {"role": "Seen"}}},
          {"name": "Back", "hue": 1, "cells": {"Back": {"role": "Seen"}}},
          {"name": "Front", "hue": 2, "cells": {"Front": {"role": "Seen"}}}
        ],
        "recipe": {"joins": [
          {"layer": "Floor", "join": "plus"},
          {"layer": "Back", "join": "plus"},
          {"layer": "Front", "join": "plus"}]},
        "output": {"colour": "half", "compression": "zip", "passes": true}
      }
      """;

  private ShotFolder() {}

  /** Makes the shot in a folder and returns its plan's file. */
  public static Path make(Path folder) throws IOException {
    Files.createDirectories(folder);
    GltfText text = new GltfText(new float[] {-1, -1, 0, 1, -1, 0, 0, 1, 0});
    text.root.putArray("nodes");
    var nodes = text.root.withArray("nodes");
    nodes
        .addObject()
        .put("name", "front")
        .put("mesh", 0)
        .putArray("translation")
        .add(0.4)
        .add(0)
        .add(1);
    nodes
        .addObject()
        .put("name", "back")
        .put("mesh", 0)
        .putArray("translation")
        .add(-0.4)
        .add(0)
        .add(-0.5);
    var floor = nodes.addObject().put("name", "floor").put("mesh", 0);
    floor.putArray("translation").add(0).add(-0.8).add(0);
    floor.putArray("rotation").add(-0.7071068).add(0).add(0).add(0.7071068);
    floor.putArray("scale").add(5).add(5).add(5);
    nodes
        .addObject()
        .put("name", "eye")
        .put("camera", 0)
        .putArray("translation")
        .add(0)
        .add(0.3)
        .add(5);
    text.at("/scenes/0").putArray("nodes").add(0).add(1).add(2).add(3);
    text.at("/animations/0/channels/0/target").put("node", 0);
    Files.write(folder.resolve("set.glb"), text.glb());
    Picture sky = Picture.empty(16, 8);
    Arrays.fill(sky.rgba(), 0.8f);
    sky.rgba()[0] = 20;
    try (var out = Files.newOutputStream(folder.resolve("sky.hdr"))) {
      RadianceHdr.write(sky, out);
    }
    Path plan = folder.resolve("set.wedge");
    Files.writeString(plan, PLAN);
    return plan;
  }

  /** Makes the shot and loads it. */
  public static LoadedShot load(Path folder) throws IOException {
    return LoadedShot.load(make(folder));
  }

  /** Makes the shot with a plate, onto which front and back are set, and loads it. */
  public static LoadedShot loadWithPlate(Path dir) throws IOException {
    Path file = make(dir);
    LoadedShot plain = LoadedShot.load(file);
    var s = plain.plan().requireShot();
    Picture plate = Picture.empty(s.width(), s.height());
    for (int p = 0; p < plate.width() * plate.height(); p++) {
      for (int c = 0; c < 3; c++) {
        plate.rgba()[4 * p + c] = 0.2f + 0.5f * (p % plate.width()) / plate.width() + 0.1f * c;
      }
      plate.rgba()[4 * p + 3] = 1;
    }
    try (var out = Files.newOutputStream(dir.resolve("plate.hdr"))) {
      RadianceHdr.write(plate, out);
    }
    String text =
        """
        {"wedgecutter": 1,
         "shot": {"scene": "set.glb", "frames": "1-4", "fps": 2, "size": [%d, %d], "samples": 6,
           "bounces": 2, "environment": {"image": "sky.hdr"},
           "plate": {"image": "plate.hdr", "stand_ins": "Floor"}},
         "collections": [{"name": "Front", "rule": "name:front"}, {"name": "Floor", "rule": "name:floor"},
           {"name": "Back", "rule": "name:back"}],
         "layers": [
           {"name": "Plate", "cells": {"Front": {"role": "Holdout"}, "Back": {"role": "Holdout"}},
            "rest": {"role": "Seen"}},
           {"name": "Caught", "cells": {
              "Front": {"role": "Holdout", "catcher": {"caster": true}},
              "Back": {"role": "Holdout", "catcher": {"caster": true}},
              "Floor": {"role": "Catcher"}}, "rest": {"role": "Holdout"}},
           {"name": "Things", "cells": {"Front": {"role": "Seen"}, "Back": {"role": "Seen"}},
            "rest": {"role": "Holdout"}}],
         "recipe": {"joins": [{"layer": "Plate", "join": "plus"}, {"layer": "Caught", "join": "plus"},
           {"layer": "Things", "join": "plus"}]}}
        """
            .formatted(s.width(), s.height());
    Path own = dir.resolve("plate.wedge");
    Files.writeString(own, text);
    return LoadedShot.load(own);
  }

  /** Returns the plan with some of its text replaced, saved in place. */
  public static LoadedShot changed(Path folder, String from, String to) throws IOException {
    Path file = make(folder);
    if (!PLAN.contains(from)) {
      throw new IllegalArgumentException(from);
    }
    Plan plan = PlanReader.parse(PLAN.replace(from, to), file);
    PlanWriter.save(plan, file);
    return LoadedShot.load(file);
  }

  /** Returns a small set as OpenUSD text. */
  public static String stage() {
    try (var in = ShotFolder.class.getResourceAsStream("stage.usda")) {
      return new String(in.readAllBytes(), java.nio.charset.StandardCharsets.UTF_8);
    } catch (IOException e) {
      throw new java.io.UncheckedIOException(e);
    }
  }
}
