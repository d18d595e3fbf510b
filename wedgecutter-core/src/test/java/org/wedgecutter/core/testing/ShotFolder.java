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
