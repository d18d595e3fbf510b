package org.wedgecutter.core.plan;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.EnumSet;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.core.io.JsonText;
import org.wedgecutter.core.io.TextFile;
import org.wedgecutter.core.scene.Projection;
import org.wedgecutter.exr.Compression;

/** Reads plans from JSON. */
public final class PlanReader {
  static final long MAX_MEBIBYTES = 64;

  private final Path file;

  private PlanReader(Path file) {
    this.file = file;
  }

  /**
   * Reads a plan file.
   *
   * @throws InputException with file, place and expectation
   */
  public static Plan read(Path file) throws InputException {
    return parse(TextFile.read(file, MAX_MEBIBYTES), file);
  }

  /** Reads a plan's text; the file is for messages. */
  public static Plan parse(String text, Path file) throws InputException {
    JsonNode root = JsonText.read(text, file);
    JsonNode version = root.path("wedgecutter");
    if (version.isInt() && version.asInt() > Plan.VERSION) {
      throw new InputException(
          file,
          "wedgecutter",
          "format version %d is newer than this program, which reads up to %d"
              .formatted(version.asInt(), Plan.VERSION));
    }
    migrate(root);
    var fault = PlanSchema.plan().check(root.toString());
    if (fault.isPresent()) {
      throw new InputException(file, fault.get().place(), fault.get().expected());
    }
    return new PlanReader(file).plan(root);
  }

  /** Renames keys that early plans wrote in another casing. */
  public static void migrate(JsonNode plan) {
    rename(plan.path("shot"), "seeThroughGlass", "see_through_glass");
    rename(plan.path("shot").path("plate"), "standIns", "stand_ins");
    rename(plan.path("output"), "lightGroups", "light_groups");
  }

  /** Renames a key of an object, unless the object has the new one already. */
  public static void rename(JsonNode object, String old, String now) {
    if (object instanceof ObjectNode o && o.has(old) && !o.has(now)) {
      o.set(now, o.remove(old));
    }
  }

  /** Reads a cell outside of a plan, such as from the clipboard; checked by the schema of cells. */
  static Cell cellOf(JsonNode n, Path file, String place) throws InputException {
    check("cell", n, file, place);
    return new PlanReader(file).cell(n, place);
  }

  /** Reads a collection outside of a plan. */
  static CollectionDef collectionOf(JsonNode n, Path file, String place) throws InputException {
    check("collection", n, file, place);
    return new PlanReader(file).collection(n, place);
  }

  /** Reads a layer whose cells are of collections of a plan. */
  static LayerDef layerOf(Plan plan, JsonNode n, Path file, String place) throws InputException {
    check("layer", n, file, place);
    Set<String> names = new HashSet<>();
    plan.collections().forEach(c -> names.add(c.name()));
    return new PlanReader(file).layer(n, place, names);
  }

  /** Reads a recipe outside of a plan. */
  static Recipe recipeOf(JsonNode n, Path file, Set<String> layers) throws InputException {
    check("recipe", n, file, "recipe");
    return new RecipeReader(file).recipe(n, layers);
  }

  private static void check(String part, JsonNode n, Path file, String place)
      throws InputException {
    var fault = PlanSchema.plan().checkPart(part, n.toString());
    if (fault.isPresent()) {
      throw new InputException(file, place + "/" + fault.get().place(), fault.get().expected());
    }
  }

  private InputException wrong(String place, String problem) {
    return new InputException(file, place, problem);
  }

  private Plan plan(JsonNode n) throws InputException {
    List<CollectionDef> collections = new ArrayList<>();
    Set<String> names = new HashSet<>();
    for (JsonNode c : n.path("collections")) {
      String place = "collections/" + collections.size();
      collections.add(collection(c, place));
      if (!names.add(collections.getLast().name())) {
        throw wrong(place + "/name", "'%s' occurs twice".formatted(collections.getLast().name()));
      }
    }
    List<LayerDef> layers = new ArrayList<>();
    Set<String> layerNames = new HashSet<>();
    for (JsonNode l : n.path("layers")) {
      String place = "layers/" + layers.size();
      layers.add(layer(l, place, names));
      if (!layerNames.add(layers.getLast().name())) {
        throw wrong(place + "/name", "'%s' occurs twice".formatted(layers.getLast().name()));
      }
    }
    return new Plan(
        n.has("shot") ? shot(n.get("shot")) : null,
        collections,
        layers,
        new RecipeReader(file).recipe(n.path("recipe"), layerNames),
        output(n.path("output")),
        extra(n, "wedgecutter", "shot", "collections", "layers", "recipe", "output"));
  }

