package org.wedgecutter.core.check;

import java.util.Comparator;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.proof.Cause;
import org.wedgecutter.core.resolve.EntitySet;
import org.wedgecutter.core.resolve.Members;
import org.wedgecutter.core.resolve.ResolvedShot;
import org.wedgecutter.core.scene.Scene;

/** Checks a plan against its scene without tracing: the rules of the catalogue {@link Kind}. */
public final class PlanCheck {
  private PlanCheck() {}

  /** Returns all findings, the worst first; files that the plan names are looked for, too. */
  public static List<Finding> check(LoadedShot shot, ResolvedShot resolved) {
    Checked checked = checked(shot.plan(), shot.members(), resolved, shot.pictures());
    PictureChecks.run(checked, shot.numberedPictures());
    return sorted(checked);
  }

  /** Returns the findings that need no files, the worst first. */
  public static List<Finding> check(Plan plan, Members members, ResolvedShot resolved) {
    return sorted(checked(plan, members, resolved, Map.of()));
  }

  private static Checked checked(
      Plan plan, Members members, ResolvedShot resolved, Map<String, Picture> pictures) {
    Checked checked = new Checked(plan, members, resolved);
    ShotChecks.run(checked);
    RejoinChecks.run(checked);
    MembershipChecks.run(checked);
    LayerChecks.run(checked);
    OverrideChecks.run(checked);
    OutputChecks.run(checked);
    RangeChecks.run(checked, pictures);
    return checked;
  }

  private static List<Finding> sorted(Checked checked) {
    checked.findings.sort(Comparator.comparing(Finding::severity));
    return List.copyOf(checked.findings);
  }

  /** Returns the edit that removes a cause of a residual, or null if the TD must decide. */
  public static Finding.@Nullable Fix fix(
      Plan plan, Members members, ResolvedShot resolved, Cause cause) {
    boolean known = cause.layer().isEmpty() || plan.layer(cause.layer()).isPresent();
    return known ? RejoinChecks.fix(new Checked(plan, members, resolved), cause) : null;
  }

  /** Returns the entities that are new in the scene since the plan was saved. */
  public static EntitySet fresh(Plan plan, Scene scene) {
    return MembershipChecks.fresh(plan, scene);
  }
}
