package org.wedgecutter.core.scene.usd.stage;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.io.InputException;

/**
 * Finds from where each prim of a stage has its opinions, and in which order: local ones, inherits,
 * variants, references, payloads, specializes, in every place that these lead to again (OpenUSD,
 * "LIVRPS").
 *
 * <p>A prim's places are those of its parent, one name further, and what arcs of its own lead to.
 * What a class says in a stack that brings another one in counts in there, too (implied inherits).
 * Variants are chosen last, when all that may choose them is known.
 *
 * <p>What is missing or circular is reported and left out; the rest is composed.
 */
final class Composer {
  private static final int MAX_LAYERS = 100_000;

  /** Layers of one stack: two that each bring in the next twice double with every file. */
  private static final int MAX_STACK = 5_000;

  private static final int MAX_SITES = 20_000;
  private static final int MAX_NESTED = 200;

  private final Assets assets;
  private final Map<String, Map<String, String>> choices;
  private final Map<AssetId, LayerStack> stacks = new HashMap<>();
  private final Map<AssetId, Layer> layers = new HashMap<>();
  private final Set<String> missing = new LinkedHashSet<>();
  private final Set<String> unsupported = new LinkedHashSet<>();
  private int made;
  private int nested;
  private int sitesOfPrim;

  /**
   * @param choices variants by a prim's path and the set's name, stronger than what layers choose
   */
  Composer(Assets assets, Map<String, Map<String, String>> choices) {
    this.assets = assets;
    this.choices = choices;
  }

  /** Returns what is missing or circular, in the order that it was met. */
  List<String> missing() {
    return List.copyOf(missing);
  }

  /** Returns what is not composed, in the order that it was met. */
  List<String> unsupported() {
    return List.copyOf(unsupported);
  }

  /** Reports something that is not composed. */
  void isUnsupported(String what) {
    unsupported.add(what);
  }

  /**
   * Opens a stack.
   *
   * @throws InputException where the first layer cannot be read
   */
  LayerStack open(AssetId id, Path by) throws InputException {
    LayerStack known = stacks.get(id);
    if (known != null) {
      return known;
    }
    List<Layer> all = new ArrayList<>();
    List<LayerOffset> offsets = new ArrayList<>();
    Layer first = layer(id, by);
    collect(first, LayerOffset.NONE, new HashSet<>(), all, offsets);
    LayerStack out = new LayerStack(all, offsets);
    stacks.put(id, out);
    return out;
  }

  private Layer layer(AssetId id, Path by) throws InputException {
    Layer known = layers.get(id);
    if (known == null) {
      if (layers.size() >= MAX_LAYERS) {
        throw new InputException(
            by, id.name(), "brings in more than %d layers".formatted(MAX_LAYERS));
      }
      known = assets.layer(id, by);
      layers.put(id, known);
      // a package is found by its own name and by that of its first layer
      layers.put(known.id, known);
      if (known.root.fields.containsKey("relocates")) {
        unsupported.add("%s: relocates".formatted(id.name()));
      }
    }
    return known;
  }

  private void collect(
      Layer layer,
      LayerOffset offset,
      Set<AssetId> above,
      List<Layer> all,
      List<LayerOffset> offsets) {
    above.add(layer.id);
    all.add(layer);
    offsets.add(offset);
    for (PrimSpec.SubLayer sub : layer.subLayers()) {
      if (all.size() >= MAX_STACK) {
        missing.add("%s: subLayers: more than %d in all".formatted(layer.id.name(), MAX_STACK));
        break;
      }
      Layer found = find(sub.asset(), layer.id, "subLayers");
      if (found == null) {
        continue;
      }
      if (above.contains(found.id)) {
        missing.add("%s: subLayers: @%s@ is circular".formatted(layer.id.name(), sub.asset()));
        continue;
      }
      LayerOffset own = sub.offset();
      double rate = layer.timeCodesPerSecond() / found.timeCodesPerSecond();
      if (rate != 1) {
        own = new LayerOffset(own.offset(), own.scale() * rate);
      }
      collect(found, own.then(offset), above, all, offsets);
    }
    above.remove(layer.id);
  }

  /** Finds a layer that another one asks for; failures are reported. */
  private @Nullable Layer find(String asset, AssetId from, String what) {
    try {
      AssetId id = assets.find(asset, from).orElse(null);
      if (id == null) {
        missing.add("%s: %s: @%s@ not found".formatted(from.name(), what, asset));
        return null;
      }
      return layer(id, from.file());
    } catch (InputException e) {
      missing.add("%s: %s: @%s@: %s".formatted(from.name(), what, asset, e.getMessage()));
      return null;
    }
  }

  // ---- places

  /** Returns the places of the stage's root. */
  Site root(LayerStack stack) {
    return new Site(stack, "", Site.Arc.ROOT, null, 0, made++, "", "", LayerOffset.NONE);
  }

  /** Returns the places of a child of a prim with these. */
  Site child(Site parent, String name) {
    Site out = parent.descend(name, null);
    sitesOfPrim = 0;
    arcs(out);
    implied(out);
    variants(out, choices.getOrDefault(out.path, Map.of()));
    return out;
  }