  private Shot shot(JsonNode n) throws InputException {
    FrameRange frames;
    try {
      frames = FrameRange.parse(n.get("frames").asText());
    } catch (IllegalArgumentException e) {
      throw new InputException(file, "shot/frames", String.valueOf(e.getMessage()), e);
    }
    JsonNode env = n.path("environment");
    JsonNode plate = n.path("plate");
    Shot.Draft shot = new Shot.Draft(n.get("scene").asText(), frames);
    shot.variant = n.path("variant").asText("");
    shot.camera = n.path("camera").asText("");
    if (n.has("placed_camera")) {
      shot.placed = placed(n.get("placed_camera"));
    }
    shot.marks = marks(n.path("camera_marks"));
    shot.added = added(n.path("added"));
    shot.fps = n.get("fps").asDouble();
    shot.shutter = n.path("shutter").asDouble(0);
    shot.width = n.get("size").get(0).asInt();
    shot.height = n.get("size").get(1).asInt();
    shot.samples = n.path("samples").asInt(64);
    shot.bounces = bounces(n.path("bounces"));
    shot.seed = n.path("seed").asLong(1);
    shot.clamp = (float) n.path("clamp").asDouble(0);
    shot.soften = (float) n.path("soften").asDouble(0);
    shot.denoise = n.path("denoise").asDouble(0);
    shot.seeThrough = n.path("see_through_glass").asBoolean(false);
    shot.environment =
        new Shot.EnvironmentDef(
            env.path("image").asText(""),
            env.path("turn").asDouble(0),
            env.path("level").asDouble(1),
            extra(env, "image", "turn", "level"));
    shot.plate =
        new Shot.PlateDef(
            plate.path("image").asText(""),
            plate.path("stand_ins").asText(""),
            extra(plate, "image", "stand_ins"));
    Map<String, String> links = new LinkedHashMap<>();
    for (Map.Entry<String, JsonNode> e : n.path("links").properties()) {
      links.put(e.getKey(), e.getValue().asText());
    }
    shot.links = links;
    shot.known = texts(n.path("known"));
    shot.extra = extra(n, SHOT_KEYS);
    return shot.build();
  }

  private static final String[] SHOT_KEYS = {
    "scene",
    "variant",
    "camera",
    "placed_camera",
    "camera_marks",
    "added",
    "frames",
    "fps",
    "shutter",
    "size",
    "samples",
    "bounces",
    "seed",
    "clamp",
    "soften",
    "denoise",
    "see_through_glass",
    "environment",
    "plate",
    "links",
    "known"
  };

  private PlacedCamera placed(JsonNode n) throws InputException {
    try {
      JsonNode shift = n.path("shift");
      JsonNode distortion = n.path("distortion");
      return new PlacedCamera(
          numbers(n.get("eye")),
          numbers(n.get("target")),
          n.get("angle").asDouble(),
          n.path("roll").asDouble(0),
          new Projection(
              shift.path(0).asDouble(0),
              shift.path(1).asDouble(0),
              distortion.path(0).asDouble(0),
              distortion.path(1).asDouble(0)));
    } catch (IllegalArgumentException e) {
      throw new InputException(file, "shot/placed_camera", String.valueOf(e.getMessage()), e);
    }
  }

  private CameraMarks marks(JsonNode n) throws InputException {
    List<CameraMarks.Mark> all = new ArrayList<>();
    for (JsonNode m : n.path("marks")) {
      try {
        all.add(mark(m));
      } catch (IllegalArgumentException e) {
        throw new InputException(
            file, "shot/camera_marks/marks/" + all.size(), String.valueOf(e.getMessage()), e);
      }
    }
    try {
      return new CameraMarks(
          all,
          n.has("camera_height") ? n.get("camera_height").asDouble() : null,
          n.has("angle") ? n.get("angle").asDouble() : null,
          n.path("solve_shift").asBoolean(false),
          n.path("solve_distortion").asBoolean(false),
          extra(n, "marks", "camera_height", "angle", "solve_shift", "solve_distortion"));
    } catch (IllegalArgumentException e) {
      throw new InputException(file, "shot/camera_marks", String.valueOf(e.getMessage()), e);
    }
  }

