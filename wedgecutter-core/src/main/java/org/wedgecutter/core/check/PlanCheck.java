package org.wedgecutter.core.check;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import org.wedgecutter.core.plan.CollectionDef;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.proof.Cause;
import org.wedgecutter.core.proof.CauseFinder;
import org.wedgecutter.core.resolve.ResolvedShot;
import org.wedgecutter.core.scene.Scene;

/** Checks a plan against its scene without tracing. */
public final class PlanCheck {
  private PlanCheck() {}

  /** Returns all findings, the worst first. */
  public static List<Finding> check(Plan plan, Scene scene, ResolvedShot resolved) {
    List<Finding> out = new ArrayList<>();
    for (Cause cause : CauseFinder.find(plan, scene, resolved, null)) {
      out.add(
          new Finding(
              severity(cause.kind()), cause.layer(), cause.entity(), cause.text(), cause.fix()));
    }
    for (CollectionDef c : plan.collections()) {
      if (scene.entities().stream().noneMatch(c::takes)) {
        out.add(
            new Finding(
                Finding.Severity.WARNING,
                "",
                c.name(),
                "collection %s takes nothing in this scene".formatted(c.name()),
                "change its rule, or take it away"));
      }
      for (String path : c.added()) {
        if (scene.entity(path).isEmpty()) {
          out.add(
              new Finding(
                  Finding.Severity.WARNING,
                  "",
                  c.name(),
                  "collection %s holds %s by hand, which is not in this scene"
                      .formatted(c.name(), path),
                  "take it out"));
        }
      }
    }
    out.sort(Comparator.comparing(Finding::severity));
    return List.copyOf(out);
  }

  private static Finding.Severity severity(Cause.Kind kind) {
    return switch (kind) {
      case SEEN_NOWHERE, SEEN_TWICE, LIGHT_DIFFERS, PLUS_ON_COMPLETE, LAYER_NOT_RENDERED ->
          Finding.Severity.ERROR;
      case LAYER_NOT_JOINED, STALE -> Finding.Severity.WARNING;
      case OVER_ON_HELD_OUT, GREY_CATCH, EDGE_COVARIANCE, RATIO_ON_SPECULAR, HALF_ROUNDING ->
          Finding.Severity.NOTE;
    };
  }
}
