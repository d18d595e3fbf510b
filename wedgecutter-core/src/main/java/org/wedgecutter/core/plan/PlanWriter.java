package org.wedgecutter.core.plan;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.core.util.DefaultIndenter;
import com.fasterxml.jackson.core.util.DefaultPrettyPrinter;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.ObjectWriter;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.JsonNodeFactory;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.List;
import java.util.Locale;
import org.wedgecutter.core.io.AtomicFile;
import org.wedgecutter.core.scene.Projection;

/** Writes plans as JSON: UTF-8, keys in a fixed order, two spaces of indent. */
public final class PlanWriter {
  private static final JsonNodeFactory NODES = JsonNodeFactory.instance;
  private static final ObjectWriter WRITER = new ObjectMapper().writer(printer());

  private PlanWriter() {}

  private static DefaultPrettyPrinter printer() {
    DefaultIndenter lines = new DefaultIndenter("  ", "\n");
    return new DefaultPrettyPrinter().withObjectIndenter(lines).withArrayIndenter(lines);
  }

  /** Saves a plan; the file is replaced whole or not at all. */
  public static void save(Plan plan, Path file) throws IOException {
    byte[] bytes = text(plan).getBytes(StandardCharsets.UTF_8);
    AtomicFile.write(file, out -> out.write(bytes));
  }

  /** Returns the plan's text. */
  public static String text(Plan plan) {
    return text(tree(plan));
  }

  /** Returns any document's text in the same style. */
  public static String text(JsonNode tree) {
    try {
      return WRITER.writeValueAsString(tree) + "\n";
    } catch (JsonProcessingException e) {
      throw new IllegalStateException(e);
    }
  }

  /** Returns the plan as a document. */
  public static ObjectNode tree(Plan plan) {
    ObjectNode n = NODES.objectNode().put("wedgecutter", Plan.VERSION);
    if (plan.shot() != null) {
      n.set("shot", shot(plan.shot()));
    }
    ArrayNode collections = n.putArray("collections");
    plan.collections().forEach(c -> collections.add(collection(c)));
    ArrayNode layers = n.putArray("layers");
    plan.layers().forEach(l -> layers.add(layer(l)));
    n.set("recipe", recipe(plan.recipe()));
    Output output = plan.output();
    ObjectNode o = n.putObject("output").put("name", output.name());
    o.put("colour", output.half() ? "half" : "float");
    o.put("compression", output.compression().name().toLowerCase(Locale.ROOT));
    o.put("passes", output.passes());
    if (!output.more().isEmpty()) {
      ArrayNode more = o.putArray("more");
      output.more().forEach(m -> more.add(m.word()));
    }
    if (!output.lightGroups().isEmpty()) {
      output.lightGroups().forEach(o.putArray("light_groups")::add);
    }
    if (output.occlusion() != 0.5) {
      number(o, "occlusion", output.occlusion());
    }
    if (output.near() != 0 || output.far() != 10) {
      number(o, "near", output.near());
      number(o, "far", output.far());
    }
    if (!output.leftOut().isEmpty()) {
      ObjectNode left = o.putObject("left_out");
      output.leftOut().forEach((layer, words) -> words.forEach(left.withArray(layer)::add));
    }
    if (!output.floats().isEmpty()) {
      output.floats().forEach(o.putArray("floats")::add);
    }
    if (!output.limits().isEmpty()) {
      output.limits().forEach(o.putObject("limited_to")::put);
    }
    if (!output.copies().isEmpty()) {
      ArrayNode copies = o.putArray("copies");
      output.copies().forEach(c -> copies.add(c.word()));
    }
    if (output.beautyApart()) {
      o.put("beauty_apart", true);
    }
    extra(o, output.extra());
    return extra(n, plan.extra());
  }

