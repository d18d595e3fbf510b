package org.wedgecutter.core.plan;

import static org.wedgecutter.core.plan.PlanReader.extra;
import static org.wedgecutter.core.plan.PlanReader.texts;

import com.fasterxml.jackson.databind.JsonNode;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.Collectors;
import org.wedgecutter.core.io.InputException;

/** Reads recipes from JSON that the schema has passed. */
final class RecipeReader {
  private final Path file;

  /**
   * @param file named in errors
   */
  RecipeReader(Path file) {
    this.file = file;
  }

  private InputException wrong(String place, String problem) {
    return new InputException(file, place, problem);
  }

  /**
   * Reads a recipe.
   *
   * @param layers names of the plan's layers
   */
  Recipe recipe(JsonNode n, Set<String> layers) throws InputException {
    List<Recipe.Step> steps = new ArrayList<>();
    Set<String> seen = new HashSet<>();
    for (JsonNode s : n.path("joins")) {
      String place = "recipe/joins/" + steps.size() + "/layer";
      String layer = s.get("layer").asText();
      if (!layers.contains(layer)) {
        throw wrong(
            place,
            "there is no layer '%s'; the layers are %s"
                .formatted(layer, String.join(", ", layers.stream().sorted().toList())));
      }
      if (!seen.add(layer)) {
        throw wrong(place, "'%s' is joined twice".formatted(layer));
      }
      steps.add(
          new Recipe.Step(
              layer,
              Join.of(s.get("join").asText())
                  .orElseThrow(
                      () -> wrong("recipe/joins/" + steps.size() + "/join", "unknown join")),
              s.path("opacity").asDouble(1),
              s.path("matte").asText(""),
              Recipe.Light.of(s.path("light").asText("all")).orElse(Recipe.Light.ALL),
              extra(s, "layer", "join", "opacity", "matte", "light")));
    }
    List<MatteDef> mattes = mattes(n.path("mattes"), layers);
    Recipe out =
        new Recipe(
            steps,
            corrections(n.path("corrections"), layers),
            mattes,
            background(n.path("background")),
            extra(n, "joins", "corrections", "mattes", "background"));
    for (int k = 0; k < steps.size(); k++) {
      known(out, steps.get(k).matte(), "recipe/joins/" + k + "/matte");
    }
    for (int k = 0; k < out.corrections().size(); k++) {
      known(out, out.corrections().get(k).matte(), "recipe/corrections/" + k + "/matte");
    }
    return out;
  }

  private void known(Recipe recipe, String matte, String place) throws InputException {
    if (!matte.isEmpty() && recipe.matte(matte).isEmpty()) {
      throw wrong(place, "there is no matte '%s'".formatted(matte));
    }
  }

  private Background background(JsonNode n) throws InputException {
    if (n.isMissingNode()) {
      return Background.NONE;
    }
    List<Double> colour = new ArrayList<>();
    n.path("colour").forEach(v -> colour.add(v.asDouble()));
    try {
      return new Background(
          Background.Kind.of(n.path("kind").asText()).orElse(Background.Kind.NONE),
          colour,
          n.path("picture").asText(""),
          Background.Fit.of(n.path("fit").asText("fill")).orElse(Background.Fit.FILL),
          extra(n, "kind", "colour", "picture", "fit"));
    } catch (IllegalArgumentException e) {
      throw wrong("recipe/background", String.valueOf(e.getMessage()));
    }
  }

  private List<MatteDef> mattes(JsonNode n, Set<String> layers) throws InputException {
    List<MatteDef> out = new ArrayList<>();
    Set<String> seen = new HashSet<>();
    for (JsonNode m : n) {
      String place = "recipe/mattes/" + out.size();
      String name = m.get("name").asText();
      if (!seen.add(name)) {
        throw wrong(place + "/name", "there are two mattes '%s'".formatted(name));
      }
      MatteDef.Source source =
          MatteDef.Source.of(m.get("source").asText())
              .orElseThrow(() ->
                  wrong(place + "/source", "expected ids, depth, luma, shape, and, or, or minus"));
      try {
        out.add(
            new MatteDef(
                name,
                source,
                texts(m.path("picks")),
                m.path("by").asText(""),
                new MatteDef.Range(
                    m.path("from").asDouble(0),
                    m.path("to").asDouble(1),
                    m.path("curve").asDouble(1)),
                outline(m.path("shape"), place),
                m.path("grow").asInt(0),
                m.path("invert").asBoolean(false),
                extra(
                    m, "name", "source", "picks", "by", "from", "to", "curve", "shape", "grow",
                    "invert")));
      } catch (IllegalArgumentException e) {
        throw wrong(place, String.valueOf(e.getMessage()));
      }
    }
    combinations(out, layers);
    return out;
  }

