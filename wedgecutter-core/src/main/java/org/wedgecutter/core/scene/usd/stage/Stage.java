package org.wedgecutter.core.scene.usd.stage;

import com.google.common.base.Splitter;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.io.InputException;

/** A stage of OpenUSD: its prims, composed from all its layers. */
public final class Stage {
  private static final int MAX_PRIMS = 2_000_000;
  private static final int MAX_DEPTH = 1000;

  private final Composer composer;
  private final StagePrim root;
  private final double timeCodesPerSecond;
  private final Path file;

  /** Prims that are no part of what is drawn, by path: overs without a definition, and classes. */
  private final Map<String, Site> undefined = new LinkedHashMap<>();

  private int prims;

  private Stage(Composer composer, LayerStack stack, Path file) throws InputException {
    this.composer = composer;
    this.file = file;
    timeCodesPerSecond = stack.root().timeCodesPerSecond();
    Site top = composer.root(stack);
    root = new StagePrim("", "", false);
    stack.root().root.fields.forEach(root.fields::put);
    children(root, top, List.of(top), false, 0);
  }

  /**
   * Opens a stage.
   *
   * @param assets finds its files; of its own it begins with the stage's
   * @param choices variants by a prim's path and the set's name, stronger than what layers choose
   * @throws InputException if its first layer cannot be read; {@link #missing} lists what other
   *     layers lack
   */
  public static Stage open(Assets assets, Map<String, Map<String, String>> choices)
      throws InputException {
    Composer composer = new Composer(assets, choices);
    Path file = assets.stage().file();
    LayerStack stack = composer.open(assets.stage(), file);
    return new Stage(composer, stack, file);
  }

  /** Opens a layer's text as a stage by itself. */
  public static Stage parse(String text, Assets assets) throws InputException {
    Composer composer = new Composer(assets, Map.of());
    Path file = assets.stage().file();
    Layer layer = new Layer(assets.stage(), TextLayer.read(text, file));
    return new Stage(composer, new LayerStack(List.of(layer), List.of(LayerOffset.NONE)), file);
  }

  /** Returns the root, which stands for the stage; its fields are those of the first layer. */
  public StagePrim root() {
    return root;
  }

  /** Returns how many time codes a second has. */
  public double timeCodesPerSecond() {
    return timeCodesPerSecond;
  }

  /** Returns what is missing, circular or not read, one line each, with who asks for it. */
  public List<String> missing() {
    return composer.missing();
  }

  /** Returns what the stage holds that is not composed, one line each. */
  public List<String> unsupported() {
    return composer.unsupported();
  }

  // ---- prims

  /**
   * Returns a prim that is not drawn: an over without a definition, a class, or what is below one.
   * Point instancers draw their prototypes wherever they are.
   *
   * @throws InputException if it is nested too deep
   */
  public Optional<StagePrim> undefined(String path) throws InputException {
    for (String above = path; !above.isEmpty(); above = Paths.parent(above)) {
      Site site = undefined.get(above);
      if (site != null) {
        Optional<StagePrim> prim = Optional.ofNullable(child(site, true, Paths.depth(above)));
        for (String name :
            Splitter.on('/').omitEmptyStrings().split(path.substring(above.length()))) {
          prim = prim.flatMap(p -> p.child(name));
        }
        return prim;
      }
    }
    return Optional.empty();
  }

  /**
   * @param all whether overs are taken for definitions
   */
  private void children(StagePrim prim, Site tree, List<Site> sites, boolean all, int depth)
      throws InputException {
    if (depth > MAX_DEPTH) {
      throw new InputException(file, prim.path(), "is nested too deep");
    }
    for (String name : names(sites)) {
      StagePrim child = child(composer.child(tree, name), all, depth + 1);
      if (child != null) {
        prim.children.add(child);
      }
    }
  }

  /** Returns the names of the children: those of weaker layers first, then in the order asked. */
  private static List<String> names(List<Site> sites) {
    Set<String> names = new LinkedHashSet<>();
    List<String> out = new ArrayList<>();
    for (Site site : sites.reversed()) {
      for (Layer layer : site.stack.layers().reversed()) {
        PrimSpec spec = site.silent ? null : layer.at(site.path);
        if (spec != null) {
          names.addAll(spec.children.keySet());
          if (spec.fields.get("primOrder") instanceof List<?> order) {
            out = ListOp.ordered(new ArrayList<>(names), texts(order));
            names = new LinkedHashSet<>(out);
          }
        }
      }
    }
    return new ArrayList<>(names);
  }