  /** Adds what the arcs at all places of a tree lead to. */
  private void arcs(Site root) {
    List<Site> all = new ArrayList<>();
    gather(root, all);
    all.forEach(this::ownArcs);
  }

  private static void gather(Site site, List<Site> into) {
    into.add(site);
    site.children.forEach(c -> gather(c, into));
  }

  private void ownArcs(Site site) {
    if (site.silent || !site.stack.says(site.path)) {
      return;
    }
    for (String target : site.stack.<String>list(site.path, "inheritPaths")) {
      arc(site, Site.Arc.INHERIT, site.stack, target, LayerOffset.NONE, "inherits");
    }
    references(site, "references", Site.Arc.REFERENCE);
    references(site, "payload", Site.Arc.PAYLOAD);
    for (String target : site.stack.<String>list(site.path, "specializes")) {
      arc(site, Site.Arc.SPECIALIZE, site.stack, target, LayerOffset.NONE, "specializes");
    }
  }

  /** A reference with the layer that holds it, and the offset of that layer. */
  private record Held(Reference reference, AssetId from, LayerOffset offset) {
    /** Returns how the prim's time codes become those of the stack, rates apart. */
    LayerOffset total() {
      return reference.offset().then(offset);
    }
  }

  private void references(Site site, String field, Site.Arc arc) {
    List<Held> held = new ArrayList<>();
    List<Layer> all = site.stack.layers();
    for (int k = all.size() - 1; k >= 0; k--) {
      PrimSpec spec = all.get(k).at(site.path);
      Object value = spec == null ? null : spec.fields.get(field);
      AssetId from = all.get(k).id;
      LayerOffset offset = site.stack.offsets().get(k);
      if (value instanceof Reference one) {
        held = new ArrayList<>(List.of(new Held(one, from, offset)));
      } else if (spec != null) {
        // an edit of one layer means the file, however another layer writes its name
        List<Held> weaker = held;
        held =
            spec.<Reference>list(field)
                .map(r -> same(weaker, new Held(r, from, offset)))
                .over(held);
      }
    }
    for (Held h : held) {
      reference(site, h, arc, field);
    }
  }

  /** Returns the one in a list that means the same prim of the same file. */
  private Held same(List<Held> list, Held one) {
    for (Held other : list) {
      if (other.reference().path().equals(one.reference().path())
          && other.total().equals(one.total())
          && file(other).equals(file(one))) {
        return other;
      }
    }
    return one;
  }

  private String file(Held held) {
    String asset = held.reference().asset();
    if (asset.isEmpty()) {
      return "";
    }
    try {
      return assets.find(asset, held.from()).map(AssetId::toString).orElse(asset);
    } catch (InputException e) {
      return asset;
    }
  }

  private void reference(Site site, Held held, Site.Arc arc, String field) {
    Reference r = held.reference();
    LayerStack stack = site.stack;
    LayerOffset offset = r.offset();
    String where = "%s: %s".formatted(Paths.plain(site.path), field);
    if (!r.asset().isEmpty()) {
      Layer layer = find(r.asset(), held.from(), where);
      if (layer == null) {
        return;
      }
      try {
        stack = open(layer.id, held.from().file());
      } catch (InputException e) {
        missing.add("%s: %s".formatted(where, e.getMessage()));
        return;
      }
      // the offset is that of the layer that holds it
      Layer holder = layers.get(held.from());
      double of = holder == null ? 24 : holder.timeCodesPerSecond();
      double rate = of / layer.timeCodesPerSecond();
      if (rate != 1) {
        offset = new LayerOffset(offset.offset(), offset.scale() * rate);
      }
    }
    String target = r.path().isEmpty() ? stack.root().defaultPrim() : r.path();
    if (target.isEmpty()) {
      missing.add("%s: @%s@ has no default prim".formatted(where, r.asset()));
      return;
    }
    arc(site, arc, stack, target, offset.then(held.offset()), field);
  }

  /** Adds a place, with all that leads on from there; a missing or circular target is reported. */
  private void arc(
      Site site, Site.Arc arc, LayerStack stack, String target, LayerOffset offset, String what) {
    String where = Paths.plain(site.path);
    if (!target.startsWith("/") || target.indexOf('.') >= 0) {
      missing.add("%s: %s: <%s> is not the path of a prim".formatted(where, what, target));
      return;
    }
    if (isCircle(site, stack, target)) {
      missing.add("%s: %s: <%s> is circular".formatted(where, what, target));
      return;
    }
    if (isTooMuch(site)) {
      return;
    }
    Site made = place(site, arc, stack, target, offset, Paths.depth(site.path));
    if (arc == Site.Arc.REFERENCE || arc == Site.Arc.PAYLOAD) {
      if (made.children.isEmpty() && !stack.says(target)) {
        missing.add("%s: %s: <%s> not found".formatted(where, what, target));
        return;
      }
    }
    site.children.add(made);
  }

  /** Whether a prim has more arcs than are followed, which is reported. */
  private boolean isTooMuch(Site site) {
    boolean out = nested > MAX_NESTED || sitesOfPrim > MAX_SITES;
    if (out) {
      missing.add("%s: too many arcs within one another".formatted(Paths.plain(site.path)));
    }
    return out;
  }