  private static CameraMarks.Mark mark(JsonNode n) {
    String kind = n.get("kind").asText();
    if (kind.equals("point")) {
      return new CameraMarks.Point(at(n.get("at")), numbers(n.get("place")));
    }
    CameraMarks.At from = at(n.get("from"));
    CameraMarks.At to = at(n.get("to"));
    return switch (kind) {
      case "line" ->
          new CameraMarks.AxisLine(
              CameraMarks.Axis.of(n.get("along").asText()).orElseThrow(), from, to);
      case "horizon" -> new CameraMarks.Horizon(from, to);
      default -> new CameraMarks.Distance(from, to, n.get("metres").asDouble());
    };
  }

  private static CameraMarks.At at(JsonNode n) {
    return new CameraMarks.At(n.get(0).asDouble(), n.get(1).asDouble());
  }

  private List<AddedObject> added(JsonNode list) throws InputException {
    List<AddedObject> out = new ArrayList<>();
    for (JsonNode n : list) {
      try {
        out.add(n.get("kind").asText().equals("ground") ? ground(n) : fog(n));
      } catch (IllegalArgumentException e) {
        throw new InputException(
            file, "shot/added/" + out.size(), String.valueOf(e.getMessage()), e);
      }
    }
    return out;
  }

  private static AddedObject.Ground ground(JsonNode n) {
    AddedObject.Ground usual = AddedObject.Ground.of("usual", List.of(0.0, 0.0, 0.0), 1);
    return new AddedObject.Ground(
        n.get("name").asText(),
        numbers(n.get("at")),
        n.get("size").asDouble(),
        n.path("turn").asDouble(0),
        n.path("material").asText(""),
        n.has("colour") ? numbers(n.get("colour")) : usual.colour(),
        n.path("roughness").asDouble(usual.roughness()),
        extra(n, "kind", "name", "at", "size", "turn", "material", "colour", "roughness"));
  }

  private static AddedObject.Fog fog(JsonNode n) {
    List<AddedObject.Fog.Density> density = new ArrayList<>();
    JsonNode given = n.get("density");
    if (given.isNumber()) {
      density.add(new AddedObject.Fog.Density(0, given.asDouble()));
    }
    for (JsonNode k : given) {
      density.add(new AddedObject.Fog.Density(k.get(0).asInt(), k.get(1).asDouble()));
    }
    AddedObject.Fog usual = AddedObject.Fog.haze("usual", 0);
    return new AddedObject.Fog(
        n.get("name").asText(),
        density,
        n.has("colour") ? numbers(n.get("colour")) : usual.colour(),
        n.path("anisotropy").asDouble(0),
        n.has("emission") ? numbers(n.get("emission")) : usual.emission(),
        n.path("falloff").asDouble(0),
        n.path("base").asDouble(0),
        n.has("box")
            ? new AddedObject.Fog.Box(
                numbers(n.get("box").get("at")), numbers(n.get("box").get("size")))
            : null,
        extra(
            n,
            "kind",
            "name",
            "density",
            "colour",
            "anisotropy",
            "emission",
            "falloff",
            "base",
            "box"));
  }

  private static List<Double> numbers(JsonNode n) {
    List<Double> out = new ArrayList<>();
    n.forEach(v -> out.add(v.asDouble()));
    return out;
  }

  private static Bounces bounces(JsonNode n) {
    Bounces usual = Bounces.of(n.isInt() ? n.asInt() : 5);
    return new Bounces(
        n.path("surfaces").asInt(usual.surfaces()),
        n.path("glass").asInt(usual.glass()),
        n.path("media").asInt(usual.media()));
  }

  private CollectionDef collection(JsonNode n, String place) throws InputException {
    Rule rule;
    try {
      rule = RuleParser.parse(n.path("rule").asText(""));
    } catch (RuleException e) {
      throw new InputException(
          file, place + "/rule", e.getMessage() == null ? "" : e.getMessage(), e);
    }
    return new CollectionDef(
        n.get("name").asText(),
        rule,
        texts(n.path("added")),
        texts(n.path("removed")),
        extra(n, "name", "rule", "added", "removed"));
  }