  static ObjectNode recipe(Recipe recipe) {
    ObjectNode n = NODES.objectNode();
    ArrayNode joins = n.putArray("joins");
    for (Recipe.Step step : recipe.joins()) {
      ObjectNode s = joins.addObject().put("layer", step.layer()).put("join", step.join().word());
      if (step.opacity() != 1) {
        number(s, "opacity", step.opacity());
      }
      if (!step.matte().isEmpty()) {
        s.put("matte", step.matte());
      }
      if (step.light() != Recipe.Light.ALL) {
        s.put("light", step.light().word());
      }
      extra(s, step.extra());
    }
    if (!recipe.corrections().isEmpty()) {
      ArrayNode corrections = n.putArray("corrections");
      for (Correction c : recipe.corrections()) {
        ObjectNode e = corrections.addObject();
        if (!c.layer().isEmpty()) {
          e.put("layer", c.layer());
        }
        if (!c.pass().isEmpty()) {
          e.put("pass", c.pass());
        }
        if (c.reach() != Correction.Reach.LAYER) {
          e.put("reach", c.reach().word());
        }
        if (!c.matte().isEmpty()) {
          e.put("matte", c.matte());
        }
        e.put("type", c.type().word());
        if (c.isKeyed()) {
          ArrayNode keys = e.putArray("keys");
          c.keys().forEach(k -> keys.addArray().add(k.frame()).add(numbers(k.values())));
        } else {
          e.set("values", numbers(c.values()));
        }
        if (!c.picture().isEmpty()) {
          e.put("picture", c.picture());
        }
        e.put("on", c.on());
        extra(e, c.extra());
      }
    }
    if (!recipe.mattes().isEmpty()) {
      ArrayNode mattes = n.putArray("mattes");
      recipe.mattes().forEach(m -> mattes.add(matte(m)));
    }
    if (recipe.background().exists()) {
      n.set("background", background(recipe.background()));
    }
    return extra(n, recipe.extra());
  }

  private static ObjectNode background(Background b) {
    ObjectNode n = NODES.objectNode().put("kind", b.kind().word());
    if (b.kind() == Background.Kind.PICTURE) {
      n.put("picture", b.picture()).put("fit", b.fit().word());
    } else {
      n.set("colour", numbers(b.colour()));
    }
    return extra(n, b.extra());
  }

  private static ObjectNode matte(MatteDef m) {
    ObjectNode e = NODES.objectNode().put("name", m.name()).put("source", m.source().word());
    boolean names = m.source() == MatteDef.Source.IDS || m.source().combines();
    if (names) {
      ArrayNode picks = e.putArray("picks");
      m.picks().forEach(picks::add);
    }
    if (!m.by().isEmpty()) {
      e.put("by", m.by());
    }
    if (m.source() == MatteDef.Source.SHAPE) {
      MatteDef.Outline o = m.outline();
      ObjectNode shape = e.putObject("shape").put("form", o.form().word());
      shape.set("at", numbers(List.of(o.right(), o.down())));
      shape.set("size", numbers(List.of(o.across(), o.along())));
      number(shape, "turn", o.turn());
      number(shape, "soft", o.soft());
    } else if (!names) {
      number(e, "from", m.range().from());
      number(e, "to", m.range().to());
      if (m.range().curve() != 1) {
        number(e, "curve", m.range().curve());
      }
    }
    if (m.grow() != 0) {
      e.put("grow", m.grow());
    }
    if (m.invert()) {
      e.put("invert", true);
    }
    return extra(e, m.extra());
  }

  private static ObjectNode marks(CameraMarks marks) {
    ObjectNode n = NODES.objectNode();
    ArrayNode all = n.putArray("marks");
    for (CameraMarks.Mark mark : marks.marks()) {
      ObjectNode m = all.addObject();
      switch (mark) {
        case CameraMarks.AxisLine e -> m.put("kind", "line").put("along", e.along().word());
        case CameraMarks.Horizon h -> m.put("kind", "horizon");
        case CameraMarks.Distance l -> number(m.put("kind", "distance"), "metres", l.metres());
        case CameraMarks.Point p -> {
          m.put("kind", "point").set("at", at(p.at()));
          m.set("place", numbers(p.place()));
        }
      }
      if (mark.ends().size() == 2) {
        m.set("from", at(mark.ends().getFirst()));
        m.set("to", at(mark.ends().getLast()));
      }
    }
    if (marks.cameraHeight() != null) {
      number(n, "camera_height", marks.cameraHeight());
    }
    if (marks.angle() != null) {
      number(n, "angle", marks.angle());
    }
    if (marks.solvesShift()) {
      n.put("solve_shift", true);
    }
    if (marks.solvesDistortion()) {
      n.put("solve_distortion", true);
    }
    extra(n, marks.extra());
    return n;
  }

  private static ArrayNode at(CameraMarks.At at) {
    return numbers(List.of(at.right(), at.down()));
  }