  /** Checks that the mattes that others combine exist, and that none refers to itself. */
  private void combinations(List<MatteDef> mattes, Set<String> layers) throws InputException {
    Map<String, Integer> parts = new Recipe(List.of(), Extra.NONE).withMattes(mattes).matteParts();
    Set<String> names = mattes.stream().map(MatteDef::name).collect(Collectors.toSet());
    for (int k = 0; k < mattes.size(); k++) {
      MatteDef m = mattes.get(k);
      if (m.source() == MatteDef.Source.LUMA && !m.by().isEmpty() && !layers.contains(m.by())) {
        throw wrong("recipe/mattes/%d/by".formatted(k), "there is no layer '%s'".formatted(m.by()));
      }
      for (String pick : m.source().combines() ? m.picks() : List.<String>of()) {
        if (!names.contains(pick)) {
          throw wrong(
              "recipe/mattes/%d/picks".formatted(k), "there is no matte '%s'".formatted(pick));
        }
      }
      int count = parts.getOrDefault(m.name(), 1);
      if (count == 0 || count > Recipe.MOST_PARTS) {
        throw wrong(
            "recipe/mattes/%d/picks".formatted(k),
            count == 0
                ? "the matte '%s' refers to itself".formatted(m.name())
                : "the matte '%s' is made of more than %d mattes"
                    .formatted(m.name(), Recipe.MOST_PARTS));
      }
    }
  }

  private MatteDef.Outline outline(JsonNode n, String place) throws InputException {
    MatteDef.Outline usual = MatteDef.Outline.USUAL;
    JsonNode at = n.path("at");
    JsonNode size = n.path("size");
    return new MatteDef.Outline(
        MatteDef.Outline.Form.of(n.path("form").asText(usual.form().word()))
            .orElseThrow(
                () -> wrong(place + "/shape/form", "expected ellipse, rectangle or gradient")),
        at.path(0).asDouble(usual.right()),
        at.path(1).asDouble(usual.down()),
        size.path(0).asDouble(usual.across()),
        size.path(1).asDouble(usual.along()),
        n.path("turn").asDouble(usual.turn()),
        n.path("soft").asDouble(usual.soft()));
  }

  private List<Correction> corrections(JsonNode n, Set<String> layers) throws InputException {
    List<Correction> out = new ArrayList<>();
    for (JsonNode c : n) {
      String place = "recipe/corrections/" + out.size();
      String layer = c.path("layer").asText("");
      if (!layer.isEmpty() && !layers.contains(layer)) {
        throw wrong(place + "/layer", "there is no layer '%s'".formatted(layer));
      }
      String pass = c.path("pass").asText("");
      if (layer.isEmpty() && !pass.isEmpty()) {
        throw wrong(place + "/layer", "a pass is corrected in a layer; expected its name");
      }
      String word = c.get("type").asText();
      Correction.Type type =
          Correction.Type.of(word)
              .orElseThrow(() -> wrong(place + "/type", "unknown type '%s'".formatted(word)));
      List<Correction.Key> keys = new ArrayList<>();
      for (JsonNode k : c.path("keys")) {
        keys.add(new Correction.Key(k.get(0).asInt(), numbers(k.get(1))));
      }
      List<Double> values = numbers(c.path("values"));
      String fault = keys.isEmpty() ? type.wrong(values) : "";
      if (!fault.isEmpty()) {
        throw wrong(place + "/values", fault);
      }
      boolean on = c.path("on").asBoolean(true);
      Correction.Reach reach =
          c.path("reach").asText("layer").equals("behind")
              ? Correction.Reach.BEHIND
              : Correction.Reach.LAYER;
      String matte = c.path("matte").asText("");
      String picture = c.path("picture").asText("");
      Extra more =
          extra(c, "layer", "pass", "reach", "matte", "type", "values", "keys", "picture", "on");
      try {
        out.add(new Correction(layer, pass, reach, matte, type, values, picture, on, keys, more));
      } catch (IllegalArgumentException e) {
        throw wrong(place, String.valueOf(e.getMessage()));
      }
    }
    return out;
  }

  private static List<Double> numbers(JsonNode n) {
    List<Double> out = new ArrayList<>();
    n.forEach(v -> out.add(v.asDouble()));
    return out;
  }
}
