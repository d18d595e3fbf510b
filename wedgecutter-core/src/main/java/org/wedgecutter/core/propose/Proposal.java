package org.wedgecutter.core.propose;

import java.util.List;
import org.wedgecutter.core.cut.CompFreedom;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.survey.TimeEstimate;

/**
 * A first cut of a shot.
 *
 * @param title in a few words
 * @param summary what it is good for, in a sentence
 * @param plan the plan
 * @param layers why each layer is there
 * @param proof how it rejoins, by a small trace
 * @param shot time of all layers over all frames
 * @param later what can be changed later, and what that costs
 */
public record Proposal(
    String title,
    String summary,
    Plan plan,
    List<Reason> layers,
    Proof proof,
    TimeEstimate.Seconds shot,
    List<Later> later) {
  public Proposal {
    layers = List.copyOf(layers);
    later = List.copyOf(later);
  }

  /**
   * Why a layer is there.
   *
   * @param comp what compositing may do to it without a hole
   * @param seconds its time over all frames
   */
  public record Reason(String layer, String text, CompFreedom comp, TimeEstimate.Seconds seconds) {}

  /**
   * How a proposal rejoins.
   *
   * @param frame the frame that was traced
   * @param exact whether the residual is within the tolerance everywhere
   * @param max largest residual, scene-linear light
   * @param beyond share of the pixels beyond the tolerance
   * @param causes why, in words; empty if it is exact
   */
  public record Proof(int frame, boolean exact, double max, double beyond, List<String> causes) {
    public Proof {
      causes = List.copyOf(causes);
    }
  }

  /**
   * A change that somebody may ask for later.
   *
   * @param change what is changed
   * @param layers the layers that have to be rendered again
   * @param of how many layers are rendered
   * @param seconds the time of these layers over all frames
   */
  public record Later(String change, List<String> layers, int of, TimeEstimate.Seconds seconds) {
    public Later {
      layers = List.copyOf(layers);
    }
  }
}