  private static List<String> texts(List<?> list) {
    return list.stream().map(String::valueOf).toList();
  }

  /** What one layer says of a prim. */
  private record Opinion(PrimSpec spec, Site site, Layer layer, LayerOffset offset) {}

  private @Nullable StagePrim child(Site tree, boolean all, int depth) throws InputException {
    if (++prims > MAX_PRIMS) {
      throw new InputException(file, tree.path, "has more than %d prims".formatted(MAX_PRIMS));
    }
    List<Site> sites = tree.strongestFirst();
    List<Opinion> opinions = new ArrayList<>();
    for (Site site : sites) {
      LayerOffset toStage = null;
      for (int k = 0; k < site.stack.layers().size() && !site.silent; k++) {
        Layer layer = site.stack.layers().get(k);
        PrimSpec spec = layer.at(site.path);
        if (spec != null) {
          toStage = toStage == null ? site.toStage() : toStage;
          opinions.add(new Opinion(spec, site, layer, site.stack.offsets().get(k).then(toStage)));
        }
      }
    }
    if (strongest(opinions, "active") instanceof Boolean b && !b) {
      return null;
    }
    if (!all && specifier(opinions) != PrimSpec.Specifier.DEF) {
      undefined.put(tree.path, tree);
      return null;
    }
    String type =
        opinions.stream().map(o -> o.spec().type).filter(t -> !t.isEmpty()).findFirst().orElse("");
    boolean instance =
        strongest(opinions, "instanceable") instanceof Boolean b
            && b
            && sites.stream().anyMatch(s -> s != tree && !s.ancestral && s.stack.says(s.path));
    StagePrim out = new StagePrim(tree.path, type, instance);
    fields(out, opinions);
    properties(out, opinions);
    variants(out, opinions);
    if (instance) {
      silence(tree);
    }
    children(out, tree, sites, all, depth);
    return out;
  }

  /** What inherits a class is none by that, where another layer defines it. */
  private static PrimSpec.Specifier specifier(List<Opinion> opinions) {
    PrimSpec.Specifier out = PrimSpec.Specifier.OVER;
    for (Opinion o : opinions) {
      PrimSpec.Specifier own = o.spec().specifier;
      boolean isClass = own == PrimSpec.Specifier.CLASS;
      if (own == PrimSpec.Specifier.DEF || (isClass && !o.site().isInherited())) {
        return own;
      }
      out = isClass ? own : out;
    }
    return out;
  }

  /** What is below an instance comes from its own arcs alone. */
  private static void silence(Site site) {
    site.silent |= site.parent == null || site.ancestral;
    site.children.forEach(Stage::silence);
  }

  private static @Nullable Object strongest(List<Opinion> opinions, String field) {
    for (Opinion o : opinions) {
      Object value = o.spec().fields.get(field);
      if (value != null) {
        return value;
      }
    }
    return null;
  }

  private void fields(StagePrim prim, List<Opinion> opinions) {
    for (Opinion o : opinions) {
      o.spec()
          .fields
          .forEach((name, value) -> {
            if (!(value instanceof ListOp<?>)) {
              prim.fields.putIfAbsent(name, value);
            }
          });
    }
    List<String> schemas = new ArrayList<>();
    for (Opinion o : opinions.reversed()) {
      schemas = o.spec().<String>list("apiSchemas").over(schemas);
    }
    if (!schemas.isEmpty()) {
      prim.fields.put("apiSchemas", schemas);
    }
    List<Object> inactive = new ArrayList<>();
    for (Opinion o : opinions.reversed()) {
      Object said = o.spec().fields.get("inactiveIds");
      if (said instanceof Numbers n) {
        inactive = new ArrayList<>();
        for (double id : n.doubles()) {
          inactive.add((long) id);
        }
      } else if (said instanceof ListOp<?>) {
        inactive = o.spec().<Object>list("inactiveIds").over(inactive);
      }
    }
    if (!inactive.isEmpty()) {
      prim.fields.put("inactiveIds", inactive);
    }
    if (prim.fields.containsKey("clips")) {
      composer.isUnsupported(prim.path() + ": clips");
    }
  }

