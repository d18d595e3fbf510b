package org.wedgecutter.core.plan;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.JsonNodeFactory;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.Collectors;
import org.wedgecutter.core.io.AtomicFile;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.core.io.JsonText;
import org.wedgecutter.core.io.TextFile;

/**
 * Parts of plans as files of their own: all collections, one layer with the collections that it
 * uses, or the cells of one column. The form is that of plans, with {@code "wedgecutter_part"} in
 * the place of {@code "wedgecutter"}.
 */
public final class PlanParts {
  private static final String KEY = "wedgecutter_part";

  private PlanParts() {}

  /**
   * The result of importing a part.
   *
   * @param plan the plan after it
   * @param notes what was done and what was left out, a line each
   */
  public record Imported(Plan plan, List<String> notes) {
    public Imported {
      notes = List.copyOf(notes);
    }
  }

  /** Returns all collections of a plan. */
  public static String collections(Plan plan) {
    ObjectNode n = JsonNodeFactory.instance.objectNode().put(KEY, Plan.VERSION);
    ArrayNode list = n.putArray("collections");
    plan.collections().forEach(c -> list.add(PlanWriter.collection(c)));
    return PlanWriter.text(n);
  }

  /** Returns a layer of a plan, its join, and the collections that it uses. */
  public static String layer(Plan plan, String layer) {
    LayerDef def = plan.layer(layer).orElseThrow();
    ObjectNode n = JsonNodeFactory.instance.objectNode().put(KEY, Plan.VERSION);
    ArrayNode list = n.putArray("collections");
    plan.collections().stream()
        .filter(c -> def.cells().containsKey(c.name()))
        .forEach(c -> list.add(PlanWriter.collection(c)));
    n.putArray("layers").add(PlanWriter.layer(def));
    n.put("join", plan.join(layer).orElse(Join.PLUS).word());
    return PlanWriter.text(n);
  }

  /**
   * Returns a plan's recipe.
   *
   * @param equations what it means, for readers; a line each
   */
  public static String recipe(Plan plan, List<String> equations) {
    ObjectNode n = JsonNodeFactory.instance.objectNode().put(KEY, Plan.VERSION);
    n.set("recipe", PlanWriter.recipe(plan.recipe()));
    ArrayNode lines = n.putArray("equations");
    equations.forEach(lines::add);
    return PlanWriter.text(n);
  }

  /**
   * Reads the recipe of a part, or of a plan.
   *
   * @param layers the layers that it may join
   * @throws InputException if there is none, or it names other layers
   */
  public static Recipe recipe(Path file, Set<String> layers) throws InputException {
    JsonNode n = JsonText.read(TextFile.read(file, PlanReader.MAX_MEBIBYTES), file);
    if (!n.path("recipe").isObject()) {
      throw new InputException(file, "recipe", "expected a plan, or a recipe");
    }
    return PlanReader.recipeOf(n.get("recipe"), file, layers);
  }

  /** Returns the cells of a column. */
  public static String cells(Plan plan, String layer) {
    LayerDef def = plan.layer(layer).orElseThrow();
    ObjectNode n = JsonNodeFactory.instance.objectNode().put(KEY, Plan.VERSION);
    ObjectNode cells = n.putObject("cells");
    def.cells().forEach((name, cell) -> cells.set(name, PlanWriter.cell(cell)));
    n.set("rest", PlanWriter.cell(def.rest()));
    return PlanWriter.text(n);
  }

  /** Saves a part. */
  public static void save(String part, Path file) throws IOException {
    AtomicFile.write(file, out -> out.write(part.getBytes(StandardCharsets.UTF_8)));
  }

  /**
   * Imports a part into a plan. Collections of the same name get the rule of the part; a layer
   * whose name is taken gets another; cells go to the layer that is named.
   *
   * @param layer where cells go, and in front of which a layer is put; may be empty for collections
   * @throws InputException with file, place and expectation
   */
  public static Imported read(Plan plan, String layer, Path file) throws InputException {
    JsonNode n = tree(file);
    List<String> notes = new ArrayList<>();
    Plan next = plan;
    for (int i = 0; i < n.path("collections").size(); i++) {
      CollectionDef c =
          PlanReader.collectionOf(n.path("collections").get(i), file, "collections/" + i);
      var own = next.collection(c.name());
      if (own.isEmpty()) {
        next = CollectionEdits.add(next, next.collections().size(), c);
        notes.add("collection %s is new".formatted(c.name()));
      } else if (!own.get().equals(c) && !n.has("layers")) {
        next = CollectionEdits.collection(next, c.name(), before -> c);
        notes.add("collection %s now matches %s".formatted(c.name(), c.rule().text()));
      } else if (!own.get().equals(c)) {
        notes.add("collection %s keeps the rule of this plan".formatted(c.name()));
      }
    }
    for (int i = 0; i < n.path("layers").size(); i++) {
      LayerDef def = PlanReader.layerOf(next, n.path("layers").get(i), file, "layers/" + i);
      int at = plan.layerIndex(layer) + 1;
      Join join = join(n, file);
      next = LayerEdits.add(next, at == 0 ? next.layers().size() : at, def, join);
      notes.add("layer %s is new".formatted(def.name()));
    }
    if (n.path("recipe").isObject()) {
      Set<String> layers = new LinkedHashSet<>();
      n.path("recipe").path("joins").forEach(j -> layers.add(j.path("layer").asText()));
      n.path("recipe").path("corrections").forEach(j -> layers.add(j.path("layer").asText()));
      Recipe recipe = PlanReader.recipeOf(n.get("recipe"), file, layers);
      next = RecipeEdits.take(next, recipe, notes);
    }
    return cells(next, layer, n, file, notes);
  }

  private static Join join(JsonNode n, Path file) throws InputException {
    String word = n.path("join").asText(Join.PLUS.word());
    return Join.of(word)
        .orElseThrow(() ->
            new InputException(
                file,
                "join",
                "unknown join '%s'; expected one of %s"
                    .formatted(
                        word,
                        Arrays.stream(Join.values())
                            .map(Join::word)
                            .collect(Collectors.joining(", ")))));
  }

  private static Imported cells(Plan plan, String layer, JsonNode n, Path file, List<String> notes)
      throws InputException {
    Plan next = plan;
    if (n.has("cells") && plan.layer(layer).isEmpty()) {
      throw new InputException(file, "cells", "expected a layer of this plan to put them in");
    }
    for (Map.Entry<String, JsonNode> e : n.path("cells").properties()) {
      if (plan.collection(e.getKey()).isEmpty()) {
        notes.add("cell of %s skipped: this plan has no such collection".formatted(e.getKey()));
      } else {
        Cell cell = PlanReader.cellOf(e.getValue(), file, "cells/" + e.getKey());
        next = PlanEdits.cell(next, layer, e.getKey(), before -> cell);
        notes.add("cell of %s in %s".formatted(e.getKey(), layer));
      }
    }
    if (n.has("rest")) {
      Cell cell = PlanReader.cellOf(n.get("rest"), file, "rest");
      next = PlanEdits.cell(next, layer, null, before -> cell);
    }
    return new Imported(next, notes);
  }

  private static JsonNode tree(Path file) throws InputException {
    JsonNode n = JsonText.read(TextFile.read(file, PlanReader.MAX_MEBIBYTES), file);
    PlanReader.rename(n, "wedgecutterPart", KEY);
    if (!n.path(KEY).isInt() || n.path(KEY).asInt() > Plan.VERSION) {
      throw new InputException(
          file, KEY, "expected a layer, cells or collections of version " + Plan.VERSION);
    }
    return n;
  }
}