  private static ObjectNode shot(Shot shot) {
    ObjectNode n = NODES.objectNode().put("scene", shot.scene());
    if (!shot.variant().isEmpty()) {
      n.put("variant", shot.variant());
    }
    if (!shot.camera().isEmpty()) {
      n.put("camera", shot.camera());
    }
    PlacedCamera placed = shot.placed();
    if (placed != null) {
      ObjectNode p = n.putObject("placed_camera");
      p.set("eye", numbers(placed.eye()));
      p.set("target", numbers(placed.target()));
      number(p, "angle", placed.angle());
      if (placed.roll() != 0) {
        number(p, "roll", placed.roll());
      }
      Projection lens = placed.projection();
      if (lens.right() != 0 || lens.up() != 0) {
        p.set("shift", numbers(List.of(lens.right(), lens.up())));
      }
      if (lens.isBent()) {
        p.set("distortion", numbers(List.of(lens.k1(), lens.k2())));
      }
    }
    if (!shot.marks().equals(CameraMarks.NONE)) {
      n.set("camera_marks", marks(shot.marks()));
    }
    if (!shot.added().isEmpty()) {
      ArrayNode added = n.putArray("added");
      shot.added().forEach(a -> added.add(added(a)));
    }
    n.put("frames", shot.frames().text());
    number(n, "fps", shot.fps());
    if (shot.shutter() > 0) {
      number(n, "shutter", shot.shutter());
    }
    n.putArray("size").add(shot.width()).add(shot.height());
    n.put("samples", shot.samples());
    Bounces b = shot.bounces();
    if (b.equals(Bounces.of(b.surfaces()))) {
      n.put("bounces", b.surfaces());
    } else {
      n.putObject("bounces")
          .put("surfaces", b.surfaces())
          .put("glass", b.glass())
          .put("media", b.media());
    }
    n.put("seed", shot.seed());
    number(n, "clamp", Double.parseDouble(Float.toString(shot.clamp())));
    number(n, "soften", Double.parseDouble(Float.toString(shot.soften())));
    if (shot.denoise() > 0) {
      number(n, "denoise", shot.denoise());
    }
    if (shot.seeThrough()) {
      n.put("see_through_glass", true);
    }
    if (!shot.environment().image().isEmpty()) {
      ObjectNode env = n.putObject("environment").put("image", shot.environment().image());
      number(env, "turn", shot.environment().turn());
      number(env, "level", shot.environment().level());
      extra(env, shot.environment().extra());
    }
    if (shot.plate().exists()) {
      ObjectNode plate = n.putObject("plate").put("image", shot.plate().image());
      if (!shot.plate().standIns().isEmpty()) {
        plate.put("stand_ins", shot.plate().standIns());
      }
      extra(plate, shot.plate().extra());
    }
    if (!shot.links().isEmpty()) {
      ObjectNode links = n.putObject("links");
      shot.links().forEach(links::put);
    }
    if (!shot.known().isEmpty()) {
      shot.known().forEach(n.putArray("known")::add);
    }
    return extra(n, shot.extra());
  }

  private static ObjectNode added(AddedObject a) {
    return switch (a) {
      case AddedObject.Ground g -> ground(g);
      case AddedObject.Fog f -> fog(f);
    };
  }

  private static ObjectNode ground(AddedObject.Ground g) {
    ObjectNode n = NODES.objectNode().put("kind", "ground").put("name", g.name());
    n.set("at", numbers(g.at()));
    number(n, "size", g.size());
    if (g.turn() != 0) {
      number(n, "turn", g.turn());
    }
    if (!g.material().isEmpty()) {
      n.put("material", g.material());
    }
    n.set("colour", numbers(g.colour()));
    number(n, "roughness", g.roughness());
    return extra(n, g.extra());
  }

  private static ObjectNode fog(AddedObject.Fog f) {
    AddedObject.Fog usual = AddedObject.Fog.haze(f.name(), 0);
    ObjectNode n = NODES.objectNode().put("kind", "fog").put("name", f.name());
    if (f.isKeyed()) {
      ArrayNode keys = n.putArray("density");
      f.density().forEach(k -> keys.addArray().add(k.frame()).add(number(k.perMetre())));
    } else {
      number(n, "density", f.density().getFirst().perMetre());
    }
    n.set("colour", numbers(f.colour()));
    if (f.anisotropy() != 0) {
      number(n, "anisotropy", f.anisotropy());
    }
    if (!f.emission().equals(usual.emission())) {
      n.set("emission", numbers(f.emission()));
    }
    if (f.falloff() != 0 || f.base() != 0) {
      number(n, "falloff", f.falloff());
      number(n, "base", f.base());
    }
    AddedObject.Fog.Box box = f.box();
    if (box != null) {
      ObjectNode b = n.putObject("box");
      b.set("at", numbers(box.at()));
      b.set("size", numbers(box.size()));
    }
    return extra(n, f.extra());
  }

  private static ArrayNode numbers(List<Double> values) {
    ArrayNode out = NODES.arrayNode();
    values.forEach(v -> out.add(number(v)));
    return out;
  }

  /** Whole numbers are written without a fraction. */
  private static void number(ObjectNode n, String key, double value) {
    n.set(key, number(value));
  }

