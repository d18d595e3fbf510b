package org.wedgecutter.core.survey;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.function.Consumer;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.plan.Bounces;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.Shot;
import org.wedgecutter.core.scene.Material;

/**
 * What a change of the shot's settings would make of its time: traced quickly at one frame, beside
 * the same frame as it is.
 *
 * @param change the change, in a few words
 * @param factor time of the frame with the change by the time without
 */
public record WhatIf(String change, double factor) {
  /** Fewer surface bounces that are tried. */
  private static final int FEW = 2;

  /**
   * Tries changes that a shot allows.
   *
   * @param before what a quick trace of the frame told
   * @param surveyor traced it
   */
  public static List<WhatIf> of(LoadedShot shot, FrameSurvey before, Surveyor surveyor) {
    List<WhatIf> out = new ArrayList<>();
    double own = cost(before);
    changes(shot)
        .forEach((name, change) -> {
          Plan plan = shot.plan().withShot(shot.plan().requireShot().with(change));
          FrameSurvey after = surveyor.of(shot.withPlan(plan)).look(before.frame(), p -> {});
          if (own > 0) {
            out.add(new WhatIf(name, cost(after) / own));
          }
        });
    return out;
  }

  private static Map<String, Consumer<Shot.Draft>> changes(LoadedShot shot) {
    Map<String, Consumer<Shot.Draft>> out = new LinkedHashMap<>();
    Bounces b = shot.plan().requireShot().bounces();
    if (b.surfaces() > FEW) {
      out.put(FEW + " bounces", d -> d.bounces = new Bounces(FEW, b.glass(), b.media()));
    }
    if (b.glass() > 0 && shot.scene().materials().stream().anyMatch(WhatIf::isGlass)) {
      out.put("without refraction", d -> d.bounces = new Bounces(b.surfaces(), 0, b.media()));
    }
    if (b.media() > 0 && !shot.scene().media().isEmpty()) {
      out.put("without volume bounces", d -> d.bounces = new Bounces(b.surfaces(), b.glass(), 0));
    }
    return out;
  }

  private static boolean isGlass(Material m) {
    return m.glass().transmission() > 0;
  }

  /** Processor time of all traces for a sample of each of their pixels. */
  private static double cost(FrameSurvey f) {
    return f.costs().stream().mapToDouble(c -> c.cpu() * c.size() * c.samples()).sum();
  }
}
