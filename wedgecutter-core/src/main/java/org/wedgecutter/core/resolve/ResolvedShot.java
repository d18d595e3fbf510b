package org.wedgecutter.core.resolve;

import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.plan.Extra;
import org.wedgecutter.core.plan.Output;
import org.wedgecutter.exr.Compression;

/**
 * All layers of a plan, resolved.
 *
 * @param layers in the plan's order, all of them, rendered or not
 * @param uncut the transport class of the frame without any layers: everything is there
 * @param entities number of entities of the scene
 * @param asked what pictures need beyond their light
 */
public record ResolvedShot(
    List<ResolvedLayer> layers, TransportClass uncut, int entities, Asked asked) {
  public ResolvedShot {
    layers = List.copyOf(layers);
  }

  /** A shot that writes the beauty only. */
  public ResolvedShot(List<ResolvedLayer> layers, TransportClass uncut, int entities) {
    this(layers, uncut, entities, Asked.NOTHING);
  }

  /** A named set of entities. */
  public record Group(String name, EntitySet entities) {}

  /**
   * What pictures need beyond their light.
   *
   * @param output what is written beside the beauty
   * @param emitters everything that emits light, each once, by the pass that it goes into
   * @param collections the plan's, for ID mattes; only a collection's own entities by precedence
   * @param plate the catcher by which a plate takes part in the uncut frame: its surfaces stand in
   *     for what the plate shows; null without a plate
   * @param denoise amount of noise that is filtered away in the uncut frame, 0 to 1
   * @param layerDenoise the same for each layer
   * @param limits by word of a pass, the entities that alone are in it
   */
  public record Asked(
      Output output,
      List<Group> emitters,
      List<Group> collections,
      @Nullable CatcherSpec plate,
      double denoise,
      List<Double> layerDenoise,
      Map<String, EntitySet> limits) {
    /** Nothing. */
    public static final Asked NOTHING =
        new Asked(
            new Output(Output.DEFAULT_NAME, false, Compression.ZIP, true, Extra.NONE),
            List.of(),
            List.of(),
            null,
            0,
            List.of(),
            Map.of());

    public Asked {
      limits = Map.copyOf(limits);
      emitters = List.copyOf(emitters);
      collections = List.copyOf(collections);
      layerDenoise = List.copyOf(layerDenoise);
    }

    /** Returns the amount of noise that is filtered away in a layer. */
    public double denoise(int layer) {
      return layer < layerDenoise.size() ? layerDenoise.get(layer) : 0;
    }

    /** Whether any picture is filtered. */
    public boolean filters() {
      return denoise > 0 || layerDenoise.stream().anyMatch(d -> d > 0);
    }
  }

  /** Returns the set of all entities. */
  public EntitySet all() {
    return EntitySet.where(entities, e -> true);
  }

  /** Returns what shows the plate where the camera sees it. */
  public EntitySet platePart() {
    CatcherSpec plate = asked.plate();
    return plate == null
        ? EntitySet.NONE
        : plate.surfaces().or(EntitySet.where(entities, e -> e == entities - 1));
  }
}