  static List<String> texts(JsonNode n) {
    List<String> out = new ArrayList<>();
    n.forEach(t -> out.add(t.asText()));
    return out;
  }

  private LayerDef layer(JsonNode n, String place, Set<String> collections) throws InputException {
    Map<String, Cell> cells = new LinkedHashMap<>();
    for (Map.Entry<String, JsonNode> e : n.path("cells").properties()) {
      if (!collections.contains(e.getKey())) {
        throw wrong(
            place + "/cells/" + e.getKey(),
            "there is no collection '%s' in this plan".formatted(e.getKey()));
      }
      cells.put(e.getKey(), cell(e.getValue(), place + "/cells/" + e.getKey()));
    }
    return new LayerDef(
        n.get("name").asText(),
        n.path("render").asBoolean(true),
        n.path("hue").asInt(0),
        cells,
        n.has("rest") ? cell(n.get("rest"), place + "/rest") : Cell.of(Role.HOLDOUT),
        overrides(n.path("settings"), place + "/settings", true),
        extra(n, "name", "render", "hue", "cells", "rest", "settings"));
  }

  /** Reads a cell; the place is for messages. */
  Cell cell(JsonNode n, String place) throws InputException {
    return new Cell(
        n.has("role") ? Role.of(n.get("role").asText()) : null,
        n.has("catcher") ? catcher(n.get("catcher")) : null,
        overrides(n.path("overrides"), place + "/overrides", false),
        n.path("note").asText(""),
        extra(n, "role", "catcher", "overrides", "note"));
  }

  private List<CellOverride> overrides(JsonNode list, String where, boolean ofLayer)
      throws InputException {
    List<CellOverride> out = new ArrayList<>();
    for (JsonNode o : list) {
      String place = where + "/" + out.size();
      String word = o.get("property").asText();
      Property property =
          Property.of(word)
              .filter(p -> ofLayer ? p.isSetting() : !p.ofLayer())
              .orElseThrow(() ->
                  wrong(
                      place + "/property",
                      "unknown property '%s'; expected one of %s"
                          .formatted(word, Property.words(ofLayer))));
      Property.Verb verb = Property.Verb.of(o.path("verb").asText("set"));
      out.add(
          new CellOverride(
              property,
              verb,
              keys(o, property, verb, place),
              o.path("between").asText("linear").equals("step"),
              o.path("on").asBoolean(true),
              extra(o, "property", "verb", "value", "keys", "between", "on")));
    }
    return out;
  }

  private List<CellOverride.Key> keys(
      JsonNode o, Property property, Property.Verb verb, String place) throws InputException {
    List<CellOverride.Key> keys = new ArrayList<>();
    if (o.has("keys")) {
      for (JsonNode k : o.get("keys")) {
        String at = place + "/keys/" + keys.size();
        int frame = k.get(0).asInt();
        if (!keys.isEmpty() && frame <= keys.getLast().frame()) {
          throw wrong(at, "frames of keys must increase");
        }
        keys.add(new CellOverride.Key(frame, value(k.get(1), property, verb, at)));
      }
    } else if (o.has("value")) {
      keys.add(new CellOverride.Key(0, value(o.get("value"), property, verb, place + "/value")));
    } else {
      throw wrong(place, "expected value or keys");
    }
    return keys;
  }

  private Value value(JsonNode n, Property property, Property.Verb verb, String place)
      throws InputException {
    Value value;
    if (n.isBoolean()) {
      value = new Value.Switch(n.asBoolean());
    } else if (n.isTextual()) {
      value = new Value.Text(n.asText());
    } else if (n.isArray() && n.size() == 3) {
      value = new Value.Colour(n.get(0).asDouble(), n.get(1).asDouble(), n.get(2).asDouble());
    } else if (n.isArray() && n.size() == 2) {
      value = new Value.Size(n.get(0).asInt(), n.get(1).asInt());
    } else if (property.sort() == Property.Sort.COLOUR) {
      value = new Value.Colour(n.asDouble(), n.asDouble(), n.asDouble());
    } else {
      value = new Value.Num(n.asDouble());
    }
    try {
      Value.check(property, verb, value);
    } catch (IllegalArgumentException e) {
      throw new InputException(file, place, String.valueOf(e.getMessage()), e);
    }
    return value;
  }

