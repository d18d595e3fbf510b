package org.wedgecutter.core.plan;

import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/**
 * A plan: how a shot is cut into layers and rejoined. Immutable; an edit makes another plan.
 *
 * @param shot the shot; null in a template
 * @param collections rows of the sheet, in order of precedence
 * @param layers columns of the sheet, from the back to the front
 * @param recipe how the layers rejoin
 * @param output what is written
 * @param extra unknown keys
 */
public record Plan(
    @Nullable Shot shot,
    List<CollectionDef> collections,
    List<LayerDef> layers,
    Recipe recipe,
    Output output,
    Extra extra) {
  /** Version of the file format that is written. */
  public static final int VERSION = 1;

  public Plan {
    collections = List.copyOf(collections);
    layers = List.copyOf(layers);
  }

  /** Returns the layer of this name. */
  public Optional<LayerDef> layer(String name) {
    return layers.stream().filter(l -> l.name().equals(name)).findFirst();
  }

  /** Returns the collection of this name. */
  public Optional<CollectionDef> collection(String name) {
    return collections.stream().filter(c -> c.name().equals(name)).findFirst();
  }

  /** Returns the place of a layer, or -1. */
  public int layerIndex(String name) {
    for (int i = 0; i < layers.size(); i++) {
      if (layers.get(i).name().equals(name)) {
        return i;
      }
    }
    return -1;
  }

  /** Returns the join of a layer in the recipe. */
  public Optional<Join> join(String layer) {
    return recipe.joins().stream()
        .filter(s -> s.layer().equals(layer))
        .map(Recipe.Step::join)
        .findFirst();
  }

  /** Returns the steps of the recipe whose layers are enabled: what a render can be joined by. */
  public Recipe enabledRecipe() {
    return recipe.withJoins(
        recipe.joins().stream()
            .filter(s -> layer(s.layer()).map(LayerDef::render).orElse(true))
            .toList());
  }

  /** Returns the shot, which everything but a template has. */
  public Shot requireShot() {
    if (shot == null) {
      throw new IllegalStateException("a template has no shot");
    }
    return shot;
  }

  /** Returns the plan with other layers. */
  public Plan withLayers(List<LayerDef> next) {
    return new Plan(shot, collections, next, recipe, output, extra);
  }

  /** Returns the plan with other collections. */
  public Plan withCollections(List<CollectionDef> next) {
    return new Plan(shot, next, layers, recipe, output, extra);
  }

  /** Returns the plan with another recipe. */
  public Plan withRecipe(Recipe next) {
    return new Plan(shot, collections, layers, next, output, extra);
  }

  /** Returns the plan with another output. */
  public Plan withOutput(Output next) {
    return new Plan(shot, collections, layers, recipe, next, extra);
  }

  /** Returns the plan with another shot. */
  public Plan withShot(@Nullable Shot next) {
    return new Plan(next, collections, layers, recipe, output, extra);
  }
}