  private static JsonNode number(double value) {
    return value == Math.rint(value) && Math.abs(value) < 1e15
        ? NODES.numberNode((long) value)
        : NODES.numberNode(value);
  }

  /** Returns a collection as a document. */
  static ObjectNode collection(CollectionDef c) {
    ObjectNode n = NODES.objectNode().put("name", c.name()).put("rule", c.rule().text());
    if (!c.added().isEmpty()) {
      c.added().forEach(n.putArray("added")::add);
    }
    if (!c.removed().isEmpty()) {
      c.removed().forEach(n.putArray("removed")::add);
    }
    return extra(n, c.extra());
  }

  /** Returns a layer as a document. */
  static ObjectNode layer(LayerDef l) {
    ObjectNode n = NODES.objectNode().put("name", l.name());
    n.put("render", l.render()).put("hue", l.hue());
    ObjectNode cells = n.putObject("cells");
    l.cells().forEach((name, cell) -> cells.set(name, cell(cell)));
    n.set("rest", cell(l.rest()));
    if (!l.settings().isEmpty()) {
      n.set("settings", overrides(l.settings()));
    }
    return extra(n, l.extra());
  }

  /** Returns a cell as a document. */
  static ObjectNode cell(Cell c) {
    ObjectNode n = NODES.objectNode();
    if (c.role() != null) {
      n.put("role", c.role().word());
    }
    CatcherOptions options = c.catcher();
    if (options != null) {
      ObjectNode catcher = n.putObject("catcher");
      if (options.output() != null) {
        catcher.put("output", options.output().word());
      }
      for (CatcherOptions.Part part : CatcherOptions.Part.values()) {
        if (options.leftOut().contains(part)) {
          catcher.put(part.word(), false);
        }
      }
      if (options.caster() != null) {
        catcher.put("caster", options.caster());
      }
      tuning(options.tuning(), catcher);
      extra(catcher, options.extra());
    }
    if (!c.overrides().isEmpty()) {
      n.set("overrides", overrides(c.overrides()));
    }
    if (!c.note().isEmpty()) {
      n.put("note", c.note());
    }
    return extra(n, c.extra());
  }

  private static void tuning(CatcherTuning t, ObjectNode n) {
    CatcherTuning usual = CatcherTuning.USUAL;
    if (t.opacity() != usual.opacity()) {
      number(n, "opacity", t.opacity());
    }
    if (!t.tint().equals(usual.tint())) {
      n.set("tint", value(t.tint()));
    }
    if (t.reflection() != usual.reflection()) {
      number(n, "reflection", t.reflection());
    }
    if (!t.lights().isEmpty()) {
      t.lights().forEach(n.putArray("lights")::add);
    }
    CatcherTuning.Reach r = t.reach();
    if (r != null) {
      ObjectNode reach = n.putObject("reach");
      CatcherTuning.Place centre = r.centre();
      if (centre != null) {
        ArrayNode c = reach.putArray("centre");
        for (double x : centre.numbers()) {
          c.add(number(x));
        }
      }
      reach.putArray("radii").add(number(r.across())).add(number(r.along()));
      number(reach, "turn", r.turn());
      number(reach, "soft", r.soft());
    }
    if (!t.backgrounds().isEmpty()) {
      ArrayNode backgrounds = n.putArray("backgrounds");
      t.backgrounds().forEach(b -> backgrounds.add(number(b)));
    }
  }

  private static ArrayNode overrides(List<CellOverride> list) {
    ArrayNode out = NODES.arrayNode();
    for (CellOverride o : list) {
      ObjectNode node = out.addObject().put("property", o.property().word());
      node.put("verb", o.verb().word());
      if (o.keyed()) {
        ArrayNode keys = node.putArray("keys");
        o.keys().forEach(k -> keys.addArray().add(k.frame()).add(value(k.value())));
        node.put("between", o.step() ? "step" : "linear");
      } else {
        node.set("value", value(o.keys().getFirst().value()));
      }
      node.put("on", o.on());
      extra(node, o.extra());
    }
    return out;
  }

  private static JsonNode value(Value value) {
    return switch (value) {
      case Value.Switch s -> NODES.booleanNode(s.on());
      case Value.Num x -> number(x.number());
      case Value.Text t -> NODES.textNode(t.word());
      case Value.Colour c ->
          NODES.arrayNode().add(number(c.r())).add(number(c.g())).add(number(c.b()));
      case Value.Size s -> NODES.arrayNode().add(s.width()).add(s.height());
    };
  }

  private static ObjectNode extra(ObjectNode n, Extra extra) {
    extra.values().forEach(n::set);
    return n;
  }
}