  private static CatcherOptions catcher(JsonNode n) {
    return new CatcherOptions(
        n.has("output") ? CatcherOutput.of(n.get("output").asText()) : null,
        leftOut(n),
        n.has("caster") ? (Boolean) n.get("caster").asBoolean() : null,
        tuning(n),
        extra(
            n,
            "output",
            "caster",
            "shadows",
            "reflections",
            "bounce",
            "opacity",
            "tint",
            "reflection",
            "lights",
            "reach",
            "backgrounds"));
  }

  private static CatcherTuning tuning(JsonNode n) {
    CatcherTuning usual = CatcherTuning.USUAL;
    JsonNode tint = n.path("tint");
    JsonNode r = n.path("reach");
    CatcherTuning.Reach reach = null;
    if (!r.isMissingNode()) {
      JsonNode c = r.path("centre");
      reach =
          new CatcherTuning.Reach(
              c.isMissingNode()
                  ? null
                  : new CatcherTuning.Place(
                      c.get(0).asDouble(), c.get(1).asDouble(), c.get(2).asDouble()),
              r.get("radii").get(0).asDouble(),
              r.get("radii").get(1).asDouble(),
              r.path("turn").asDouble(0),
              r.path("soft").asDouble(0.3));
    }
    return new CatcherTuning(
        n.path("opacity").asDouble(usual.opacity()),
        tint.isMissingNode()
            ? usual.tint()
            : new Value.Colour(
                tint.get(0).asDouble(), tint.get(1).asDouble(), tint.get(2).asDouble()),
        n.path("reflection").asDouble(usual.reflection()),
        texts(n.path("lights")),
        reach,
        numbers(n.path("backgrounds")));
  }

  private static Set<CatcherOptions.Part> leftOut(JsonNode n) {
    Set<CatcherOptions.Part> out = EnumSet.noneOf(CatcherOptions.Part.class);
    for (CatcherOptions.Part part : CatcherOptions.Part.values()) {
      if (!n.path(part.word()).asBoolean(true)) {
        out.add(part);
      }
    }
    return out;
  }

  private static Output output(JsonNode n) {
    Set<Output.More> more = EnumSet.noneOf(Output.More.class);
    n.path("more").forEach(m -> Output.More.of(m.asText()).ifPresent(more::add));
    return new Output(
        n.path("name").asText(Output.DEFAULT_NAME),
        n.path("colour").asText("half").equals("half"),
        Compression.valueOf(n.path("compression").asText("zip").toUpperCase(Locale.ROOT)),
        n.path("passes").asBoolean(true),
        more,
        texts(n.path("light_groups")),
        n.path("occlusion").asDouble(0.5),
        n.path("near").asDouble(0),
        n.path("far").asDouble(10),
        passesLeftOut(n.path("left_out")),
        Set.copyOf(texts(n.path("floats"))),
        words(n.path("limited_to")),
        copies(n.path("copies")),
        n.path("beauty_apart").asBoolean(false),
        extra(
            n,
            "name",
            "colour",
            "compression",
            "passes",
            "more",
            "light_groups",
            "occlusion",
            "near",
            "far",
            "left_out",
            "floats",
            "limited_to",
            "copies",
            "beauty_apart"));
  }

  private static Map<String, Set<String>> passesLeftOut(JsonNode n) {
    Map<String, Set<String>> out = new LinkedHashMap<>();
    n.properties().forEach(e -> out.put(e.getKey(), Set.copyOf(texts(e.getValue()))));
    return out;
  }

  private static Map<String, String> words(JsonNode n) {
    Map<String, String> out = new LinkedHashMap<>();
    n.properties().forEach(e -> out.put(e.getKey(), e.getValue().asText()));
    return out;
  }

  private static Set<Output.Copy> copies(JsonNode n) {
    Set<Output.Copy> out = EnumSet.noneOf(Output.Copy.class);
    n.forEach(c -> Output.Copy.of(c.asText()).ifPresent(out::add));
    return out;
  }

  static Extra extra(@Nullable JsonNode n, String... known) {
    Map<String, JsonNode> out = new LinkedHashMap<>();
    Set<String> own = Set.of(known);
    if (n != null && n.isObject()) {
      for (Map.Entry<String, JsonNode> e : n.properties()) {
        if (!own.contains(e.getKey())) {
          out.put(e.getKey(), e.getValue());
        }
      }
    }
    return out.isEmpty() ? Extra.NONE : new Extra(out);
  }
}