  private static void variants(StagePrim prim, List<Opinion> opinions) {
    for (Opinion o : opinions) {
      o.spec()
          .variants
          .forEach((set, all) -> {
            Set<String> names = new LinkedHashSet<>(prim.variants.getOrDefault(set, List.of()));
            names.addAll(all.keySet());
            prim.variants.put(set, List.copyOf(names));
          });
      String[] choice = Paths.variant(o.site().path);
      if (choice != null) {
        prim.selections.putIfAbsent(choice[0], choice[1]);
      }
    }
  }

  /** What one layer says of a property. */
  private record Said(PropertySpec spec, Opinion of) {
    boolean blocks() {
      return PropertySpec.BLOCKED.equals(spec.value);
    }
  }

  private void properties(StagePrim prim, List<Opinion> opinions) {
    Map<String, List<Said>> by = new LinkedHashMap<>();
    List<String> order = new ArrayList<>();
    for (Opinion o : opinions.reversed()) {
      o.spec()
          .properties
          .forEach((name, spec) ->
              by.computeIfAbsent(name, k -> new ArrayList<>()).addFirst(new Said(spec, o)));
      if (o.spec().fields.get("propertyOrder") instanceof List<?> names) {
        order = texts(names);
      }
    }
    by.forEach((name, said) -> prim.properties.put(name, property(name, said)));
    if (!order.isEmpty()) {
      Map<String, StagePrim.Property> all = new LinkedHashMap<>(prim.properties);
      prim.properties.clear();
      ListOp.ordered(new ArrayList<>(all.keySet()), order)
          .forEach(n -> prim.properties.put(n, all.get(n)));
    }
  }

  private StagePrim.Property property(String name, List<Said> opinions) {
    Object value = null;
    boolean decided = false;
    TreeMap<Double, Object> samples = new TreeMap<>();
    Map<String, Object> fields = new LinkedHashMap<>();
    String type = "";
    for (Said said : opinions) {
      PropertySpec spec = said.spec();
      Opinion o = said.of();
      type = type.isEmpty() ? spec.relationship ? "rel" : spec.type : type;
      spec.fields.forEach(fields::putIfAbsent);
      if (samples.isEmpty() && !decided) {
        spec.samples.forEach(
            (time, v) -> samples.put(o.offset().at(time), placed(v, o, spec.type)));
      }
      if (!decided && spec.value != null) {
        value = said.blocks() ? null : placed(spec.value, o, spec.type);
        // weaker samples are hidden by a value
        decided = true;
      }
    }
    List<String> targets = new ArrayList<>();
    for (Said said : opinions.reversed()) {
      if (said.spec().targets != null) {
        targets = named(said.spec().targets, said.of(), name).over(targets);
      }
    }
    samples.values().removeIf(PropertySpec.BLOCKED::equals);
    return new StagePrim.Property(
        name, type, value, samples, List.copyOf(targets), Collections.unmodifiableMap(fields));
  }

  /** Returns a list of targets as the stage names them; those without a name there are reported. */
  private ListOp<String> named(ListOp<String> targets, Opinion o, String property) {
    ListOp<String> out =
        targets.map(t -> {
          String named = o.site().inStage(t);
          if (named == null) {
            composer.isUnsupported(
                "%s.%s: <%s> lies outside of what is brought in"
                    .formatted(Paths.plain(o.site().path), property, t));
          }
          return named == null ? "" : named;
        });
    return out.without("");
  }

  /** Returns a value with its files' place, and its times as the stage counts them. */
  private static Object placed(Object value, Opinion o, String type) {
    return switch (value) {
      case AssetPath a -> new AssetPath(a.written(), o.layer().id);
      case List<?> l when !l.isEmpty() && l.getFirst() instanceof AssetPath ->
          l.stream().map(v -> placed(v, o, "")).toList();
      case Double d when type.equals("timecode") -> o.offset().at(d);
      default -> value;
    };
  }
}