  /** Whether a place, or what leads there, is the target, above it, or below it. */
  private static boolean isCircle(Site site, LayerStack stack, String target) {
    for (Site at = site; at != null; at = at.parent) {
      String own = Paths.plain(at.path);
      if (at.stack.equals(stack) && (Paths.within(own, target) || Paths.within(target, own))) {
        return true;
      }
    }
    return false;
  }

  /** Makes a place and its tree, as if it were a prim of a stage of its own, but for variants. */
  private Site place(
      Site parent, Site.Arc arc, LayerStack stack, String target, LayerOffset offset, int depth) {
    nested++;
    try {
      String to = Paths.plain(parent.path);
      Site out = new Site(stack, "", arc, parent, depth, made++, Paths.plain(target), to, offset);
      String[] names = target.substring(1).split("/");
      for (int k = 0; k < names.length; k++) {
        // what is above the target brings opinions in by its own arcs
        out = out.descend(names[k], parent);
        arcs(out);
        implied(out);
        if (k < names.length - 1) {
          variants(out, Map.of());
        }
      }
      out.own();
      sitesOfPrim++;
      return out;
    } finally {
      nested--;
    }
  }

  /** Adds what classes say in stacks that bring in the ones that inherit them. */
  private void implied(Site root) {
    boolean more = true;
    while (more && !isTooMuch(root)) {
      more = false;
      List<Site> all = new ArrayList<>();
      gather(root, all);
      for (Site c : all) {
        if (c != root && c.isClass()) {
          more |= imply(c, root);
        }
      }
    }
  }

  private boolean imply(Site c, Site root) {
    Site n = c.parent;
    String own = Paths.plain(c.path);
    // what has the same name in the same stack is there already
    while (n != null
        && n != root
        && n.parent != null
        && !n.isClass()
        && n.parent.stack.equals(c.stack)
        && own.equals(n.outwards(own, true))) {
      n = n.parent;
    }
    return n != null && n != root && n.parent != null && imply(c, n.parent, n);
  }

  /** Adds what a class, and classes of it, are called where an arc comes from. */
  private boolean imply(Site c, Site into, Site arc) {
    String target = arc.outwards(Paths.plain(c.path), true);
    if (target == null
        || into.silent
        || isTooMuch(into)
        || (into.stack.equals(c.stack) && target.equals(Paths.plain(c.path)))) {
      return false;
    }
    boolean added = false;
    Site there =
        into.children.stream()
            .filter(k -> k.arc == c.arc && k.stack.equals(into.stack) && k.path.equals(target))
            .findFirst()
            .orElse(null);
    if (there == null) {
      if (c.ancestral || isCircle(into, into.stack, target)) {
        return false;
      }
      there = place(into, c.arc, into.stack, target, LayerOffset.NONE, Paths.depth(into.path));
      into.children.add(there);
      added = true;
    }
    for (Site next : List.copyOf(c.children)) {
      if (next.isClass()) {
        added |= imply(next, there, arc);
      }
    }
    return added;
  }

  // ---- variants

  private void variants(Site root, Map<String, String> chosen) {
    Set<String> done = new HashSet<>();
    boolean more = true;
    while (more && !isTooMuch(root)) {
      more = false;
      List<Site> all = root.strongestFirst();
      Map<String, String> selections = selections(all, chosen);
      for (Site site : all) {
        if (site.silent) {
          continue;
        }
        for (String set : site.stack.<String>list(site.path, "variantSetNames")) {
          String name = selections.get(set);
          if (name != null && done.add(site.order + " " + site.path + " " + set)) {
            more |= variant(site, set, name, root);
          }
        }
        if (more) {
          break;
        }
      }
    }
  }

  private boolean variant(Site site, String set, String name, Site root) {
    String path = Paths.variant(site.path, set, name);
    if (!site.stack.says(path)) {
      return false;
    }
    Site made =
        new Site(
            site.stack,
            path,
            Site.Arc.VARIANT,
            site,
            Paths.depth(site.path),
            this.made++,
            "",
            "",
            LayerOffset.NONE);
    sitesOfPrim++;
    site.children.add(made);
    ownArcs(made);
    implied(root);
    return true;
  }

  /** Returns the variants that the strongest place chooses. */
  private static Map<String, String> selections(List<Site> all, Map<String, String> chosen) {
    Map<String, String> out = new LinkedHashMap<>(chosen);
    for (Site site : all) {
      if (site.silent) {
        continue;
      }
      // one that was chosen counts before what it says itself
      String[] choice = Paths.variant(site.path);
      if (choice != null) {
        out.putIfAbsent(choice[0], choice[1]);
      }
      for (Layer layer : site.stack.layers()) {
        PrimSpec spec = layer.at(site.path);
        if (spec != null && spec.fields.get("variantSelection") instanceof Map<?, ?> map) {
          map.forEach((set, name) -> out.putIfAbsent(String.valueOf(set), String.valueOf(name)));
        }
      }
    }
    out.values().removeIf(String::isEmpty);
    return out;
  }
}
